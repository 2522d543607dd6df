"""Attributes in a start tag: written, given another value, or taken out, by
touching their own characters and nothing else."""

from __future__ import annotations

from collections.abc import Mapping

from innerhop.core.edits import Edit
from innerhop.core.refusals import Refusal
from innerhop.core.source import markup
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source


class NoTag(Refusal):
    """No tag in the page's text made the element, so nothing can be put into it."""


def plan(
    source: Source, number: int, values: Mapping[str, str | None], encoding: FileEncoding
) -> list[Edit]:
    """The edits that give an element these attributes; None takes one away.

    Raises NoTag when there is no tag to write them into.
    """
    edits: list[Edit] = []
    more: list[str] = []
    for name, value in values.items():
        span = source.attribute(number, name)
        if value is None:
            edits += removal(source, number, name)
        elif span is not None:
            old = source.original(span)
            edits.append(markup.new_value(span.start, old, name, value, encoding))
        else:
            more.append(" " + markup.attribute(name, value, encoding))
    if more:
        place = source.after_tag_name(number)
        if place is None:
            raise NoTag("No tag in the page's text made this part, so it can't be changed.")
        edits.append(Edit(place, "", "".join(more)))
    return edits


def removal(source: Source, number: int, name: str) -> list[Edit]:
    """The edit that takes an attribute out of an element's tag; none where there
    is no such attribute."""
    span = source.attribute(number, name)
    if span is None:
        return []
    # With one of the white space characters before it, which set it apart.
    start = span.start - 1 if source.text[span.start - 1].isspace() else span.start
    if source.text[start : span.start] == "\n" and source.text[start - 1] == "\r":
        start -= 1
    return [Edit(start, source.text[start : span.end], "")]
