"""Menus that live in another system, kept here as plans: what to enter there, and what each
item would do on each page of the site."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from innerhop.core.addresses import fragments
from innerhop.core.site.stations import AWAY, GONE, JUMPS, LOST, NOTHING, OPENS, OPENS_JUMPS, THERE
from innerhop.library.models import Mark, MenuPlan, Page, Section, Site


@dataclass(frozen=True)
class PlannedItem:
    """An item of a plan. page: where it leads, None for one that is gone or for an address
    elsewhere, which `outside` then is. title: what its end is called. arrives: whether the
    part that it ends at is there."""

    label: str
    depth: int
    page: Page | None
    id: str
    outside: str
    title: str
    arrives: bool

    @property
    def address(self) -> str:
        """What is entered as its address: it works from every page."""
        if self.page is None:
            return self.outside
        return self.page.path + (f"#{fragments.encode(self.id)}" if self.id else "")


def items_of(plan: MenuPlan) -> list[PlannedItem]:
    """The items of a plan, each with its end as it is now."""
    rows = plan.items
    pages = {
        page.pk: page
        for page in Page.objects.filter(site=plan.site_id, pk__in=[row["page"] for row in rows])
    }
    ids = {row["id"] for row in rows if row["id"]}
    marks = Mark.objects.with_values(plan.site_id, ids).filter(page__in=pages)
    titles = {(page, value): words or value
              for page, value, words in marks.values_list("page", "value", "words")}  # fmt: skip
    sections = Section.objects.filter(page__in=pages, mark__in=ids)
    titles |= {(page, mark): title
               for page, mark, title in sections.values_list("page", "mark", "title")}  # fmt: skip
    return [_item(row, pages, titles) for row in rows]


def _item(
    row: Mapping[str, Any], pages: Mapping[int, Page], titles: Mapping[tuple[int, str], str]
) -> PlannedItem:
    page = pages.get(row["page"])
    title = titles.get((row["page"], row["id"]), "")
    arrives = page is not None and (not row["id"] or bool(title))
    called = (title or row["id"] or "Its top") if page else row["outside"]
    return PlannedItem(
        row["label"], row["depth"], page, row["id"], row["outside"], called,
        arrives or bool(row["outside"]),
    )  # fmt: skip


def vectors(site: Site, items: Sequence[PlannedItem]) -> dict[int, list[str]]:
    """What each item would do on each page of the site, entered as it is planned."""
    keys = site.pages.order_by("path").values_list("pk", flat=True)
    return {page: [does(one, page) for one in items] for page in keys}


def does(item: PlannedItem, page: int) -> str:
    """What an item would do on a page, by primary key."""
    if item.page is None:
        return AWAY if item.outside else GONE
    is_own = item.page.pk == page
    if not item.id:
        return THERE if is_own else OPENS
    if not item.arrives:
        return NOTHING if is_own else LOST
    return JUMPS if is_own else OPENS_JUMPS


@dataclass(frozen=True)
class ItemToEnter:
    """What to enter for one item. place: its number among those beside it, from 1. under:
    the words of the item that it stands under, "" for none."""

    item: PlannedItem
    place: int
    under: str


def lines_of(plan: MenuPlan) -> list[ItemToEnter]:
    """A plan as what to enter, item by item, in order."""
    found: list[ItemToEnter] = []
    above: list[str] = []
    counts: list[int] = []
    for one in items_of(plan):
        del above[one.depth :], counts[one.depth + 1 :]
        if len(counts) <= one.depth:
            counts.append(0)
        counts[one.depth] += 1
        found.append(ItemToEnter(one, counts[one.depth], above[-1] if above else ""))
        above.append(one.label)
    return found
