"""What has changed since the pages came in, and the ways out."""

from __future__ import annotations

from django.core.paginator import Paginator
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from innerhop.library import doing
from innerhop.library.changes import moves
from innerhop.library.hand_over import differences
from innerhop.library.models import Link, Site
from innerhop.screens.access import for_editors, for_hand_over, page_of
from innerhop.screens.hand_over.downloads import download

CHANGED_LISTED, REST_LISTED = 20, 100


@require_safe
@for_editors
def overview(request: HttpRequest, site: Site) -> HttpResponse:
    """The changed pages, each with its difference, and the rest by name."""
    touched = differences.touched_pages(site)
    part = Paginator(touched, CHANGED_LISTED).get_page(request.GET.get("part"))
    rest = site.pages.exclude(pk__in=touched.values("pk")).select_related("site")
    context = {
        "part": part,
        "changed": [differences.since_arrival(page) for page in part],
        "same": Paginator(rest, REST_LISTED).get_page(request.GET.get("rest")),
        "assets": site.assets.count(),
        "broken": Link.objects.broken().filter(site=site).count(),
        "moves": moves.of_site(site),
        "who_hands_over": doing.who_may(site, doing.HAND_OVER),
    }
    return render(request, "hand_over/overview.html", context)


@require_safe
@for_editors
def page_difference(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """One page's difference, shown before its file is taken."""
    found = differences.since_arrival(page_of(site, pk))
    return render(request, "hand_over/page.html", {"found": found, "page": found.page})


@require_safe
@for_hand_over
def page_file(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """One page as a file."""
    name, data = differences.file_of(page_of(site, pk))
    return download(data, name.rpartition("/")[2], "text/html")


@require_safe
@for_hand_over
def site_file(request: HttpRequest, site: Site) -> HttpResponse:
    """The whole site as a ZIP."""
    return download(differences.archive_of(site), f"{site.slug}.zip", "application/zip")
