"""Menus, written: an item relabelled, led elsewhere, moved, put in or taken out, in each
page's own markup. What stays is kept character for character; what is new is written like
its neighbours.

HTML Standard, "the nav element"; ARIA 1.2, aria-current
(https://www.w3.org/TR/wai-aria-1.2/#aria-current).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import NoReturn

from innerhop.core.contents.entries import nested
from innerhop.core.contents.settings import MENU
from innerhop.core.facts import frame
from innerhop.core.formats import html, pieces
from innerhop.core.formats.pieces import Node, Piece
from innerhop.core.lists import rebuilt
from innerhop.core.lists.changes import EntryChange, ListManner
from innerhop.core.menus import menus
from innerhop.core.menus.menus import LINK, WORDS, Item, Menu
from innerhop.core.plan import Plan
from innerhop.core.planners import contents
from innerhop.core.refusals import Refusal
from innerhop.core.source.content_models import LISTS
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source

PAGE = "page"  # the value of aria-current for the item of the page that is open


class CannotWriteMenu(Refusal):
    """A menu can't be written so; says why and what to do."""


@dataclass(frozen=True, slots=True)
class WantedItem:
    """An item as it is to be. there: which of the menu's items it is, None for a new one.
    label, href: None to leave what it has. current: whether it is the open page's, None to
    leave what it says."""

    there: int | None
    depth: int
    label: str | None = None
    href: str | None = None
    current: bool | None = None


def plan(source: Source, menu: Menu, wanted: Sequence[WantedItem], encoding: FileEncoding) -> Plan:
    """Give a menu these items, in this order and depth. Raises CannotWriteMenu, and
    pieces.NotWhole where the markup leaves open where an item ends."""
    if not wanted:
        raise CannotWriteMenu(
            "A menu without items is of no use. Leave one, or take the list out of the page."
        )
    if source.tags[menu.number] not in LISTS and any(one.depth for one in wanted):
        raise CannotWriteMenu("This menu is a line of links, so nothing can stand under an item.")
    branches = nested([(one.depth, _change(source, menu, one)) for one in wanted])
    links = [one for one in menu.items if one.kind == LINK]
    models = [one for one in links if not one.current] or links
    manner = ListManner(models, _common, _refused)
    return rebuilt.plan(source, menu.number, menu.items, branches, manner=manner, encoding=encoding)


def _refused(_change: EntryChange) -> NoReturn:
    raise CannotWriteMenu("This menu has no link that a new item could be written like.")


def _change(source: Source, menu: Menu, wanted: WantedItem) -> EntryChange:
    if wanted.there is None:
        current = {"aria-current": PAGE} if wanted.current else {}
        return EntryChange(None, wanted.label, link={"href": wanted.href or "", **current})
    item = menu.items[wanted.there]
    values: dict[int, dict[str, str | None]] = {}
    if wanted.href is not None and item.kind == LINK and wanted.href != item.href:
        values[item.number] = {"href": wanted.href}
    if wanted.current is not None:
        for number, more in _current(source, menu, item, wanted.current).items():
            values.setdefault(number, {}).update(more)
    label = wanted.label if wanted.label not in (None, item.label) else None
    is_led = item.kind == WORDS and bool(wanted.href)
    return EntryChange(item, label, values, becomes={"href": wanted.href or ""} if is_led else None)


def _common(values: Mapping[str, str]) -> dict[str, str]:
    """What neighbours have in common: not what tells the open page's item."""
    found = pieces.plain(values)
    own = found.get("class", "").split()
    telling = menus.current_words(own)
    if not telling:
        return found
    left = " ".join(one for one in own if one not in telling)
    return {name: left if name == "class" else value for name, value in found.items()
            if left or name != "class"}  # fmt: skip


def can_stand(source: Source, number: int) -> bool:
    """Whether a menu beside a part would be one of the site's frame."""
    return source.tags[number] != "main" and not frame.is_content(source, source.parent(number))


def plan_new(
    source: Source, number: int, side: str, *, name: str, items: Sequence[tuple[str, str]],
    encoding: FileEncoding,
) -> Plan:  # fmt: skip
    """Put a new menu before or after a part of the page. name: its label. items: the words
    and the address of each. Raises contents.CannotList where no block can stand."""

    def made(line: str) -> Piece:
        deeper, deepest = (f"{line}  ", f"{line}    ") if line else ("", "")
        inside: list[Node] = []
        for words, href in items:
            inside += [deepest, Piece("li", {}, (Piece("a", {"href": href}, (words,)),))]
        rows = Piece("ul", {}, tuple(one for one in (*inside, deeper) if one != ""))
        held = tuple(one for one in (deeper, rows, line) if one != "")
        return Piece("nav", {"aria-label": name}, held)

    return contents.plan_block(source, number, side, made, encoding)


def plan_lit(source: Source, number: int, on: bool, encoding: FileEncoding) -> Plan:
    """Have a menu light up the section that a reader is in, or not."""
    values: dict[str, str | None] = {MENU: "" if on else None}
    return html.give(source, {number: values}, encoding)


def _current(
    source: Source, menu: Menu, item: Item, is_open: bool
) -> dict[int, dict[str, str | None]]:
    """The attributes that say, or no longer say, that an item is the open page's, in the
    way in which this menu says it."""
    found: dict[int, dict[str, str | None]] = {}
    has = [number for number in (item.number, item.item) if source.attr(number, "aria-current")]
    if is_open and not has and item.kind == LINK:
        found[item.number] = {"aria-current": PAGE}
    if not is_open:
        found = {number: {"aria-current": None} for number in has}
    by_class = _class_of_current(source, menu)
    for number, telling in ((item.number, by_class[0]), (item.item, by_class[1])):
        own = (source.attr(number, "class") or "").split()
        without = [one for one in own if one not in telling]
        after = [*without, *sorted(telling)] if is_open else without
        if telling and set(after) != set(own):
            found.setdefault(number, {})["class"] = " ".join(after) or None
    return found


def _class_of_current(source: Source, menu: Menu) -> tuple[set[str], set[str]]:
    """The words in the class of a link, and of an entry, that tell the open page's item."""
    link: set[str] = set()
    entry: set[str] = set()
    for one in menu.items:
        if one.current:
            link |= menus.current_words((source.attr(one.number, "class") or "").split())
            if one.item != one.number:
                entry |= menus.current_words((source.attr(one.item, "class") or "").split())
    return link, entry
