"""The menus screen: a site's menus in order, and what each item does on each page."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET, require_safe

from innerhop.core.menus.stations import MEANINGS
from innerhop.library.models import Site
from innerhop.library.seek import menus as seek
from innerhop.library.seek.menus import SiteMenu
from innerhop.screens.access import for_editors
from innerhop.screens.menus.state import menu_state

_LONGEST = 200


@require_safe
@for_editors
def show(request: HttpRequest, site: Site) -> HttpResponse:
    """One of the menus, and the names of all."""
    found = seek.of_site(site)
    chosen = _chosen(request, found)
    context: dict[str, Any] = {
        "menus": found,
        "chosen": chosen,
        "state": menu_state(request, chosen) if chosen else None,
        "meanings": MEANINGS,
        "pages": site.pages.count(),
        "first_page": site.pages.order_by("path").first(),
    }
    return render(request, "menus/menus.html", context)


@require_GET
@for_editors
def state(request: HttpRequest, site: Site) -> HttpResponse:
    """A menu as it is now, for a screen that has changed it."""
    chosen = _chosen(request, seek.of_site(site))
    if chosen is None:
        raise Http404
    return JsonResponse(menu_state(request, chosen))


def _chosen(request: HttpRequest, found: list[SiteMenu]) -> SiteMenu | None:
    """The menu that is asked for; where it has another name now, the first."""
    key = request.GET.get("menu", "")[:_LONGEST]
    return next((one for one in found if one.key == key), found[0] if found else None)
