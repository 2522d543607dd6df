"""Menus, written: an item relabelled, led elsewhere, moved, put in or taken out, in each
page's own markup. What stays is kept character for character; what is new is written like
its neighbours.

HTML Standard, "the nav element"; ARIA 1.2, aria-current
(https://www.w3.org/TR/wai-aria-1.2/#aria-current).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

from innerhop.core import words_law
from innerhop.core.contents import pieces
from innerhop.core.contents.entries import Branch, nested
from innerhop.core.contents.pieces import Again, Alike, Kept, Node, Piece, Raw
from innerhop.core.contents.settings import MENU
from innerhop.core.facts import frame
from innerhop.core.menus import menus
from innerhop.core.menus.menus import LINK, LISTS, WORDS, Item, Menu
from innerhop.core.plan import Plan, Takes, join_plans, of_attributes
from innerhop.core.planners import contents, links_beside
from innerhop.core.refusals import Refusal
from innerhop.core.source import attributes
from innerhop.core.source.elements import Element, Text
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source

PAGE = "page"  # the value of aria-current for the item of the page that is open


class CannotWriteMenu(Refusal):
    """A menu can't be written so; says why and what to do."""


@dataclass(frozen=True, slots=True)
class Wanted:
    """An item as it is to be. there: which of the menu's items it is, None for a new one.
    label, href: None to leave what it has. current: whether it is the open page's, None to
    leave what it says."""

    there: int | None
    depth: int
    label: str | None = None
    href: str | None = None
    current: bool | None = None


def plan(source: Source, menu: Menu, wanted: Sequence[Wanted], encoding: FileEncoding) -> Plan:
    """Give a menu these items, in this order and depth. Raises CannotWriteMenu, and
    pieces.NotWhole where the markup leaves open where an item ends."""
    if not wanted:
        raise CannotWriteMenu(
            "A menu without items is of no use. Leave one, or take the list out of the page."
        )
    changes = [_Change.of(source, menu, one) for one in wanted]
    takes = _taken(source, menu, changes)
    if _is_in_place(menu, wanted):
        plans = [change.plan(source, encoding) for change in changes if change.is_any]
        return join_plans(plans).taking(takes)
    if source.tags[menu.number] in LISTS:
        inside = _Rebuilt(source, menu, changes).rebuilt()
    else:
        inside = _line(source, menu, changes)
    return pieces.plan_filled(source, menu.number, inside, encoding).taking(takes)


def _taken(source: Source, menu: Menu, changes: Sequence[_Change]) -> list[Takes]:
    """What readers lose of a menu: items that are to go, and words that are to be others."""
    kept = {change.wanted.there for change in changes}
    takes: list[Takes] = []
    for at, item in enumerate(menu.items):
        if at not in kept:
            takes += words_law.whole(source, item.item)
    for change in changes:
        if change.item is not None and (change.label is not None or change.becomes_link):
            takes += words_law.whole(source, change.item.number)
    return takes


def _is_in_place(menu: Menu, wanted: Sequence[Wanted]) -> bool:
    """Whether all items stay, where they are."""
    there = [(at, one.depth) for at, one in enumerate(menu.items)]
    return [(one.there, one.depth) for one in wanted] == there


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
    return of_attributes(attributes.plan(source, number, values, encoding), {number: values})


@dataclass(frozen=True)
class _Change:
    """What is to be different in one item. item: None for a new one. values: attributes
    that elements of it are to have."""

    wanted: Wanted
    item: Item | None
    values: Mapping[int, Mapping[str, str | None]]
    label: str | None

    @classmethod
    def of(cls, source: Source, menu: Menu, wanted: Wanted) -> _Change:
        item = None if wanted.there is None else menu.items[wanted.there]
        if item is None:
            return cls(wanted, None, {}, wanted.label)
        values: dict[int, dict[str, str | None]] = {}
        if wanted.href is not None and item.kind == LINK and wanted.href != item.href:
            values[item.number] = {"href": wanted.href}
        if wanted.current is not None:
            for number, more in _current(source, menu, item, wanted.current).items():
                values.setdefault(number, {}).update(more)
        label = wanted.label if wanted.label not in (None, item.label) else None
        return cls(wanted, item, values, label)

    @property
    def is_any(self) -> bool:
        return bool(self.values) or self.label is not None or self.becomes_link

    @property
    def becomes_link(self) -> bool:
        """Whether words are to lead somewhere."""
        item = self.item
        return item is not None and item.kind == WORDS and bool(self.wanted.href)

    def plan(self, source: Source, encoding: FileEncoding) -> Plan:
        """The item changed where it stands."""
        assert self.item is not None
        plans = []
        for number, values in self.values.items():
            plans.append(of_attributes(attributes.plan(source, number, values, encoding),
                                       {number: values}))  # fmt: skip
        if self.label is not None or self.becomes_link:
            inside = self.inside(source)
            plans.append(pieces.plan_filled(source, self.item.number, inside, encoding))
        return join_plans(plans)

    def inside(self, source: Source) -> list[Node]:
        """What holds the item's words is to hold."""
        assert self.item is not None
        number = self.item.number
        label = self.label if self.label is not None else self.item.label
        if not self.becomes_link:
            return _relabelled(source, number, label)
        hold = Piece("a", {"href": self.wanted.href or ""}, (label,))
        kept = [node for node in pieces.held_by(source, number) if isinstance(node, Kept)]
        return [hold, *(node for node in kept if source.tags[node.number] in LISTS)]


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


def _relabelled(source: Source, number: int, label: str) -> list[Node]:
    """What an element holds, with other words: pictures, and what the words stand in, stay."""
    nodes, done = _with_words(source, number, label, done=False)
    if done:
        return nodes
    return [*nodes, label]


def _with_words(source: Source, number: int, label: str, done: bool) -> tuple[list[Node], bool]:
    found: list[Node] = []
    for node in pieces.held_by(source, number):
        if isinstance(node, Kept) and source.tags[node.number] in LISTS:
            found.append(node)
        elif isinstance(node, Kept):
            if not source.text_of(node.number).strip() or source.tags[node.number] == "svg":
                found.append(node)
                continue
            inside, done = _with_words(source, node.number, label, done)
            found.append(Again(source, node.number, tuple(inside)))
        elif isinstance(node, Raw) and node.read.strip():
            lead = node.read[: len(node.read) - len(node.read.lstrip())]
            tail = node.read[len(node.read.rstrip()) :]
            found.append(f"{lead}{'' if done else label}{tail}")
            done = True
        else:
            found.append(node)
    return found, done


class _Rebuilt:
    """A list of items, and the lists in it, put together anew."""

    def __init__(self, source: Source, menu: Menu, changes: Sequence[_Change]) -> None:
        self.source = source
        self.menu = menu
        self.changes = changes
        self.entries = {one.item: at for at, one in enumerate(menu.items)}
        models = [one for one in menu.items if not one.current and one.kind == LINK]
        self.models = models or [one for one in menu.items if one.kind == LINK]

    def rebuilt(self) -> list[Node]:
        """What the menu is to hold."""
        branches = nested([(one.wanted.depth, one) for one in self.changes])
        return self._list(self.menu.number, branches)

    def _list(self, number: int, branches: Sequence[Branch[_Change]]) -> list[Node]:
        """What a list that is there is to hold."""
        held = pieces.held_by(self.source, number)
        before, strangers = self._apart(held)
        model = next((one for one in self.models if self._is_in(one, number)), None)
        usual = before.get(model.item) if model else None
        space = usual if usual is not None and not usual.written.strip() else Raw("", "")
        inside: list[Node] = [*strangers.pop(None, [])]
        for branch in branches:
            item = branch.entry.item
            inside += [before.get(item.item, space) if item else space, self.entry(branch, model)]
            if item:
                inside += strangers.pop(item.item, [])
        for left in strangers.values():
            inside += left
        return pieces.settled([*inside, *held[-1:]])

    def _is_in(self, item: Item, number: int) -> bool:
        return self.source.parent(item.item) == number

    def _apart(self, held: Sequence[Node]) -> tuple[dict[int, Raw], dict[int | None, list[Node]]]:
        """What stands before each item; and what is no item, by the item before it."""
        before: dict[int, Raw] = {}
        strangers: dict[int | None, list[Node]] = {}
        last: int | None = None
        space = Raw("", "")
        for node in held[:-1]:
            if isinstance(node, Raw):
                space = node
            elif isinstance(node, Kept) and node.number in self.entries:
                before[node.number], last = space, node.number
            else:
                strangers.setdefault(last, []).extend((space, node))
        return before, strangers

    def entry(self, branch: Branch[_Change], model: Item | None) -> Node:
        """An item as it is to be, with all under it."""
        change = branch.entry
        if change.item is None:
            return self._new(branch, model)
        if not change.is_any and self._is_below_as_is(change.item, branch):
            return Kept(self.source, change.item.item)
        return self._changed(branch, change.item)

    def _is_below_as_is(self, item: Item, branch: Branch[_Change]) -> bool:
        """Whether all under an item stays as it is."""
        at = self.entries[item.item]
        below: list[tuple[int | None, int]] = []
        for other in range(at + 1, len(self.menu.items)):
            if self.menu.items[other].depth <= item.depth:
                break
            below.append((other, self.menu.items[other].depth - item.depth))
        wanted = list(_under(branch, 1))
        if any(change.is_any for change, _ in wanted):
            return False
        return [(change.wanted.there, depth) for change, depth in wanted] == below

    def _changed(self, branch: Branch[_Change], item: Item) -> Node:
        """An item that is there, with what is different in it."""
        change, source = branch.entry, self.source
        lists = _own_lists(source, item.item)
        inside: list[Node] = []
        done = False
        for node in pieces.held_by(source, item.item):
            number = node.number if isinstance(node, Kept) else -1
            if number in lists:
                if branch.below and not done:
                    held = self._list(number, branch.below)
                    inside.append(Again(source, number, tuple(held)))
                    done = True
            elif isinstance(node, Kept):
                inside.append(self._around_link(node, change, item))
            else:
                inside.append(node)
        if item.number == item.item and change.label is not None:
            inside = _relabelled(source, item.number, change.label)
        if branch.below and not done:
            inside = self._with_new_list(inside, branch, item)
        return Again(source, item.item, tuple(inside), change.values.get(item.item, {}))

    def _around_link(self, node: Kept, change: _Change, item: Item) -> Node:
        source = self.source
        if not node.number <= item.number <= source.last_inside(node.number):
            return node
        if node.number != item.number:
            inside = tuple(
                self._around_link(one, change, item) if isinstance(one, Kept) else one
                for one in pieces.held_by(source, node.number)
            )
            return Again(source, node.number, inside)
        values = change.values.get(item.number, {})
        if change.label is None and not values and not change.becomes_link:
            return node
        if change.label is not None or change.becomes_link:
            return Again(source, node.number, tuple(change.inside(source)), values)
        return Again(source, node.number, tuple(pieces.held_by(source, node.number)), values)

    def _new(self, branch: Branch[_Change], model: Item | None) -> Node:
        """An item written like its neighbours."""
        like = model or (self.models[0] if self.models else None)
        if like is None:
            raise CannotWriteMenu("This menu has no link that a new item could be written like.")
        wanted = branch.entry.wanted
        node = alike(self.source, like, wanted)
        if branch.below:
            inside = self._with_new_list(list(node.inside), branch, like)
            node = Alike(self.source, node.number, node.attributes, tuple(inside))
        return node

    def _with_new_list(self, inside: list[Node], branch: Branch[_Change], like: Item) -> list[Node]:
        """A list under an item that had none: as another one of this menu is written, if
        there is one."""
        source = self.source
        line = links_beside.indent(source, like.item)
        deeper, deepest = (f"{line}  ", f"{line}    ") if line else ("", "")
        other = next((one.number for one in source.element(self.menu.number).inside
                      if one.tag in LISTS), None)  # fmt: skip
        model = next((one for one in self.models if other is not None
                      and self._is_in(one, other)), None)  # fmt: skip
        rows: list[Node] = []
        for below in branch.below:
            moved = below.entry.item
            entry = self.entry(below, model) if moved else self._new(below, model)
            rows += [deepest, entry]
        rows = pieces.settled([*rows, deeper])
        as_other = {} if other is None else pieces.plain(source.attributes(other))
        tag = source.tags[other if other is not None else self.menu.number]
        made = Piece(tag, as_other, tuple(one for one in rows if one != ""))
        kept = inside[:-1] if inside and isinstance(inside[-1], Raw) and not inside[
            -1].written.strip() else inside  # fmt: skip
        return [one for one in (*kept, deeper, made, line) if one != ""]


def alike(source: Source, like: Item, wanted: Wanted) -> Alike:
    """A new item as another one is written: its entry, its link, and what holds its words,
    without what is that one's own."""
    return _copy(source, like.item, like, wanted)


def _copy(source: Source, number: int, like: Item, wanted: Wanted) -> Alike:
    values = pieces.plain(source.attributes(number))
    telling = menus.current_words((values.get("class") or "").split())
    if telling:
        left = [one for one in values["class"].split() if one not in telling]
        values = {**values, "class": " ".join(left)} if left else _without(values, "class")
    if number == like.number:
        values = {**values, "href": wanted.href or ""}
        if wanted.current:
            values["aria-current"] = PAGE
        return Alike(source, number, values, _words_in(source, number, wanted.label or ""))
    inside: list[Node] = []
    for child in source.children(number):
        if isinstance(child, Text) and child.is_blank:
            inside.append(child.data)
        elif isinstance(child, Element) and child.number <= like.number <= child.last:
            inside.append(_copy(source, child.number, like, wanted))
    return Alike(source, number, values, tuple(inside))


def _words_in(source: Source, number: int, label: str) -> tuple[Node, ...]:
    shown = source.element(number).shown
    only = shown[0] if len(shown) == 1 else None
    if isinstance(only, Element) and only.tag in ("span", "b", "strong", "em"):
        values = pieces.plain(only.attributes)
        return (Alike(source, only.number, values, _words_in(source, only.number, label)),)
    return (label,)


def _without(values: dict[str, str], name: str) -> dict[str, str]:
    return {key: value for key, value in values.items() if key != name}


def _under(branch: Branch[_Change], depth: int) -> list[tuple[_Change, int]]:
    found: list[tuple[_Change, int]] = []
    for below in branch.below:
        found += [(below.entry, depth), *_under(below, depth + 1)]
    return found


def _own_lists(source: Source, number: int) -> list[int]:
    return [one.number for one in source.element(number).children
            if isinstance(one, Element) and one.tag in LISTS]  # fmt: skip


def _line(source: Source, menu: Menu, changes: Sequence[_Change]) -> list[Node]:
    """A line of links: what stands between two of them stands between all."""
    if any(one.wanted.depth for one in changes):
        raise CannotWriteMenu("This menu is a line of links, so nothing can stand under an item.")
    held = pieces.held_by(source, menu.number)
    entries = {one.item for one in menu.items}
    at = [i for i, node in enumerate(held) if isinstance(node, Kept) and node.number in entries]
    if not at:
        raise pieces.NotWhole
    gaps = [held[one + 1 : other] for one, other in pairwise(at)]
    rebuilt = _Rebuilt(source, menu, changes)
    inside: list[Node] = list(held[: at[0]])
    for place, change in enumerate(changes):
        if place:
            inside += gaps[min(place, len(gaps)) - 1] if gaps else [" "]
        inside.append(rebuilt.entry(Branch(change), rebuilt.models[0]))
    return [*inside, *held[at[-1] + 1 :]]
