"""Which element of a text was which of the one before, told by the edits between them."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from itertools import islice

from innerhop.core.edits import Edit, in_order
from innerhop.core.source.tree import Source


class Inserted:
    """What the edits put in, as stretches of the new text, in order."""

    def __init__(self, edits: Sequence[Edit]) -> None:
        self._starts: list[int] = []
        self._ends = [0]  # of the stretch before each place, and how far it moved what follows
        self._shifts = [0]
        for edit in in_order(edits):
            start = edit.start + self._shifts[-1]
            self._starts.append(start)
            self._ends.append(start + len(edit.new))
            self._shifts.append(self._shifts[-1] + len(edit.new) - len(edit.old))

    def old_place(self, place: int) -> int | None:
        """Where a character of the new text stood in the old; None where it is new."""
        at = bisect_right(self._starts, place)
        return None if place < self._ends[at] else place - self._shifts[at]

    def holds(self, start: int, end: int) -> bool:
        """Whether all of a stretch was put in at once."""
        return start < end <= self._ends[bisect_right(self._starts, start)]


def origins_of(old: Source, new: Source, edits: Sequence[Edit]) -> list[int | None]:
    """For each element of the new text, by number, which of the old one it was; None
    for one that is new. One that no tag made was the one after the same element."""
    inserted, by_start = Inserted(edits), old.by_start
    same = _same(old, new, min((edit.start for edit in edits), default=len(old.text)))
    found: list[int | None] = [*range(same)]
    last: int | None = same - 1 if same else None
    for start in islice(new.starts, same, None):
        if start >= 0:
            place = inserted.old_place(start)
            origin = by_start.get(place) if place is not None else None
        else:
            origin = 0 if last is None else last + 1
            if origin >= len(old) or old.starts[origin] >= 0:
                origin = None
        found.append(origin)
        last = last if origin is None else origin
    return found


def _same(old: Source, new: Source, first: int) -> int:
    """How many elements at the beginning are surely the same: they begin before the first
    edit. Most of a page does, and is told many times as fast so."""
    pairs = zip(old.starts, new.starts, strict=False)
    differ = (at for at, (one, other) in enumerate(pairs) if one != other or one >= first)
    return next(differ, min(len(old), len(new)))


Shift = tuple[int, int]  # from that number on, by how much


def shifts_of(origins: Sequence[int | None]) -> list[Shift]:
    """How the numbers of elements move that were there before, in the old count, each
    beside what those before it do."""
    found: list[Shift] = []
    moved = 0
    for number, origin in enumerate(origins):
        if origin is not None and number - origin != moved:
            found.append((origin, number - origin - moved))
            moved = number - origin
    return found
