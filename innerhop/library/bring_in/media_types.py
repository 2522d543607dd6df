"""What kind of file a name is of: every file of a site is kept as it came, and served as
what it is."""

from __future__ import annotations

import mimetypes
import re

UNKNOWN = "application/octet-stream"
_PAGE = re.compile(r"\.x?html?$", re.IGNORECASE)
# What Python's table of types may lack, by file ending.
_MORE = {
    ".js": "text/javascript",
    ".mjs": "text/javascript",
    ".json": "application/json",
    ".webmanifest": "application/manifest+json",
    ".xml": "application/xml",
    ".woff": "font/woff",
    ".woff2": "font/woff2",
    ".ttf": "font/ttf",
    ".otf": "font/otf",
    ".webp": "image/webp",
    ".avif": "image/avif",
    ".svg": "image/svg+xml",
    ".ico": "image/x-icon",
    ".css": "text/css",
    ".map": "application/json",
}


def is_page(name: str) -> bool:
    """Whether a file of that name is a page."""
    return _PAGE.search(name) is not None


def of(name: str) -> str:
    """The media type of a file that is no page."""
    ending = name[name.rfind(".") :].lower() if "." in name else ""
    return _MORE.get(ending) or mimetypes.guess_type(name)[0] or UNKNOWN
