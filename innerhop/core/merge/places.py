"""Places between the parts and words of one text of a page, and where they are in another."""

from __future__ import annotations

import re
from bisect import bisect_left, bisect_right
from collections.abc import Hashable, Iterator, Sequence
from typing import NamedTuple

from innerhop.core.merge import common, spans
from innerhop.core.merge.matching import Match
from innerhop.core.source.tree import Source, Span

# What an element holds beside elements: comments, references, words, signs.
_TOKEN = re.compile(r"<!--.*?-->|&#?\w+;|\w+|[^\w\s]", re.DOTALL)


class PlaceItem(NamedTuple):
    """An element, word or sign right inside an element. key: what it is equal to on the other
    side."""

    start: int
    end: int
    key: Hashable


class Alignment:
    """What one element holds, beside what it holds in the other text."""

    def __init__(self, match: Match, number: int) -> None:
        old, new = match.old.source, match.new.source
        there = spans.DOCUMENT if number < 0 else match.to[number]
        self.there = None if there is None else spans.tagged(new, there)
        self._old = list(_items(old, number, match.to))
        self._starts = [one.start for one in self._old]
        self._ends = [one.end for one in self._old]
        self._new: list[PlaceItem] = []
        self._to: dict[int, int] = {}
        self._known: list[int] = []  # the items that are there, in order
        if self.there is None:
            return
        self._new = list(_items(new, self.there))
        for run in common.runs([one.key for one in self._old], [one.key for one in self._new]):
            self._to |= {run.old + at: run.new + at for at in range(run.size)}
        self._known = list(self._to)
        self._inside = spans.inner(new, self.there)

    def place(self, place: int) -> int | None:
        """Where a place is in the other text: beside the part or word that it touches, if that
        is there, else beside its other neighbour. None where nobody can say."""
        if self.there is None or self._inside is None:
            return None
        right = bisect_left(self._starts, place)
        left = bisect_right(self._ends, place) - 1
        if left + 1 != right:
            return self._within(left + 1, place)
        begins, ends = left < 0, right == len(self._old)
        before = self._inside.start if begins else self._edge(left, at_end=True)
        behind = self._inside.end if ends else self._edge(right, at_end=False)
        touches_before = not begins and place == self._ends[left]
        touches_behind = not ends and place == self._starts[right]
        near = [before, behind]
        if not touches_before and (touches_behind or begins):
            near.reverse()
        return next((one for one in near if one is not None), None)

    def around(self, place: int) -> Span | None:
        """The stretch of the other text in which something at a place would be: from what is
        known before it to what is known behind it."""
        if self.there is None or self._inside is None:
            return None
        right = bisect_left(self._starts, place)
        left = bisect_right(self._ends, place) - 1
        before = bisect_right(self._known, left) - 1
        behind = bisect_left(self._known, right)
        start, end = self._inside.start, self._inside.end
        if before >= 0:
            start = self._new[self._to[self._known[before]]].end
        if behind < len(self._known):
            end = self._new[self._to[self._known[behind]]].start
        return Span(start, max(start, end))

    def _edge(self, at: int, *, at_end: bool) -> int | None:
        """Where an item begins or ends in the other text, if it is there."""
        there = self._to.get(at)
        if there is None:
            return None
        return self._new[there].end if at_end else self._new[there].start

    def _within(self, at: int, place: int) -> int | None:
        """Where a place within a word is in the other text; None within a part."""
        start = self._edge(at, at_end=False)
        is_word = isinstance(self._old[at].key, str)
        return start + place - self._starts[at] if is_word and start is not None else None

    def stretch(self, first: int, last: int) -> Span | None:
        """Where what stands between two places is in the other text, if just that is there."""
        one, other = bisect_right(self._ends, first), bisect_left(self._starts, last)
        ats = [self._to.get(at, -1) for at in range(one, other)]
        if not ats or -1 in ats or ats[-1] - ats[0] != len(ats) - 1:
            return None
        start = self._within(one, first) if self._starts[one] < first else self._new[ats[0]].start
        end = (
            self._within(other - 1, last) if self._ends[other - 1] > last
            else self._new[ats[-1]].end
        )  # fmt: skip
        return None if start is None or end is None else Span(start, end)


def _items(
    source: Source, number: int, to: Sequence[int | None] | None = None
) -> Iterator[PlaceItem]:
    """What an element holds, in order. to: which elements of the other text those of this one
    are; None for the other text itself."""
    inside = spans.inner(source, number)
    if inside is None:
        return
    done = inside.start
    for one in spans.held(source, number):
        span = spans.outer(source, one)
        if span is None:
            continue
        yield from _words(source.text, done, span.start)
        there = one if to is None else to[one]
        yield PlaceItem(span.start, span.end, ("none", one) if there is None else ("part", there))
        done = max(done, span.end)
    yield from _words(source.text, done, inside.end)


def _words(text: str, start: int, end: int) -> Iterator[PlaceItem]:
    for found in _TOKEN.finditer(text, start, max(start, end)):
        yield PlaceItem(found.start(), found.end(), found.group())
