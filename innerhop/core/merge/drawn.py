"""Where on a page something was changed there, and where here: as shares of its length, so that
both can be drawn beside each other."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable, Iterator
from typing import NamedTuple

from innerhop.core.merge import spans
from innerhop.core.merge.deeds import Around, Deed, Put
from innerhop.core.merge.matching import Match
from innerhop.core.source.content_models import LEVELS

# Attributes whose change readers notice, or hops do; systems write others anew all the time.
_BESIDE = 30  # characters between two changes that are drawn as one
_TELLING = ("id", "name", "href", "src", "alt")


class DrawnStretch(NamedTuple):
    """A part of a page, from 0 at its beginning to 1 at its end."""

    start: float
    end: float


class TextToDraw:
    """The new text of a page as something to draw on."""

    def __init__(self, match: Match) -> None:
        self._match = match
        self._all = max(1, len(match.new.source.text))
        self._starts = sorted(
            (start, at) for at, start in enumerate(match.old.source.starts) if start >= 0
        )

    def there(self) -> list[DrawnStretch]:
        """What was changed there; changes right beside each other are one."""
        found: list[DrawnStretch] = []
        for one in sorted(self._changed()):
            if found and one.start <= found[-1].end + _BESIDE / self._all:
                found[-1] = DrawnStretch(found[-1].start, max(found[-1].end, one.end))
            else:
                found.append(one)
        return found

    def _changed(self) -> Iterator[DrawnStretch]:
        match, source = self._match, self._match.new.source
        led = {one.number for one in source.having(*_TELLING)}
        led |= {there for one in match.old.source.having(*_TELLING)
                if (there := match.to[one.number]) is not None}  # fmt: skip
        number = 0
        while number < len(match.back):
            before = match.back[number]
            behind = source.lasts[number] + 1
            if before is None:
                yield self._of(number, behind - 1)
            elif match.is_same(before):
                inside = (at for at in range(number, behind) if at in led)
                yield from (self._of(at, at) for at in inside if self._leads_elsewhere(at))
            else:
                if self._leads_elsewhere(number) or (
                    match.old.words(before) != match.new.words(number)
                ):
                    yield self._of(number, number)
                behind = number + 1
            number = behind
        yield from (self._at(number) for number in self._gone())

    def _leads_elsewhere(self, number: int) -> bool:
        """Whether readers notice that an element's attributes are others."""
        match, before = self._match, self._match.back[number]
        if before is None:
            return False
        old, new = match.old.source, match.new.source
        return any(old.attr(before, name) != new.attr(number, name) for name in _TELLING)

    def _gone(self) -> Iterable[int]:
        """Elements that went, the first of each that stand in each other."""
        to, parents = self._match.to, self._match.old.source.parents
        return (at for at, one in enumerate(to)
                if one is None and parents[at] >= 0 and to[parents[at]] is not None)  # fmt: skip

    def here(self, deeds: Iterable[Deed]) -> list[DrawnStretch]:
        """Where things were done here."""
        return [self._at(self._number(one)) for one in deeds]

    def sections(self) -> list[float]:
        """Where the headings of the new text stand."""
        return [self._of(one.number, one.number).start
                for one in self._match.new.source.of_tags(*LEVELS)]  # fmt: skip

    def place(self, number: int) -> float:
        """Where an element of the text as it came is, or would be."""
        return self._at(number).start

    def _number(self, deed: Deed) -> int:
        if not isinstance(deed, Put | Around):
            return deed.number
        place = deed.place if isinstance(deed, Put) else deed.first
        at = bisect_right(self._starts, (place, len(self._match.to))) - 1
        return self._starts[at][1] if at >= 0 else 0

    def _at(self, number: int) -> DrawnStretch:
        """Where an element of the text as it came is, or would be."""
        for at in range(number, -1, -1):
            there = self._match.to[at]
            span = None if there is None else spans.outer(self._match.new.source, there)
            if span is not None:
                share = (span.start if at == number else span.end) / self._all
                return DrawnStretch(share, share)
        return DrawnStretch(0, 0)

    def _of(self, first: int, last: int) -> DrawnStretch:
        """Elements of the new text; nothing but their tags where one is its own last."""
        source = self._match.new.source
        begin, end = spans.outer(source, first), spans.outer(source, last)
        if begin is None or end is None:
            return DrawnStretch(0, 0)
        return DrawnStretch(begin.start / self._all, end.end / self._all)
