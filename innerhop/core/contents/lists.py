"""The contents lists of a page: those that say so themselves, and those that someone made
by hand, known by their shape: a list, a line or a row of links, each little else, most of
which end at headings of the page, say their words and keep their order (common practice, no
source; how often that is right is measured on open corpora, see `judging`)."""

from __future__ import annotations

import re
from bisect import bisect_left, bisect_right
from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence, Set
from dataclasses import dataclass
from itertools import pairwise

from innerhop.core.contents import settings
from innerhop.core.contents.entries import Possible, by_mark
from innerhop.core.contents.settings import Settings
from innerhop.core.facts.page_facts import Facts, Link
from innerhop.core.facts.words import words, words_without
from innerhop.core.source.content_models import LEVELS, LISTS
from innerhop.core.source.elements import Element
from innerhop.core.source.tree import Source

NESTED, NUMBERED, LINE, BUTTONS, FOLDING = "nested", "numbered", "line", "buttons", "folding"
POINTS = "points"  # at the side of the view, made with what visitors get
_LINES = ("p", "div", "nav")
FEWEST = 3  # entries; of two links nobody can tell
_MOST_OTHER = 0.4  # of its entries may lead elsewhere
# Of a line's words so many may stand outside its links, or so large a part.
_FEW_WORDS, _MOST_WORDS_BESIDE = 5, 0.35
_WORD = re.compile(r"\w+")
_TABLES = ("dl", "table")  # lists that are read, and can't be written entry by entry
_MOST_BESIDE = 0.5  # of an entry's words so large a part may stand beside its link
_FEW_BESIDE = 2  # words
_SAYING = 0.6  # of its entries so large a part says the words of its end
_IN_ORDER = 0.5
# What lists of a page's own sections are called where a site's menus stand, and words in
# their classes and IDs (common practice, no source; from memory).
_CALLED = re.compile(
    r"contents|on this page|in this (?:page|article|section)|sections|overview|toc\b|"
    r"inhalt|auf dieser seite|table des mati|sommaire|sur cette page|inhoud|op deze pagina|"
    r"contenido|en esta p|indice|in questa pagina|nesta p|inneh|indhold|spis tre|cynnwys",
    re.IGNORECASE,
)
_CLASSED = re.compile(
    r"(?:^|[-_\s])(?:toc|contents?|outline|on-?this-?page|page-?nav|jump(?:-?links?)?|in-?page)"
    r"(?:$|[-_\s])|toctree|tableofcontents|table-of-contents",
    re.IGNORECASE,
)

# Where a link on the page leads: the ID there, "" for elsewhere.
Leads = Callable[[str], str]


@dataclass(frozen=True, slots=True)
class ListEntry:
    """An entry of a list. number: its link's. item: the list entry around it, or the link
    itself. to: the ID that it leads to on this page, "" for elsewhere. depth: from 0.
    own: whether its words are the editor's own. href: as written. arrives: whether it leads
    to something on the page: an ID that it has, or its top."""

    number: int
    item: int
    label: str
    to: str
    depth: int
    href: str
    own: bool = False
    arrives: bool = True


@dataclass(frozen=True, slots=True)
class ContentsList:
    """A contents list. number: of what is around all of it. body: of the innermost element
    that holds all entries. title: the words above them, "" for none. made: whether it
    carries settings; else these are read off it. reached: the IDs that other links above the
    page's sections lead to: readers lack no entry for these. can_be_written: whether it is made
    of what our planners write entry by entry; of tables and terms it is only known. among: the
    elements of the part of the page that holds all that it lists. makes: how the headings that it
    lists are written; of others it may not be a list. is_whole: whether it says of itself that it
    lists all of them: a list after a sentence that ends in a colon is of what that says."""

    number: int
    last: int
    body: int
    title: str
    entries: Sequence[ListEntry]
    settings: Settings
    made: bool
    id: str = ""
    reached: frozenset[str] = frozenset()
    can_be_written: bool = True
    among: range = range(0)
    makes: frozenset[str] = frozenset()
    is_whole: bool = True


def find(
    source: Source, facts: Facts, possible: Sequence[Possible], leads: Leads
) -> list[ContentsList]:
    """The contents lists of a page, in its order. possible: what could be entries. leads:
    what says where a link's address leads."""
    within = {link.number: leads(link.href) for link in facts.links}
    ends = _Ends(within, by_mark(possible), {mark.value for mark in facts.marks})
    lists = [_made(source, facts, one.number, ends) for one in source.having(settings.KIND)]
    taken = [range(one.number, one.last + 1) for one in lists if one is not None]
    if sum(to in ends.marks for to in within.values()) >= FEWEST and _has_links_together(source):
        for top in _tops(source, facts, within, taken):
            lists.append(_by_shape(source, facts, top, ends, possible))
    return _outermost(one for one in lists if one is not None)


@dataclass(frozen=True)
class _Ends:
    """Where the links of a page lead, told once for all that could be a list. within: by a
    link's number, the ID on the page, "" for elsewhere. marks: what could be an entry, by its
    ID. known: the IDs and names that the page has."""

    within: Mapping[int, str]
    marks: Mapping[str, Possible]
    known: Set[str]


def _outermost(lists: Iterable[ContentsList]) -> list[ContentsList]:
    """Lists in page order, none of them inside another."""
    found: list[ContentsList] = []
    for one in sorted(lists, key=lambda one: (one.number, -one.last)):
        if not found or one.number > found[-1].last:
            found.append(one)
    return found


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
_IN_LISTS = f":is({', '.join((*LISTS, *_TABLES))}) :is({_WITH_HASH})"


def _made(source: Source, facts: Facts, number: int, page: _Ends) -> ContentsList | None:
    """A list that carries its settings."""
    own = settings.read(source.attributes(number))
    element = source.element(number)
    if own is None or element.in_template:
        return None
    body = next((one.number for one in element.inside if one.tag in (*LISTS, "p")
                 and any(link.tag == "a" for link in one.inside)), number)  # fmt: skip
    entries = _entries(source, facts, body, page)
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
        if not within[link.number] or link.permalink:
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
            if tag in (*LISTS, "dl"):
                is_inside = outer >= 0 and self.source.reading.tag(outer) != "table"
                outer = outer if is_inside else one
            elif tag == "table":  # which may lay out a page
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
    page: _Ends,
    possible: Sequence[Possible],
) -> ContentsList | None:
    """A list without settings, if it is one by its shape."""
    entries = _entries(source, facts, body, page)
    if not _is_contents(source, body, entries, page.marks):
        return None
    ends = [page.marks[one.to] for one in entries if one.to in page.marks]
    if not _is_the_pages(source, facts, body, entries[0].number):
        return None
    top = _around(source, body)
    own = Settings(_kind(source, body, top), _levels(ends), scope=_scope(possible, ends))
    if own.scope == settings.CHOSEN and not _leads_down(body, ends):
        return None
    element = source.element(top)
    return ContentsList(
        top, element.last, body, _title(source, top, body), entries, own, False,
        element.attr("id") or source.attr(body, "id") or "",
        _reached(facts, page.within, range(top, element.last + 1), min(one.number for one in ends)),
        source.tags[body] not in _TABLES,
        _holding(source, ends),
        frozenset(make_of(source, one.number) for one in ends),
        is_called_contents(source, facts, body) or not _is_introduced(source, top),
    )  # fmt: skip


def _is_contents(
    source: Source, body: int, entries: Sequence[ListEntry], marks: Mapping[str, Possible]
) -> bool:
    """Whether a list, or a line of links, is one of the page's parts."""
    led = [(one, marks[one.to]) for one in entries if one.to in marks]
    ends = [end for _, end in led]
    counted = [one for one in entries if not is_top(one)]
    # Two entries may lead to one part by mistake, but not say the same.
    if len(ends) < FEWEST or len({one.label for one, _ in led}) < FEWEST or len({*ends}) < 2:
        return False
    if len(ends) < (1 - _MOST_OTHER) * len(counted):
        return False
    body_end = source.last_inside(body)
    if any(body <= one.number <= body_end for one in ends):  # it holds what it lists
        return False
    steps = [after.number > before.number for before, after in pairwise(ends)]
    if sum(steps) < _IN_ORDER * len(steps):
        return False
    said = sum(shares_words(one.label, end.title) for one, end in led)
    return said >= _SAYING * len(led) and _are_little_else(source, body, entries)


def _leads_down(body: int, ends: Sequence[Possible]) -> bool:
    """Whether all that a list leads to stands below it, in its order: of a few chosen sections
    that is a list of contents, any other one is a list of what is related."""
    numbers = [body, *(one.number for one in ends)]
    return all(before < after for before, after in pairwise(numbers))


def shares_words(label: str, title: str) -> bool:
    """Whether a label says a title, or nearly: half of the words of the shorter of the two
    stand in the other."""
    mine, its = (set(_WORD.findall(one.casefold())) for one in (label, title))
    return 2 * len(mine & its) >= max(1, min(len(mine), len(its)))


def is_shortened(label: str, title: str) -> bool:
    """Whether a label is a title with words left out."""
    mine, its = (set(_WORD.findall(one.casefold())) for one in (label, title))
    return bool(mine) and mine <= its


def _are_little_else(source: Source, body: int, entries: Sequence[ListEntry]) -> bool:
    """Whether most entries are links and little else, and not sentences with a link."""
    if source.tags[body] not in (*LISTS, "dl"):
        return True
    items = {one.item for one in entries if one.item != one.number}
    linked: dict[int, int] = {}
    for one in entries:
        linked[one.item] = linked.get(one.item, 0) + len(_WORD.findall(one.label))
    alone = 0
    for item in items:
        own = len(_WORD.findall(_own_words(source, item)))
        alone += own - linked[item] <= max(_FEW_BESIDE, _MOST_BESIDE * linked[item])
    return alone >= (1 - _MOST_OTHER) * len(items)


def _own_words(source: Source, item: int) -> str:
    """The words of a list entry, less those of lists in it."""
    below = [one.number for one in source.element(item).inside if one.tag in (*LISTS, "dl")]
    return words_without(source, item, set(below))


def _is_the_pages(source: Source, facts: Facts, body: int, link: int) -> bool:
    """Whether a list is the page's and not the site's: outside of the site's frame; in it, one
    that is called a list of contents. All others there are menus."""
    at = bisect_left(facts.links, link, key=_number)
    if not facts.links[at].region:
        return True
    return is_called_contents(source, facts, body)


def is_called_contents(source: Source, facts: Facts, body: int) -> bool:
    """Whether what stands above or around a list, or its class, says that it is of contents."""
    if _CALLED.search(_title(source, _around(source, body), body)):
        return True
    for one in source.element(body).line:
        said = f"{one.attr('class') or ''} {one.attr('id') or ''}"
        if _CLASSED.search(said) or _CALLED.search(one.attr("aria-label") or ""):
            return True
        before = next((b for b in one.siblings_before() if not b.is_blank), None)
        if isinstance(before, Element) and before.tag in (*LEVELS, "p", "summary"):
            return bool(_CALLED.search(before.text[:_LONGEST_TITLE]))
        if one.number in facts.frame:
            break
    return False


_LONGEST_TITLE = 60  # characters


def make_of(source: Source, number: int) -> str:
    """How a heading is written: its tag, its class, and the tag around it."""
    reading = source.reading
    around = reading.parent(number)
    return f"{reading.tag(number)}.{reading.attr(number, 'class') or ''} in {reading.tag(around)}"


def _is_introduced(source: Source, number: int) -> bool:
    """Whether what stands before a list is a sentence that it ends."""
    before = next(
        (one for one in source.element(number).siblings_before() if not one.is_blank), None
    )
    if not isinstance(before, Element) or before.tag in LEVELS:
        return False
    text = before.text.rstrip()
    return text.endswith(":") and len(text.split()) >= _SENTENCE


_SENTENCE = 5  # words


def _holding(source: Source, ends: Sequence[Possible]) -> range:
    """The elements of the innermost part of the page that holds some parts of it."""
    first, last = min(one.number for one in ends), max(one.number for one in ends)
    around = source.parent(first)
    while source.last_inside(around) < last:
        around = source.parent(around)
    return range(around, source.last_inside(around) + 1)


def _reached(facts: Facts, within: Mapping[int, str], own: range, first: int) -> frozenset[str]:
    """The IDs that links outside of a list lead to, above the first of the parts it lists."""
    return frozenset(
        within[link.number]
        for link in facts.links
        if link.number < first and link.number not in own and within[link.number]
    )


def is_top(entry: ListEntry) -> bool:
    """Whether an entry leads to the top of its page, as the one for its own title does."""
    return entry.href.strip() == "#" or entry.to.lower() == "top"


def _number(link: Link) -> int:
    return link.number


def _entries(source: Source, facts: Facts, body: int, page: _Ends) -> list[ListEntry]:
    first = bisect_right(facts.links, body, key=_number)
    last = bisect_right(facts.links, source.last_inside(body), key=_number)
    entries = []
    for link in facts.links[first:last]:
        line = [one for one in source.element(link.number).line if one.number > body]
        item = next((one.number for one in line if one.tag in ("li", "dt", "dd")), link.number)
        depth = sum(one.tag in (*LISTS, "dl") for one in line)
        is_own = source.attr(link.number, settings.LABEL) == settings.OWN
        to = page.within[link.number]
        arrives = to in page.known or to.lower() == "top" or link.href.strip() == "#"
        entries.append(
            ListEntry(link.number, item, link.text, to, depth, link.href, is_own, arrives)
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
    if tag in LISTS:
        return NUMBERED if tag == "ol" else NESTED
    links = [one for one in source.element(body).inside if one.tag == "a"]
    return BUTTONS if links and all(one.attr("class") for one in links) else LINE


def _levels(ends: Iterable[Possible]) -> tuple[str, ...]:
    kinds = {one.kind: one.level for one in ends}
    return tuple(sorted(kinds, key=lambda kind: (kinds[kind], kind)))


def _scope(possible: Sequence[Possible], ends: Sequence[Possible]) -> str:
    """Of what a list without settings is a list: the page, the section that all its entries
    lie in, or a group that someone chose."""
    kinds, listed = set(_levels(ends)), {one.number for one in ends}
    for scope, stretch in ((settings.PAGE, possible), *_section_around(possible, ends)):
        same = [one for one in stretch if one.kind in kinds]
        if same and sum(one.number in listed for one in same) >= (1 - _MOST_OTHER) * len(same):
            return scope
    return settings.CHOSEN


def _section_around(
    possible: Sequence[Possible], ends: Sequence[Possible]
) -> list[tuple[str, Sequence[Possible]]]:
    """The section that holds all these parts, by its key, with what is in it."""
    first, last = min(one.number for one in ends), max(one.number for one in ends)
    highest = min(one.level for one in ends)
    above = [one for one in possible if one.number < first and one.level < highest]
    if not above:
        return []
    inside = list(within(possible, above[-1]))
    return [(above[-1].key, inside)] if inside and inside[-1].number >= last else []


def within(possible: Sequence[Possible], section: Possible) -> list[Possible]:
    """What lies in a section."""
    inside = []
    for one in possible:
        if one.number > section.number:
            if one.level <= section.level:
                break
            inside.append(one)
    return inside


def of_scope(possible: Sequence[Possible], scope: str) -> list[Possible]:
    """What a list of that scope could hold; all of the page where the section that it was
    of is gone."""
    section = next((one for one in possible if one.key == scope), None)
    if section is None or scope == settings.PAGE:
        return list(possible)
    return within(possible, section)
