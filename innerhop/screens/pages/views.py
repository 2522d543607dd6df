"""Every page of a site as a small ruler."""

from __future__ import annotations

import statistics
from collections.abc import Sequence
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
from innerhop.screens.access import for_editors, number_asked
from innerhop.screens.pages.rulers import RULER_WIDTH, PageRuler, ruler

SORTS = {
    "address": ("path",),
    "title": ("lower_title", "path"),
    "longest": ("-height", "path"),
    "unmarked": ("-unmarked", "path"),
    "broken": ("-broken_count", "path"),
    "list": ("-help", "-height", "path"),
}
LISTED = 100  # pages at a time
_OUTLIER = 5  # times the middle page: what is longer is drawn shorter, with a break


@dataclass
class PageRow:
    """One page of the list. is_broken_off: whether it is longer than it is drawn. worst: the
    worst landing of hops to it, "" where none leads to it, None for one never measured.
    found: how many findings it has."""

    page: Page
    length: PageHeight
    ruler: PageRuler
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
    def is_guessed(self) -> bool:
        return not self.measured

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
        "just_deleted": number_asked(request.GET.get("deleted", "")),
        "files": site.assets.count(),
        "news": news.waiting(site),
        "broken_off": any(row.is_broken_off for row in rows),
    }
    return render(request, "pages/pages.html", {**context, "ruler_width": RULER_WIDTH})


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


def _row(page: Page, long: PageHeight, longest: float) -> PageRow:
    scale = RULER_WIDTH / max(longest, 1.0)
    is_broken_off = long.height > longest
    if is_broken_off:
        scale = RULER_WIDTH / long.height
    marked = [bool(section.mark) for section in long.sections]
    return PageRow(page, long, ruler(long.tops, long.height, marked, scale), is_broken_off)
