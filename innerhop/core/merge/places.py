"""Places between the parts and words of one text of a page, and where they are in another."""

from __future__ import annotations

import re
from bisect import bisect_left, bisect_right
from collections.abc import Hashable, Iterator, Sequence
from typing import NamedTuple

from rapidfuzz.distance import Indel

from innerhop.core.merge import spans
from innerhop.core.merge.matching import Match
from innerhop.core.source.tree import Source, Span

# What an element holds beside elements: comments, references, words, signs.
_TOKEN = re.compile(r"<!--.*?-->|&#?\w+;|\w+|[^\w\s]", re.DOTALL)


class Item(NamedTuple):
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
        self._new: list[Item] = []
        self._to: dict[int, int] = {}
        if self.there is None:
            return
        self._new = list(_items(new, self.there))
        steps = Indel.opcodes([one.key for one in self._old], [one.key for one in self._new])
        for step in steps:
            if step.tag == "equal":
                size = step.src_end - step.src_start
                self._to |= {step.src_start + at: step.dest_start + at for at in range(size)}
        self._inside = spans.inner(new, self.there)

    def place(self, place: int) -> int | None:
        """Where a place is in the other text: beside the part or word that it touches, if that
        is there, else beside its other neighbour. None where nobody can say."""
        right = bisect_left(self._starts, place)
        left = bisect_right(self._ends, place) - 1
        if self.there is None or self._inside is None or left + 1 != right:
            return None  # within a word
        before, behind = self._to.get(left), self._to.get(right)
        begins, ends = left < 0, right == len(self._old)
        before_at = self._inside.start if begins else None
        behind_at = self._inside.end if ends else None
        if before is not None:
            before_at = self._new[before].end
        if behind is not None:
            behind_at = self._new[behind].start
        touches_before = not begins and place == self._ends[left]
        touches_behind = not ends and place == self._starts[right]
        near = [before_at, behind_at]
        if (touches_behind and not touches_before) or (begins and not touches_before):
            near.reverse()
        return next((one for one in near if one is not None), None)

    def stretch(self, first: int, last: int) -> Span | None:
        """Where what stands between two places is in the other text, if just that is there."""
        one, other = bisect_left(self._starts, first), bisect_right(self._ends, last)
        if one >= other or self._starts[one] < first or self._ends[other - 1] > last:
            return None
        if (one and self._ends[one - 1] > first) or (
            other < len(self._old) and self._starts[other] < last
        ):
            return None  # it begins or ends within a word
        ats = [self._to.get(at) for at in range(one, other)]
        if not ats or any(at is None for at in ats):
            return None
        begin, end = ats[0], ats[-1]
        if begin is None or end is None or end - begin != len(ats) - 1:
            return None
        return Span(self._new[begin].start, self._new[end].end)


def _items(source: Source, number: int, to: Sequence[int | None] | None = None) -> Iterator[Item]:
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
        yield Item(span.start, span.end, ("none", one) if there is None else ("part", there))
        done = max(done, span.end)
    yield from _words(source.text, done, inside.end)


def _words(text: str, start: int, end: int) -> Iterator[Item]:
    for found in _TOKEN.finditer(text, start, max(start, end)):
        yield Item(found.start(), found.end(), found.group())
