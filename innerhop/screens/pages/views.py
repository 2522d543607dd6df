"""Every page of a site as a small ruler."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from django.core.paginator import Paginator
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from innerhop.core.facts.sections import WORDS_A_MINUTE
from innerhop.library.models import Page, Section, Site
from innerhop.library.seek import hops
from innerhop.library.seek.page_heights import Length, lengths
from innerhop.screens.access import for_editors
from innerhop.screens.widths import DESK

SORTS = {
    "address": lambda row: row.page.path,
    "title": lambda row: row.page.title.casefold(),
    "longest": lambda row: -row.height,
    "unmarked": lambda row: -row.unmarked,
    "broken": lambda row: -row.broken,
}
RULER_WIDTH = 560
LISTED = 100  # pages at a time


@dataclass
class Ruler:
    """A small ruler as the paths of its drawing, RULER_WIDTH wide at most.

    odd and even: sections in turn; marked and unmarked: their dots; lead: what
    comes before the first section.
    """

    length: float
    lead: float
    odd: str
    even: str
    marked: str
    unmarked: str


@dataclass
class Row:
    """One page of the list."""

    page: Page
    length: Length
    broken: int
    ruler: Ruler | None = None

    @property
    def sections(self) -> Sequence[Section]:
        return self.length.sections

    @property
    def height(self) -> float:
        return self.length.height

    @property
    def measured(self) -> bool:
        return self.length.measured

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


@require_safe
@for_editors
def list_pages(request: HttpRequest, site: Site) -> HttpResponse:
    """The list, sorted and filtered as the address asks."""
    pages = list(site.pages.select_related("site"))
    long = lengths(pages, DESK.width)
    broken = hops.broken_counts(pages)
    rows = [Row(page, long[page.pk], broken.get(page.pk, 0)) for page in pages]
    asked = request.GET.get("filter", "").strip()
    shown = [row for row in rows if _matches(row, asked)]
    sort = request.GET.get("sort", "address")
    shown.sort(key=SORTS.get(sort, SORTS["address"]))
    longest = max((row.height for row in rows), default=1)
    listed = Paginator(shown, LISTED).get_page(request.GET.get("part"))
    for row in listed:
        row.ruler = _ruler(row, RULER_WIDTH / longest)
    context = {"rows": listed, "count": len(rows), "sort": sort, "asked": asked}
    return render(request, "pages/pages.html", {**context, "ruler_width": RULER_WIDTH})


def _matches(row: Row, asked: str) -> bool:
    return asked.casefold() in f"{row.page.title} {row.page.path}".casefold()


def _ruler(row: Row, scale: float) -> Ruler:
    """The page's sections along its ruler, each kind of shape in one path: a
    handbook of two thousand sections is still four shapes."""
    tops = [top * scale for top in row.length.tops]
    end = row.height * scale
    edges = [*tops, end]
    strips: tuple[list[str], list[str]] = ([], [])
    dots: tuple[list[str], list[str]] = ([], [])
    for at, section in enumerate(row.sections):
        x, width = edges[at], max(0.0, edges[at + 1] - edges[at])
        strips[at % 2].append(f"M{x:.1f} 12h{width:.1f}v18h-{width:.1f}z")
        dots[not section.mark].append(f"M{x - 3.4:.1f} 12a3.4 3.4 0 1 0 6.8 0a3.4 3.4 0 1 0-6.8 0")
    lead = edges[0]
    return Ruler(end, lead, *(" ".join(paths) for paths in (*strips, *dots)))
