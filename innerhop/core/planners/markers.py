"""Putting empty markers in: where no element of the right kind stands, an empty
`span` with an ID does (see `facts.empty_markers`)."""

from __future__ import annotations

from collections.abc import Iterator

from innerhop.core.edits import Edit
from innerhop.core.facts.empty_markers import is_marker
from innerhop.core.formats import html
from innerhop.core.formats.pieces import Piece
from innerhop.core.plan import Claim, Plan
from innerhop.core.refusals import Refusal
from innerhop.core.source.content_models import LEVELS, OWN_KIND_ONLY, TEXT_ONLY, VOID
from innerhop.core.source.elements import Child, Element
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source, as_elements

# Where a mark can be put, seen from an element.
ON, BEFORE, AFTER, INSIDE = "on", "before", "after", "inside"


class CannotMark(Refusal):
    """The place can't be marked so; says in plain words why and what to do."""


def plan_marker(source: Source, number: int, side: str, id_: str, encoding: FileEncoding) -> Plan:
    """Put an empty marker beside an element, or inside it at its start. The ID has been
    checked. Raises CannotMark where nothing can stand there."""
    place = place_of(source, number, side)
    return html.put(place, Piece("span", {"id": id_}), encoding)


def place_of(source: Source, number: int, side: str) -> int:
    """Where in the text something can be put beside an element, or inside it at
    its start. Raises CannotMark where nothing can stand there."""
    element = source.element(number)
    _refuse_parent(element if side == INSIDE else element.parent, side)
    if element.in_template:
        raise CannotMark("Readers don't see this part of the page. Choose one they see.")
    if side == AFTER:
        place = source.end_of(number)
    else:
        tag = source.start_tag(number)
        place = None if tag is None else (tag.end if side == INSIDE else tag.start)
    if place is None:
        raise CannotMark("Where this part ends is not written in the markup. Put it before.")
    return place


def _refuse_parent(parent: Element | None, side: str) -> None:
    if parent is None:
        raise CannotMark("Outside the page's body nothing can be marked.")
    if parent.tag in OWN_KIND_ONLY:
        what = OWN_KIND_ONLY[parent.tag]
        inside = "" if side == INSIDE else " Put it inside one of them, at its start."
        raise CannotMark(f"Between {what} nothing else can stand.{inside}")
    if parent.tag in VOID or parent.tag in TEXT_ONLY:
        raise CannotMark("Nothing can be put inside this. Put the marker before it.")


def left_marker(source: Source, number: int, id_: str, encoding: FileEncoding) -> Plan:
    """An empty marker with an ID that an element is not to have itself, or no longer, as near
    its beginning as one can stand: before it, or at the start of the first part in it that
    can hold one. Raises CannotMark."""
    places = [(number, BEFORE), *((one.number, INSIDE) for one in _first_parts(source, number))]
    for at, side in places:
        try:
            return plan_marker(source, at, side, id_, encoding)
        except CannotMark:
            continue
    raise CannotMark(
        f"#{id_} can’t stand here as a marker: neither before this part nor in it can one be put. "
        "Let the hops to it lead elsewhere instead."
    )


def _first_parts(source: Source, number: int) -> Iterator[Element]:
    """An element, its first child, the first child of that, and so on."""
    element: Element | None = source.element(number)
    while element is not None:
        yield element
        element = next(iter(as_elements(element.children)), None)


def removal(source: Source, number: int) -> Plan:
    """Take an empty marker out of the text. Raises CannotMark."""
    tag, end = source.start_tag(number), source.end_of(number)
    if tag is None or end is None:
        raise CannotMark("Where this marker ends is not written in the markup.")
    return Plan([Edit(tag.start, source.text[tag.start : end], "")], Claim(gone=[number]))


def heading_above(source: Source, number: int, side: str) -> int | None:
    """The number of the heading that a marker on that side would stand right below: a
    reader sent there does not see it, because it is cut off."""
    element = source.element(number)
    if side == AFTER:
        return _last_heading(element)
    if side == ON or _begins_with_heading(element):
        return None
    while (before := _shown_before(element)) is None:
        above = element.parent
        if above is None:
            return None
        element = above
    return _last_heading(before) if isinstance(before, Element) else None


def _begins_with_heading(element: Element) -> bool:
    while element.tag not in LEVELS:
        first = next((one for one in element.children if not _shows_nothing(one)), None)
        if not isinstance(first, Element):
            return False
        element = first
    return True


def _shown_before(element: Element) -> Child | None:
    """What a reader sees right before the element, within its parent."""
    return next((one for one in element.siblings_before() if not _shows_nothing(one)), None)


def _shows_nothing(child: Child) -> bool:
    if not isinstance(child, Element):
        return child.is_blank
    return child.tag in ("script", "style") or is_marker(child.source, child.number)


def _last_heading(element: Element) -> int | None:
    """The element itself, or what it ends with, when that is a heading."""
    while element.tag not in LEVELS:
        shown = [one for one in element.children if not _shows_nothing(one)]
        if not shown or not isinstance(shown[-1], Element):
            return None
        element = shown[-1]
    return element.number
