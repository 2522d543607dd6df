"""What is to be done to a menu in another system, item by item. Each step names what is there
when all before it are done: first words and ends, then the new order from the top down, then
what goes."""

from __future__ import annotations

from bisect import bisect_left
from collections import defaultdict
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from operator import attrgetter
from typing import NamedTuple

from innerhop.core.copy_steps.step import AWAY_ITEM, ITEM_END, MOVE_ITEM, NEW_ITEM, REWORD, Step
from innerhop.core.copy_steps.under_way import which
from innerhop.core.menus.menus import Item, Menu
from innerhop.core.source import markup
from innerhop.core.source.file_encoding import FileEncoding

_ANY = FileEncoding()  # what is pasted elsewhere may have any character
Key = tuple[str, int]  # "old" or "new", and the item's place in that menu


def steps(old: Menu, new: Menu) -> list[Step]:
    """All that makes one menu of the other; none where their items are the same."""
    return list(_Work(old, new).steps())


def called(menu: Menu) -> str:
    """What a menu is known by to someone who looks at the page."""
    if menu.name:
        return f"the menu “{menu.name}”"
    return f"the menu that begins with “{menu.items[0].label}”" if menu.items else "the menu"


@dataclass
class _Node:
    """An item while the menu is under work."""

    key: Key
    label: str
    depth: int


class _Place(NamedTuple):
    """Where an item stands: under which one, None for the menu itself."""

    parent: Key | None
    key: Key


class _Work:
    """A menu under work: `rows` is what someone sees who has done all steps so far."""

    def __init__(self, old: Menu, new: Menu) -> None:
        self.old, self.new = old, new
        self.was = _matched(old.items, new.items)
        self.rows = [_Node(("old", at), one.label, one.depth) for at, one in enumerate(old.items)]
        self.frame, self.menu, self.number = old.region, called(old), new.number

    def steps(self) -> Iterator[Step]:
        """Each step, when it has been done."""
        yield from self._words_and_ends()
        yield from self._order()
        yield from self._what_goes()

    def _step(self, kind: str, what: str, note: str, **more: str) -> Step:
        return Step(
            kind, "", what, more.get("enter", ""), more.get("before", ""), note,
            more.get("at", ""), self.frame, number=self.number, menu=self.menu,
            markup=more.get("markup", ""),
        )  # fmt: skip

    def _words_and_ends(self) -> Iterator[Step]:
        for at, origin in sorted(self.was.items(), key=lambda pair: pair[1]):
            had, has, row = self.old.items[origin], self.new.items[at], self.rows[origin]
            if has.label != had.label:
                yield self._step(
                    REWORD, self._called(row), "Give this item these words.",
                    enter=has.label, before=had.label, markup=_markup(has),
                )  # fmt: skip
                row.label = has.label
            if has.href != had.href:
                note = "Let this item lead there." if has.href else "Let this item lead nowhere."
                yield self._step(ITEM_END, self._called(row), note,
                                 enter=has.href, before=had.href, markup=_markup(has))  # fmt: skip

    def _order(self) -> Iterator[Step]:
        stays = self._staying()
        before: dict[Key | None, Key] = {}  # the last item that is in place under each
        for at, place in enumerate(_places(self.new.items, self._key)):
            if place.key not in stays:
                yield self._put(self.new.items[at], place, before.get(place.parent))
            before[place.parent] = place.key

    def _key(self, at: int) -> Key:
        return ("old", self.was[at]) if at in self.was else ("new", at)

    def _staying(self) -> set[Key]:
        """The items that need no step: as many as keep their order under the same one."""
        parents = {place.key: place.parent for place in _places(self.old.items, _old)}
        under: dict[Key | None, list[Key]] = defaultdict(list)
        for place in _places(self.new.items, self._key):
            if place.key[0] == "old" and parents[place.key] == place.parent:
                under[place.parent].append(place.key)
        return {key for keys in under.values() for key in _rising(keys)}

    def _put(self, item: Item, place: _Place, before: Key | None) -> Step:
        """A new item put in, or one that is there moved."""
        where = self._where(place.parent, before)
        if place.key[0] == "new":
            row = _Node(place.key, item.label, 0)
            step = self._step(NEW_ITEM, f"new item “{item.label}”", "Put it in, with these words.",
                              enter=item.href, at=where, markup=_markup(item))  # fmt: skip
            branch = [row]
        else:
            row = self._row(place.key)
            name = self._called(row)
            branch = self._branch(row)
            more = ", with what is under it" if len(branch) > 1 else ""
            step = self._step(MOVE_ITEM, name, f"Move it there{more}.", at=where)
            self.rows = [one for one in self.rows if one not in branch]
        self._insert(branch, place.parent, before)
        return step

    def _where(self, parent: Key | None, before: Key | None) -> str:
        if before is not None:
            row = self._row(before)
            more = " and what is under it" if len(self._branch(row)) > 1 else ""
            return f"right behind the {self._called(row)}{more}"
        if parent is not None:
            return f"as the first one under the {self._called(self._row(parent))}"
        return "as the menu’s first item"

    def _insert(self, branch: list[_Node], parent: Key | None, before: Key | None) -> None:
        depth = 0 if parent is None else self._row(parent).depth + 1
        by = depth - branch[0].depth
        for one in branch:
            one.depth += by
        if before is not None:
            last = self._branch(self._row(before))[-1]
            at = self.rows.index(last) + 1
        else:
            at = 0 if parent is None else self.rows.index(self._row(parent)) + 1
        self.rows[at:at] = branch

    def _what_goes(self) -> Iterator[Step]:
        kept = {("old", origin) for origin in self.was.values()}
        while row := next((one for one in self.rows if _goes(one, kept)), None):
            branch = self._branch(row)
            more = ", with what is under it" if len(branch) > 1 else ""
            had = self.old.items[row.key[1]]
            yield self._step(AWAY_ITEM, self._called(row), f"Remove this item{more}.",
                             before=had.href)  # fmt: skip
            self.rows = [one for one in self.rows if one not in branch]

    def _row(self, key: Key) -> _Node:
        return next(one for one in self.rows if one.key == key)

    def _branch(self, row: _Node) -> list[_Node]:
        """An item and all under it."""
        at = self.rows.index(row)
        last = at + 1
        while last < len(self.rows) and self.rows[last].depth > row.depth:
            last += 1
        return self.rows[at:last]

    def _called(self, row: _Node) -> str:
        alike = [one for one in self.rows if one.label == row.label]
        return which(f"item “{row.label}”", alike.index(row) + 1, len(alike))


def _markup(item: Item) -> str:
    """An item's link as it is written where only markup can be entered."""
    if not item.href:
        return ""
    return f"<a {markup.attribute('href', item.href, _ANY)}>{markup.text(item.label, _ANY)}</a>"


def _old(at: int) -> Key:
    return ("old", at)


def _goes(row: _Node, kept: set[Key]) -> bool:
    return row.key[0] == "old" and row.key not in kept


def _matched(old: Sequence[Item], new: Sequence[Item]) -> dict[int, int]:
    """Which item of the old menu each of the new one was: by its words and its end, then by its
    words, then by its end."""
    found: dict[int, int] = {}
    for alike in (attrgetter("label", "href"), attrgetter("label"), attrgetter("href")):
        left: dict[object, list[int]] = defaultdict(list)
        taken = set(found.values())
        for at, one in enumerate(old):
            if at not in taken:
                left[alike(one)].append(at)
        for at, one in enumerate(new):
            same = left.get(alike(one)) if alike(one) else None
            if at not in found and same:
                found[at] = same.pop(0)
    return found


def _places(items: Sequence[Item], key: Callable[[int], Key]) -> list[_Place]:
    line: list[Key] = []
    found = []
    for at, one in enumerate(items):
        del line[one.depth :]
        found.append(_Place(line[-1] if line else None, key(at)))
        line.append(key(at))
    return found


def _rising(keys: Sequence[Key]) -> list[Key]:
    """As many of these, in their order, as rise: the longest such run of them."""
    ends: list[int] = []  # the least place at which a run of each length ends
    before: list[int] = []
    at_end: list[int] = []
    for at, (_, place) in enumerate(keys):
        length = bisect_left(ends, place)
        ends[length : length + 1] = [place]
        at_end[length : length + 1] = [at]
        before.append(at_end[length - 1] if length else -1)
    found = []
    at = at_end[-1] if at_end else -1
    while at >= 0:
        found.append(keys[at])
        at = before[at]
    return found[::-1]
