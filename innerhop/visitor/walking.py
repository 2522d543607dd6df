"""The page under a site's visitor host that frames its pages as visitors get them, to follow
their hops (see `walker/`). A window of its own, since browsers keep cookies of framed hosts
back."""

from __future__ import annotations

import hashlib
import secrets
from html import escape
from pathlib import Path

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.http import require_safe

from innerhop.library.models import Site
from innerhop.visitor import passes
from innerhop.visitor.views import editor_origins, exempt, for_visitors, our_script, plain

_SCRIPT = Path(settings.BASE_DIR) / "static" / "dist" / "walker.js"
_VERSION = hashlib.sha256(_SCRIPT.read_bytes()).hexdigest()[:10]
# It may do all that it does for visitors but leave its frame.
_SANDBOX = "allow-scripts allow-same-origin allow-forms allow-popups allow-modals"


@for_visitors
def walker(request: HttpRequest, site: Site) -> HttpResponse:
    """The frame, for the editor's screens and for nobody else."""
    if not passes.stays(request, site.pk):
        return plain(403, "This way in is no longer open. Load the screen again.")
    editors = " ".join(editor_origins(request))
    nonce = secrets.token_urlsafe(16)
    response = HttpResponse(
        f'<!doctype html><html lang="en" data-editors="{escape(editors)}"><meta charset="utf-8">'
        "<title>Inner Hop</title><style>html,body{margin:0;overflow:hidden}iframe{border:0;"
        'display:block;background:#fff}</style><body><iframe title="A page as visitors get it" '
        f'sandbox="{_SANDBOX}"></iframe>'
        f'<script nonce="{nonce}" src="/-/walker.js?{_VERSION}"></script>'
    )
    response["Content-Security-Policy"] = "; ".join((
        "default-src 'none'", f"script-src 'nonce-{nonce}'", "style-src 'unsafe-inline'",
        "frame-src 'self'", f"frame-ancestors {editors}",
    ))  # fmt: skip
    response["Cross-Origin-Opener-Policy"] = "unsafe-none"
    response["Cache-Control"] = "no-store"
    return response


@exempt
@require_safe
def walker_script(request: HttpRequest) -> HttpResponse:
    """Its script."""
    return our_script(request, _SCRIPT, _VERSION)
