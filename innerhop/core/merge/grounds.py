"""The part of a page that a meeting is about, in each of its three texts."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator, Mapping
from dataclasses import replace
from typing import NamedTuple

from innerhop.core import words_law
from innerhop.core.edits import Edit
from innerhop.core.merge import spans
from innerhop.core.merge.matching import Match
from innerhop.core.plan import Claim, NewElement, Plan
from innerhop.core.proof import as_read, brought
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.tree import Source, Span

_LARGEST = 20_000  # characters: a larger part is not put back as a whole


class Ground(NamedTuple):
    """A run of elements beside each other in the text as it came: the first and the last."""

    first: int
    last: int


class Sides:
    """Where grounds are. images: which element of the text as it is here each of the text as it
    came is."""

    def __init__(self, match: Match, here: Source, images: Mapping[int, int]) -> None:
        self.match, self.here, self._images = match, here, images
        self.base, self.new = match.old.source, match.new.source
        self._held: dict[int, tuple[list[int], dict[int, int]]] = {}
        self._ids = {source: _ids_of(source) for source in (here, self.new)}

    def ground_of(self, number: int) -> Ground:
        """The part that an element of the text as it came is: itself; where it is gone, what
        went along with it, which is the rest of its section."""
        source, to = self.base, self.match.to
        number = max(number, 0)
        if to[number] is not None:
            return Ground(number, number)
        while source.parents[number] >= 0 and to[source.parents[number]] is None:
            number = source.parents[number]
        beside, places = self._beside(number)
        if number not in places:
            return Ground(number, number)
        first = last = places[number]
        while first and source.tags[beside[first]] not in LEVELS and to[beside[first - 1]] is None:
            first -= 1
        while last + 1 < len(beside) and to[beside[last + 1]] is None:
            if source.tags[beside[last + 1]] in LEVELS:
                break
            last += 1
        return Ground(beside[first], beside[last])

    def _beside(self, number: int) -> tuple[list[int], dict[int, int]]:
        """An element of the text as it came with those beside it, and the place of each."""
        above = spans.tagged(self.base, self.base.parents[number])
        if above not in self._held:
            beside = list(spans.held(self.base, above))
            self._held[above] = beside, {one: at for at, one in enumerate(beside)}
        return self._held[above]

    def base_span(self, ground: Ground) -> Span | None:
        """The ground in the text as it came."""
        return _joined(spans.outer(self.base, one) for one in ground)

    def here_span(self, ground: Ground) -> Span | None:
        """The same in the text as it is here; None where it is not there."""
        ends = [self._images.get(one) for one in ground]
        return _joined(None if one is None else spans.outer(self.here, one) for one in ends)

    def there_span(self, ground: Ground) -> Span | None:
        """The same in the new text."""
        there = self.match.to[ground.first]
        return None if there is None else spans.outer(self.new, there)

    def ids_here(self, ground: Ground) -> list[str]:
        """The IDs in it, in the text as it is here."""
        return self._ids_in(self.here, self.here_span(ground))

    def ids_there(self, ground: Ground) -> list[str]:
        """The IDs in it, in the new text."""
        return self._ids_in(self.new, self.there_span(ground))

    def _ids_in(self, source: Source, span: Span | None) -> list[str]:
        if span is None:
            return []
        ids = self._ids[source]
        ends = (bisect_left(ids, (place, "")) for place in (span.start, span.end))
        return [value for _, value in ids[slice(*ends)]]

    def as_here(self, ground: Ground) -> Plan | None:
        """The new text with the ground as it is here; None where that can't be."""
        span = self.here_span(ground)
        if span is None or span.end - span.start > _LARGEST or "body" in self._tags(ground):
            return None
        there = self.there_span(ground)
        new = list(self._elements(span))
        text = self.here.original(span)
        if there is not None:
            number = self.match.to[ground.first] or 0
            claim = Claim(new=new, removed={number: ("", "")},
                          takes=words_law.whole(self.new, number))  # fmt: skip
            return Plan([Edit(there.start, self.new.original(there), text)], claim)
        place = self._place(ground)
        return None if place is None else self._put_back(place, text, new, self._lead(ground))

    def _put_back(self, place: int, text: str, new: list[NewElement], lead: str) -> Plan:
        moved = [replace(one, offset=one.offset + len(lead)) for one in new]
        moved[0] = replace(moved[0], before=as_read(lead))
        return Plan([Edit(place, "", lead + text)], Claim(new=moved))

    def _lead(self, ground: Ground) -> str:
        """The white space that stands before a ground, in the text as it came."""
        span = self.base_span(ground)
        before = self.base.text[: span.start] if span else ""
        return before[len(before.rstrip()) :]

    def _tags(self, ground: Ground) -> set[str]:
        return {self.base.tags[one] for one in ground} | (
            {"body"} if self.base.tags[ground.first] in ("html", "head") else set()
        )

    def _elements(self, span: Span) -> Iterator[NewElement]:
        """The elements of a stretch of the text as it is here."""
        here, done = self.here, span.start
        number = here.element_at(span.start)
        while number is not None and number < len(here):
            own = spans.outer(here, number)
            if own is None or own.start >= span.end:
                return
            yield brought(here, number, span.start, here.text[done : own.start])
            done, number = own.end, here.last_inside(number) + 1

    def _place(self, ground: Ground) -> int | None:
        """Where a ground that is gone would stand in the new text: behind what stood before
        it, as far as that is there, or before what stood behind it."""
        beside, places = self._beside(ground.first)
        if ground.first not in places:
            return None
        before = beside[: places[ground.first]]
        behind = beside[places[ground.last] + 1 :]
        for one in reversed(before):
            there = self.match.to[one]
            if there is not None and (span := spans.outer(self.new, there)) is not None:
                return span.end
        for one in behind:
            there = self.match.to[one]
            if there is not None and (span := spans.outer(self.new, there)) is not None:
                return span.start
        above = spans.tagged(self.base, self.base.parents[ground.first])
        there = spans.DOCUMENT if above < 0 else self.match.to[above]
        inside = None if there is None else spans.inner(self.new, spans.tagged(self.new, there))
        return None if inside is None else inside.end


def _joined(stretches: Iterator[Span | None]) -> Span | None:
    ends = list(stretches)
    first, last = ends[0], ends[-1]
    if first is None or last is None or last.end < first.start:
        return None
    return Span(first.start, last.end)


def _ids_of(source: Source) -> list[tuple[int, str]]:
    """The IDs of a page, each with where its element begins, in that order."""
    group = source.reading.identified
    pairs = zip(group.values("id"), group.numbers, strict=True)
    return sorted((source.starts[number], value) for value, number in pairs if value)
