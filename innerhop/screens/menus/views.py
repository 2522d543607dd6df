"""The menus screen: a site's menus in order, and what each item does on each page."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET, require_safe

from innerhop.core.site.stations import MEANINGS, WRONG
from innerhop.library.acts import convert_and_move, menu_forms
from innerhop.library.models import Page, Site
from innerhop.library.seek import menus as seek
from innerhop.library.seek.menus import SiteMenu
from innerhop.screens.access import for_editors
from innerhop.screens.menus.plan_state import plan_state
from innerhop.screens.menus.state import menu_state

_LONGEST = 200


@require_safe
@for_editors
def show(request: HttpRequest, site: Site) -> HttpResponse:
    """One of the menus, and the names of all."""
    found = seek.of_site(site)
    page = site.pages.select_related("site").order_by("path").first()
    plans = site.menu_plans.filter(gone=False) if page else ()
    context: dict[str, Any] = {
        "menus": found,
        "plans": plans,
        "state": _state(request, site, found, page),
        "meanings": _meanings(),
        "pages": site.pages.count(),
        "first_page": page,
        "new_plan": {"url": f"{page.get_absolute_url()}act/keep-plan/", "revision": page.revision}
        if page
        else {},
    }
    return render(request, "menus/menus.html", context)


def _meanings() -> dict[str, Any]:
    """What the screen's script has to know of all menus."""
    states = {state: {"says": says, "wrong": state in WRONG} for state, says in MEANINGS.items()}
    return {
        "states": states,
        "formNames": convert_and_move.FORM_NAMES,
        "deepest": menu_forms.DEEPEST - 1,
    }


@require_GET
@for_editors
def state(request: HttpRequest, site: Site) -> HttpResponse:
    """A menu as it is now, for a screen that has changed it."""
    page = site.pages.select_related("site").order_by("path").first()
    found = _state(request, site, seek.of_site(site), page)
    if found is None:
        raise Http404
    return JsonResponse(found)


def _state(
    request: HttpRequest, site: Site, site_menus: list[SiteMenu], page: Page | None
) -> dict[str, Any] | None:
    """The menu, or the plan of one, that is asked for; where it has another name now or is
    gone, the first there is."""
    key = request.GET.get("menu", "")[:_LONGEST]
    plans = {f"plan-{one.pk}": one for one in site.menu_plans.filter(gone=False)}
    if key == "newest" and plans:
        key = list(plans)[-1]
    menu = next((one for one in site_menus if one.key == key), None)
    if menu is None and key not in plans:
        menu = site_menus[0] if site_menus else None
    if menu is not None:
        return menu_state(request, menu)
    plan = plans.get(key) or next(iter(plans.values()), None)
    return plan_state(request, plan, page) if plan and page else None
