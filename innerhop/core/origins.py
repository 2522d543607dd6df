"""Which element of a text was which of the one before, told by the edits between them."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence

from innerhop.core.edits import Edit, in_order
from innerhop.core.source.tree import Source


class Inserted:
    """What the edits put in, as stretches of the new text, in order."""

    def __init__(self, edits: Sequence[Edit]) -> None:
        self.stretches: list[tuple[int, int, int]] = []  # start, end, shift behind it
        shift = 0
        for edit in in_order(edits):
            start = edit.start + shift
            shift += len(edit.new) - len(edit.old)
            self.stretches.append((start, start + len(edit.new), shift))

    def around(self, place: int) -> tuple[int, int, int] | None:
        """The stretch that holds the character at that place, if one does."""
        at = bisect_right(self.stretches, place, key=lambda one: one[0]) - 1
        found = self.stretches[at] if at >= 0 else None
        return found if found and place < found[1] else None

    def old_place(self, place: int) -> int | None:
        """Where a character of the new text stood in the old; None where it is new."""
        if self.around(place) is not None:
            return None
        at = bisect_right(self.stretches, place, key=lambda one: one[0]) - 1
        return place - (self.stretches[at][2] if at >= 0 else 0)

    def holds(self, start: int, end: int) -> bool:
        """Whether all of a stretch was put in at once."""
        found = self.around(start)
        return found is not None and end <= found[1]


def origins_of(old: Source, new: Source, edits: Sequence[Edit]) -> list[int | None]:
    """For each element of the new text, by number, which of the old one it was; None
    for one that is new. One that no tag made was the one after the same element."""
    inserted, by_start = Inserted(edits), old.by_start
    found: list[int | None] = []
    last: int | None = None
    for start in new.starts:
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
