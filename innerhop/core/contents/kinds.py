"""The kinds of contents list, one row each: what each is made of. To add one is to add a
function and a line."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field

from innerhop.core.contents import lists, settings
from innerhop.core.contents.entries import Branch, flat
from innerhop.core.contents.labels import ENGLISH
from innerhop.core.contents.settings import Settings
from innerhop.core.formats.pieces import Node, Piece


@dataclass(frozen=True, slots=True)
class WantedEntry:
    """An entry as it is to be. level: how deep its part lies. own: whether its words are
    the editor's own. link: the number of the link in a list that is there, None for a new
    entry."""

    href: str
    label: str
    level: int
    own: bool = False
    link: int | None = None


@dataclass(frozen=True)
class Style:
    """How a new list is to be. title: above it, "" for none; title_level: that of its
    heading, 0 for no heading. label: what screen readers call it where it has no title.
    classes: of the site's own. look: the attributes of the link or button that its own
    links are to look like. id: by which readers get back to it."""

    settings: Settings
    title: str = ""
    title_level: int = 0
    label: str = ENGLISH.on_this_page
    classes: str = ""
    look: Mapping[str, str] = field(default_factory=dict)
    id: str = ""


@dataclass(frozen=True)
class EntryKind:
    """A kind of list. title: what it is called. body: what makes its entries, of the tree
    of them, the style, and the white space before a line. is_flat: whether it has one
    level only."""

    name: str
    title: str
    body: Callable[[Sequence[Branch[WantedEntry]], Style, str], Node]
    is_flat: bool = False


def link(entry: WantedEntry, look: Mapping[str, str] | None = None) -> Piece:
    """The link of an entry."""
    values = {**(look or {}), "href": entry.href}
    if entry.own:
        values[settings.LABEL] = settings.OWN
    return Piece("a", values, (entry.label,))


def _listed(tag: str, branches: Sequence[Branch[WantedEntry]], line: str) -> Piece:
    deeper = f"{line}  " if line else ""
    inside: list[Node] = []
    for branch in branches:
        entry: list[Node] = [link(branch.entry)]
        if branch.below:
            further = f"{deeper}  " if line else ""
            entry += [further, _listed(tag, branch.below, further), deeper]
        inside += [deeper, Piece("li", {}, _kept(entry))]
    return Piece(tag, {}, _kept([*inside, line]))


def _kept(nodes: Iterable[Node]) -> tuple[Node, ...]:
    return tuple(node for node in nodes if node != "")


def _nested(branches: Sequence[Branch[WantedEntry]], _style: Style, line: str) -> Node:
    return _listed("ul", branches, line)


def _numbered(branches: Sequence[Branch[WantedEntry]], _style: Style, line: str) -> Node:
    return _listed("ol", branches, line)


def _row(between: str) -> Callable[[Sequence[Branch[WantedEntry]], Style, str], Node]:
    def body(branches: Sequence[Branch[WantedEntry]], style: Style, _line: str) -> Node:
        inside: list[Node] = []
        for _, one in flat(branches):
            inside += [between, link(one, style.look)] if inside else [link(one, style.look)]
        return Piece("p", {}, tuple(inside))

    return body


BETWEEN = " · "
_ROWS = (
    EntryKind(lists.NESTED, "Nested", _nested),
    EntryKind(lists.NUMBERED, "Numbered", _numbered),
    EntryKind(lists.LINE, "One line", _row(BETWEEN), is_flat=True),
    EntryKind(lists.BUTTONS, "Buttons", _row(" "), is_flat=True),
    EntryKind(lists.FOLDING, "Folding", _nested),
)
KINDS = {row.name: row for row in _ROWS}


def made(branches: Sequence[Branch[WantedEntry]], style: Style, line: str) -> Piece:
    """A whole list. line: the line end and white space that it begins with."""
    kind = KINDS[style.settings.kind]
    inner = f"{line}  " if line else ""
    if kind.name == lists.FOLDING:
        folded = f"{inner}  " if line else ""
        name = style.title or style.label
        parts: list[Node] = [
            inner,
            Piece("details", {"open": ""}, _kept([
                folded, Piece("summary", {}, (name,)),
                folded, kind.body(branches, style, folded), inner,
            ])),
            line,
        ]  # fmt: skip
    else:
        parts = [*_title(style, inner), inner, kind.body(branches, style, inner), line]
    return Piece("nav", _attributes(style), _kept(parts))


def _title(style: Style, line: str) -> list[Node]:
    if not style.title:
        return []
    level = style.title_level
    return [line, Piece(f"h{level}" if level else "p", {}, (style.title,))]


def _attributes(style: Style) -> dict[str, str]:
    found = {"id": style.id} if style.id else {}
    if style.classes:
        found["class"] = style.classes
    found["aria-label"] = style.title or style.label
    return {**found, **style.settings.attributes()}
