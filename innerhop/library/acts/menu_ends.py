"""How a menu's items are written where they stand: the same end on every page that has the
menu, in the form that works there."""

from __future__ import annotations

from innerhop.core.addresses import address_forms, fragments
from innerhop.core.addresses.address_forms import Written
from innerhop.core.menus.item_rows import ItemRow
from innerhop.library.acts.ends import End, Goal, Outside, fragment_of, link_to, start_of
from innerhop.library.models import Mark, Page
from innerhop.library.seek.menus import SiteMenu


class Ends:
    """Where items of a menu lead, as it is written on each page that has the menu."""

    def __init__(self, menu: SiteMenu) -> None:
        self.menu = menu
        self._is_safe: dict[End, bool] = {}

    def href(self, end: Goal, form: str, page: Page) -> str:
        """How an item that leads there is written on a page. form: one chosen for it; "" for
        the site's way. Raises address_forms.CannotWrite."""
        if form == address_forms.HASH and isinstance(end, End):
            if not self.hash_is_safe(end):
                raise address_forms.CannotWrite(
                    "A bare hash is looked for on the page the reader is on, and not every page "
                    "with this menu has that ID. Choose another form."
                )
            return f"#{fragment_of(page, end) or 'top'}"
        return page_href(page, end, form)

    def hash_is_safe(self, end: End) -> bool:
        """Whether a bare hash does the same on every page with the menu: there is one page
        only, which has the end, or each has a part with that ID."""
        if end not in self._is_safe:
            self._is_safe[end] = self._works_on_all(end)
        return self._is_safe[end]

    def _works_on_all(self, end: End) -> bool:
        if not end.id:
            return True  # HTML Standard #top-of-the-document, on every page
        pages = set(self.menu.rows().values_list("page_id", flat=True))
        if pages == {end.page.pk}:
            return True
        rows = Mark.objects.with_value(end.page.site_id, end.id).filter(page__in=pages)
        return set(rows.values_list("page_id", flat=True)) == pages

    def forms(self, end: Goal) -> list[Written]:
        """How an item that leads there could be written."""
        if isinstance(end, Outside):
            return []
        fragment = end.directive or (fragments.encode(end.id) if end.id else None)
        start = start_of(self.menu.row.page, True)
        found = address_forms.all_forms(start, end.page.address, fragment)
        if not self.hash_is_safe(end):
            return found
        why = "Every page with this menu has a part with that ID, so the bare hash works on all."
        bare = Written(address_forms.HASH, f"#{fragment or 'top'}", why)
        return [bare, *(one for one in found if one.form != address_forms.HASH)]


def page_href(page: Page, end: Goal, form: str = "") -> str:
    """How an item of a menu is written on a page. A page's own item opens it at its top, on
    that page too."""
    if isinstance(end, End) and not end.id and not end.directive:
        start = start_of(page, True)
        return address_forms.best(start, end.page.address, None, page.site.form, form).href
    return link_to(page, end, True, form)


def href_like(item: ItemRow, page: Page, other: Page) -> str:
    """How an item's link is written on another page so that it leads to the same place."""
    if item.to.startswith("#") or address_forms.form_of(item.href) != address_forms.RELATIVE:
        return item.href
    start = start_of(other, True)
    path, hash_, fragment = item.to.partition("#")
    target = path if "://" in path else page.site.address.rstrip("/") + path
    return address_forms.best(start, target, fragment if hash_ else None,
                              address_forms.RELATIVE).href  # fmt: skip


def leads_alike(base: ItemRow, there: ItemRow | None, page: Page) -> bool:
    if there is None:
        return False
    whole = f"{page.path}{there.to}" if there.to.startswith("#") else there.to
    return base.to == there.to or (not base.to.startswith("#") and base.to == whole)
