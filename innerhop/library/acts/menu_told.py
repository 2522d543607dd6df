"""What is said of a menu as it is to be: the line of the change, and what an editor should know
before."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterator, Sequence

from innerhop.core.counting import counted
from innerhop.core.menus import labels as menu_labels
from innerhop.library.acts.ends import End
from innerhop.library.acts.menu_items import AskedItem, MenuWriting
from innerhop.library.models import Link, Page
from innerhop.library.seek.menus import SiteMenu


def message(writing: MenuWriting, pages: int) -> str:
    """The line of a change that writes a menu. pages: on how many."""
    menu, asked, manner = writing.menu, writing.asked, writing.manner
    where = f" on {counted(pages, 'page')}"
    name = f"menu “{menu.name}”"
    if manner.in_line:
        return f"Brought the {name} in line{where}"
    items, kept = menu.items, {one.item for one in asked}
    said = [f"“{one.label}” put into the {name}" for one in asked if one.item is None]
    said += [f"“{items[at].label}” taken out of the {name}"
             for at in range(len(items)) if at not in kept]  # fmt: skip
    for one in asked:
        if one.item is not None and one.label not in (None, items[one.item].label):
            said.append(f"“{items[one.item].label}” in the {name} is “{one.label}” now")
        if one.item is not None and one.end is not None:
            href = writing.ends.href(one.end, one.form, menu.row.page)
            label = one.label or items[one.item].label
            said.append(f"“{label}” in the {name} leads to {href} now")
    if not said and manner.current:
        said = [f"The {name} marks the item of the page that is open"]
    if not said:
        said = [f"Moved an item in the {name}"]
    if len(said) > 1:
        return f"Changed {counted(len(said), 'thing')} in the {name}{where}"
    return said[0] + where


def notes(menu: SiteMenu, asked: Sequence[AskedItem]) -> list[str]:
    """What the editor should know before it is saved."""
    return [*_labels(menu, asked), *_left_alone(menu, asked)]


def _labels(menu: SiteMenu, asked: Sequence[AskedItem]) -> list[str]:
    labels = [
        (one.label if one.label is not None else menu.items[one.item or 0].label).casefold()
        for one in asked
    ]
    times = Counter(labels)
    twice = next((label for label in labels if times[label] > 1), "")
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
