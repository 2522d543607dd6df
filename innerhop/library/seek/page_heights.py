"""How long pages are at one width, and how far down each thing on them stands: as a
browser measured it, or guessed from the words until one has."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property

from django.db.models import F, FloatField, Max, OuterRef, QuerySet, Subquery
from django.db.models.functions import Coalesce

from innerhop.core.facts import lengths
from innerhop.library.models import Link, Mark, Measure, Page, Section


@dataclass(frozen=True)
class PageHeight:
    """A page's height in CSS pixels, its sections with the top of each, and whether
    all that was measured. last: a number that no element of the page is beyond."""

    height: float
    measured: bool
    sections: Sequence[Section]
    tops: Sequence[float]
    last: int

    @cached_property
    def _places(self) -> tuple[list[int], list[float]]:
        """Numbers of elements and how far down those are, in order."""
        numbers = [0, *(one.number for one in self.sections), self.last + 1]
        return numbers, [0.0, *self.tops, self.height]

    def top_of(self, number: int | None) -> float:
        """How far down an element stands: as far between the sections around it as
        its number is between theirs. None is the top of the page."""
        if number is None:
            return 0.0
        numbers, tops = self._places
        at = min(bisect_right(numbers, number) - 1, len(numbers) - 2)
        span = numbers[at + 1] - numbers[at] or 1
        return tops[at] + (tops[at + 1] - tops[at]) * (number - numbers[at]) / span

    def section_top(self, number: int | None) -> float:
        """How far down the section begins that an element stands in; 0 before the first."""
        if number is None:
            return 0.0
        numbers, tops = self._places
        return tops[min(bisect_right(numbers, number) - 1, len(numbers) - 2)]


def guessed_height(page: Page) -> float:
    """How tall a page is, as far as its number of words tells, in CSS pixels."""
    return lengths.guessed_height(page.words)


def annotated(pages: QuerySet[Page], width: int) -> QuerySet[Page]:
    """Pages with their `height` at a width, measured or guessed, in CSS pixels."""
    measured = Measure.objects.filter(page=OuterRef("pk"), width=width).values("height")[:1]
    guessed = lengths.FRAME + F("words") * lengths.PIXELS_A_WORD
    return pages.annotate(height=Coalesce(Subquery(measured), guessed, output_field=FloatField()))


def heights(pages: Iterable[Page], width: int, places: bool = False) -> dict[int, PageHeight]:
    """The length of each page at a width, by the page's primary key. places: whether
    `top_of` will be asked, for which the last elements have to be looked up."""
    pages = list(pages)
    measures = {one.page_id: one for one in Measure.objects.filter(page__in=pages, width=width)}
    sections: dict[int, list[Section]] = {page.pk: [] for page in pages}
    for one in Section.objects.filter(page__in=pages):
        sections[one.page_id].append(one)
    last = _last_numbers(pages) if places else {}
    return {
        page.pk: _height(page, sections[page.pk], measures.get(page.pk), last.get(page.pk, 0))
        for page in pages
    }


def _last_numbers(pages: list[Page]) -> dict[int, int]:
    last: dict[int, int] = {}
    for model in (Mark, Link):
        rows = model.objects.filter(page__in=pages).order_by()
        for pk, number in rows.values_list("page").annotate(Max("number")):
            last[pk] = max(number, last.get(pk, 0))
    return last


def _height(page: Page, sections: list[Section], measure: Measure | None, last: int) -> PageHeight:
    height = float(measure.height) if measure else guessed_height(page)
    if measure and measure.revision == page.revision:
        tops = [float(measure.tops.get(str(section.number), 0)) for section in sections]
    else:
        tops = _guessed_tops(page, sections, height)
    last = max([last, *(one.number for one in sections)])
    return PageHeight(height, measure is not None, sections, tops, last)


def _guessed_tops(page: Page, sections: list[Section], height: float) -> list[float]:
    """Where each section begins, as far as the words before it go."""
    total = max(1, page.words)
    lead = total - sum(section.words for section in sections)
    tops = []
    for section in sections:
        tops.append(height * max(0, lead) / total)
        lead += section.words
    return tops
