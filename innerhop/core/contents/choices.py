"""What the entries of a contents list are chosen from: those that it has, as they are to be now,
and what else of its page could be one."""

from __future__ import annotations

from bisect import bisect_left
from collections import defaultdict
from collections.abc import Collection, Sequence
from dataclasses import dataclass

from innerhop.core.contents.entries import Possible, by_mark
from innerhop.core.contents.in_step import OutOfStep
from innerhop.core.contents.lists import ContentsList


@dataclass(frozen=True, slots=True)
class Choice:
    """One that can be an entry. part: of the page, where it leads; None for an entry that leads
    elsewhere. title: what is there called. on: whether it is one. label: words that are not the
    part's own, "" for those. link: the number of the link that it is now, None for none."""

    part: Possible | None
    title: str
    on: bool
    label: str = ""
    link: int | None = None

    @property
    def needs_id(self) -> bool:
        """Whether its part has to be marked before it can be one."""
        return self.part is not None and not self.part.mark


def for_new(possible: Sequence[Possible], kinds: Collection[str]) -> list[Choice]:
    """For a list that is not there yet. possible: what could be listed, in the page's order;
    kinds: what is, unless someone chooses otherwise."""
    return [Choice(one, one.title, one.kind in kinds) for one in possible]


def of_list(listing: ContentsList, off: OutOfStep, possible: Sequence[Possible]) -> list[Choice]:
    """For a list that is there, in its own order. off: how it differs from its page, which is
    put right in what comes back."""
    listed = _listed(listing, off, possible)
    known = {row.part.number for row in listed if row.part}
    added = {part.number for part in off.added}
    rest = [
        Choice(part, part.title, part.number in added)
        for part in possible
        if part.number not in known and not listing.number <= part.number <= listing.last
    ]
    if off.moved and not listing.settings.own_order:
        listed.sort(key=_page_order)
    return _merged(listed, rest)


def _listed(listing: ContentsList, off: OutOfStep, possible: Sequence[Possible]) -> list[Choice]:
    """Its entries, but those that lead to nothing."""
    gone = {entry.number for entry in off.gone}
    meant = {entry.number: part for entry, part in off.elsewhere}
    renamed = {entry.number for entry, _ in off.relabelled}
    marks = by_mark(possible)
    found = []
    for entry in listing.entries:
        if entry.number in gone:
            continue
        part = meant.get(entry.number) or marks.get(entry.to)
        if part is None:
            found.append(Choice(None, entry.label, True, link=entry.number))
            continue
        is_its_own = entry.number in renamed or entry.label == part.title
        label = "" if is_its_own else entry.label
        found.append(Choice(part, part.title, True, label, entry.number))
    return found


def _page_order(row: Choice) -> float:
    return row.part.number if row.part else float("inf")


def _merged(listed: Sequence[Choice], rest: Sequence[Choice]) -> list[Choice]:
    """What is not listed stands behind the nearest listed part before it on the page. rest: in
    the page's order."""
    at = {row.part.number: index for index, row in enumerate(listed) if row.part}
    numbers = sorted(at)
    behind: dict[int, list[Choice]] = defaultdict(list)  # by its place among listed
    for row in rest:
        assert row.part is not None
        before = bisect_left(numbers, row.part.number) - 1
        behind[at[numbers[before]] if before >= 0 else -1].append(row)
    found = behind[-1]
    for index, row in enumerate(listed):
        found += [row, *behind[index]]
    return found
