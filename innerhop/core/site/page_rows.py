"""What a page's text says, as plain rows: what an index keeps of it, and what findings are
looked for in. Each names its element by number."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import lru_cache
from typing import NamedTuple

from innerhop.core.addresses import link_target, urls
from innerhop.core.addresses.link_ends import LinkEnds
from innerhop.core.facts import hidden_parts, mark_words
from innerhop.core.facts.page_facts import Facts
from innerhop.core.facts.sections import page_heading
from innerhop.core.site import hops
from innerhop.core.site.page_reading import PageReading
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.tree import Source


class MarkRow(NamedTuple):
    """A mark, as `page_facts.Mark` has it. closed: what `hidden_parts` says of the part that
    it stands in. words: what it is called; a heading is called by its section."""

    number: int
    attribute: str
    value: str
    tag: str
    empty: bool
    closed: str
    words: str


class LinkRow(NamedTuple):
    """A link, and where its address leads, as far as the page itself tells: key, the page of
    the site, "" when it leaves the site; fragment, None for none."""

    number: int
    href: str
    text: str
    region: str
    key: str
    fragment: str | None
    new_tab: bool
    permalink: bool


def title_of(facts: Facts, known: str = "") -> str:
    """What a page is called: its heading, its title, what it was known by, its first
    heading. "" where it has none of these."""
    named = page_heading(facts.headings)
    first = facts.headings[0].text if facts.headings else ""
    return (named.text if named else "") or facts.title or known or first


def mark_rows(page: PageReading) -> Iterator[MarkRow]:
    """The marks of a page."""
    marks = page.facts.marks
    shut = hidden_parts.states(page.source, [one.number for one in marks])
    for number, attribute, value, tag, empty in marks:
        words = called_by(page.source, number, tag)
        yield MarkRow(number, attribute, value, tag, empty, shut.get(number, ""), words)


def called_by(source: Source, number: int, tag: str) -> str:
    """The words of a mark. A heading has those of its section."""
    return "" if tag in LEVELS else mark_words.words_of(source, number)


def link_rows(page: PageReading) -> Iterator[LinkRow]:
    """The links of a page."""
    base_target = page.facts.base_target
    below = [menu for menu in page.menus if menu.region in ("footer", "aside")]
    in_menu = {item.number for menu in below for item in menu.items}
    style = AddressStyle(urls.origin_of(page.address), page.is_loose, page.led_on)
    for number, href, words, region, target, permalink in page.facts.links:
        where = hops.IN_MENU if number in in_menu else region
        told = (number, href, words, where, target or base_target, permalink)
        yield link_row(style, page.ends, told)


class AddressStyle(NamedTuple):
    """A site's address. is_loose, led_on: as `PageReading` has them."""

    origin: str
    is_loose: bool
    led_on: Mapping[str, str] = {}


def link_row(
    style: AddressStyle, ends: LinkEnds, told: tuple[int, str, str, str, str, bool]
) -> LinkRow:
    """The row of a link. told: its number, href, words and region, where it opens, and
    whether it is a heading's own."""
    number, href, words, region, target, permalink = told
    found = ends.resolve(href)
    inside = found is not None and found.origin == style.origin
    key = _key(style.is_loose, found.path) if found and inside else ""
    key = style.led_on.get(key, key)
    fragment = found.fragment if found else None
    new_tab = bool(target) and link_target.is_new_tab(target)
    return LinkRow(number, href, words, region, key, fragment, new_tab, permalink)


# On the pages of a site the same addresses come again and again.
_key = lru_cache(maxsize=65_536)(lambda loose, path: urls.page_key(path, loose))
