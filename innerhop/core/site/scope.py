"""What belongs to a site that is fetched by its address, and what is a trap: pages without end
that a machine makes (practice)."""

from __future__ import annotations

import posixpath
import re
from collections import Counter, defaultdict
from dataclasses import dataclass, field
from urllib.parse import unquote

from innerhop.core.addresses import urls

_PARAMETER = re.compile(r";[^/]*")  # RFC 3986, 3.3: `;jsessionid=…` and the like
_NUMBER = re.compile(r"\d+")
_DEEPEST = 20  # folders
_REPEATED = 3  # times that a folder may stand in an address
_OF_A_SHAPE = 400  # pages whose addresses differ in figures alone: calendars have no end
_NO_PAGE = re.compile(
    r"\.(?:pdf|zip|gz|tgz|bz2|xz|7z|rar|tar|exe|msi|dmg|apk|iso|deb|rpm|docx?|xlsx?|pptx?|od[tsp]|"
    r"csv|ics|epub|mobi|gpx|kmz?|mp[34g]|m4[av]|og[gva]|wav|flac|avi|mov|wmv|webm|jpe?g|png|gif|"
    r"webp|avif|svg|ico|bmp|tiff?|css|js|mjs|json|xml|rss|atom|txt|woff2?|ttf|otf|eot|wasm)$",
    re.IGNORECASE,
)


def same_host(one: str, other: str) -> bool:
    """Whether two origins are one site: the scheme and `www.` may differ (practice)."""
    return _bare(one) == _bare(other)


def _bare(origin: str) -> str:
    return origin.partition("//")[2].removeprefix("www.")


@dataclass
class Scope:
    """What is fetched of a site. origin: the site's own. below: the path that addresses of pages
    begin with, "/" for all. left_out: why addresses weren't taken, with how many and the first.
    """

    origin: str
    below: str = "/"
    left_out: Counter[str] = field(default_factory=Counter)
    first: dict[str, str] = field(default_factory=dict)
    _shapes: dict[str, set[str]] = field(default_factory=lambda: defaultdict(set))
    _said: set[tuple[str, str]] = field(default_factory=set)

    def page(self, href: str, base: str, *, is_named: bool = False) -> str | None:
        """The whole address of a page that a link leads to; None where it is none of the site's
        pages, or not asked for. is_named: whether the site itself lists it among its pages."""
        found = urls.resolve(href, base)
        if found is None or not same_host(found.origin, self.origin):
            return None
        path = _PARAMETER.sub("", found.path)
        if _NO_PAGE.search(path) or not self.is_below(path):
            return None
        if found.query:
            self._leave("a page's address here ends before its question mark", found.href)
            return None
        if why := self._trap(path, is_named):
            self._leave(why, found.href)
            return None
        return f"{self.origin}{path}"

    def is_below(self, path: str) -> bool:
        """Whether a path is in the part that was asked for."""
        return path.startswith(self.below) or f"{path}/" == self.below

    def _trap(self, path: str, is_named: bool) -> str:
        """Why an address looks as if a machine made it without end; "" where it doesn't."""
        folders = [one for one in unquote(path, errors="replace").split("/") if one]
        if len(folders) > _DEEPEST or len(path) > urls.LONGEST_PATH:
            return f"its address is over {_DEEPEST} folders deep, or very long"
        if any(count >= _REPEATED for count in Counter(folders).values()):
            return "the same folder stands in its address again and again"
        alike = self._shapes[_NUMBER.sub("0", path)]
        if path not in alike and not is_named:
            if len(alike) >= _OF_A_SHAPE:
                return f"over {_OF_A_SHAPE} addresses differ from it in figures alone"
            alike.add(path)
        return ""

    def _leave(self, why: str, href: str) -> None:
        if (why, href) not in self._said:
            self._said.add((why, href))
            self.left_out[why] += 1
            self.first.setdefault(why, href)


def folder_of(path: str) -> str:
    """The folder that a page's address stands for or stands in.

    >>> folder_of("/guides/locks.html"), folder_of("/guides/locks"), folder_of("/guides/")
    ('/guides/', '/guides/locks', '/guides/')
    """
    last = posixpath.basename(path)
    return path[: len(path) - len(last)] if "." in last else path
