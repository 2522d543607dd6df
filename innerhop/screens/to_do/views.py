"""What is left to do on a site: its broken hops, once per cause with their mends; and
what was done, to be taken back from here."""

from __future__ import annotations

from dataclasses import dataclass

from django.core.paginator import Paginator
from django.db.models import Count, Prefetch, Q
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from innerhop.library.index import shared_parts
from innerhop.library.models import Change, Revision, Site
from innerhop.library.seek import causes
from innerhop.library.seek.causes import Broken
from innerhop.library.seek.guesses import Guess, Guesser
from innerhop.screens.access import for_editors

CAUSES = 10  # at a time: what each likely means is looked for
CHANGES = 50
_PAGES_NAMED = 3
_LISTS_NAMED = 20


@dataclass(frozen=True)
class Row:
    """A cause with what was likely meant. places: where a mend changes something: in a
    part that pages share also on those where nothing is broken."""

    cause: Broken
    guesses: list[Guess]
    places: int

    @classmethod
    def of(cls, cause: Broken, guesser: Guesser) -> Row:
        """The row of a cause."""
        link, guesses = cause.hop.link, guesser.guesses(cause.hop)
        copies = len(shared_parts.copies(link.page, link.number)) if link.region and guesses else 1
        return cls(cause, guesses, max(cause.count, copies))


@require_safe
@for_editors
def show(request: HttpRequest, site: Site) -> HttpResponse:
    """The causes, those that broke most hops first."""
    part = _part(request)
    found = causes.of_site(site, part * CAUSES, CAUSES)
    guesser = Guesser(site)
    context = {
        "found": found,
        "rows": [Row.of(one, guesser) for one in found.shown],
        "unmarked": site.pages.filter(section_count__gt=0, marked_count=0).count(),
        "pages": site.pages.count(),
        "lists_off": list(site.pages.filter(lists_off__gt=0).select_related("site")[:_LISTS_NAMED]),
        "lists_off_count": site.pages.filter(lists_off__gt=0).count(),
        "first": part * CAUSES + 1,
        "last": part * CAUSES + len(found.shown),
        "before": part - 1 if part else None,
        "next": part + 1 if (part + 1) * CAUSES < found.causes else None,
    }
    return render(request, "to_do/to_do.html", context)


def _part(request: HttpRequest) -> int:
    asked = request.GET.get("part", "")
    return int(asked) if asked.isascii() and asked.isdecimal() and len(asked) < 7 else 0


@require_safe
@for_editors
def changes(request: HttpRequest, site: Site) -> HttpResponse:
    """What was done on the whole site, newest first."""
    written = Revision.objects.filter(number__gt=0).only("page", "change")
    rows = (
        site.changes.select_related("author")
        .annotate(pages=Count("revisions__page", filter=Q(revisions__number__gt=0), distinct=True))
        .prefetch_related(Prefetch("revisions", written.select_related("page__site"), "written"))
        .order_by("-pk")
    )
    part = Paginator(rows, CHANGES).get_page(request.GET.get("part"))
    context = {
        "part": part,
        "rows": [(change, _named(change)) for change in part.object_list],
        "any_page": site.pages.order_by("pk").first(),
    }
    return render(request, "to_do/changes.html", context)


def _named(change: Change) -> list[object]:
    """A few of the pages that a change wrote."""
    pages = {one.page_id: one.page for one in change.written}  # type: ignore[attr-defined]
    return list(pages.values())[:_PAGES_NAMED]
