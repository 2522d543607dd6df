"""In which section of its page a change was made, for those who look for it later."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence

from innerhop.core.edits import Edit
from innerhop.core.source.tree import Source
from innerhop.library.changes.prepare import MakeNext, NextText
from innerhop.library.index.texts import PageText
from innerhop.library.models import LockedPart, Section

_READ = 50  # edits: more tell nothing new


def noting(make: MakeNext, found: list[str]) -> MakeNext:
    """The same, with the section that it changes put into `found`."""

    def made(text: PageText, locked: Sequence[LockedPart]) -> NextText:
        following = make(text, locked)
        # Of several pages there is no one section.
        found.append("" if found else _section_of(text, following.edits or ()))
        return following

    return made


def _section_of(text: PageText, edits: Sequence[Edit]) -> str:
    """The title of the section that all edits stand in; "" where they stand in several, or
    above the first."""
    rows = dict(Section.objects.filter(page=text.page).values_list("number", "title"))
    numbers = sorted(rows)
    at = {
        bisect_right(numbers, edit.start, key=lambda one: _start(text.source, one)) - 1
        for edit in edits[:_READ]
    }
    only = at.pop() if len(at) == 1 else -1
    return rows[numbers[only]] if only >= 0 else ""


def _start(source: Source, number: int) -> int:
    tag = source.start_tag(number)
    return tag.start if tag else 0
