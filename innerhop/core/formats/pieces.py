"""Markup under construction: what is to be written, as a tree of new elements and of
elements that stay as they are written. One tree gives the text and what a plan claims of
it, so that the two can't say different things."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from innerhop.core.edits import Edit, apply, changed_stretches
from innerhop.core.plan import Claim, Filling, NewElement, Part, Plan
from innerhop.core.proof import parts_inside
from innerhop.core.refusals import Refusal
from innerhop.core.source import attributes, markup
from innerhop.core.source.content_models import VOID
from innerhop.core.source.elements import Element, Text
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source


class NotWhole(Refusal):
    """An element's end is not written in the text, so it can't be taken over as it is."""

    def __init__(self) -> None:
        super().__init__(
            "Where the parts of this list end is not written in the markup, so it can’t be "
            "changed entry by entry. Remove it and make a new one in its place."
        )


@dataclass(frozen=True, slots=True)
class Piece:
    """A new element. inside: what it holds; characters as a reader reads them."""

    tag: str
    attributes: Mapping[str, str]
    inside: tuple[Node, ...] = ()


@dataclass(frozen=True, slots=True)
class Kept:
    """An element of the page with all that it holds, as it is written."""

    source: Source
    number: int


@dataclass(frozen=True, slots=True)
class Raw:
    """Characters of the page as they are written, and as they are read."""

    written: str
    read: str


@dataclass(frozen=True, slots=True)
class TagsAgain:
    """An element of the page that holds something else, its tags as they are written. values:
    attributes that are to be different, None for none."""

    source: Source
    number: int
    inside: tuple[Node, ...]
    values: Mapping[str, str | None] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Alike:
    """A new element, its tags written as those of one that is there."""

    source: Source
    number: int
    attributes: Mapping[str, str]
    inside: tuple[Node, ...]


Node = Piece | Kept | TagsAgain | Alike | Raw | str


def written(nodes: Sequence[Node], encoding: FileEncoding) -> str:
    """The markup."""
    return "".join(_written(node, encoding) for node in nodes)


def _written(node: Node, encoding: FileEncoding) -> str:
    if isinstance(node, str):
        return markup.text(node, encoding)
    if isinstance(node, Raw):
        return node.written
    if isinstance(node, Kept):
        first, last = whole(node.source, node.number)
        return node.source.text[first:last]
    if isinstance(node, TagsAgain):
        start, end = _tags(node.source, node.number)
        edits = attributes.plan(node.source, node.number, node.values, encoding)
        tag = node.source.start_tag(node.number)
        assert tag is not None
        moved = [Edit(one.start - tag.start, one.old, one.new) for one in edits]
        return f"{apply(start, moved)}{written(node.inside, encoding)}{end}"
    if isinstance(node, Alike):
        start, end = _tags(node.source, node.number)
        after, tag = node.source.after_tag_name(node.number), node.source.start_tag(node.number)
        assert after is not None
        assert tag is not None
        values = markup.attributes(node.attributes, encoding)
        return f"{start[: after - tag.start]}{values}>{written(node.inside, encoding)}{end}"
    if node.tag in VOID:
        return markup.start_tag(node.tag, node.attributes, encoding)
    inside = written(node.inside, encoding)
    return markup.element(node.tag, node.attributes, inside, encoding)


def _tags(source: Source, number: int) -> tuple[str, str]:
    """The tags of an element as they are written; "" for an end tag that is left out."""
    start, end = source.start_tag(number), source.end_tag(number)
    if start is None:
        raise NotWhole
    return source.original(start), source.original(end) if end else ""


def filling(nodes: Sequence[Node]) -> Filling:
    """What an element that is filled with these nodes holds."""
    return Filling(_own_text(nodes), _parts(nodes, 1))


def plan_filled(
    source: Source, number: int, inside: Sequence[Node], encoding: FileEncoding
) -> Plan:
    """Have an element hold these nodes, by touching what is different and nothing else.
    Raises NotWhole."""
    first, last = inner(source, number)
    old, new = source.text[first:last], written(inside, encoding)
    if old == new:
        return Plan()
    return Plan(changed_stretches(first, old, new), Claim(filled={number: filling(inside)}))


def new_element(piece: Piece, edit: int, offset: int, before: str, after: str) -> NewElement:
    """A piece as what a plan puts in (see `plan.NewElement`)."""
    held = filling(piece.inside)
    return NewElement(
        edit, offset, piece.tag, piece.attributes, held.text, held.inside, before, after
    )


def _own_text(nodes: Sequence[Node]) -> str:
    own = "".join(
        node if isinstance(node, str) else node.read if isinstance(node, Raw) else ""
        for node in nodes
    )
    return as_read(own)


def as_read(text: str) -> str:
    """Characters as a browser reads them, whatever ends their lines
    (https://html.spec.whatwg.org/multipage/parsing.html#preprocessing-the-input-stream)."""
    return text.replace("\r\n", "\n").replace("\r", "\n")


def _parts(nodes: Sequence[Node], depth: int) -> list[Part]:
    found: list[Part] = []
    for node in nodes:
        if isinstance(node, Piece):
            found.append(Part(node.tag, dict(node.attributes), _own_text(node.inside), depth))
            found += _parts(node.inside, depth + 1)
        elif isinstance(node, TagsAgain | Alike):
            tag = node.source.tags[node.number]
            found.append(Part(tag, _attributes(node), _own_text(node.inside), depth))
            found += _parts(node.inside, depth + 1)
        elif isinstance(node, Kept):
            source, number = node.source, node.number
            held = [one for one in source.children(number) if isinstance(one, Text)]
            own = "".join(one.data for one in held)
            found.append(Part(source.tags[number], source.attributes(number), own, depth))
            found += [
                Part(part.tag, part.attributes, part.text, part.depth + depth)
                for part in parts_inside(source, number)
            ]
    return found


def _attributes(node: TagsAgain | Alike) -> dict[str, str]:
    if isinstance(node, Alike):
        return dict(node.attributes)
    has: dict[str, str | None] = {**node.source.attributes(node.number), **node.values}
    return markup.kept(has)


_OF_ONE = ("id", "name", "aria-current", "title")


def plain(values: Mapping[str, str]) -> dict[str, str]:
    """The attributes that neighbours have in common: none that is of one alone."""
    return {name: value for name, value in values.items() if name not in _OF_ONE}


def whole(source: Source, number: int) -> tuple[int, int]:
    """Where an element begins and ends in the text. Raises NotWhole."""
    tag, end = source.start_tag(number), source.end_of(number)
    if tag is not None and end is None:
        end = _left_open(source, number)
    if tag is None or end is None:
        raise NotWhole
    return tag.start, end


def _left_open(source: Source, number: int) -> int | None:
    """Where a list entry ends whose end tag is left out: where the next one begins, or its
    list ends (https://html.spec.whatwg.org/multipage/syntax.html#optional-tags, "li")."""
    if source.tags[number] != "li":
        return None
    following = next((one for one in source.siblings(number, before=False)), None)
    if isinstance(following, Element):
        tag = source.start_tag(following.number)
        return tag.start if tag and following.tag == "li" else None
    end = source.end_tag(source.parent(number))
    return end.start if following is None and end else None


def inner(source: Source, number: int) -> tuple[int, int]:
    """Where what an element holds begins and ends in the text. Raises NotWhole."""
    tag, end = source.start_tag(number), source.end_tag(number)
    last = end.start if end else _left_open(source, number)
    if tag is None or last is None:
        raise NotWhole
    return tag.end, last


def held_by(source: Source, number: int) -> list[Node]:
    """What an element holds, as it is written. Raises NotWhole."""
    place, last = inner(source, number)
    found: list[Node] = []
    read: list[str] = []
    for child in source.children(number):
        if isinstance(child, Text):
            read.append(child.data)
        elif isinstance(child, Element):
            first, end = whole(source, child.number)
            found += [Raw(source.text[place:first], "".join(read)), Kept(source, child.number)]
            place, read = end, []
    return [*found, Raw(source.text[place:last], "".join(read))]


def settled(nodes: Sequence[Node]) -> list[Node]:
    """Nodes as a parser reads them: what follows an entry whose end tag is left out belongs
    to that entry, so white space there is none of the list's."""
    found: list[Node] = []
    for node in nodes:
        last = found[-1] if found else None
        is_open = isinstance(last, Kept | TagsAgain | Alike) and not last.source.end_tag(
            last.number
        )
        blank = node.written if isinstance(node, Raw) else node if isinstance(node, str) else "-"
        if not (is_open and not blank.strip()):
            found.append(node)
    return found


def indent(source: Source, number: int) -> str:
    """The line end and white space that the element itself begins with."""
    tag = source.start_tag(number)
    before = source.text[max(0, tag.start - 400) : tag.start] if tag else ""
    found = re.search(r"(?:\r\n|\n|\r)[ \t]*$", before)
    return found.group() if found else ""
