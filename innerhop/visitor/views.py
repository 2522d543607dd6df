"""Pages as a visitor gets them, and the same pages dressed for the sheet."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Callable
from dataclasses import replace
from functools import wraps
from html import escape
from pathlib import Path
from typing import Any
from urllib.parse import quote, unquote

from csp.decorators import csp_exempt
from django.conf import settings
from django.http import (
    Http404,
    HttpRequest,
    HttpResponse,
    HttpResponseBase,
    HttpResponseRedirect,
)
from django.http.request import split_domain_port
from django.shortcuts import get_object_or_404
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_safe

from innerhop.core.addresses.elsewhere import elsewhere_name
from innerhop.library.hand_over import site_frame
from innerhop.library.index.texts import PageText, bytes_of, current
from innerhop.library.models import Asset, Elsewhere, Page, Revision, Site
from innerhop.visitor import dressing, passes

_SCRIPT = Path(settings.BASE_DIR) / "static" / "dist" / "sheet.js"
_VERSION = hashlib.sha256(_SCRIPT.read_bytes()).hexdigest()[:10]


def plain(status: int, message: str) -> HttpResponse:
    """A plain page with one sentence."""
    return HttpResponse(
        f'<!doctype html><html lang="en"><meta charset="utf-8"><title>Inner Hop</title>'
        f'<body style="font:1rem/1.5 sans-serif;margin:3rem;max-width:36rem"><p>{message}</p>',
        status=status,
    )


View = Callable[..., HttpResponseBase]


def for_visitors(view: View) -> View:
    """A view of the site whose host name was asked for, for browsers with a pass."""

    @csrf_exempt  # a page's own forms know nothing of ours, and nothing they send is taken
    @wraps(view)
    def guarded(request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponseBase:
        if request.method not in ("GET", "HEAD"):
            return plain(405, "Forms are not sent from here. On the site itself this one is.")
        if "Service-Worker" in request.headers:
            # It would take this host name over, ways in and later visits with it.
            return plain(403, "Service workers are not taken here. On the site itself they are.")
        if "\0" in request.path_info:  # which is in no page's address, and no database keeps
            return plain(404, "This site has no page there. A visitor gets a page like this.")
        name, _port = split_domain_port(request.get_host())
        site = Site.objects.filter(visitor_host=name).first()
        if site is None:
            return plain(404, "No site is shown under this name.")
        return view(request, site, *args, **kwargs)

    return exempt(guarded)


def exempt(view: View) -> View:
    """Without the policy of the editor's screens: these pages bring their own."""
    bare: View = csp_exempt()(view)
    return bare


@for_visitors
def enter(request: HttpRequest, site: Site) -> HttpResponse:
    """Let a browser with a pass in, and send it on to the page it asked for."""
    to = request.GET.get("to", "/")
    holder = passes.admitted(request.GET.get("pass", ""), site.pk)
    if holder is None:
        return plain(403, "This way in is no longer open. Choose Visit in Inner Hop again.")
    path = to if to.startswith("/") and not to.startswith(("//", "/\\")) else "/"
    response = HttpResponseRedirect(path)
    if request.GET.get("framed"):
        passes.stay_framed(response, site.pk, holder, request.is_secure())
    else:
        passes.stay(response, site.pk, holder, request.is_secure())
    return response


@for_visitors
def visit(request: HttpRequest, site: Site, path: str) -> HttpResponse:
    """A page or a file of the site, byte for byte."""
    if not passes.stays(request, site.pk):
        # Someone who typed this host name by chance wants the screens.
        screens = escape(editor_origins(request)[0])
        link = f'<a href="{screens}/">{screens}/</a>'
        return plain(403, f"To see this page, choose Visit in Inner Hop, which is at {link}.")
    page = site.pages.select_related("site").filter(key=site.key_of("/" + path)).first()
    if page is None:
        return _asset(site, "/" + path)
    if unquote(page.path) != "/" + path:
        query = request.META.get("QUERY_STRING")
        return HttpResponseRedirect(page.path + (f"?{query}" if query else ""))
    text = current(page)
    if page.body_only:
        framed = site_frame.framed(page, text.text)
        return HttpResponse(framed.encode("utf-8", "replace"))
    kind = f"text/html; charset={text.revision.label}"
    response = HttpResponse(bytes_of(text.revision), content_type=kind)
    response["Cache-Control"] = "private, no-cache"
    return response


def _asset(site: Site, path: str) -> HttpResponse:
    asset = site.assets.filter(path__in=(path, unquote(path))).first()
    if asset is None:
        return plain(
            404, f"This site has no page at {quote(path)}. A visitor gets a page like this."
        )
    return _file(asset, bytes(asset.content))


def _file(asset: Asset | Elsewhere, content: bytes) -> HttpResponse:
    kind = asset.media_type
    response = HttpResponse(content, content_type=kind)
    response["Cache-Control"] = "private, no-cache"
    return response


@for_visitors
def sheet(request: HttpRequest, site: Site, token: str, path: str) -> HttpResponse:
    """A page dressed for the sheet, or a file that it uses."""
    ids = passes.read_sheet(token, site.pk)
    if ids is None:
        return plain(403, "This sheet is too old. Load the page's screen again.")
    page = get_object_or_404(Page.objects.select_related("site"), pk=ids[0], site=site)
    root = request.path_info[: request.path_info.index(token) + len(token)]
    known = frozenset(site.elsewhere.values_list("name", flat=True))
    way = dressing.FileAddresses(root, page.address, page.base_address, known)
    if path.startswith(dressing.ELSEWHERE):
        query = request.META.get("QUERY_STRING")
        name = path.removeprefix(dressing.ELSEWHERE) + (f"?{query}" if query else "")
        kept = get_object_or_404(Elsewhere, site=site, name=elsewhere_name(f"https://{name}"))
        return _part(kept, way, f"https://{kept.name}")
    if unquote(page.path) == "/" + path:
        return _dressed(request, PageText(page, _revision(page, ids[1])), way)
    asset = site.assets.filter(path="/" + path).first()
    if asset is None:
        raise Http404
    return _part(asset, way, page.site.address.rstrip("/") + asset.path)


def _part(asset: Asset | Elsewhere, way: dressing.FileAddresses, address: str) -> HttpResponse:
    """A file for the sheet. address: what its own addresses are read against."""
    content = bytes(asset.content)
    if asset.media_type == "text/css":
        css = content.decode("utf-8", "surrogateescape")
        content = replace(way, base=address).leads_css(css).encode("utf-8", "surrogateescape")
    response = _file(asset, content)
    response["Access-Control-Allow-Origin"] = "*"  # a sandbox without an origin asks for fonts
    response["Content-Security-Policy"] = "sandbox; default-src 'none'; style-src 'unsafe-inline'"
    return response


def _revision(page: Page, number: int) -> Revision:
    return get_object_or_404(page.revisions, number=number)


def _dressed(request: HttpRequest, text: PageText, way: dressing.FileAddresses) -> HttpResponse:
    nonce = secrets.token_urlsafe(16)
    script = f'<script nonce="{nonce}" src="/-/sheet.js?{_VERSION}"></script>'
    if text.page.body_only:
        body = dressing.dress_body(text.source, way)
        dressed = site_frame.framed(text.page, body, head=script)
    else:
        dressed = dressing.dress(text.source, way, script)
    response = HttpResponse(dressed.encode("utf-8", "replace"))
    response["Content-Security-Policy"] = "; ".join(
        (
            "default-src 'none'",
            f"script-src 'nonce-{nonce}'",
            "style-src 'self' 'unsafe-inline'",
            "img-src 'self' data:",
            "font-src 'self' data:",
            "media-src 'self' data:",
            "base-uri 'self'",
            "form-action 'none'",
            "sandbox allow-scripts",
            "frame-ancestors " + " ".join(editor_origins(request)),
        )
    )
    response["Cache-Control"] = "private, max-age=43200"
    return response


def editor_origins(request: HttpRequest) -> list[str]:
    """Where the editor's screens are, which may frame what is shown here."""
    _name, port = split_domain_port(request.get_host())
    end = f":{port}" if port else ""
    return [f"{request.scheme}://{host}{end}" for host in settings.EDITOR_HOSTS]


@exempt
@require_safe
def sheet_script(request: HttpRequest) -> HttpResponse:
    """Our one script in the sheet."""
    return our_script(request, _SCRIPT, _VERSION)


def our_script(request: HttpRequest, path: Path, version: str) -> HttpResponse:
    """A script of ours, kept for good by browsers that ask for it by its version."""
    response = HttpResponse(path.read_bytes(), content_type="text/javascript; charset=utf-8")
    is_named = request.META["QUERY_STRING"] == version
    response["Cache-Control"] = "public, max-age=31536000, immutable" if is_named else "no-cache"
    return response
