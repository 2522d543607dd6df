"""How a contents list differs from its page, and what it would be if it did not."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from innerhop.core.contents import settings
from innerhop.core.contents.entries import Possible, by_mark, flat, nested
from innerhop.core.contents.lists import (
    FOLDING,
    NESTED,
    NUMBERED,
    ContentsList,
    ListEntry,
    is_shortened,
    is_top,
    make_of,
    of_scope,
)
from innerhop.core.source.tree import Source


@dataclass(frozen=True, slots=True)
class OutOfStep:
    """added: parts of the page that are not in the list. gone: entries that lead to
    nothing on the page. relabelled: entries whose part is called something else now.
    moved: entries that stand before one that comes earlier on the page. elsewhere:
    entries that lead to another part than the one with their words. relevelled: entries that
    lie deeper, or less deep, than their headings' levels say."""

    added: Sequence[Possible] = ()
    gone: Sequence[ListEntry] = ()
    relabelled: Sequence[tuple[ListEntry, Possible]] = ()
    moved: Sequence[ListEntry] = ()
    elsewhere: Sequence[tuple[ListEntry, Possible]] = ()
    relevelled: Sequence[ListEntry] = ()

    @property
    def count(self) -> int:
        """How many differences there are."""
        kinds = (
            self.added, self.gone, self.relabelled, self.moved, self.elsewhere, self.relevelled,
        )  # fmt: skip
        return sum(map(len, kinds))


def difference(listing: ContentsList, source: Source, possible: Sequence[Possible]) -> OutOfStep:
    """How a list differs from a page on which these parts could be entries. What stands in
    the list itself, such as the terms that it is made of, is none of them."""
    inside = range(listing.number, listing.last + 1)
    possible = [part for part in possible if part.number not in inside]
    if not listing.can_be_written:
        return OutOfStep()
    marks = by_mark(possible)
    titles = _titles(possible)
    gone: list[ListEntry] = []
    relabelled: list[tuple[ListEntry, Possible]] = []
    elsewhere: list[tuple[ListEntry, Possible]] = []
    ends: list[tuple[ListEntry, Possible]] = []
    for entry in listing.entries:
        end, named = marks.get(entry.to), titles.get(plain(entry.label))
        if end is not None and named is not None and named.number != end.number:
            if not entry.own and not is_shortened(entry.label, end.title):
                elsewhere.append((entry, named))
                end = named
        elif end is None and named is not None and not is_outside(entry):
            if not (entry.arrives or is_top(entry)):
                elsewhere.append((entry, named))
            end = named
        elif end is None and listing.made and not entry.arrives and not is_outside(entry):
            gone.append(entry)  # in a list that someone made it is a broken hop, and theirs
        elif (
            listing.made and end is not None and not entry.own and not says(entry.label, end.title)
        ):
            relabelled.append((entry, end))
        if end is not None:
            ends.append((entry, end))
    # Of an ID that several parts have, nobody knows which the list means.
    times = Counter(id_ for part in possible for id_ in {part.mark, *part.others})
    in_order = [(entry, end) for entry, end in ends if times[entry.to] == 1]
    moved = [] if listing.settings.own_order or not listing.is_whole else _out_of_order(in_order)
    listed = {end.number for _, end in ends}
    added = [part for part in wanted(listing, possible) if part.number not in listed]
    if not listing.made:
        added = _missed(listing, source, possible, added) if listing.is_whole else []
    is_nested = listing.made and listing.is_whole and listing.settings.kind in _NESTED
    relevelled = _relevelled(ends) if is_nested and len(ends) == len(listing.entries) else []
    return OutOfStep(added, gone, relabelled, moved, elsewhere, relevelled)


_NESTED = (NESTED, NUMBERED, FOLDING)


def _relevelled(ends: Sequence[tuple[ListEntry, Possible]]) -> list[ListEntry]:
    """The entries that lie elsewhere than the levels of their parts, closed up, put them."""
    deep = flat(nested([(part.level, entry) for entry, part in ends]))
    return [entry for depth, entry in deep if depth != entry.depth]


def _missed(
    listing: ContentsList,
    source: Source,
    possible: Sequence[Possible],
    added: Sequence[Possible],
) -> list[Possible]:
    """Of the parts that a list someone made by hand lacks, those that they forgot: not what
    other links at the top lead to, what stands above the list, or what is called the same
    again and again, as labels are."""
    times = Counter(plain(part.title) for part in possible)
    return [
        part
        for part in added
        if part.mark not in listing.reached
        and part.number in listing.among
        and make_of(source, part.number) in listing.makes
        and times[plain(part.title)] < _OFTEN
        and not part.number < listing.number
    ]


_OFTEN = 3


def wanted(listing: ContentsList, possible: Sequence[Possible]) -> list[Possible]:
    """What a list is to hold by its settings; nothing for a group chosen by hand."""
    own = listing.settings
    if own.scope == settings.CHOSEN:
        return []
    inside = range(listing.number, listing.last + 1)
    return [
        part
        for part in of_scope(possible, own.scope)
        if part.kind in own.levels and part.key not in own.left_out and part.number not in inside
    ]


Line = tuple[Possible | None, ListEntry | None, str]  # the part, the entry there is, its words


def up_to_date(
    listing: ContentsList, source: Source, possible: Sequence[Possible]
) -> list[Line] | None:
    """The entries of a list as they are to be: those that lead to nothing left out, those
    of new parts put in, the editor's words, choices and order kept. None for a list that
    is in step."""
    off = difference(listing, source, possible)
    if not off.count:
        return None
    marks = by_mark(possible)
    gone = {entry.number for entry in off.gone}
    leads = {entry.number: part for entry, part in off.elsewhere}
    named = {entry.number: part.title for entry, part in off.relabelled}
    lines: list[Line] = []
    seen: set[int] = set()
    for entry in listing.entries:
        if entry.number in gone:
            continue
        part = leads.get(entry.number) or marks.get(entry.to)
        if part is not None and part.number in seen and entry.number in leads:
            continue
        seen |= {part.number} if part else set()
        lines.append((part, entry, named.get(entry.number, entry.label)))
    if off.moved:
        lines = _in_page_order(lines)
    for part in off.added:
        if part.number not in seen:
            _put_in(lines, (part, None, part.title))
    return lines


def _in_page_order(lines: Sequence[Line]) -> list[Line]:
    """Entries in the order of their parts; those that lead elsewhere stay behind the one
    that they stand behind."""
    keyed: list[tuple[int, int, Line]] = []
    last = -1
    for at, line in enumerate(lines):
        last = line[0].number if line[0] else last
        keyed.append((last, at, line))
    return [line for _, _, line in sorted(keyed, key=lambda one: one[:2])]


def _put_in(lines: list[Line], line: Line) -> None:
    """Put an entry behind that of the nearest part before its own."""
    part = line[0]
    assert part is not None
    before = [at for at, (one, _, _) in enumerate(lines) if one and one.number < part.number]
    nearest = max(before, key=lambda at: (lines[at][0] or part).number, default=-1)
    lines.insert(nearest + 1, line)


def is_outside(entry: ListEntry) -> bool:
    """Whether an entry leads to another page or site, which says nothing of this one."""
    return not entry.to and not entry.href.startswith("#")


def plain(label: str) -> str:
    """Words as they are compared: without a number before them, and without case."""
    said = " ".join(label.split()).casefold()
    return re.sub(r"^(?:\d+[.)]?)(?:\d+[.)]?)*\s+", "", said).rstrip(" .:¶#")


def says(label: str, title: str) -> bool:
    """Whether an entry's words are those of a title."""
    return plain(label) == plain(title)


def _titles(possible: Sequence[Possible]) -> dict[str, Possible]:
    """What stands under which words, where it is one part only."""
    seen: dict[str, Possible | None] = {}
    for part in possible:
        said = plain(part.title)
        seen[said] = None if said in seen else part
    return {said: part for said, part in seen.items() if part is not None}


def _out_of_order(ends: Sequence[tuple[ListEntry, Possible]]) -> list[ListEntry]:
    """The fewest entries that have to move for all to be in page order: those outside of
    the longest run that is in order already."""
    best: list[tuple[int, int]] = []  # how long a run ends here, and the one before it
    tails: list[int] = []
    for at, (_, end) in enumerate(ends):
        low, high = 0, len(tails)
        while low < high:
            middle = (low + high) // 2
            if ends[tails[middle]][1].number <= end.number:
                low = middle + 1
            else:
                high = middle
        best.append((low, tails[low - 1] if low else -1))
        tails[low : low + 1] = [at]
    kept: set[int] = set()
    at = tails[-1] if tails else -1
    while at >= 0:
        kept.add(at)
        at = best[at][1]
    return [entry for at, (entry, _) in enumerate(ends) if at not in kept]
