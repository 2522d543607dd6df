"""Acts on plans of menus: they write no page, and are changes of the site like others, to be
seen in its history and undone."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from innerhop.core.counting import counted
from innerhop.core.refusals import Refusal
from innerhop.library.acts.base import Act
from innerhop.library.acts.ends import Goal, Outside, check_end
from innerhop.library.acts.hop_acts import with_mark
from innerhop.library.acts.menu_items import AskedItem
from innerhop.library.changes import effects
from innerhop.library.models import MenuPlan, Page

_LONGEST_NAME = 60


class CannotPlan(Refusal):
    """A plan can't be kept so; says why."""


def keep(page: Page, plan: int | None, name: str, asked: Sequence[AskedItem]) -> Act:
    """Keep a plan with these items, a new one without a number. page: any of the site.
    Raises CannotPlan, NoSuchEnd, and what marking raises."""
    there = _there(page, plan)
    title = " ".join(name.split())[:_LONGEST_NAME] or (there.name if there else "A menu elsewhere")
    rows = [_row(one) for one in asked]
    new = {"name": title, "items": rows}
    old = {"name": there.name, "items": there.items} if there else None
    if new == old:
        raise CannotPlan("The plan is like that already.")
    what = "Changed the plan of" if there else "Planned"
    act = Act(
        f"{what} the menu “{title}”, {counted(len(rows), 'item')}", [],
        effects=[effects.plan(plan, old, new)],
    )  # fmt: skip
    for one in asked:
        if one.end is not None:
            act = with_mark(act, one.end)
    return act


def drop(page: Page, plan: int | None) -> Act:
    """Give a plan up. Raises CannotPlan."""
    there = _there(page, plan)
    if there is None:
        raise CannotPlan("Choose the plan that is to go.")
    old = {"name": there.name, "items": there.items}
    return Act(f"Gave up the plan of the menu “{there.name}”", [],
               effects=[effects.plan(there.pk, old, None)])  # fmt: skip


def _there(page: Page, plan: int | None) -> MenuPlan | None:
    if plan is None:
        return None
    found: MenuPlan | None = MenuPlan.objects.filter(site=page.site_id, pk=plan, gone=False).first()
    if found is None:
        raise CannotPlan("This plan is no longer there. Load the page again.")
    return found


def _row(asked: AskedItem) -> dict[str, Any]:
    label = " ".join((asked.label or "").split())
    if not label:
        raise CannotPlan("An item needs words that readers click. Type some.")
    if asked.end is None:
        raise CannotPlan(f"Choose where “{label}” leads.")
    check_end(asked.end)
    return {"label": label, "depth": asked.depth, **_end(asked.end)}


def _end(end: Goal) -> dict[str, Any]:
    if isinstance(end, Outside):
        return {"page": None, "id": "", "outside": end.href}
    return {"page": end.page.pk, "id": end.id, "outside": ""}
