"""What the menus screen shows of a plan of a menu, as one JSON object like a menu's own."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest

from innerhop.core.menus import labels
from innerhop.core.menus.item_rows import ItemRow
from innerhop.core.site import stations
from innerhop.core.site.stations import GONE
from innerhop.library.models import MenuPlan, Page
from innerhop.library.seek import menu_plans
from innerhop.library.seek.menu_plans import PlannedItem
from innerhop.screens.acts.views import urls_of
from innerhop.screens.menus.state import drawn_stations
from innerhop.screens.page_state.state import sheet_url

_URLS = ("keepPlan", "dropPlan", "undo", "checkId")


def plan_state(request: HttpRequest, plan: MenuPlan, page: Page) -> dict[str, Any]:
    """A plan, and what its items would do. page: any page of the site, through which it is
    changed."""
    items = menu_plans.items_of(plan)
    vectors = menu_plans.vectors(plan.site, items)
    rows = [ItemRow(at, at, one.label, one.address, one.address, one.depth)
            for at, one in enumerate(items)]  # fmt: skip
    return {
        "plan": plan.pk,
        "key": f"plan-{plan.pk}",
        "name": plan.name,
        "where": "",
        "page": page.pk,
        "revision": page.revision,
        "number": None,
        "pages": len(vectors),
        "items": [
            {**_item(one, [states[at] for states in vectors.values()]), "notes": said}
            for at, (one, said) in enumerate(zip(items, labels.of_items(rows), strict=True))
        ],
        "stations": drawn_stations(vectors) if items else [],
        "drawsEnds": False,
        "unlike": [],
        "unlikeCount": 0,
        "jumps": False,
        "lit": False,
        "saysCurrent": {"pages": 0, "said": 0},
        "notes": labels.of_menu(rows),
        "urls": {name: urls_of(page)[name] for name in _URLS},
        "sheet": sheet_url(request, page),
    }  # fmt: skip


def _item(item: PlannedItem, states: list[str]) -> dict[str, Any]:
    end: dict[str, Any] = {"page": None, "outside": item.outside, "title": item.title, "id": ""}
    if item.page is not None:
        end = {
            "page": item.page.pk, "pageTitle": item.page.title, "path": item.page.path,
            "id": item.id, "title": item.title, "arrives": item.arrives,
        }  # fmt: skip
    wrong = stations.wrong(states)
    says = ""
    if GONE in states:
        says = "The page that it led to is gone. Choose another."
    elif wrong:
        says = "Nothing there has this ID any more. Choose another place."
    return {
        "number": 0, "label": item.label, "href": item.address, "depth": item.depth,
        "kind": "link", "end": end, "wrong": wrong, "says": says,
    }  # fmt: skip
