"""A menu's items as they are asked for, and what they come to on each page that has it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from innerhop.core.formats import pieces
from innerhop.core.menus import variants
from innerhop.core.menus.item_rows import ItemRow
from innerhop.core.menus.menus import BY_ARIA, BY_CLASS, LINK, Menu
from innerhop.core.plan import Plan, join_plans
from innerhop.core.planners import menus as planner
from innerhop.core.planners.menus import CannotWriteMenu, WantedItem
from innerhop.library.acts import menu_ends
from innerhop.library.acts.ends import Goal
from innerhop.library.changes.prepare import PagePlan
from innerhop.library.index.texts import PageText
from innerhop.library.models import Menu as MenuRow
from innerhop.library.models import Page
from innerhop.library.seek import menus as seek
from innerhop.library.seek.menus import SiteMenu, Variant


@dataclass(frozen=True)
class AskedItem:
    """An item as it is asked for. item: which of the menu's items it is, None for a new
    one. label, end: None to leave what it has. form: how its link is to be written, "" for
    the site's way."""

    item: int | None
    depth: int
    label: str | None = None
    end: Goal | None = None
    form: str = ""


@dataclass(frozen=True)
class MenuManner:
    """How a menu is written. in_line: pages whose menu differs get the same as the others.
    current: whether every page marks the item that is its own."""

    in_line: bool = False
    current: bool = False


AS_IT_IS = MenuManner()


class MenuWriting:
    """A menu as it is to be, for each page that has it."""

    def __init__(self, menu: SiteMenu, asked: Sequence[AskedItem], manner: MenuManner) -> None:
        self.menu = menu
        self.asked = asked
        self.manner = manner
        every = [item for one in menu.variants for item in one.items]
        self.says_current = manner.current or any(
            item.current in (BY_ARIA, BY_CLASS) for item in every
        )
        self.ends = menu_ends.Ends(menu)

    def plans(self) -> list[PagePlan]:
        """What is written, for the pages on which anything is different."""
        by_page: dict[int, list[MenuRow]] = defaultdict(list)
        for row in self.menu.rows().select_related("page__site").order_by("page_id", "number"):
            by_page[row.page_id].append(row)
        found = []
        for rows in by_page.values():
            page = rows[0].page
            wanted = {row.number: self.wanted(page, self.menu.variant(row.digest)) for row in rows}
            if any(
                _is_different(self.menu.variant(row.digest), wanted[row.number]) for row in rows
            ):
                found.append(PagePlan(page, page.revision, _make(wanted)))
        return found

    def wanted(self, page: Page, variant: Variant) -> list[WantedItem]:
        """The items of a page's menu as they are to be. Items that only this page has stay
        behind the one they follow; those that it lacks are not put in, unless pages are to
        be brought in line."""
        pairs = variants.paired(self.menu.items, variant.items)
        found: list[WantedItem] = []
        for one in self.asked:
            at = pairs[one.item] if one.item is not None else None
            if one.item is None or at is not None or self.manner.in_line:
                found.append(self._item(page, one, variant, at))
        if not self.manner.in_line:
            _put_own(found, pairs, variant.items)
        return found

    def _item(self, page: Page, asked: AskedItem, variant: Variant, at: int | None) -> WantedItem:
        base = self.menu.items[asked.item] if asked.item is not None else None
        there = variant.items[at] if at is not None else None
        label, href = asked.label, None
        if asked.end is not None:
            href = self.ends.href(asked.end, asked.form, page)
        if base is not None and (self.manner.in_line or there is None):
            label = label if label is not None else base.label
            if href is None and base.kind == LINK and not menu_ends.leads_alike(base, there, page):
                href = menu_ends.href_like(base, self.menu.row.page, page)
        current = self._current(page, href, there)
        return WantedItem(at, asked.depth, label, href, current)

    def _current(self, page: Page, href: str | None, there: ItemRow | None) -> bool | None:
        if not self.says_current or (there is not None and there.kind != LINK):
            return None
        if href is not None:
            is_open = _is_page(page, href)
        else:
            assert there is not None
            is_open = there.to != "" and "#" not in there.to and _is_page(page, there.to)
        says = there is not None and there.current in (BY_ARIA, BY_CLASS)
        return None if is_open == says else is_open


def _make(wanted: dict[int, list[WantedItem]]) -> Callable[[PageText], Plan]:
    def make(text: PageText) -> Plan:
        try:
            return join_plans(
                planner.plan(text.source, _menu_at(text, number), items, text.revision.encoding)
                for number, items in wanted.items()
            )
        except pieces.NotWhole:
            raise CannotWriteMenu(
                f"On “{text.page.title}” the markup leaves open where the menu’s items end, so "
                "nothing was changed anywhere. Mend the menu of that page first."
            ) from None

    return make


def _menu_at(text: PageText, number: int) -> Menu:
    """The menu that is an element of a page. Raises seek.NoMenu."""
    found = next((one for one in text.menus if one.number == number), None)
    if found is None:
        raise seek.NoMenu("This menu is no longer there. Load the page again to see it as it is.")
    return found


def _put_own(
    wanted: list[WantedItem], pairs: Sequence[int | None], items: Sequence[ItemRow]
) -> None:
    """Put the items that only one page has behind those that they follow there."""
    known = {one for one in pairs if one is not None}
    for at, item in enumerate(items):
        if at in known:
            continue
        before = next((place for place, one in enumerate(wanted) if one.there == at - 1), None)
        place = 0 if at == 0 else len(wanted) if before is None else before + 1
        wanted.insert(place, WantedItem(at, item.depth))


def _is_different(variant: Variant, wanted: Sequence[WantedItem]) -> bool:
    """Whether a page's menu is to be any different."""
    there = [(at, one.depth) for at, one in enumerate(variant.items)]
    if [(one.there, one.depth) for one in wanted] != there:
        return True
    for one in wanted:
        assert one.there is not None
        item = variant.items[one.there]
        if one.current is not None or (one.label is not None and one.label != item.label):
            return True
        if one.href is not None and one.href != item.href:
            return True
    return False


def _is_page(page: Page, address: str) -> bool:
    if "#" in address:
        return False
    own = page.site.address.rstrip("/")
    path = address.removeprefix(own) or "/"
    return path.startswith("/") and page.site.key_of(path.partition("?")[0]) == page.key
