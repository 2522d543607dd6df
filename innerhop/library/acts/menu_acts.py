"""Acts on menus: a menu as it is to be, written into every page that has it as one change,
in each page's own markup."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import replace

from innerhop.core.counting import counted
from innerhop.core.menus import menus
from innerhop.core.names import ids
from innerhop.core.plan import Plan, join_plans
from innerhop.core.planners import menus as planner
from innerhop.core.planners import visitor_parts
from innerhop.core.planners.menus import CannotWriteMenu
from innerhop.core.site import stations
from innerhop.library.acts import menu_ends, menu_told
from innerhop.library.acts.base import Act, in_copies, on_pages
from innerhop.library.acts.ends import End, Goal, NoSuchEnd, check_end, element_of, file_on
from innerhop.library.acts.hop_acts import with_mark
from innerhop.library.acts.menu_items import AS_IT_IS, AskedItem, MenuManner, MenuWriting
from innerhop.library.changes import effects
from innerhop.library.changes.prepare import PagePlan
from innerhop.library.index.texts import PageText, current, naming_of
from innerhop.library.models import Menu as MenuRow
from innerhop.library.models import Page
from innerhop.library.seek import menus as seek
from innerhop.library.seek.menus import SiteMenu


def write(
    page: Page, number: int, asked: Sequence[AskedItem], manner: MenuManner = AS_IT_IS
) -> Act:
    """Give a menu these items on every page that has it. number: of the menu on the page.
    Raises seek.NoMenu, CannotWriteMenu, NoSuchEnd, and address_forms.CannotWrite."""
    return _write(seek.at(page, number), asked, manner)


def _write(menu: SiteMenu, asked: Sequence[AskedItem], manner: MenuManner = AS_IT_IS) -> Act:
    _check(menu, asked)
    writing = MenuWriting(menu, asked, manner)
    plans = writing.plans()
    if not plans:
        raise CannotWriteMenu("The menu is like that already, on every page that has it.")
    notes = menu_told.notes(menu, asked)
    act = Act(menu_told.message(writing, len(plans)), plans, notes=notes)
    led = [(one, one.end) for one in asked if one.end is not None]
    if len(led) == 1:
        [(only, end)] = led
        href = writing.ends.href(end, only.form, menu.row.page)
        act = replace(act, href=href, forms=writing.ends.forms(end))
    for _, end in led:
        act = with_mark(act, end)
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
        rows = [(words, menu_ends.page_href(text.page, end)) for words, end in ends]
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
