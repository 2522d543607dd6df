"""Contents lists: made anew, brought up to date, taken over and removed.

HTML Standard, "the nav element"
(https://html.spec.whatwg.org/multipage/sections.html#the-nav-element); WCAG 2.2, 2.4.1
"Bypass Blocks", technique G64 "Providing a Table of Contents".
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable, Sequence
from dataclasses import replace
from itertools import pairwise

from innerhop.core import words_law
from innerhop.core.contents import kinds, pieces
from innerhop.core.contents.entries import Branch, nested
from innerhop.core.contents.kinds import KINDS, Style, Wanted
from innerhop.core.contents.lists import ContentsList, Entry
from innerhop.core.contents.pieces import Kept, Node, Piece, Raw
from innerhop.core.contents.settings import ATTRIBUTES, LABEL, OWN, Settings
from innerhop.core.edits import Edit
from innerhop.core.plan import Claim, Plan, Takes, join_plans, of_attributes
from innerhop.core.planners import links_beside, markers
from innerhop.core.refusals import Refusal
from innerhop.core.source import attributes
from innerhop.core.source.content_models import BLOCKS
from innerhop.core.source.elements import Element
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source

_LISTS = ("ul", "ol", "menu")


class CannotList(Refusal):
    """No contents list can be made so; says why and what to do."""


def branches_of(wanted: Sequence[Wanted], kind: str) -> tuple[Branch[Wanted], ...]:
    """The entries as a tree: one level where the kind has no more."""
    flat = KINDS[kind].is_flat
    return nested([(0 if flat else one.level, one) for one in wanted])


def usual_place(source: Source, first: int) -> int:
    """The part before which a list goes unless someone points elsewhere: where the first
    section begins, behind the introduction. first: the number of its heading."""
    element = source.element(first)
    while (above := element.parent) is not None and above.tag not in _PAGES:
        if above.shown[:1] != [element] or above.tag in _LISTS:
            break
        element = above
    return element.number


_PAGES = ("body", "main", "article", "html")


def plan_new(
    source: Source, number: int, side: str, wanted: Sequence[Wanted], *, style: Style,
    encoding: FileEncoding,
) -> Plan:  # fmt: skip
    """Put a new list before or after a part of the page. Raises CannotList, and
    markers.CannotMark where nothing can stand."""
    if not wanted:
        raise CannotList("Choose at least one entry.")
    branches = branches_of(wanted, style.settings.kind)
    return plan_block(
        source, number, side, lambda line: kinds.made(branches, style, line), encoding
    )


def plan_block(
    source: Source, number: int, side: str, made: Callable[[str], Piece], encoding: FileEncoding
) -> Plan:
    """Put a new block before or after a part of the page. made: what makes it, given the
    line end and white space that it begins with. Raises the same."""
    element = source.element(number)
    if element.tag not in BLOCKS:
        raise CannotList("A list can stand before or after a whole block only. Step out once.")
    if any(one.tag in ("p", "a", "button", "summary") for one in element.ancestors):
        raise CannotList("A list can’t stand inside a paragraph or a link. Step out once.")
    place = markers.place_of(source, number, side)
    line = links_beside.indent(source, number)
    piece = made(line)
    text = pieces.written([piece], encoding)
    read = pieces.as_read(line)
    if side == markers.BEFORE:
        new = pieces.new_element(piece, 0, 0, "", read)
        return Plan([Edit(place, "", text + line)], Claim(new=[new]))
    new = pieces.new_element(piece, 0, len(line), read, "")
    return Plan([Edit(place, "", line + text)], Claim(new=[new]))


def plan_in_place(
    source: Source, one: ContentsList, wanted: Sequence[Wanted], style: Style,
    encoding: FileEncoding,
) -> Plan:  # fmt: skip
    """Put a list of another kind in the place of one that is there. Raises the same."""
    if not wanted:
        raise CannotList("Choose at least one entry.")
    first, last = pieces.whole(source, one.number)
    line = links_beside.indent(source, one.number)
    piece = kinds.made(branches_of(wanted, style.settings.kind), style, line)
    edit = Edit(first, source.text[first:last], pieces.written([piece], encoding))
    made = pieces.new_element(piece, 0, 0, "", "")
    takes = words_law.whole(source, one.number)
    return Plan([edit], Claim(new=[made], removed={one.number: ("", "")}, takes=takes))


def plan_removal(source: Source, one: ContentsList) -> Plan:
    """Take a list out, with all that is around its entries alone."""
    return plan_taking_out(source, one.number)


def plan_taking_out(source: Source, number: int) -> Plan:
    """Take an element out whole, with the line that it begins. Raises pieces.NotWhole."""
    first, last = pieces.whole(source, number)
    line = links_beside.indent(source, number)
    read = pieces.as_read(line)
    edit = Edit(first - len(line), line + source.text[first:last], "")
    takes = words_law.whole(source, number)
    return Plan([edit], Claim(removed={number: (read, "")}, takes=takes))


def plan_settings(
    source: Source, one: ContentsList, own: Settings, id_: str, encoding: FileEncoding
) -> Plan:
    """Write into a list what it is to know of itself, and nothing else. id_: an ID for it,
    "" to leave what it has."""
    values: dict[str, str | None] = dict.fromkeys(ATTRIBUTES)
    values |= own.attributes()
    if id_ and not source.attr(one.number, "id"):
        values["id"] = id_
    has = source.attributes(one.number)
    changed = {name: value for name, value in values.items() if has.get(name) != value}
    if not changed:
        return Plan()
    edits = attributes.plan(source, one.number, changed, encoding)
    return of_attributes(edits, {one.number: changed})


def plan_entries(
    source: Source, one: ContentsList, wanted: Sequence[Wanted], encoding: FileEncoding
) -> Plan:
    """Give a list these entries. Those that are there stay as they are written; a new one is
    written as its neighbours are. Raises CannotList, and pieces.NotWhole."""
    if not wanted:
        raise CannotList("A list without entries is of no use. Remove it instead.")
    entries = {entry.number: entry for entry in one.entries}
    inside: Sequence[Node]
    if source.tags[one.body] in _LISTS:
        inside = _Rebuilt(source, entries).rebuilt(one.body, nested([(w.level, w) for w in wanted]))
    else:
        inside = _line(source, one, wanted)
    plan = pieces.plan_filled(source, one.body, inside, encoding)
    return plan.taking(_taken(source, one, wanted))


def _taken(source: Source, one: ContentsList, wanted: Sequence[Wanted]) -> list[Takes]:
    """What readers lose of a list: entries that are to go, and words that are to be others."""
    kept = {entry.link: entry for entry in wanted if entry.link is not None}
    takes: list[Takes] = []
    for entry in one.entries:
        new = kept.get(entry.number)
        if new is None:
            takes += words_law.whole(source, entry.item)
        elif new.label != entry.label:
            takes += words_law.whole(source, entry.number)
    if len(wanted) < len(one.entries) and source.tags[one.body] not in _LISTS:
        # What stands between two links of a line goes with one of them.
        own = [node.read for node in pieces.held_by(source, one.body) if isinstance(node, Raw)]
        takes.append(Takes(" ".join(own)))
    return takes


def plan_kept(
    source: Source, one: ContentsList, wanted: Sequence[Wanted], *, own: Settings, id_: str,
    encoding: FileEncoding,
) -> Plan:  # fmt: skip
    """Bring a list up to date, or take it over: its entries, and its settings. Raises the
    same as `plan_entries`."""
    settings = plan_settings(source, one, own, id_, encoding)
    entries = plan_entries(source, one, wanted, encoding)
    return join_plans([settings, entries])


class _Rebuilt:
    """A list written anew of what is there: entries as they stand, and new ones like them."""

    def __init__(self, source: Source, entries: dict[int, Entry]) -> None:
        self.source = source
        self.entries = entries
        self.items = {entry.item: entry for entry in entries.values()}
        self._numbers = sorted(entries)

    def rebuilt(self, number: int, branches: Sequence[Branch[Wanted]]) -> list[Node]:
        """What a list is to hold."""
        held = pieces.held_by(self.source, number)
        lead, tail = held[0], held[-1]
        assert isinstance(lead, Raw)
        assert isinstance(tail, Raw)
        there = [one for one in self.source.children(number) if isinstance(one, Element)]
        model = there[0].number if there else -1
        inside: list[Node] = []
        for branch in branches:
            inside += [lead, self._item(branch, model)]
        return pieces.settled([*inside, tail])

    def _item(self, branch: Branch[Wanted], model: int) -> Node:
        entry = self.entries.get(branch.entry.link) if branch.entry.link is not None else None
        if entry is None:
            return self._new(branch, model)
        if self._is_as_is(entry, branch):
            return Kept(self.source, entry.item)
        sub = self._sub(entry.item)
        inside: list[Node] = []
        for node in pieces.held_by(self.source, entry.item):
            if isinstance(node, Kept) and node.number == sub:
                if branch.below:
                    held = self.rebuilt(sub, branch.below)
                    inside.append(Piece(self.source.tags[sub], self._attributes(sub), tuple(held)))
            else:
                inside.append(self._with_link(node, entry, branch.entry))
        if branch.below and sub < 0:
            inside = [*_trimmed(inside), *self._new_list(branch, entry.item)]
        tag = self.source.tags[entry.item]
        return Piece(tag, self._attributes(entry.item), tuple(inside))

    def _with_link(self, node: Node, entry: Entry, wanted: Wanted) -> Node:
        """A node of an entry, its link as it is to be."""
        if not isinstance(node, Kept) or not (
            node.number <= entry.number <= self.source.last_inside(node.number)
        ):
            return node
        if node.number == entry.number:
            return self.link_of(entry, wanted)
        inside = [
            self._with_link(one, entry, wanted) for one in pieces.held_by(self.source, node.number)
        ]
        return Piece(self.source.tags[node.number], self._attributes(node.number), tuple(inside))

    def link_like(self, number: int, wanted: Wanted) -> Piece:
        """A new link written as another one is, its words in what holds them there."""
        look = {k: v for k, v in _plain(self._attributes(number)).items() if k != "href"}
        return replace(kinds.link(wanted, look), inside=(self.words_like(number, wanted.label),))

    def words_like(self, number: int, label: str) -> Node:
        """Words of a link, in the element that holds all words of another."""
        shown = self.source.element(number).shown
        only = shown[0] if len(shown) == 1 else None
        if isinstance(only, Element) and only.tag == "span":
            return Piece(only.tag, _plain(only.attributes), (label,))
        return label

    def link_of(self, entry: Entry, wanted: Wanted) -> Node:
        """The link of an entry, as it is to be."""
        if _is_said(entry, wanted):
            return Kept(self.source, entry.number)
        values = {**self._attributes(entry.number), "href": wanted.href}
        values.pop(LABEL, None)
        if wanted.own:
            values[LABEL] = OWN
        if entry.label == wanted.label:
            return Piece("a", values, tuple(pieces.held_by(self.source, entry.number)))
        return Piece("a", values, (self.words_like(entry.number, wanted.label),))

    def _new(self, branch: Branch[Wanted], model: int) -> Node:
        """An entry written as its neighbour is."""
        like = self.items.get(model)
        inside: list[Node] = [kinds.link(branch.entry)]
        values: dict[str, str] = {}
        if like is not None:
            values = _plain(self._attributes(model))
            chain = [one for one in self.source.element(like.number).line if one.number > model]
            inside = [self.link_like(like.number, branch.entry)]
            for around in chain[1:]:
                inside = [Piece(around.tag, _plain(around.attributes), tuple(inside))]
        if branch.below:
            inside += self._new_list(branch, model)
        return Piece("li", values, tuple(inside))

    def _new_list(self, branch: Branch[Wanted], item: int) -> list[Node]:
        line = links_beside.indent(self.source, item) if item >= 0 else ""
        deeper, deepest = (f"{line}  ", f"{line}    ") if line else ("", "")
        around = self.source.element(item).parent if item >= 0 else None
        inside: list[Node] = []
        for below in branch.below:
            inside += [deepest, self._new(below, item)]
        tag = around.tag if around is not None and around.tag in _LISTS else "ul"
        return [deeper, Piece(tag, {}, (*inside, deeper)), line]

    def _is_as_is(self, entry: Entry, branch: Branch[Wanted]) -> bool:
        """Whether an entry stays as it is, with all below it."""
        if not _is_said(entry, branch.entry):
            return False
        first = bisect_right(self._numbers, entry.number)
        last = bisect_right(self._numbers, self.source.last_inside(entry.item))
        below = [self.entries[number] for number in self._numbers[first:last]]
        wanted = [one for part in branch.below for one in _in_order(part)]
        if [one.number for one in below] != [one.link for one, _ in wanted]:
            return False
        return all(
            _is_said(one, want) and one.depth - entry.depth == depth + 1
            for one, (want, depth) in zip(below, wanted, strict=True)
        )

    def _sub(self, item: int) -> int:
        """The list inside an entry, -1 for none."""
        inside = self.source.element(item).inside
        return next((one.number for one in inside if one.tag in _LISTS), -1)

    def _attributes(self, number: int) -> dict[str, str]:
        return dict(self.source.attributes(number))


def _in_order(branch: Branch[Wanted], depth: int = 0) -> list[tuple[Wanted, int]]:
    found = [(branch.entry, depth)]
    for below in branch.below:
        found += _in_order(below, depth + 1)
    return found


def _is_said(entry: Entry, wanted: Wanted) -> bool:
    return (entry.label, entry.href, entry.own) == (wanted.label, wanted.href, wanted.own)


def _plain(values: dict[str, str]) -> dict[str, str]:
    """What neighbours have in common, without the note that an entry's words are its own."""
    return {name: value for name, value in pieces.plain(values).items() if name != LABEL}


def _trimmed(inside: list[Node]) -> list[Node]:
    last = inside[-1] if inside else None
    return inside[:-1] if isinstance(last, Raw) and not last.read.strip() else inside


def _line(source: Source, one: ContentsList, wanted: Sequence[Wanted]) -> list[Node]:
    """A line or a row of links, with what stands between them."""
    held = pieces.held_by(source, one.body)
    links = {entry.number: entry for entry in one.entries}
    at = [i for i, node in enumerate(held) if isinstance(node, Kept) and node.number in links]
    if not at:
        raise pieces.NotWhole
    gaps = [held[one + 1 : other] for one, other in pairwise(at)] or [[kinds.BETWEEN]]
    model = links[held[at[0]].number]  # type: ignore[union-attr]
    rebuilt = _Rebuilt(source, links)
    inside: list[Node] = list(held[: at[0]])
    for place, want in enumerate(wanted):
        if place == len(wanted) - 1 and place:
            inside += gaps[-1]  # “and” or “or” stays before the last
        elif place:
            inside += gaps[place - 1] if place < len(gaps) else gaps[0]
        entry = links.get(want.link) if want.link is not None else None
        if entry is not None:
            inside.append(rebuilt.link_of(entry, want))
        else:
            inside.append(rebuilt.link_like(model.number, want))
    return [*inside, *held[at[-1] + 1 :]]
