"""Markup under construction: what is to be written, as a tree of new elements and of
elements that stay as they are written. One tree gives the text and what a plan claims of
it, so that the two can't say different things."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from innerhop.core.plan import Filling, NewElement, Part
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


Node = Piece | Kept | Raw | str


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
    start = f"<{node.tag}{attributes.written(node.attributes, encoding)}>"
    if node.tag in VOID:
        return start
    return f"{start}{written(node.inside, encoding)}</{node.tag}>"


def filling(nodes: Sequence[Node]) -> Filling:
    """What an element that is filled with these nodes holds."""
    return Filling(_own_text(nodes), _parts(nodes, 1))


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


def whole(source: Source, number: int) -> tuple[int, int]:
    """Where an element begins and ends in the text. Raises NotWhole."""
    tag, end = source.start_tag(number), source.end_of(number)
    if tag is None or end is None:
        raise NotWhole
    return tag.start, end


def inner(source: Source, number: int) -> tuple[int, int]:
    """Where what an element holds begins and ends in the text. Raises NotWhole."""
    tag, end = source.start_tag(number), source.end_tag(number)
    if tag is None or end is None:
        raise NotWhole
    return tag.end, end.start


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
