"""Sitemaps, as https://www.sitemaps.org/protocol.html has them: lists of pages, and lists of
lists; packed or not; or a plain text with an address a line."""

from __future__ import annotations

import zlib
from dataclasses import dataclass, field

from lxml.etree import XMLSyntaxError
from scrapy.utils.sitemap import Sitemap

_MOST = 50_000  # addresses, by the protocol


@dataclass
class Addresses:
    """What a sitemap names. lists: other sitemaps."""

    pages: list[str] = field(default_factory=list)
    lists: list[str] = field(default_factory=list)


def read(data: bytes, most: int) -> Addresses:
    """The addresses in a sitemap; none where it is none. most: bytes, unpacked."""
    found = Addresses()
    if data[:2] == b"\x1f\x8b":
        try:
            data = _unpacked(data, most)
        except zlib.error:
            return found
    if not data.lstrip(b"\xef\xbb\xbf \t\r\n").startswith(b"<"):
        lines = (one.strip() for one in data.decode("utf-8", "replace").splitlines())
        found.pages = [one for one in lines if one.startswith(("http://", "https://"))][:_MOST]
        return found
    try:
        tree = Sitemap(data)
        named = [one["loc"] for one, _ in zip(tree, range(_MOST), strict=False) if one.get("loc")]
    except (XMLSyntaxError, StopIteration):
        return found
    if tree.type == "sitemapindex":
        found.lists = named
    elif tree.type == "urlset":
        found.pages = named
    return found


def _unpacked(data: bytes, most: int) -> bytes:
    """No more of it than `most`: an archive may swell."""
    return zlib.decompressobj(zlib.MAX_WBITS | 16).decompress(data, most)
