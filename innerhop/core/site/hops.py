"""Where a hop leads, and whether a reader gets there: the one rule that screens, map,
copy sheet and the check of a whole site ask.

https://html.spec.whatwg.org/multipage/browsing-the-web.html#scroll-to-fragid, with
links to words (https://wicg.github.io/scroll-to-text-fragment/) before IDs.
"""

from __future__ import annotations

from typing import NamedTuple, Protocol
from urllib.parse import unquote

from innerhop.core.addresses.fragments import (
    Nowhere,
    Targets,
    Top,
    has_directive,
    indicated,
    without_directive,
)
from innerhop.core.facts import hidden_parts

# The kinds of hop, as they are drawn. NO_HOP: a link to a page as a whole, to another
# site, or a heading's own.
HERE, THERE, MENU, BACK, BROKEN, NO_HOP = "here", "there", "menu", "back", "broken", ""
# Where links are of the site's menu: in a header or `nav`, and in a menu that was found in
# a footer or sidebar.
IN_MENU = "menu"
MENUS = ("nav", "header", IN_MENU)

# Why a hop is broken.
NO_HASH, NO_PAGE, NO_ID, HIDDEN, NO_WORDS = "hash", "page", "id", "hidden", "words"


class HopRow(Protocol):
    """A link as the rule needs it. page: the page that it stands on, by key of its store.
    key: the page of the site that it leads to, "" when it leaves the site."""

    @property
    def page_id(self) -> int: ...
    @property
    def href(self) -> str: ...
    @property
    def region(self) -> str: ...
    @property
    def key(self) -> str: ...
    @property
    def fragment(self) -> str | None: ...
    @property
    def permalink(self) -> bool: ...


class Ends(Protocol):
    """What pages have for the hops that lead to them."""

    def page(self, key: str) -> int | None:
        """The page of the site with that key."""

    def targets(self, page: int) -> Targets[int]:
        """What fragments find on a page, as element numbers."""

    def state(self, page: int, number: int) -> str:
        """What `hidden_parts` says of the part that a mark stands in."""

    def words(self, page: int, fragment: str) -> int | None:
        """The element whose words a fragment's text directive finds on a page."""


class Verdict(NamedTuple):
    """Where a hop leads. page: None for a page that is not there. end: the number of the
    element, None for the top of the page and for nowhere. why: for a broken one, which
    of the five reasons. opens: whether the browser opens a closed part for it."""

    kind: str
    page: int | None = None
    end: int | None = None
    why: str = ""
    opens: bool = False


NONE = Verdict(NO_HOP)


def judge(link: HopRow, ends: Ends) -> Verdict:
    """What becomes of a reader who follows a link."""
    if not link.key or link.permalink:
        return NONE
    page = ends.page(link.key)
    if link.fragment is None:
        return _without_hash(link, page, ends)
    if page is None:
        return Verdict(BROKEN, why=NO_PAGE)
    if has_directive(link.fragment):
        end = ends.words(page, link.fragment)
        if end is not None:
            return Verdict(HERE if page == link.page_id else THERE, page, end)
        if not without_directive(link.fragment):
            return Verdict(BROKEN, page, why=NO_WORDS)
    found = indicated(link.fragment, ends.targets(page))
    if isinstance(found, Nowhere):
        return Verdict(BROKEN, page, why=NO_ID)
    kind = _kind(link, page == link.page_id, isinstance(found, Top))
    if isinstance(found, Top):
        return Verdict(kind, page)
    state = ends.state(page, found)
    if state == hidden_parts.HIDDEN:
        return Verdict(BROKEN, page, found, HIDDEN)
    return Verdict(kind, page, found, opens=state == hidden_parts.OPENS)


def _kind(link: HopRow, is_here: bool, is_top: bool) -> str:
    if link.region in MENUS:
        return MENU
    if is_here:
        return BACK if is_top else HERE
    return THERE


def could_lack_hash(link: HopRow) -> bool:
    """Whether a link without a fragment could be an ID whose `#` was forgotten: one with
    a slash in it is a path."""
    return link.fragment is None and bool(link.key) and "/" not in link.href


def missing_hash(key: str) -> str:
    """The ID that such a link could mean: the last part of its address."""
    return unquote(key.rpartition("/")[2])


def _without_hash(link: HopRow, page: int | None, ends: Ends) -> Verdict:
    """A link without a fragment is no hop, but for one that leads to no page: it is broken
    as with one. Where it would lead to an ID of its own page with a `#` in front (`faq-7`
    for `#faq-7`), that is why."""
    if page is not None:
        return NONE
    if could_lack_hash(link):
        own = ends.targets(link.page_id)
        asked = missing_hash(link.key)
        if asked in own.ids or asked in own.names:
            return Verdict(BROKEN, why=NO_HASH)
    return Verdict(BROKEN, why=NO_PAGE) if is_page_address(link.key) else NONE


# What addresses of pages end in, where they end in anything (common practice, no source).
_PAGE_ENDINGS = frozenset(("html", "htm", "xhtml", "shtml", "php", "asp", "aspx", "jsp"))


def is_page_address(key: str) -> bool:
    """Whether an address is one of a page, as far as it tells: a picture or a document
    for download is none, and may be kept elsewhere."""
    name = key.partition("?")[0].rpartition("/")[2]
    _, dot, ending = name.rpartition(".")
    return not dot or ending.lower() in _PAGE_ENDINGS


def reason(why: str, key: str, href: str, page_title: str, is_here: bool) -> str:
    """Why a hop is broken, in one sentence; "" for one that isn't."""
    address = href.partition("#")[0] or key
    where = "this page" if is_here else f"“{page_title}”"
    return {
        NO_HASH: f"It has no #, so it leads to a page {key} that is not there.",
        NO_PAGE: f"No page of this site has the address {address}.",
        NO_ID: f"Nothing on {where} has this ID, so nothing happens.",
        HIDDEN: hidden_parts.MESSAGES[hidden_parts.HIDDEN],
        NO_WORDS: "These words are no longer on the page, so it opens at its top instead.",
    }.get(why, "")
