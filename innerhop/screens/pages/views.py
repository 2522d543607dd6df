"""Every page of a site as a small ruler."""

from __future__ import annotations

from dataclasses import dataclass

from django.db.models import Prefetch
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from innerhop.core.outline import WORDS_A_MINUTE
from innerhop.library import hops
from innerhop.library.models import Measure, Page, Section, Site
from innerhop.screens.access import for_editors
from innerhop.screens.widths import DESK

SORTS = {
    "address": lambda row: row.page.path,
    "title": lambda row: row.page.title.casefold(),
    "longest": lambda row: -row.height,
    "unmarked": lambda row: -row.unmarked,
    "broken": lambda row: -row.broken,
}
# Until a page has been opened, its height is guessed from its words (practice:
# the straight line that fits the demo site's pages at 1280 best).
_PIXELS_A_WORD = 3.3
_FRAME = 700
RULER_WIDTH = 560


@dataclass
class Strip:
    """One section on a small ruler, in per mille of the longest page."""

    title: str
    mark: str
    x: float
    width: float


@dataclass
class Row:
    """One page of the list."""

    page: Page
    sections: list[Section]
    height: float
    measured: bool
    broken: int
    strips: list[Strip]

    @property
    def unmarked(self) -> int:
        return sum(not section.mark for section in self.sections)

    @property
    def marked(self) -> int:
        return len(self.sections) - self.unmarked

    @property
    def screens(self) -> float:
        return self.height / DESK.view

    @property
    def minutes(self) -> int:
        return max(1, round(self.page.words / WORDS_A_MINUTE))

    @property
    def length(self) -> float:
        """How long the drawn ruler is, of RULER_WIDTH."""
        last = self.strips[-1] if self.strips else None
        return last.x + last.width if last else 0


@require_safe
@for_editors
def list_pages(request: HttpRequest, site: Site) -> HttpResponse:
    """The list, sorted and filtered as the address asks."""
    measured = Measure.objects.filter(width=DESK.width)
    pages = list(
        site.pages.select_related("site").prefetch_related(
            "sections", Prefetch("measures", measured, "at_desk")
        )
    )
    broken = hops.broken_counts(pages)
    rows = [_row(page, broken.get(page.pk, 0)) for page in pages]
    asked = request.GET.get("filter", "").strip()
    shown = [row for row in rows if _matches(row, asked)]
    sort = request.GET.get("sort", "address")
    shown.sort(key=SORTS.get(sort, SORTS["address"]))
    longest = max((row.height for row in rows), default=1)
    for row in shown:
        row.strips = _strips(row, longest)
    context = {"rows": shown, "count": len(rows), "sort": sort, "asked": asked}
    return render(request, "pages/pages.html", {**context, "ruler_width": RULER_WIDTH})


def _matches(row: Row, asked: str) -> bool:
    return asked.casefold() in f"{row.page.title} {row.page.path}".casefold()


def _row(page: Page, broken: int) -> Row:
    measures = page.at_desk  # type: ignore[attr-defined]
    sections = list(page.sections.all())
    height = measures[0].height if measures else _FRAME + page.words * _PIXELS_A_WORD
    return Row(page, sections, height, bool(measures), broken, [])


def _strips(row: Row, longest: float) -> list[Strip]:
    """The page's sections along its ruler; the first strip is what comes before them."""
    scale = RULER_WIDTH / longest
    tops = _tops(row)
    edges = [*tops, row.height]
    strips = [Strip("", "", 0, edges[0] * scale)]
    for section, top, end in zip(row.sections, tops, edges[1:], strict=True):
        strips.append(Strip(section.title, section.mark, top * scale, max(0.0, end - top) * scale))
    return strips


def _tops(row: Row) -> list[float]:
    """Where each section begins: as measured, or as far as the words before it go."""
    measures = row.page.at_desk  # type: ignore[attr-defined]
    if measures and measures[0].revision == row.page.revision:
        known = measures[0].tops
        return [float(known.get(str(section.number), 0)) for section in row.sections]
    total = max(1, row.page.words)
    lead = total - sum(section.words for section in row.sections)
    tops = []
    for section in row.sections:
        tops.append(row.height * max(0, lead) / total)
        lead += section.words
    return tops
