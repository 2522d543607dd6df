"""The frame that looks at a site's pages as visitors get them, and follows their hops (see
`walker/`). It stands beside the page in a window of the editor's screens, under the page's own
host name, and puts nothing into it."""

from __future__ import annotations

import hashlib
import secrets
from pathlib import Path

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.http import require_safe

from innerhop.library.models import Site
from innerhop.visitor import passes
from innerhop.visitor.views import editor_origins, exempt, for_visitors, our_script, plain

_SCRIPT = Path(settings.BASE_DIR) / "static" / "dist" / "looker.js"
_VERSION = hashlib.sha256(_SCRIPT.read_bytes()).hexdigest()[:10]


@for_visitors
def looker(request: HttpRequest, site: Site) -> HttpResponse:
    """The frame, for the editor's screens and for nobody else."""
    if not passes.stays(request, site.pk):
        return plain(403, "This way in is no longer open. Load the screen again.")
    nonce = secrets.token_urlsafe(16)
    response = HttpResponse(
        '<!doctype html><html lang="en"><meta charset="utf-8"><title>Inner Hop</title>'
        f'<script nonce="{nonce}" src="/-/looker.js?{_VERSION}"></script>'
    )
    response["Content-Security-Policy"] = "; ".join((
        "default-src 'none'", f"script-src 'nonce-{nonce}'",
        f"frame-ancestors {' '.join(editor_origins(request))}",
    ))  # fmt: skip
    response["Cache-Control"] = "no-store"
    return response


@exempt
@require_safe
def looker_script(request: HttpRequest) -> HttpResponse:
    """Its script."""
    return our_script(request, _SCRIPT, _VERSION)
