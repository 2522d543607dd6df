"""What was done, drawn onto strips of the pages that it was done to."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from itertools import groupby

from django.utils import timezone
from django.utils.formats import date_format

from innerhop.core.facts.lengths import guessed_height
from innerhop.library.history.entries import HistoryEntry, TouchedPage
from innerhop.library.models import Editor, Page
from innerhop.screens.history.people import Person, person

_TO_SCALE = 3  # pages: of more, boxes are drawn, each as wide as the others
_LONGEST, _SHORTEST, _BOX = 186.0, 46.0, 20.0  # px


@dataclass(frozen=True)
class HistoryStrip:
    """A page. width: in px. dots: where something was done. is_whole: whether all of it came."""

    page: Page
    width: float
    dots: Sequence[float]
    is_whole: bool


@dataclass(frozen=True)
class HistoryRow:
    """One thing that was done. is_new: whether the one who looks has not seen it. may_turn: whether
    they may take it back, or make it again."""

    entry: HistoryEntry
    who: Person
    strips: Sequence[HistoryStrip]
    is_new: bool
    may_turn: bool

    @property
    def undoer(self) -> Person | None:
        """Who took it back, where it was another."""
        change = self.entry.change
        if change is None or change.undoer is None or change.undoer == change.author:
            return None
        return person(change.undoer)

    @property
    def is_to_scale(self) -> bool:
        """Whether the strips are as long as their pages, beside each other."""
        return self.entry.count <= _TO_SCALE


def strips(entry: HistoryEntry, longest: float) -> list[HistoryStrip]:
    """The pages of an entry. longest: the height of the site's longest page, as guessed."""
    if entry.count > _TO_SCALE:
        return [_strip(one, _BOX) for one in entry.pages]
    return [_strip(one, max(_SHORTEST, _LONGEST * guessed_height(one.page.words) / longest))
            for one in entry.pages]  # fmt: skip


def _strip(touched: TouchedPage, width: float) -> HistoryStrip:
    return HistoryStrip(
        touched.page, width, [width * min(1.0, at) for at in touched.places], touched.is_whole
    )


def days(rows: Sequence[HistoryRow]) -> Iterator[tuple[str, list[HistoryRow]]]:
    """Rows by the day on which it was done, with what that day is called."""
    today = timezone.localdate()
    for day, some in groupby(rows, lambda row: timezone.localdate(row.entry.made)):
        yield _called(day, today), list(some)


def _called(day: date, today: date) -> str:
    ago = (today - day).days
    return {0: "Today", 1: "Yesterday"}.get(ago) or date_format(day, "j F Y")


def row(
    entry: HistoryEntry, reader: Editor, longest: float, new: datetime | None, *, may_turn: bool
) -> HistoryRow:
    """An entry as it is drawn. new: after when what others did is new to the reader."""
    drawn = strips(entry, longest)
    is_new = new is not None and entry.made > new and entry.author != reader
    return HistoryRow(entry, person(entry.author), drawn, is_new, may_turn)
