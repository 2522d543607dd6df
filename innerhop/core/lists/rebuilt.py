"""A list of links put together anew: entries that stay are the same characters, those that
change keep each tag that they needn't change, and new ones are written like their neighbours."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from innerhop.core import words_law
from innerhop.core.contents.entries import Branch, flat
from innerhop.core.formats import pieces
from innerhop.core.formats.pieces import Alike, Kept, Node, Piece, Raw, TagsAgain
from innerhop.core.lists import changes
from innerhop.core.lists.changes import EntryChange, EntryThere, ListManner
from innerhop.core.plan import Plan, Takes, join_plans
from innerhop.core.source.content_models import LISTS
from innerhop.core.source.elements import Element, Text
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source


def plan(
    source: Source, body: int, entries: Sequence[EntryThere],
    branches: Sequence[Branch[EntryChange]], *, manner: ListManner, encoding: FileEncoding,
) -> Plan:  # fmt: skip
    """Give a list, or a line, of links these entries, in this order and depth. body: the number
    of the element that holds them. entries: those that it has, in its order. Raises
    pieces.NotWhole where the markup leaves open where an entry ends."""
    wanted = flat(branches)
    takes = _taken(source, entries, [change for _, change in wanted])
    there = [(one.depth, one) for one in entries]
    if [(depth, change.there) for depth, change in wanted] == there:  # all stay where they are
        made = [changes.plan(source, one, encoding) for _, one in wanted if one.is_any]
        return join_plans(made).taking(takes)
    rebuilt = _Rebuilt(source, body, entries, manner)
    if source.tags[body] in LISTS:
        inside = rebuilt.list_of(body, branches)
    else:
        inside = rebuilt.line_of([change for _, change in wanted])
        takes += rebuilt.taken_between(len(wanted))
    return pieces.plan_filled(source, body, inside, encoding).taking(takes)


def _taken(
    source: Source, entries: Sequence[EntryThere], wanted: Sequence[EntryChange]
) -> list[Takes]:
    """What readers lose: entries that are to go, and words that are to be others."""
    kept = {change.there.item for change in wanted if change.there is not None}
    takes: list[Takes] = []
    for one in entries:
        if one.item not in kept:
            takes += words_law.whole(source, one.item)
    for change in wanted:
        if change.there is not None and change.has_other_words:
            takes += words_law.whole(source, change.there.number)
    return takes


class _Rebuilt:
    def __init__(
        self, source: Source, body: int, entries: Sequence[EntryThere], manner: ListManner
    ) -> None:
        self.source = source
        self.body = body
        self.entries = entries
        self.manner = manner
        self.places = {one.item: at for at, one in enumerate(entries)}
        self.holders = {source.parent(one.item) for one in entries}

    # Lists.

    def list_of(self, number: int, branches: Sequence[Branch[EntryChange]]) -> list[Node]:
        """What a list that is there is to hold."""
        held = pieces.held_by(self.source, number)
        before, strangers = self._apart(held)
        model = self._model_in(number)
        usual = before.get(model.item) if model else None
        space = usual if usual is not None and not usual.written.strip() else Raw("", "")
        inside: list[Node] = [*strangers.pop(None, [])]
        for branch in branches:
            there = branch.entry.there
            inside += [before.get(there.item, space) if there else space,
                       self._entry(branch, model)]  # fmt: skip
            if there:
                inside += strangers.pop(there.item, [])
        for left in strangers.values():
            inside += left
        return pieces.settled([*inside, *held[-1:]])

    def _model_in(self, number: int) -> EntryThere | None:
        """What a new entry of a list is written like: one of the same list, if there is one."""
        own = (one for one in self.manner.models if self.source.parent(one.item) == number)
        return next(own, None)

    def _apart(self, held: Sequence[Node]) -> tuple[dict[int, Raw], dict[int | None, list[Node]]]:
        """What stands before each entry; and what is no entry, by the entry before it."""
        before: dict[int, Raw] = {}
        strangers: dict[int | None, list[Node]] = {}
        last: int | None = None
        space = Raw("", "")
        for node in held[:-1]:
            if isinstance(node, Raw):
                space = node
            elif isinstance(node, Kept) and node.number in self.places:
                before[node.number], last = space, node.number
            else:
                strangers.setdefault(last, []).extend((space, node))
        return before, strangers

    def _entry(self, branch: Branch[EntryChange], model: EntryThere | None) -> Node:
        """An entry as it is to be, with all under it."""
        change = branch.entry
        if change.there is None:
            return self._new(branch, model)
        if not change.is_any and self._is_below_as_is(change.there, branch):
            return Kept(self.source, change.there.item)
        return self._changed(branch, change.there)

    def _is_below_as_is(self, there: EntryThere, branch: Branch[EntryChange]) -> bool:
        """Whether all under an entry stays as it is."""
        at = self.places[there.item]
        below: list[tuple[int, EntryThere | None]] = []
        for other in self.entries[at + 1 :]:
            if other.depth <= there.depth:
                break
            below.append((other.depth - there.depth, other))
        wanted = flat(branch.below, 1)
        if any(change.is_any for _, change in wanted):
            return False
        return [(depth, change.there) for depth, change in wanted] == below

    def _changed(self, branch: Branch[EntryChange], there: EntryThere) -> Node:
        """An entry that is there, with what is different in it."""
        change, source = branch.entry, self.source
        lists = self._lists_under(there)
        first = next((one for one in lists if branch.below), -1)
        inside = [
            one for node in pieces.held_by(source, there.item)
            for one in self._inside(node, branch, there, first, lists)
        ]  # fmt: skip
        if there.number == there.item and change.has_other_words:
            inside = changes.words_of(source, change)
        if branch.below and first < 0:
            inside = self._with_new_list(inside, branch, there)
        return TagsAgain(source, there.item, tuple(inside), change.values.get(there.item, {}))

    def _lists_under(self, there: EntryThere) -> list[int]:
        """The lists in an entry that hold entries, each as a whole."""
        source = self.source
        under = (one.number for one in source.element(there.item).inside
                 if one.number in self.holders)  # fmt: skip
        found: list[int] = []
        for number in under:
            if not found or number > source.last_inside(found[-1]):
                found.append(number)
        return found

    def _inside(
        self,
        node: Node,
        branch: Branch[EntryChange],
        there: EntryThere,
        first: int,
        lists: Sequence[int],
    ) -> list[Node]:
        """A node of an entry as it is to be: its link, and the lists under it."""
        if not isinstance(node, Kept):
            return [node]
        source, number = self.source, node.number
        if number in lists:
            if number != first:
                return []
            return [TagsAgain(source, number, tuple(self.list_of(number, branch.below)))]
        held = range(number, source.last_inside(number) + 1)
        change = branch.entry
        if there.number == number and not any(one in held for one in lists):
            return [self._link(node, change)]
        if there.number not in held and not any(one in held for one in lists):
            return [node]
        values = change.values.get(number, {}) if there.number == number else {}
        inside = [
            one for child in pieces.held_by(source, number)
            for one in self._inside(child, branch, there, first, lists)
        ]  # fmt: skip
        return [TagsAgain(source, number, tuple(inside), values)]

    def _link(self, node: Kept, change: EntryChange) -> Node:
        """What holds an entry's words, as it is to be."""
        values = change.values.get(node.number, {})
        if change.has_other_words:
            inside = changes.words_of(self.source, change)
        elif values:
            inside = pieces.held_by(self.source, node.number)
        else:
            return node
        return TagsAgain(self.source, node.number, tuple(inside), values)

    # Entries that are new.

    def _new(self, branch: Branch[EntryChange], model: EntryThere | None) -> Node:
        """An entry written like its neighbours."""
        like = model or (self.manner.models[0] if self.manner.models else None)
        if like is None:
            return self.manner.from_nothing(branch.entry)
        node = self._copy(like.item, like, branch.entry)
        if branch.below:
            inside = self._with_new_list(list(node.inside), branch, like)
            node = Alike(self.source, node.number, node.attributes, tuple(inside))
        return node

    def _with_new_list(
        self, inside: list[Node], branch: Branch[EntryChange], like: EntryThere
    ) -> list[Node]:
        """A list under an entry that had none: as another one in this list is written, if
        there is one."""
        source = self.source
        line = pieces.indent(source, like.item)
        deeper, deepest = (f"{line}  ", f"{line}    ") if line else ("", "")
        others = (one for one in self.holders if one != self.body and source.tags[one] in LISTS)
        other = min(others, default=None)
        model = self._model_in(other) if other is not None else None
        rows: list[Node] = []
        for below in branch.below:
            is_there = below.entry.there is not None
            rows += [deepest, self._entry(below, model) if is_there else self._new(below, model)]
        rows = pieces.settled([*rows, deeper])
        values = {} if other is None else self.manner.common(source.attributes(other))
        tag = source.tags[other if other is not None else self.body]
        made = Piece(tag, values, tuple(one for one in rows if one != ""))
        last = inside[-1] if inside else None
        kept = inside[:-1] if isinstance(last, Raw) and not last.written.strip() else inside
        return [one for one in (*kept, deeper, made, line) if one != ""]

    def _copy(self, number: int, like: EntryThere, change: EntryChange) -> Alike:
        """A new entry as another one is written: what is around its link, its link, and what
        holds its words, without what is that one's own."""
        source = self.source
        values = self.manner.common(source.attributes(number))
        if number == like.number:
            without = {name: value for name, value in values.items() if name != "href"}
            return Alike(source, number, {**without, **change.link},
                         self._words_in(number, change.label or ""))  # fmt: skip
        inside: list[Node] = []
        for child in source.children(number):
            if isinstance(child, Text) and child.is_blank:
                inside.append(child.data)
            elif isinstance(child, Element) and child.number <= like.number <= child.last:
                inside.append(self._copy(child.number, like, change))
        return Alike(source, number, values, tuple(inside))

    def _words_in(self, number: int, label: str) -> tuple[Node, ...]:
        shown = self.source.element(number).shown
        only = shown[0] if len(shown) == 1 else None
        if isinstance(only, Element) and only.tag in ("span", "b", "strong", "em"):
            values = self.manner.common(only.attributes)
            inside = self._words_in(only.number, label)
            return (Alike(self.source, only.number, values, inside),)
        return (label,)

    # Lines.

    def line_of(self, wanted: Sequence[EntryChange]) -> list[Node]:
        """A line of links: what stands between two of them stands between all, and what
        stands before the last, such as “and”, stays before the last."""
        held = pieces.held_by(self.source, self.body)
        at = self._at(held)
        gaps: list[list[Node]] = [held[one + 1 : other] for one, other in pairwise(at)]
        gaps = gaps or [[self.manner.between]]
        inside: list[Node] = held[: at[0]]
        for place, change in enumerate(wanted):
            if place == len(wanted) - 1 and place:
                inside += gaps[-1]
            elif place:
                inside += gaps[place - 1] if place < len(gaps) else gaps[0]
            inside.append(self._entry(Branch(change), None))
        return [*inside, *held[at[-1] + 1 :]]

    def _at(self, held: Sequence[Node]) -> list[int]:
        """Where the entries stand among what a line holds. Raises pieces.NotWhole."""
        at = [i for i, node in enumerate(held)
              if isinstance(node, Kept) and node.number in self.places]  # fmt: skip
        if not at:
            raise pieces.NotWhole
        return at

    def taken_between(self, count: int) -> list[Takes]:
        """What stands between two links of a line goes with one of them."""
        if count >= len(self.entries):
            return []
        held = pieces.held_by(self.source, self.body)
        own = [node.read for node in held if isinstance(node, Raw)]
        return [Takes(" ".join(own))]
