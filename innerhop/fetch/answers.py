"""What a server answers, read as a browser reads it."""

from __future__ import annotations

from scrapy.http import Response

from innerhop.core.source import file_encoding
from innerhop.core.source.tree import Source

_HTML = ("text/html", "application/xhtml+xml")


def media_type(response: Response) -> str:
    """What a server says that its answer is (RFC 9110, 8.3)."""
    return _content_type(response).partition(";")[0].strip().lower()


def charset(response: Response) -> str:
    """The encoding that it names, "" for none."""
    named = _content_type(response).lower().partition("charset=")[2]
    return named.partition(";")[0].strip(" \"'")[:40]


def _content_type(response: Response) -> str:
    return (response.headers.get("Content-Type") or b"").decode("latin-1")


def is_html(response: Response) -> bool:
    """Whether it is a page, by what is said of it; where nothing is, by how it begins.

    https://mimesniff.spec.whatwg.org/#rules-for-identifying-an-unknown-mime-type
    """
    kind = media_type(response)
    beginning = response.body[:512].lstrip().lower()
    return kind in _HTML or (not kind and beginning.startswith((b"<!doctype html", b"<html")))


def source_of(response: Response) -> Source:
    """The page. Raises file_encoding.NotText."""
    text, _ = file_encoding.decode(response.body, charset(response))
    return Source(text)
