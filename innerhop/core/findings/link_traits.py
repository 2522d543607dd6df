"""What only a page's text tells of a link whose address or words are odd: whether a script has
a use for it, and whether what stands around says where it leads."""

from __future__ import annotations

import re
from collections.abc import Iterator

from innerhop.core.facts.page_facts import Link
from innerhop.core.names.link_words import MORE, plain, trouble
from innerhop.core.site.page_reading import PageReading
from innerhop.core.source.content_models import LEVELS, LISTS, PHRASING
from innerhop.core.source.tree import Source

_SPACE = " \t\n\r\f"  # Infra Standard, ASCII whitespace
# Roles of what does something (https://www.w3.org/TR/wai-aria-1.2/#widget_roles).
_ROLES = frozenset(("button", "tab", "menuitem", "switch", "option", "checkbox", "radio"))
_STATES = frozenset((
    "aria-expanded", "aria-controls", "aria-haspopup", "aria-pressed", "aria-selected",
    "aria-checked",
))  # fmt: skip
# How classes of what scripts listen to are called (common practice, no source; from memory).
_CLASS = re.compile(
    r"toggle|dropdown|drop-down|\btab|modal|dialog|accordion|collaps|popup|lightbox|open|close|"
    r"\bjs-|print|share|slide|prev|next|search|trigger|burger|submenu|has-children",
    re.IGNORECASE,
)
_FEWEST_BESIDE = 2  # words
_FEWEST_ENTRIES = 3
_WORD = re.compile(r"\w+")


def is_nowhere(href: str) -> bool:
    """Whether an address leads to no place: nothing, or a hash alone."""
    return href.strip(_SPACE) in ("", "#")


def buttons(page: PageReading) -> Iterator[int]:
    """Links to nowhere that are no mistake: buttons that someone wrote as links, by what a
    script or a reader's aid finds on them; and those that name the page they stand on, as
    the entry for the open page does in menus, paths and contents lists."""
    source = page.source
    named = f"{plain(page.facts.title)} {_slug(page.address)}"
    for link in page.facts.links:
        if is_nowhere(link.href) and (
            is_button(source, link.number)
            or _names_page(source, link, named)
            or _is_own_item(source, link.number)
        ):
            yield link.number


def is_button(source: Source, number: int) -> bool:
    """Whether something on a link says that a script has a use for it."""
    values = source.attributes(number)
    if (values.get("role") or "").strip().lower() in _ROLES or not _STATES.isdisjoint(values):
        return True
    scripted = (name for name in values if name.startswith(("on", "data-", "@", "x-on:", "hx-")))
    if any(not name.startswith("data-hop") for name in scripted):
        return True
    if values.get("id") or _CLASS.search(values.get("class") or ""):
        return True
    # An item with others under it, which it opens.
    around = source.parent(number)
    return source.reading.tag(around) == "li" and any(
        source.reading.tag(one) in LISTS for one in source.reading.children_of_tags(around, LISTS)
    )


def _is_own_item(source: Source, number: int) -> bool:
    """Whether all other links of a line or list lead to other pages: then the one to nowhere
    is that of the page that is open."""
    reading = source.reading
    around = reading.parent(number)
    if reading.tag(around) in ("li", "span", "td"):
        around = reading.parent(around)
    others = [one for one in reading.inside(around, "a") if one != number]
    hrefs = [reading.attr(one, "href") or "" for one in others]
    return len(others) >= _FEWEST_BESIDE and not any(
        one.startswith("#") or not one for one in hrefs
    )


def _slug(address: str) -> str:
    """The last part of a page's address as words; of a site's first page, what it is called."""
    name = address.rstrip("/").rpartition("/")[2].partition(".")[0]
    return " ".join(_HOME) if name in ("", "index") else plain(name.replace("-", " "))


_HOME = ("home", "start", "startseite", "accueil", "inicio", "hem", "hjem")  # from memory


def _names_page(source: Source, link: Link, named: str) -> bool:
    words = plain(link.text)
    if bool(words) and (words in named or named.endswith(f" {words.split()[-1]}")):
        return True
    # The title of a list of the page's sections.
    return bool(link.region) and source.reading.is_within(link.number, ", ".join(LEVELS))


def told_around(page: PageReading) -> Iterator[int]:
    """Links that say no more than “more”, and stand in a sentence, cell or list entry that
    says of what; and those that are entries of a list of titles.

    https://www.w3.org/TR/WCAG22/#dfn-programmatically-determined-link-context
    """
    for link in page.facts.links:
        if trouble(link.text) and link.text:
            is_told = plain(link.text) in MORE and _is_told(page.source, link.number)
            if is_told or _is_code(page.source, link):
                yield link.number


def _is_code(source: Source, link: Link) -> bool:
    """Whether a link's words are of a program: `link` is a name there, and says enough."""
    if link.text[:1] in "-_./$":
        return True
    return source.reading.is_within(link.number, _CODE) or source.reading.has_inside(
        link.number, "code"
    )


_CODE = "code, pre, kbd, samp, .code, .line"


def _is_told(source: Source, number: int) -> bool:
    reading = source.reading
    block = reading.parent(number)
    while reading.tag(block) in PHRASING:
        block = reading.parent(block)
    own = len(_WORD.findall(source.text_of(number)))
    beside = len(_WORD.findall(source.text_of(block))) - own
    if reading.tag(block) in ("p", "td", "li", "dd", "th") and beside >= _FEWEST_BESIDE:
        return True
    if reading.tag(block) != "li" or beside:
        return False
    outermost = reading.within(number, ", ".join(LISTS))[-1:]
    return any(len(reading.inside(one, "li")) >= _FEWEST_ENTRIES for one in outermost)
