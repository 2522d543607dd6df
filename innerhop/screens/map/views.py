"""The map: pages as rulers side by side, and the hops between them as arcs."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from innerhop.core.widths import LAPTOP
from innerhop.library.models import Page, Site
from innerhop.library.seek import landings, site_map
from innerhop.library.seek.causes import by_cause
from innerhop.library.seek.page_heights import heights
from innerhop.screens.access import for_editors, number_asked, page_of
from innerhop.screens.map import drawing

ROWS = 200  # of the list below the map


@require_safe
@for_editors
def show(request: HttpRequest, site: Site) -> HttpResponse:
    """All pages of a small site; one page with its neighbours where it is asked for,
    or where there are too many."""
    count = site.pages.count()
    asked = request.GET.get("find", "").replace("\0", "").strip()[:200]
    matches = site_map.search(site, asked) if asked else []
    centre = _centre(request, site, count)
    if centre is None and len(matches) == 1:
        centre = matches[0]
    part = _number(request, "part")
    other = _other(request, site, centre)
    if centre and other:
        found = site_map.between(centre, other)
    else:
        found = site_map.around(centre, part) if centre else site_map.whole(site)
    long = heights(found.pages, LAPTOP.width, places=True)
    worst = landings.worst_of(found.pages)
    drawn = drawing.draw(found.pages, found.hops, long, found.centre, worst)
    context = {
        "count": count,
        "asked": asked,
        "matches": matches,
        "map": found,
        "other": other,
        "causes": by_cause(found.hops, ROWS),
        "rows": ROWS,
        "drawing": drawn,
        "shortened": any(ruler.is_shortened for ruler in drawn.rulers),
        "kinds": drawing.KINDS,
        "ruler_width": drawing.RULER,
        "whole": count <= site_map.WHOLE,
        "step": site_map.NEIGHBOURS,
        "next": part + 1 if len(found.more) > part * site_map.NEIGHBOURS else 0,
        "part": part,
    }
    return render(request, "map/map.html", context)


def _number(request: HttpRequest, name: str) -> int:
    return number_asked(request.GET.get(name, ""))


def _other(request: HttpRequest, site: Site, centre: Page | None) -> Page | None:
    """The page whose hops from and to the one in the centre are asked for alone."""
    chosen = _number(request, "with")
    return page_of(site, chosen) if chosen and centre and chosen != centre.pk else None


def _centre(request: HttpRequest, site: Site, count: int) -> Page | None:
    chosen = _number(request, "page")
    if chosen:
        return page_of(site, chosen)
    return site_map.first_centre(site) if count > site_map.WHOLE else None
