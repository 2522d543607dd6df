"""What the practice host serves: the demo site as it is, or as somebody has edited it."""

from __future__ import annotations

import gzip
import hashlib
import mimetypes
import re
from collections.abc import Mapping
from typing import NamedTuple
from urllib.parse import unquote

from innerhop.core.addresses import urls
from innerhop.practice import demo, edited_there
from innerhop.practice.host.entered import entered
from innerhop.practice.host.orders import (
    BREAKS,
    BUSY,
    DRAWN,
    EDITED,
    ENTERED,
    FAILS,
    FORBIDS,
    FOUND,
    GONE,
    INSIDE,
    LOCKED,
    NEW_IDS,
    Ordered,
)

_MOVED = {"/handbook/": "/skippers-handbook/", "/index.html": "/"}
_PLAIN_HEADING = re.compile(rb"<(h[23])>")
_DRAWN = (
    b"<!doctype html><html lang=en><title>Stoppages</title><div id=root></div>"
    b"<script src=/scripts/draw.js></script>"
)
_SCRIPT = (
    b"document.getElementById('root').innerHTML = '<h1>Stoppages</h1><h2 id=winter>Winter works"
    b"</h2><p>Locks eight to eleven are shut from the second week of January.</p>';"
)
_NOTHING = (
    b"<!doctype html><html lang=en><title>Nothing here</title><h1>Nothing here</h1>"
    b"<p>The page was moved, or never was. <a href=/>Go to the front page</a>."
)


class Answer(NamedTuple):
    """What a request gets."""

    status: int
    media_type: str
    body: bytes
    headers: Mapping[str, str] = {}


def answer(path: str, origin: str, ordered: Ordered) -> Answer:
    """What the host answers. path: with neither query nor fragment. origin: its own."""
    count = ordered.count()
    if FAILS in ordered and count % 5 == 0:
        return Answer(500, "text/plain", b"It failed, as was ordered.")
    if BUSY in ordered and count % 7 == 0:
        return Answer(429, "text/plain", b"Later, please.", {"Retry-After": "2"})
    if path == "/robots.txt":
        return Answer(200, "text/plain", _robots(origin, ordered))
    files = _files(ordered, origin)
    pages = {urls.address_of_file(name): name for name in files if name.endswith(".html")}
    if path == "/sitemap.xml":
        return Answer(200, "application/xml", _index(origin))
    if path == "/sitemap-pages.xml.gz":
        return Answer(200, "application/gzip", gzip.compress(_sitemap(origin, list(pages))))
    return _page(path, origin, pages, files, ordered)


def _page(
    path: str, origin: str, pages: Mapping[str, str], files: Mapping[str, bytes], ordered: Ordered
) -> Answer:
    if INSIDE in ordered and path == "/about/":
        return _led("http://169.254.169.254/latest/")
    if LOCKED in ordered and path == "/volunteer-days/":
        asks = {"WWW-Authenticate": 'Basic realm="Volunteers"'}
        return Answer(401, "text/html", b"<p>A password, please.", asks)
    if path in _MOVED:
        return _led(_MOVED[path])
    if DRAWN in ordered and path == "/stoppages/":
        return Answer(200, "text/html; charset=utf-8", _DRAWN)
    if GONE in ordered and path == "/questions/":
        return Answer(410, "text/html", _NOTHING)
    if path in pages:
        data = files[pages[path]]
        if ENTERED in ordered:
            data = entered(origin, path, data)
        return Answer(200, "text/html; charset=utf-8", data)
    if f"{path}/" in pages:
        return _led(f"{path}/")
    name = unquote(path).lstrip("/")
    if name in files:
        return Answer(200, mimetypes.guess_type(name)[0] or "text/plain", files[name])
    return Answer(200 if FOUND in ordered else 404, "text/html; charset=utf-8", _NOTHING)


def _led(to: str) -> Answer:
    return Answer(301, "text/plain", b"", {"Location": to})


def _files(ordered: Ordered, origin: str) -> Mapping[str, bytes]:
    """The site's files by name, with its own address in them."""
    there = edited_there.files() if EDITED in ordered else demo.files()
    if BREAKS in ordered:
        there = edited_there.broken(there)
    found = {name: data.replace(b"https://marrowby.example", origin.encode())
             for name, data in there}  # fmt: skip
    found["scripts/draw.js"] = _SCRIPT
    if NEW_IDS in ordered:
        found = {name: _with_ids(data, ordered.build) if name.endswith(".html") else data
                 for name, data in found.items()}  # fmt: skip
    return found


def _with_ids(data: bytes, build: int) -> bytes:
    """A page whose plain headings have IDs that its system made when it built it."""
    at = 0

    def give(match: re.Match[bytes]) -> bytes:
        nonlocal at
        at += 1
        made = hashlib.sha256(f"{build} {at}".encode()).hexdigest()[:10]
        return b'<%s id="block-%s">' % (match[1], made.encode())

    return _PLAIN_HEADING.sub(give, data)


def _robots(origin: str, ordered: Ordered) -> bytes:
    rule = "Disallow: /" if FORBIDS in ordered else "Disallow: /-/"
    return f"User-agent: *\n{rule}\n\nSitemap: {origin}/sitemap.xml\n".encode()


_SPACE = "http://www.sitemaps.org/schemas/sitemap/0.9"


def _index(origin: str) -> bytes:
    return (
        f'<?xml version="1.0" encoding="UTF-8"?>\n<sitemapindex xmlns="{_SPACE}"><sitemap>'
        f"<loc>{origin}/sitemap-pages.xml.gz</loc></sitemap></sitemapindex>\n"
    ).encode()


def _sitemap(origin: str, paths: list[str]) -> bytes:
    rows = "".join(f"<url><loc>{origin}{path}</loc></url>" for path in sorted(paths))
    return (
        f'<?xml version="1.0" encoding="UTF-8"?>\n<urlset xmlns="{_SPACE}">{rows}</urlset>\n'
    ).encode()
