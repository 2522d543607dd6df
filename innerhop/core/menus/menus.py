"""The menus of one page: lists, and lines, of links in the site's frame, read as items.

Where a menu may stand: `nav`, `header`, `footer` and parts that pages share beside their
content (HTML Standard, https://html.spec.whatwg.org/multipage/sections.html#the-nav-element).
The item of the page that is open: `aria-current`
(https://www.w3.org/TR/wai-aria-1.2/#aria-current); without it, words among links, or a
word in its class that others lack (common practice, no source).
"""

from __future__ import annotations

import re
from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Iterator, Sequence
from operator import attrgetter
from typing import NamedTuple

from innerhop.core.contents import settings as list_settings
from innerhop.core.facts import frame
from innerhop.core.facts.page_facts import Facts, Link
from innerhop.core.facts.words import words
from innerhop.core.menus import no_menus
from innerhop.core.source.content_models import LEVELS, LISTS
from innerhop.core.source.elements import Element, Text
from innerhop.core.source.tree import Source

# What an item is: a link; words, which lead nowhere; or a button, which only a script
# knows the way of.
LINK, WORDS, BUTTON = "link", "words", "button"
BESIDE = "part"  # the region of what pages share beside their content
# How an item says that its page is the one that is open.
BY_ARIA, BY_CLASS, BY_WORDS = "aria", "class", "words"
FEWEST = 2  # items that lead somewhere; of one alone nobody would say menu
MOST = 1_000  # items of one menu that are read
_MOST_MENUS, _MOST_READ = 24, 60
_LINES = ("nav", "p", "div", "header", "footer", "aside", "section", "span", "td")
_BOXES = ("div", "span")
_BESIDE = re.compile(r"\w+")
_MOST_BESIDE = 0.5  # of a line's words so large a part may stand outside its links
_CURRENT_WORD = re.compile(r"(?:^|[-_])(?:current|active|selected|here|open)(?:$|[-_])")


class Item(NamedTuple):
    """An item of a menu. number: of its link, or of what holds its words. item: of the list
    entry around it, or the same. href: as written, "" for what is no link. depth: from 0.
    current: how it says that it is the open page's, "" when it doesn't."""

    number: int
    item: int
    label: str
    href: str
    depth: int
    kind: str = LINK
    current: str = ""


class Menu(NamedTuple):
    """A menu as it stands on a page. number, last: of the list or line that holds its items
    and of the last element inside it. region: "nav", "header", "footer", "aside" or "part"
    where that stands. name: what the page calls it, "" for nothing. lit: whether the item of
    the section that a reader is in is lit up as they scroll."""

    number: int
    last: int
    region: str
    name: str
    items: Sequence[Item]
    lit: bool = False


class Room(NamedTuple):
    """A part of a page in which menus may stand."""

    number: int
    last: int
    region: str


def places(facts: Facts, shared: Iterable[tuple[int, int]]) -> list[Room]:
    """The parts of a page in which menus may stand. shared: the first and last numbers of
    parts that it may have in common with others."""
    found = [Room(one, last, facts.regions[one]) for one, last in facts.frame.items()]
    inside = [(one.number, one.last) for one in found]
    for first, last in shared:
        if not any(one <= first and last <= end for one, end in inside):
            found.append(Room(first, last, BESIDE))
            inside.append((first, last))
    return sorted(found)


_NAMED = ", ".join(
    f"[class~={name}], [id={name}]"
    for name in ("nav", "navbar", "navigation", "menu", "mainmenu", "main-nav", "main-menu",
                 "site-nav", "site-menu", "global-nav", "top-nav", "topnav", "nav-menu")
)  # fmt: skip
_LARGEST = 300  # elements of a part that is a menu by its name


def named_so(source: Source) -> list[tuple[int, int]]:
    """Parts of a page outside of its content that are menus by their class or ID alone (common
    practice, no source; from memory): the first and last number of each."""
    reading = source.reading
    found = [(one, one + reading.count_inside(one)) for one in reading.matching(_NAMED)]
    return [(one, last) for one, last in found
            if last - one <= _LARGEST and not frame.is_content(source, one)]  # fmt: skip


def find(
    source: Source, facts: Facts, where: Sequence[Room], left_out: Sequence[range] = ()
) -> list[Menu]:
    """The menus of a page, in its order. left_out: the page's own contents lists."""
    return [
        menu
        for menu in lists_of_links(source, facts, where)
        if not any(menu.number in one for one in left_out) and not _is_none(source, facts, menu)
    ][:_MOST_MENUS]


def lists_of_links(source: Source, facts: Facts, where: Sequence[Room]) -> list[Menu]:
    """All lists and lines of links in these parts of a page, read as menus, whether they are
    such or not."""
    found: list[Menu] = []
    numbers = [link.number for link in facts.links]
    ends = -1
    for place in where:
        links = numbers[bisect_left(numbers, place.number) : bisect_right(numbers, place.last)]
        if len(links) < FEWEST:
            continue
        for body in _bodies(source, place, links):
            if body > ends and len(found) < _MOST_READ:
                menu = read(source, facts, body, place)
                if menu is not None:
                    found.append(menu)
                    ends = menu.last
    return found


def _is_none(source: Source, facts: Facts, menu: Menu) -> bool:
    first = bisect_left(facts.links, menu.number, key=attrgetter("number"))
    last = bisect_right(facts.links, menu.last, key=attrgetter("number"))
    return no_menus.is_none(source, facts, menu.number, facts.links[first:last])


def _bodies(source: Source, place: Room, links: Sequence[int]) -> list[int]:
    """The outermost lists, and the lines of links, of a part of the page."""
    reading = source.reading
    made = [(one.number, one.last) for one in source.having(list_settings.KIND)]
    made += [(one, one + reading.count_inside(one)) for one in reading.of_tags(("template",))]
    left = [one for one in links if not any(first <= one <= last for first, last in made)]
    counts: dict[int, int] = {}
    end = -1
    lists = reading.of_tags(LISTS)
    for number in lists[bisect_left(lists, place.number) : bisect_right(lists, place.last)]:
        if number > end:
            end = number + reading.count_inside(number)
            counts[number] = bisect_right(left, end) - bisect_left(left, number)
    inside = [(one, one + reading.count_inside(one)) for one in counts]
    for link in left:
        if any(first < link <= last for first, last in inside):
            continue
        line = reading.parent(link)
        if reading.tag(line) in _BOXES and len(reading.inside(line, "a")) == 1:
            line = reading.parent(line)  # each link stands in a box of its own
        if line >= place.number and reading.tag(line) in _LINES:
            counts[line] = counts.get(line, 0) + 1
    enough = [one for one, count in counts.items() if count >= FEWEST]
    return sorted(one for one in enough if reading.tag(one) in LISTS or _is_line(source, one))


def _is_line(source: Source, number: int) -> bool:
    """Whether a part is its links, with some words between them at most."""
    if any(one.tag in LISTS for one in source.element(number).inside):
        return False
    inside = sum(
        len(_BESIDE.findall(one.text)) for one in source.element(number).inside if one.tag == "a"
    )
    beside = len(_BESIDE.findall(source.text_of(number))) - inside
    return beside <= _MOST_BESIDE * inside


def read(source: Source, facts: Facts, number: int, place: Room) -> Menu | None:
    """The menu that a list or a line of links is; None when it is too little."""
    last = source.last_inside(number)
    links = {one.number: one for one in facts.links
             if number < one.number <= last and not one.permalink}  # fmt: skip
    reader = _Reader(source, links)
    if source.tags[number] in LISTS:
        items = list(reader.of_list(number, 0))
    else:
        items = list(reader.of_line(number))
    if sum(one.kind == LINK for one in items) < FEWEST:
        return None
    named = _with_current(source, items[:MOST])
    region, name = _region(source, number, place), _name(source, number, place)
    lit = source.attr(number, list_settings.MENU) is not None
    return Menu(number, last, region, name, named, lit)


class _Reader:
    """Items of a list, and of the lists in it. links: of the page, by number."""

    def __init__(self, source: Source, links: dict[int, Link]) -> None:
        self.source = source
        self.links = links

    def of_list(self, number: int, depth: int) -> Iterator[Item]:
        """The items of a list, each followed by those under it."""
        for child in self.source.element(number).shown:
            if not isinstance(child, Element):
                continue
            if child.tag in LISTS:  # put straight into a list, which no parser minds
                yield from self.of_list(child.number, depth + 1)
                continue
            below = _lists_in(child)
            own = self._own(child, below)
            if own is not None:
                yield own._replace(depth=depth)
            for one in below:
                yield from self.of_list(one, depth + (own is not None))

    def _own(self, entry: Element, below: Sequence[int]) -> Item | None:
        """What an entry itself is, less the lists in it."""
        hidden = [range(one, self.source.last_inside(one) + 1) for one in below]
        inside = [one for one in entry.line_inside if not any(one.number in run for run in hidden)]
        link = next((self.links[one.number] for one in inside if one.number in self.links), None)
        if link is not None:
            return Item(link.number, entry.number, link.text, link.href, 0)
        button = next((one for one in inside if one.tag in ("button", "a")), None)
        said = " ".join(_text_without(entry, set(below)).split())
        if button is not None:
            return Item(button.number, entry.number, words(self.source, button.number), "", 0,
                        BUTTON)  # fmt: skip
        if not said:
            return None
        holder = entry.number
        shown = [one for one in entry.shown if getattr(one, "number", -1) not in below]
        if len(shown) == 1 and isinstance(shown[0], Element):
            holder = shown[0].number
        return Item(holder, entry.number, said, "", 0, WORDS)

    def of_line(self, number: int) -> Iterator[Item]:
        """The items of a line of links."""
        for child in self.source.element(number).shown:
            if not isinstance(child, Element):
                continue
            link = self.links.get(child.number)
            if link is not None:
                yield Item(link.number, link.number, link.text, link.href, 0)
            elif child.tag == "button":
                yield Item(child.number, child.number, words(self.source, child.number), "", 0,
                           BUTTON)  # fmt: skip
            elif child.tag in ("strong", "b", "em", *_BOXES) and child.text.strip():
                inside = next((one for one in child.inside if one.number in self.links), None)
                own = self.links[inside.number] if inside is not None else None
                if own is not None:
                    yield Item(own.number, child.number, own.text, own.href, 0)
                elif len(child.text.strip()) > 1:  # one character is what stands between
                    label = words(self.source, child.number)
                    yield Item(child.number, child.number, label, "", 0, WORDS)


def _lists_in(entry: Element) -> list[int]:
    """The outermost lists inside an element."""
    found: list[int] = []
    end = -1
    for one in entry.inside:
        if one.number > end and one.tag in LISTS:
            found.append(one.number)
            end = one.last
    return found


def _text_without(entry: Element, left_out: set[int]) -> str:
    parts: list[str] = []
    for child in entry.children:
        if isinstance(child, Text):
            parts.append(child.data)
        elif isinstance(child, Element) and child.number not in left_out:
            parts.append(_text_without(child, left_out))
    return "".join(parts)


def _with_current(source: Source, items: Sequence[Item]) -> list[Item]:
    """The items, those of the page that is open as such."""
    said = [_aria(source, one) for one in items]
    if not any(said):
        classes = [class_words(source, one) for one in items]
        said = [_by_class(own, classes, at) for at, own in enumerate(classes)]
    if not any(said):
        last = [at + 1 == len(items) or items[at + 1].depth <= one.depth
                for at, one in enumerate(items)]  # fmt: skip
        alone = [one.kind == WORDS and is_leaf
                 for one, is_leaf in zip(items, last, strict=True)]  # fmt: skip
        said = [BY_WORDS if one and sum(alone) == 1 else "" for one in alone]
    return [one._replace(current=how) for one, how in zip(items, said, strict=True)]


def _aria(source: Source, item: Item) -> str:
    """ARIA 1.2: every value but "false" and nothing says so."""
    for number in {item.number, item.item}:
        value = source.attr(number, "aria-current")
        if value is not None and value.strip().lower() not in ("", "false"):
            return BY_ARIA
    return ""


def class_words(source: Source, item: Item) -> set[str]:
    """The words in the classes of an item."""
    found: set[str] = set()
    for number in {item.number, item.item}:
        found |= {*(source.attr(number, "class") or "").split()}
    return found


def current_words(own: Iterable[str]) -> set[str]:
    """Those of some words in a class that say that an item is the open page's."""
    return {one for one in own if _CURRENT_WORD.search(one.lower())}


def _by_class(own: set[str], classes: Sequence[set[str]], at: int) -> str:
    telling = current_words(own)
    others = (one for other, one in enumerate(classes) if other != at)
    return BY_CLASS if telling and not any(telling & one for one in others) else ""


def _region(source: Source, number: int, place: Room) -> str:
    """A `nav` in a header or footer is that one's menu."""
    if place.region != "nav":
        return place.region
    outer = (one.tag for one in source.element(place.number).ancestors)
    return next((tag for tag in outer if tag in ("header", "footer", "aside")), "nav")


def _name(source: Source, number: int, place: Room) -> str:
    """What the page calls a menu: a label of what is around it, or a heading before it."""
    around = [one for one in source.element(number).line if one.number >= place.number]
    for one in around:
        label = " ".join((one.attr("aria-label") or "").split())
        if label:
            return label
        label = _labelled(source, one)
        if label:
            return label
    before = next(
        (one for one in source.element(number).siblings_before() if not one.is_blank), None
    )
    if isinstance(before, Element) and (before.tag in LEVELS or before.tag == "p"):
        said = words(source, before.number)
        return said if len(said.split()) <= 6 else ""
    return ""


def _labelled(source: Source, one: Element) -> str:
    asked = (one.attr("aria-labelledby") or "").split()
    if not asked:
        return ""
    by_id = {element.attr("id"): element.number for element in source.having("id")}
    return " ".join(words(source, by_id[id_]) for id_ in asked if id_ in by_id)
