"""Where the links of one page lead, read for whole sites: the same few addresses stand
on all pages, so what was read once is remembered.

What is remembered depends on the address and on what it is read against, and on
nothing else (https://url.spec.whatwg.org/#url-parsing).
"""

from __future__ import annotations

import re
from functools import lru_cache

from innerhop.core.addresses.urls import Resolved, base_address, resolve

_remembered = lru_cache(maxsize=65_536)(resolve)
# An address within the page in which nothing is written otherwise than as a fragment.
PLAIN_HASH = re.compile(r"#[\w.~-]*", re.ASCII)
_LONG = 300  # characters: so long an address is one page's own


class LinkEnds:
    """What a page's links are read against. address: the page's, in full."""

    def __init__(self, address: str, base_href: str | None) -> None:
        self.base = base_address(address, base_href)
        whole = _remembered("", self.base)
        self._whole = whole[:3] if whole else None  # all but the fragment
        self._origin = whole.origin if whole else ""
        # Without its last part a base reads all that begins with a name the same.
        self._folder = self.base.partition("#")[0].partition("?")[0].rpartition("/")[0] + "/"

    def resolve(self, href: str) -> Resolved | None:
        """`href` as a browser reads it on the page."""
        if self._whole is not None and PLAIN_HASH.fullmatch(href):
            return Resolved(*self._whole, href[1:])
        if len(href) > _LONG:
            return resolve(href, self.base)
        if href.startswith("/") and not href.startswith(("//", "/\\")):
            return _remembered(href, f"{self._origin}/")
        if href[:1].isalnum() or href.startswith("."):
            return _remembered(href, self._folder)
        return _remembered(href, self.base)
