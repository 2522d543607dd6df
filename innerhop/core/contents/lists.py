"""The contents lists of a page: those that say so themselves, and those that someone made
by hand, known by their shape: a list, a line or a row of links most of which end at
headings of the page, in its order (common practice, no source)."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise

from innerhop.core.contents import settings
from innerhop.core.contents.entries import Possible, by_mark
from innerhop.core.contents.settings import Settings
from innerhop.core.facts.page_facts import Facts
from innerhop.core.facts.words import words
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.tree import Source

NESTED, NUMBERED, LINE, BUTTONS, FOLDING = "nested", "numbered", "line", "buttons", "folding"
POINTS = "points"  # at the side of the view, made with what visitors get
_LISTS = ("ul", "ol", "menu")
_LINES = ("p", "div", "nav")
FEWEST = 3  # entries; of two links nobody can tell
_MOST_OTHER = 0.4  # of its entries may lead elsewhere
# Of a line's words so many may stand outside its links, or so large a part.
_FEW_WORDS, _MOST_WORDS_BESIDE = 5, 0.35
_WORD = re.compile(r"\w+")
# Whose links are the site's, not the page's.
_FRAME = frozenset(("header", "footer", "nav"))

# Where a link on the page leads: the ID there, "" for elsewhere.
Leads = Callable[[str], str]


@dataclass(frozen=True, slots=True)
class Entry:
    """An entry of a list. number: its link's. item: the list entry around it, or the link
    itself. to: the ID that it leads to on this page, "" for elsewhere. depth: from 0.
    own: whether its words are the editor's own. href: as written."""

    number: int
    item: int
    label: str
    to: str
    depth: int
    href: str
    own: bool = False


@dataclass(frozen=True, slots=True)
class ContentsList:
    """A contents list. number: of what is around all of it. body: of the innermost element
    that holds all entries. title: the words above them, "" for none. made: whether it
    carries settings; else these are read off it."""

    number: int
    last: int
    body: int
    title: str
    entries: Sequence[Entry]
    settings: Settings
    made: bool
    id: str = ""


def find(
    source: Source, facts: Facts, found: Sequence[Possible], leads: Leads
) -> list[ContentsList]:
    """The contents lists of a page, in its order. found: what could be entries. leads:
    what says where a link's address leads."""
    within = {link.number: leads(link.href) for link in facts.links}
    lists = [_made(source, facts, one.number, within) for one in source.having(settings.KIND)]
    taken = [range(one.number, one.last + 1) for one in lists if one is not None]
    marks = by_mark(found)
    if sum(to in marks for to in within.values()) >= FEWEST and _has_links_together(source):
        for top in _tops(source, facts, within, taken):
            lists.append(_by_shape(source, facts, top, within, found))
    return sorted((one for one in lists if one is not None), key=lambda one: one.number)


def may_hold(source: Source) -> bool:
    """Whether a page may have contents lists, told at a fraction of the time that looking
    for them takes, and rather wrongly yes than wrongly no."""
    return bool(source.reading.having((settings.KIND,))) or _has_links_together(source)


def _has_links_together(source: Source) -> bool:
    """Whether some links within pages stand in lists, or in one line."""
    reading = source.reading
    links = reading.matching(_WITH_HASH)
    if len(links) < FEWEST:
        return False
    if len(reading.matching(_IN_LISTS)) >= FEWEST:
        return True
    lines = Counter(reading.around(links, _A_LINE))
    return any(count >= FEWEST for number, count in lines.items() if number >= 0)


_WITH_HASH, _A_LINE = 'a[href*="#"], area[href*="#"]', f":is({', '.join(_LINES)})"
_IN_LISTS = f":is({', '.join(_LISTS)}) :is({_WITH_HASH})"


def _made(source: Source, facts: Facts, number: int, within: dict[int, str]) -> ContentsList | None:
    """A list that carries its settings."""
    own = settings.read(source.attributes(number))
    element = source.element(number)
    if own is None or element.in_template:
        return None
    body = next((one.number for one in element.inside if one.tag in (*_LISTS, "p")
                 and any(link.tag == "a" for link in one.inside)), number)  # fmt: skip
    entries = _entries(source, facts, body, within)
    return ContentsList(
        number, element.last, body, _title(source, number, body), entries, own, True,
        element.attr("id") or "",
    )  # fmt: skip


def _tops(
    source: Source, facts: Facts, within: dict[int, str], taken: Sequence[range]
) -> list[int]:
    """The outermost lists, and the lines of links, in which there are links of the page."""
    tops: dict[int, int] = {}
    lines: dict[int, int] = {}
    around = _Around(source)
    for link in facts.links:
        if not within[link.number] or link.region in _FRAME or link.permalink:
            continue
        if any(link.number in stretch for stretch in taken):
            continue
        outer, block = around.of(source.parent(link.number))
        if outer >= 0:
            tops[outer] = tops.get(outer, 0) + 1
        else:
            lines[block] = lines.get(block, 0) + 1
    enough = [number for number, count in tops.items() if count >= FEWEST]
    enough += [
        number
        for number, count in lines.items()
        if number >= 0 and count >= FEWEST and _is_mostly_links(source, number)
    ]
    return sorted(enough)


class _Around:
    """The outermost list around an element, or that one, and the innermost line; -1 for none.
    What is around one is remembered: the links of a page stand in few places."""

    def __init__(self, source: Source) -> None:
        self.source = source
        self.known = {-1: (-1, -1)}

    def of(self, number: int) -> tuple[int, int]:
        """Both of one element."""
        line = []
        while number not in self.known:
            line.append(number)
            number = self.source.parent(number)
        outer, block = self.known[number]
        for one in reversed(line):
            tag = self.source.reading.tag(one)
            if tag in _LISTS:
                outer = outer if outer >= 0 else one
            elif tag in _LINES:
                block = one
            self.known[one] = outer, block
        return outer, block


def _is_mostly_links(source: Source, number: int) -> bool:
    """Whether a line is its links, with a few words before them at most."""
    links = " ".join(one.text for one in source.element(number).inside if one.tag == "a")
    inside = len(_WORD.findall(links))
    beside = len(_WORD.findall(source.text_of(number))) - inside
    return beside <= max(_FEW_WORDS, _MOST_WORDS_BESIDE * inside)


def _by_shape(
    source: Source,
    facts: Facts,
    body: int,
    within: dict[int, str],
    found: Sequence[Possible],
) -> ContentsList | None:
    """A list without settings, if it is one by its shape."""
    entries = _entries(source, facts, body, within)
    marks = by_mark(found)
    ends = [marks[one.to] for one in entries if one.to in marks]
    if len(ends) < FEWEST or len(ends) < (1 - _MOST_OTHER) * len(entries):
        return None
    body_end = source.last_inside(body)
    if any(body <= one.number <= body_end for one in ends):  # it holds what it lists
        return None
    numbers = [one.number for one in ends]
    steps = [after > before for before, after in pairwise(numbers)]
    if 2 * sum(steps) < len(steps):
        return None
    top = _around(source, body)
    own = Settings(_kind(source, body, top), _levels(ends), scope=_scope(found, ends))
    element = source.element(top)
    return ContentsList(
        top, element.last, body, _title(source, top, body), entries, own, False,
        element.attr("id") or source.attr(body, "id") or "",
    )  # fmt: skip


def _entries(source: Source, facts: Facts, body: int, within: dict[int, str]) -> list[Entry]:
    last = source.last_inside(body)
    entries = []
    for link in facts.links:
        if not body < link.number <= last:
            continue
        line = [one for one in source.element(link.number).line if one.number > body]
        item = next((one.number for one in line if one.tag == "li"), link.number)
        depth = sum(one.tag in _LISTS for one in line)
        is_own = source.attr(link.number, settings.LABEL) == settings.OWN
        entries.append(
            Entry(link.number, item, link.text, within[link.number], depth, link.href, is_own)
        )
    return entries


def _around(source: Source, body: int) -> int:
    """What is around a list's entries and nothing else: the `nav` or box that it fills, with
    a title at most."""
    top = body
    while (above := source.element(top).parent) is not None:
        if above.tag not in ("nav", "div", "aside", "section", "details"):
            break
        beside = [one for one in above.shown if getattr(one, "number", -1) != top]
        if len(beside) > 1 or any(not _is_title(source, one) for one in beside):
            break
        top = above.number
    return top


def _is_title(source: Source, child: object) -> bool:
    number = getattr(child, "number", None)
    if number is None:
        return False
    if source.tags[number] in (*LEVELS, "summary", "strong", "b"):
        return True
    return source.tags[number] in ("p", "div") and len(source.text_of(number).split()) <= 6


def _title(source: Source, top: int, body: int) -> str:
    """The words above the entries; of a `nav` without any, its label."""
    for one in source.element(top).inside:
        if one.number >= body:
            break
        if one.tag in (*LEVELS, "summary", "strong", "b", "p"):
            return words(source, one.number)
    return ""


def _kind(source: Source, body: int, top: int) -> str:
    tag = source.tags[body]
    if "details" in [one.tag for one in source.element(body).line if one.number >= top]:
        return FOLDING
    if tag in _LISTS:
        return NUMBERED if tag == "ol" else NESTED
    links = [one for one in source.element(body).inside if one.tag == "a"]
    return BUTTONS if links and all(one.attr("class") for one in links) else LINE


def _levels(ends: Iterable[Possible]) -> tuple[str, ...]:
    kinds = {one.kind: one.level for one in ends}
    return tuple(sorted(kinds, key=lambda kind: (kinds[kind], kind)))


def _scope(found: Sequence[Possible], ends: Sequence[Possible]) -> str:
    """Of what a list without settings is a list: the page, the section that all its entries
    lie in, or a group that someone chose."""
    kinds, listed = set(_levels(ends)), {one.number for one in ends}
    for scope, stretch in ((settings.PAGE, found), *_section_around(found, ends)):
        same = [one for one in stretch if one.kind in kinds]
        if same and sum(one.number in listed for one in same) >= (1 - _MOST_OTHER) * len(same):
            return scope
    return settings.CHOSEN


def _section_around(
    found: Sequence[Possible], ends: Sequence[Possible]
) -> list[tuple[str, Sequence[Possible]]]:
    """The section that holds all these parts, by its key, with what is in it."""
    first, last = min(one.number for one in ends), max(one.number for one in ends)
    highest = min(one.level for one in ends)
    above = [one for one in found if one.number < first and one.level < highest]
    if not above:
        return []
    inside = list(within(found, above[-1]))
    return [(above[-1].key, inside)] if inside and inside[-1].number >= last else []


def within(found: Sequence[Possible], section: Possible) -> list[Possible]:
    """What lies in a section."""
    inside = []
    for one in found:
        if one.number > section.number:
            if one.level <= section.level:
                break
            inside.append(one)
    return inside


def of_scope(found: Sequence[Possible], scope: str) -> list[Possible]:
    """What a list of that scope could hold; all of the page where the section that it was
    of is gone."""
    section = next((one for one in found if one.key == scope), None)
    if section is None or scope == settings.PAGE:
        return list(found)
    return within(found, section)
