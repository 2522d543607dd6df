"""Every page of a site as a small ruler."""

from __future__ import annotations

import statistics
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from urllib.parse import urlencode

from django.core.paginator import Paginator
from django.db.models import Case, F, FloatField, Q, Value, When
from django.db.models.functions import Lower
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from innerhop.core.facts import lengths
from innerhop.core.facts.sections import WORDS_A_MINUTE
from innerhop.core.landings import NAMES
from innerhop.core.widths import LAPTOP
from innerhop.library import removal
from innerhop.library.bring_in import news
from innerhop.library.models import Page, Site
from innerhop.library.seek import findings, landings, page_heights
from innerhop.library.seek.page_heights import PageHeight
from innerhop.screens.access import for_editors

SORTS = {
    "address": ("path",),
    "title": ("lower_title", "path"),
    "longest": ("-height", "path"),
    "unmarked": ("-unmarked", "path"),
    "broken": ("-broken_count", "path"),
    "list": ("-help", "-height", "path"),
}
RULER_WIDTH = 560
LISTED = 100  # pages at a time
_OUTLIER = 5  # times the middle page: what is longer is drawn shorter, with a break
_APART = 6.8  # how far apart two dots have to be, to be told apart


@dataclass
class Ruler:
    """A small ruler as the paths of its drawing, RULER_WIDTH wide at most.

    odd and even: sections in turn; marked and unmarked: their dots; lead: what
    comes before the first section. break_at: where the mark of a break stands.
    """

    length: float
    lead: float
    odd: str
    even: str
    marked: str
    unmarked: str

    @property
    def break_at(self) -> int:
        return round(self.length) - 26


@dataclass
class Row:
    """One page of the list. is_broken_off: whether it is longer than it is drawn. worst: the
    worst landing of hops to it, "" where none leads to it, None for one never measured.
    found: how many findings it has."""

    page: Page
    length: PageHeight
    ruler: Ruler
    is_broken_off: bool
    worst: str | None = None
    found: int = 0

    @property
    def worst_name(self) -> str:
        return NAMES.get(self.worst or "", "")

    @property
    def sections(self) -> int:
        return self.page.section_count

    @property
    def marked(self) -> int:
        return self.page.marked_count

    @property
    def measured(self) -> bool:
        return self.length.measured

    @property
    def screens(self) -> float:
        return self.length.height / LAPTOP.view

    @property
    def needs_list(self) -> bool:
        """Whether a contents list would help: a long page of many sections without one."""
        return not self.page.lists and lengths.needs_list(self.screens, self.sections)

    @property
    def minutes(self) -> int:
        return max(1, round(self.page.words / WORDS_A_MINUTE))


@require_safe
@for_editors
def list_pages(request: HttpRequest, site: Site) -> HttpResponse:
    """The list, sorted and filtered as the address asks."""
    asked = request.GET.get("filter", "").strip().replace("\0", "")
    sort = request.GET.get("sort", "address")
    pages = page_heights.annotated(site.pages.select_related("site"), LAPTOP.width).annotate(
        unmarked=F("section_count") - F("marked_count"),
        lower_title=Lower("title"),
        help=_help(),
    )
    heights = list(pages.order_by().values_list("height", flat=True))
    shown = pages.filter(Q(title__icontains=asked) | Q(path__icontains=asked)) if asked else pages
    listed = Paginator(shown.order_by(*SORTS.get(sort, SORTS["address"])), LISTED)
    part = listed.get_page(request.GET.get("part"))
    longest = _longest_drawn(heights)
    long = page_heights.heights(part.object_list, LAPTOP.width)
    worst = landings.worst_of(list(part.object_list))
    found = findings.by_page(part.object_list)
    rows = [
        replace(
            _row(page, long[page.pk], longest),
            worst=worst.get(page.pk), found=found.get(page.pk, 0),
        )
        for page in part.object_list
    ]  # fmt: skip
    context = {
        "rows": rows,
        "part": part,
        "count": len(heights),
        "sort": sort,
        "asked": asked,
        "also": "&" + urlencode({"sort": sort, "filter": asked}),
        "deleted": removal.removed_pages(site),
        "just_deleted": _number(request.GET.get("deleted", "")),
        "files": site.assets.count(),
        "news": news.waiting(site),
        "broken_off": any(row.is_broken_off for row in rows),
    }
    return render(request, "pages/pages.html", {**context, "ruler_width": RULER_WIDTH})


def _number(typed: str) -> int:
    return int(typed) if typed.isascii() and typed.isdecimal() and len(typed) < 19 else 0


def _longest_drawn(heights: Sequence[float]) -> float:
    """The height that fills the whole width. One page of hundreds of screens would make
    all others a few pixels wide."""
    if not heights:
        return 1.0
    return max(1.0, min(max(heights), _OUTLIER * statistics.median(heights)))


def _help() -> Case:
    """How much a contents list would help: by the sections that it would lead to."""
    lacking = Q(lists=0, section_count__gte=lengths.LIST_SECTIONS)
    return Case(When(lacking, then=F("section_count") * F("height")), default=Value(0.0),
                output_field=FloatField())  # fmt: skip


def _row(page: Page, long: PageHeight, longest: float) -> Row:
    scale = RULER_WIDTH / max(longest, 1.0)
    is_broken_off = long.height > longest
    if is_broken_off:
        scale = RULER_WIDTH / long.height
    return Row(page, long, _ruler(long, scale), is_broken_off)


def _ruler(long: PageHeight, scale: float) -> Ruler:
    """The page's sections along its ruler, each kind of shape in one path: a
    handbook of two thousand sections is still four shapes."""
    edges = [top * scale for top in (*long.tops, long.height)]
    strips: tuple[list[str], list[str]] = ([], [])
    places: tuple[list[float], list[float]] = ([], [])
    for at, section in enumerate(long.sections):
        x, width = edges[at], max(0.0, edges[at + 1] - edges[at])
        strips[at % 2].append(f"M{x:.1f} 12h{width:.1f}v18h-{width:.1f}z")
        places[not section.mark].append(x)
    dots = [" ".join(_dots(found)) for found in places]
    odd, even = (" ".join(paths) for paths in strips)
    return Ruler(edges[-1], edges[0], odd, even, *dots)


def _dots(places: Sequence[float]) -> Iterator[str]:
    """A dot at each place; where dots would touch, one bar for all of them, the taller
    the closer they stand."""
    at = 0
    while at < len(places):
        last = at
        while last + 1 < len(places) and places[last + 1] - places[last] < _APART:
            last += 1
        if last - at < 2:
            yield from (f"M{x - 3.4:.1f} 12a3.4 3.4 0 1 0 6.8 0a3.4 3.4 0 1 0-6.8 0"
                        for x in places[at : last + 1])  # fmt: skip
        else:
            width = places[last] - places[at]
            tall = min(11.0, 3.0 + 8.0 * _APART * (last - at) / max(width, _APART) / 8)
            yield f"M{places[at]:.1f} {12 - tall / 2:.1f}h{width:.1f}v{tall:.1f}h-{width:.1f}z"
        at = last + 1
