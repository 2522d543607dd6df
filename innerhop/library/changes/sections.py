"""In which section of its page a change was made, and how far down, for those who look for it
later."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import replace
from functools import cached_property
from itertools import accumulate

from innerhop.core.edits import Edit
from innerhop.core.source.tree import Source
from innerhop.library.changes.prepare import MakeNext, NextText
from innerhop.library.index.texts import PageText
from innerhop.library.models import LockedPart, Section

_READ = 50  # edits: more tell nothing new
_PLACES = 12  # told apart on a strip
DRAWN = 20  # pages: of a change of more, no places are drawn


def noting(make: MakeNext, titles: list[str], pages: int) -> MakeNext:
    """The same, with how far down its edits stand, and the section that it changes put into
    `found`. pages: of how many the change is."""

    def made(text: PageText, locked: Sequence[LockedPart]) -> NextText:
        following = make(text, locked)
        if pages > DRAWN:
            titles.append("")
            return following
        where = _Sections(text)
        read = (following.edits or ())[:_READ]
        # Of several pages there is no one section.
        titles.append("" if titles else where.title_of(read))
        return replace(following, places=where.places(read))

    return made


class _Sections:
    """The sections of a page, by where they begin in its text."""

    def __init__(self, text: PageText) -> None:
        rows = Section.objects.filter(page=text.page).order_by("number")
        self._rows = list(rows.values_list("number", "title", "words"))
        self._text = text

    @cached_property
    def _starts(self) -> list[int]:
        return [_start(self._text.source, number) for number, _, _ in self._rows]

    def title_of(self, edits: Sequence[Edit]) -> str:
        """The title of the section that all edits stand in; "" where they stand in several, or
        above the first."""
        at = {bisect_right(self._starts, edit.start) - 1 for edit in edits}
        only = at.pop() if len(at) == 1 else -1
        return self._rows[only][1] if only >= 0 else ""

    def places(self, edits: Sequence[Edit]) -> list[float]:
        """How far down the page edits stand, from 0 to 1: as many words as stand above each, as
        on all strips until a browser has measured them; a few of them, spread out."""
        every = max(1, len(edits) // _PLACES)
        return sorted({round(self._down(edit.start), 3) for edit in edits[::every]})[:_PLACES]

    @cached_property
    def _edges(self) -> tuple[list[int], list[float]]:
        """Places in the text, and how far down each is."""
        words = [words for _, _, words in self._rows]
        total = max(self._text.page.words, sum(words), 1)
        downs = [*accumulate(words, initial=total - sum(words))]
        return [0, *self._starts, len(self._text.text)], [0.0, *(one / total for one in downs)]

    def _down(self, start: int) -> float:
        starts, downs = self._edges
        at = min(bisect_right(starts, start), len(starts) - 1) - 1
        part = (start - starts[at]) / max(1, starts[at + 1] - starts[at])
        return downs[at] + (downs[at + 1] - downs[at]) * min(1.0, part)


def _start(source: Source, number: int) -> int:
    tag = source.start_tag(number)
    return tag.start if tag else 0
