"""Acts on menus: a menu as it is to be, written into every page that has it as one change,
in each page's own markup."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

from innerhop.core.addresses import address_forms, fragments
from innerhop.core.contents import pieces
from innerhop.core.menus import labels as menu_labels
from innerhop.core.menus import menus, variants
from innerhop.core.menus.item_rows import ItemRow
from innerhop.core.menus.menus import BY_ARIA, BY_CLASS, LINK, Menu
from innerhop.core.names import ids
from innerhop.core.plan import Plan, join_plans
from innerhop.core.planners import menus as planner
from innerhop.core.planners import visitor_parts
from innerhop.core.planners.menus import CannotWriteMenu, WantedItem
from innerhop.core.site import stations
from innerhop.library.acts.base import (
    Act,
    End,
    Goal,
    NoSuchEnd,
    Outside,
    check_end,
    counted,
    element_of,
    file_on,
    fragment_of,
    in_copies,
    link_to,
    on_pages,
    start_of,
)
from innerhop.library.acts.hop_acts import with_mark
from innerhop.library.changes import effects
from innerhop.library.changes.prepare import PagePlan
from innerhop.library.index.texts import PageText, current, naming_of
from innerhop.library.models import Link, Mark, Page
from innerhop.library.models import Menu as MenuRow
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


def write(
    page: Page, number: int, asked: Sequence[AskedItem], manner: MenuManner = AS_IT_IS
) -> Act:
    """Give a menu these items on every page that has it. number: of the menu on the page.
    Raises seek.NoMenu, CannotWriteMenu, NoSuchEnd, and address_forms.CannotWrite."""
    return _write(seek.at(page, number), asked, manner)


def _write(menu: SiteMenu, asked: Sequence[AskedItem], manner: MenuManner = AS_IT_IS) -> Act:
    page = menu.row.page
    _check(menu, asked)
    writing = _Writing(menu, asked, manner)
    plans = writing.plans()
    if not plans:
        raise CannotWriteMenu("The menu is like that already, on every page that has it.")
    notes = [*_notes(menu, asked), *_left_alone(menu, asked)]
    act = Act(_message(writing, len(plans)), plans, notes=notes)
    only = [one for one in asked if one.end is not None]
    if len(only) == 1 and only[0].end is not None:
        act = replace(act, href=writing.href(only[0], page), forms=forms_of(menu, only[0].end))
    for one in only:
        assert one.end is not None
        act = with_mark(act, one.end)
    return act


def as_it_is(menu: SiteMenu) -> list[AskedItem]:
    """A menu's items, nothing in them different."""
    return [AskedItem(at, one.depth) for at, one in enumerate(menu.items)]


def bring_in_line(page: Page, number: int) -> Act:
    """Give all pages the menu that most have. Raises the same as `write`."""
    if seek.at(page, number).has_open_branch:
        raise CannotWriteMenu(
            "Each page opens the part of this menu that it is in, so it is meant to differ. Change "
            "its items one by one; what is open stays as it is."
        )
    return write(page, number, as_it_is(seek.at(page, number)), MenuManner(in_line=True))


def mark_current(page: Page, number: int) -> Act:
    """Have every page say which item of the menu is its own (ARIA 1.2, aria-current). Raises
    the same as `write`."""
    return write(page, number, as_it_is(seek.at(page, number)), MenuManner(current=True))


def light(page: Page, number: int, on: bool) -> Act:
    """Have the item of the section that a reader is in lit up as they scroll, on the pages on
    which the menu jumps to several places; or no more. Raises NoMenu, CannotWriteMenu, and
    what linking our two files raises."""
    menu = seek.at(page, number)
    running = seek.run(menu)
    jumping = {
        pk for pk, states in running.vectors.items() if states.count(stations.JUMPS) >= menus.FEWEST
    }
    rows = menu.rows().exclude(lit=on).select_related("page__site").order_by("page_id", "number")
    by_page: dict[int, list[MenuRow]] = defaultdict(list)
    for row in rows:
        if row.page_id in jumping or not on:
            by_page[row.page_id].append(row)
    if not by_page:
        raise CannotWriteMenu(
            "On no page does this menu jump to several places, so there is nothing to light up."
            if on
            else "It is so already."
        )
    plans = [
        PagePlan(same[0].page, same[0].page.revision, _lighting([row.number for row in same], on))
        for same in by_page.values()
    ]
    what = "lights up the section one is in" if on else "lights up no section any more"
    files = [effects.file(page, path) for path in (visitor_parts.STYLE, visitor_parts.SCRIPT)]
    message = f"The menu “{menu.name}” {what} on {counted(len(plans), 'page')}"
    return Act(message, plans, effects=files if on else ())


def _lighting(numbers: Sequence[int], on: bool) -> Callable[[PageText], Plan]:
    def make(text: PageText) -> Plan:
        source, encoding = text.source, text.revision.encoding
        plans = [planner.plan_lit(source, one, on, encoding) for one in numbers]
        if on and not visitor_parts.read(source).needs_files:
            parts, written = visitor_parts.Parts(lit=True), file_on(text.page)
            plans.append(visitor_parts.plan_files(source, parts, encoding, written))
        return join_plans(plans)

    return make


def add(page: Page, key: str, label: str, end: Goal, sections: Sequence[int] = ()) -> Act:
    """Put an item at the end of a menu of the page's site, known by its name in addresses, and
    items of their own words for sections of the page, by number; those of the page in its
    order. Raises the same as `write`."""
    menu = seek.with_key(page.site, key)
    if menu is None:
        raise seek.NoMenu("This menu is no longer there. Choose another.")
    at, chosen = _number_of(page, end), AskedItem(None, 0, label, end)
    taken = [end.id] if isinstance(end, End) else []
    more = _of_sections(page, [one for one in sections if one != at], taken)
    new = [one for _, one in sorted([(at, chosen), *more], key=lambda row: row[0])]
    return _write(menu, [*as_it_is(menu), *new])


def _number_of(page: Page, end: Goal) -> int:
    """The element of the page that an end is; -1 where it is none."""
    if not isinstance(end, End) or end.page.pk != page.pk:
        return -1
    number = element_of(end)
    return -1 if number is None else number


def _of_sections(
    page: Page, numbers: Sequence[int], taken: Sequence[str]
) -> list[tuple[int, AskedItem]]:
    """Items for sections of a page, each with its heading's number. One without a mark gets
    one, by an ID that neither the page has nor any in taken is."""
    text = current(page)
    by_number = {one.number: one for one in text.sections}
    suggester = ids.Suggester(naming_of(page), [*text.facts.ids(), *taken])
    found = []
    for number in numbers:
        section = by_number.get(number)
        if section is None:
            raise NoSuchEnd("A section is no longer on the page. Choose it again.")
        end = End(page, section.mark) if section.mark else End(
            page, suggester.suggest(section.title), number
        )  # fmt: skip
        found.append((number, AskedItem(None, 0, section.title, end)))
    return found


def put_new(page: Page, number: int, side: str, name: str, asked: Sequence[AskedItem]) -> Act:
    """Put a new menu before or after a part of the page, and of all that share it. Raises
    CannotWriteMenu, markers.CannotMark, NoSuchEnd."""
    ends = [(one.label or "", one.end) for one in asked if one.end is not None]
    if len(ends) < menus.FEWEST:
        raise CannotWriteMenu("Choose at least two places for the menu to lead to.")
    for _, end in ends:
        check_end(end)
    label = " ".join(name.split()) or "Main"

    def make(text: PageText, at: int) -> Plan:
        rows = [(words, page_href(text.page, end)) for words, end in ends]
        encoding = text.revision.encoding
        return planner.plan_new(text.source, at, side, name=label, items=rows, encoding=encoding)

    if not planner.can_stand(current(page).source, number):
        raise CannotWriteMenu(
            "A menu stands outside a page’s own content. Choose its header or footer, or a part "
            "before or after its main part."
        )
    plans = in_copies(page, number, make)
    act = Act(f"Put in a menu “{label}” of {counted(len(ends), 'item')}{on_pages(plans)}", plans)
    for _, end in ends:
        act = with_mark(act, end)
    return act


def page_href(page: Page, end: Goal, form: str = "") -> str:
    """How an item of a menu is written on a page. A page's own item opens it at its top, on
    that page too."""
    if isinstance(end, End) and not end.id and not end.directive:
        start = start_of(page, True)
        return address_forms.best(start, end.page.address, None, page.site.form, form).href
    return link_to(page, end, True, form)


def _check(menu: SiteMenu, asked: Sequence[AskedItem]) -> None:
    if not asked:
        raise CannotWriteMenu("A menu without items is of no use. Leave one.")
    there = [one.item for one in asked if one.item is not None]
    if len(there) != len(set(there)):
        raise CannotWriteMenu("An item can’t stand in the menu twice, or under itself.")
    if any(at >= len(menu.items) for at in there):
        raise seek.NoMenu("The menu has changed meanwhile. Load the page again.")
    for one in asked:
        if not (one.label or "").strip() and (one.item is None or one.label is not None):
            raise CannotWriteMenu("An item needs words that readers click. Type some.")
        if one.item is None and one.end is None:
            raise CannotWriteMenu("Choose where the new item leads.")
        if one.end is not None:
            check_end(one.end)
        is_script = one.item is not None and menu.items[one.item].kind == menus.BUTTON
        if is_script and (one.end is not None or one.label is not None):
            raise CannotWriteMenu(
                "This item is a button, and only a script knows what it does. It can be moved or "
                "taken out, and is left alone otherwise."
            )


class _Writing:
    """A menu as it is to be, for each page that has it."""

    def __init__(self, menu: SiteMenu, asked: Sequence[AskedItem], manner: MenuManner) -> None:
        self.menu = menu
        self.asked = asked
        self.manner = manner
        every = [item for one in menu.variants for item in one.items]
        self.says_current = manner.current or any(
            item.current in (BY_ARIA, BY_CLASS) for item in every
        )
        self.is_hash_safe: dict[str, bool] = {}

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

    def _item(self, page: Page, one: AskedItem, variant: Variant, at: int | None) -> WantedItem:
        base = self.menu.items[one.item] if one.item is not None else None
        there = variant.items[at] if at is not None else None
        label, href = one.label, None
        if one.end is not None:
            href = self.href(one, page)
        if base is not None and (self.manner.in_line or there is None):
            label = label if label is not None else base.label
            if href is None and base.kind == LINK and not _leads_alike(base, there, page):
                href = _href_like(base, self.menu.row.page, page)
        current = self._current(page, href, there)
        return WantedItem(at, one.depth, label, href, current)

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

    def href(self, one: AskedItem, page: Page) -> str:
        """How a link of an item is written on a page."""
        assert one.end is not None
        if one.form == address_forms.HASH and isinstance(one.end, End):
            if not hash_is_safe(self.menu, one.end):
                raise address_forms.CannotWrite(
                    "A bare hash is looked for on the page the reader is on, and not every page "
                    "with this menu has that ID. Choose another form."
                )
            return f"#{fragment_of(page, one.end) or 'top'}"
        return page_href(page, one.end, one.form)


def _make(wanted: dict[int, list[WantedItem]]) -> Callable[[PageText], Plan]:
    def make(text: PageText) -> Plan:
        try:
            return join_plans(
                planner.plan(text.source, menu_at(text, number), items, text.revision.encoding)
                for number, items in wanted.items()
            )
        except pieces.NotWhole:
            raise CannotWriteMenu(
                f"On “{text.page.title}” the markup leaves open where the menu’s items end, so "
                "nothing was changed anywhere. Mend the menu of that page first."
            ) from None

    return make


def menu_at(text: PageText, number: int) -> Menu:
    """The menu that is an element of a page. Raises seek.NoMenu."""
    found = next((one for one in text.menus if one.number == number), None)
    if found is None:
        raise seek.NoMenu("This menu is no longer there. Load the page again to see it as it is.")
    return found


def _put_own(
    found: list[WantedItem], pairs: Sequence[int | None], items: Sequence[ItemRow]
) -> None:
    """Put the items that only one page has behind those that they follow there."""
    known = {one for one in pairs if one is not None}
    for at, item in enumerate(items):
        if at in known:
            continue
        before = next((place for place, one in enumerate(found) if one.there == at - 1), None)
        place = 0 if at == 0 else len(found) if before is None else before + 1
        found.insert(place, WantedItem(at, item.depth))


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


def _leads_alike(base: ItemRow, there: ItemRow | None, page: Page) -> bool:
    if there is None:
        return False
    whole = f"{page.path}{there.to}" if there.to.startswith("#") else there.to
    return base.to == there.to or (not base.to.startswith("#") and base.to == whole)


def _href_like(item: ItemRow, page: Page, other: Page) -> str:
    """How an item's link is written on another page so that it leads to the same place."""
    if item.to.startswith("#") or address_forms.form_of(item.href) != address_forms.RELATIVE:
        return item.href
    start = start_of(other, True)
    path, hash_, fragment = item.to.partition("#")
    target = path if "://" in path else page.site.address.rstrip("/") + path
    return address_forms.best(start, target, fragment if hash_ else None,
                              address_forms.RELATIVE).href  # fmt: skip


def _is_page(page: Page, address: str) -> bool:
    if "#" in address:
        return False
    own = page.site.address.rstrip("/")
    path = address.removeprefix(own) or "/"
    return path.startswith("/") and page.site.key_of(path.partition("?")[0]) == page.key


def hash_is_safe(menu: SiteMenu, end: End) -> bool:
    """Whether a bare hash does the same on every page with a menu: there is one page only,
    which has the end, or each has a part with that ID."""
    pages = set(menu.rows().values_list("page_id", flat=True))
    if not end.id:
        return True  # HTML Standard #top-of-the-document, on every page
    if pages == {end.page.pk}:
        return True
    rows = Mark.objects.with_value(end.page.site_id, end.id).filter(page__in=pages)
    return set(rows.values_list("page_id", flat=True)) == pages


def forms_of(menu: SiteMenu, end: Goal) -> list[address_forms.Written]:
    """How a link of a menu to that end could be written."""
    if isinstance(end, Outside):
        return []
    page = menu.row.page
    fragment = end.directive or (fragments.encode(end.id) if end.id else None)
    found = address_forms.all_forms(start_of(page, True), end.page.address, fragment)
    if not hash_is_safe(menu, end):
        return found
    why = "Every page with this menu has a part with that ID, so the bare hash works on all."
    bare = address_forms.Written(address_forms.HASH, f"#{fragment or 'top'}", why)
    return [bare, *(one for one in found if one.form != address_forms.HASH)]


def _message(writing: _Writing, pages: int) -> str:
    menu, asked, manner = writing.menu, writing.asked, writing.manner
    where = f" on {counted(pages, 'page')}"
    name = f"menu “{menu.name}”"
    if manner.in_line:
        return f"Brought the {name} in line{where}"
    items = menu.items
    said = [f"“{one.label}” put into the {name}" for one in asked if one.item is None]
    said += [f"“{items[at].label}” taken out of the {name}"
             for at in range(len(items)) if at not in {one.item for one in asked}]  # fmt: skip
    for one in asked:
        if one.item is not None and one.label not in (None, items[one.item].label):
            said.append(f"“{items[one.item].label}” in the {name} is “{one.label}” now")
        if one.item is not None and one.end is not None:
            href, label = writing.href(one, menu.row.page), one.label or items[one.item].label
            said.append(f"“{label}” in the {name} leads to {href} now")
    if not said and manner.current:
        said = [f"The {name} marks the item of the page that is open"]
    if not said:
        said = [f"Moved an item in the {name}"]
    if len(said) > 1:
        return f"Changed {counted(len(said), 'thing')} in the {name}{where}"
    return said[0] + where


def _notes(menu: SiteMenu, asked: Sequence[AskedItem]) -> list[str]:
    """What the editor should know before it is saved."""
    labels = [
        (one.label if one.label is not None else menu.items[one.item or 0].label).casefold()
        for one in asked
    ]
    twice = next((label for label in labels if labels.count(label) > 1), "")
    found = []
    if twice:
        found.append(
            f"“{twice}” stands in the menu more than once. Readers can’t tell the two apart."
        )
    if max((one.depth for one in asked), default=0) > 1:
        found.append(menu_labels.DEEP)
    return found


def _left_alone(menu: SiteMenu, asked: Sequence[AskedItem]) -> Iterator[str]:
    """The pages that no link leads to any more once their items have gone."""
    there = {one.item for one in asked if one.item is not None and one.end is None}
    gone = {one.number for at, one in enumerate(menu.items) if at not in there}
    stay = {one.number for at, one in enumerate(menu.items) if at in there}
    rows = {
        number - menu.row.number: key
        for number, key in Link.objects.filter(
            page=menu.row.page_id, number__range=(menu.row.number, menu.row.last)
        ).values_list("number", "key")
    }
    kept = {rows.get(one, "") for one in stay}
    kept |= {one.end.page.key for one in asked if isinstance(one.end, End)}
    lost = {rows.get(one, "") for one in gone} - kept - {""}
    if not lost:
        return
    in_menu: dict[int, list[tuple[int, int]]] = defaultdict(list)
    for pk, *span in menu.rows().values_list("page_id", "number", "last"):
        in_menu[pk].append((span[0], span[1]))
    for page in Page.objects.filter(site=menu.row.site_id, key__in=lost).order_by("path"):
        links = Link.objects.to_pages(menu.row.site_id, [page.key]).exclude(page=page)
        others = links.values_list("page_id", "number").iterator()
        if all(any(one <= number <= last for one, last in in_menu[pk]) for pk, number in others):
            yield f"No link of the site leads to “{page.title}” ({page.path}) any more then."
