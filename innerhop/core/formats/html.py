"""The verbs in which whatever plans a change says what is to be done to a page of HTML: give
attributes, put beside, put around, put in the place of, take away, and name otherwise. Each
comes back as a plan that claims just what it does (see `proof`); filling is `pieces.plan_filled`.
White space that goes along is told, since the tree has it too.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from innerhop.core import words_law
from innerhop.core.edits import Edit
from innerhop.core.formats import pieces
from innerhop.core.formats.pieces import NotWhole, Piece, as_read
from innerhop.core.plan import Claim, NewElement, Plan, Values, of_attributes
from innerhop.core.source import attributes, markup
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source, Span


def give(source: Source, values: Mapping[int, Values], encoding: FileEncoding) -> Plan:
    """Give elements, by number, these attributes, None to take one off."""
    edits = [
        edit
        for number, wanted in values.items()
        for edit in attributes.plan(source, number, wanted, encoding)
    ]
    return of_attributes(edits, values)


def put(
    place: int, piece: Piece, encoding: FileEncoding, *, space: str = "", is_before: bool = False
) -> Plan:
    """Put a new element in at a place of the text, behind what ends there, or before what begins
    there. space: white space that sets the two apart."""
    made = pieces.new_element(piece, 0, 0, "", "")
    text = pieces.written([piece], encoding)
    return put_as_written(place, text, made, space=space, is_before=is_before)


def put_as_written(
    place: int, text: str, made: NewElement, *, space: str = "", is_before: bool = False
) -> Plan:
    """The same, of markup. made: what it is in the tree, as the first thing that is put in."""
    if is_before:
        made, text = replace(made, after=as_read(space)), text + space
    else:
        made, text = replace(made, offset=len(space), before=as_read(space)), space + text
    return Plan([Edit(place, "", text)], Claim(new=[made]))


def put_around(
    span: Span, tag: str, values: Values, encoding: FileEncoding, text: str | None = None
) -> Plan:
    """Put a new element around a stretch. text: the characters that it then holds, None for
    whatever its tags enclose."""
    edits = [
        Edit(span.start, "", markup.start_tag(tag, values, encoding)),
        Edit(span.end, "", markup.end_tag(tag)),
    ]
    return Plan(edits, Claim(new=[NewElement(0, 0, tag, markup.kept(values), around=text)]))


def put_instead(source: Source, number: int, piece: Piece, encoding: FileEncoding) -> Plan:
    """Put a new element in the place of one that goes, with all that it holds. Raises
    NotWhole."""
    first, last = pieces.whole(source, number)
    old, text = source.text[first:last], pieces.written([piece], encoding)
    if text == old:
        return Plan()
    made = pieces.new_element(piece, 0, 0, "", "")
    takes = words_law.whole(source, number)
    claim = Claim(new=[made], removed={number: ("", "")}, takes=takes)
    return Plan([Edit(first, old, text)], claim)


def take_away(source: Source, number: int, space: str = "") -> Plan:
    """Take an element out with all that it holds. space: white space right before it that goes
    along. Raises NotWhole."""
    first, last = pieces.whole(source, number)
    edit = Edit(first - len(space), space + source.text[first:last], "")
    takes = words_law.whole(source, number)
    return Plan([edit], Claim(removed={number: (as_read(space), "")}, takes=takes))


def take_tags(source: Source, number: int) -> Plan:
    """Take an element's tags away; what it holds stays. Raises NotWhole."""
    spans = source.start_tag(number), source.end_tag(number)
    edits = [Edit(one.start, source.original(one), "") for one in spans if one is not None]
    if len(edits) < len(spans):
        raise NotWhole
    return Plan(edits, Claim(gone=[number]))


def retagged(source: Source, number: int, tag: str, close: int | None = None) -> list[Edit] | None:
    """The edits that make another element of one, attributes and content staying; None where its
    tags are not written in the text, or not alike. close: where an end tag goes, where it has
    none."""
    start, after, end = (
        source.start_tag(number), source.after_tag_name(number), source.end_tag(number)
    )  # fmt: skip
    if start is None or after is None or (end is None and close is None):
        return None
    name = source.text[start.start + 1 : after]
    opening = Edit(start.start + 1, name, tag)
    if end is None:
        assert close is not None
        return [opening, Edit(close, "", markup.end_tag(tag))]
    old = source.text[end.start + 2 : end.start + 2 + len(name)]
    return [opening, Edit(end.start + 2, old, tag)] if old.lower() == name.lower() else None
