"""Putting a new link or button before or after a part of the page, plain or as a
copy of one that is there.

HTML Standard, content models: between the entries of a list it is an entry of its
own, between blocks a paragraph, in a line a word among others.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

from innerhop.core.formats import html, pieces
from innerhop.core.plan import NewElement, Part, Plan, Values
from innerhop.core.planners import markers
from innerhop.core.planners.wrapping import CannotLink, link_around
from innerhop.core.proof import parts_inside
from innerhop.core.source import attributes, markup
from innerhop.core.source.content_models import BLOCKS
from innerhop.core.source.elements import Element, Text
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source, Span

_ENTRIES = ("li", "dt", "dd")


@dataclass(frozen=True, slots=True)
class NewLink:
    """A link that is to be put in. words: what readers click. like: the number of a
    link or button that it is to be a copy of, with words and attributes of its own."""

    words: str
    values: Values
    like: int | None = None


@dataclass(frozen=True, slots=True)
class _Link:
    """The link as it is written, and what it is to be in the tree: its attributes, the
    words that it holds itself, and what stands in it."""

    written: str
    attributes: Mapping[str, str]
    text: str
    inside: Sequence[Part] = ()


def plan_beside(
    source: Source, number: int, side: str, new: NewLink, encoding: FileEncoding
) -> Plan:
    """Put a new link before or after a part of the page.

    Raises CannotLink, or markers.CannotMark where nothing can stand.
    """
    if not new.words.split():
        raise CannotLink("Give the words that readers should click.")
    element = source.element(number)
    above = element.parent
    if above is not None and link_around(above) is not None:
        raise CannotLink("This stands inside a link or a button. Choose that one.")
    place = _place(source, element, side)
    link = _new_link(source, new, encoding)
    space, around = _set_apart(source, element)
    written = link.written
    if around:
        written = markup.element(around, {}, written, encoding)
    is_before = side == markers.BEFORE
    made = _claimed(link, around)
    return html.put_as_written(place, written, made, space=space, is_before=is_before)


def _claimed(link: _Link, around: str) -> NewElement:
    if not around:
        return NewElement(0, 0, "a", link.attributes, link.text, link.inside)
    inside = [replace(part, depth=part.depth + 1) for part in link.inside]
    whole = [Part("a", link.attributes, link.text, 1), *inside]
    return NewElement(0, 0, around, {}, "", whole)


def _place(source: Source, element: Element, side: str) -> int:
    if element.tag not in _ENTRIES:
        return markers.place_of(source, element.number, side)
    tag, end = source.start_tag(element.number), source.end_of(element.number)
    place = (tag.start if tag else None) if side == markers.BEFORE else end
    if place is None:
        raise CannotLink("Where this entry ends is not written in the markup.")
    return place


def _new_link(source: Source, new: NewLink, encoding: FileEncoding) -> _Link:
    words = " ".join(new.words.split())
    if new.like is None:
        values = markup.kept(new.values)
        message = markup.text(words, encoding)
        return _Link(markup.element("a", values, message, encoding), values, words)
    return _copy(source, new.like, words, new.values, encoding)


_KEPT = ("class", "style", "role")


def _copy(source: Source, like: int, words: str, wanted: Values, encoding: FileEncoding) -> _Link:
    """A link that looks like another: an icon in it is copied too, IDs are not."""
    has = {name: value for name, value in source.attributes(like).items() if value}
    kept = {name: has[name] for name in _KEPT if name in has}
    if "class" in kept:
        kept["class"] = " ".join(kept["class"].split())
    values = markup.kept({**kept, **wanted})
    message = markup.text(words, encoding)
    tag, end, run = source.start_tag(like), source.end_tag(like), _only_run(source, like)
    if tag is None or end is None or run is None:
        return _Link(markup.element("a", values, message, encoding), values, words)
    owner, lead, tail, first, last = run
    cuts = [(span.start, span.end, "") for span in _ids_inside(source, like)]
    inner = _spliced(source.text, tag.end, end.start, [*cuts, (first, last, message)])
    parts = [_renamed(part) for part in parts_inside(source, like)]
    own = "".join(one.data for one in source.children(like) if isinstance(one, Text))
    if owner == like:
        own = own.replace(lead[0], lead[1] + words + tail, 1)
    else:
        at = owner - like - 1
        text = parts[at].text.replace(lead[0], lead[1] + words + tail, 1)
        parts[at] = replace(parts[at], text=text)
    return _Link(markup.element("a", values, inner, encoding), values, own, parts)


def _renamed(part: Part) -> Part:
    """A part as it is copied: without its ID, which can stand once only."""
    return replace(part, attributes={k: v for k, v in part.attributes.items() if k != "id"})


def _ids_inside(source: Source, like: int) -> list[Span]:
    """Where the IDs of what a link holds stand in the text, with the space before each."""
    found = []
    for element in source.element(like).inside:
        for edit in attributes.removal(source, element.number, "id"):
            found.append(Span(edit.start, edit.end))
    return found


def _spliced(text: str, start: int, end: int, cuts: Sequence[tuple[int, int, str]]) -> str:
    """A stretch of the text with parts of it replaced."""
    pieces = []
    for first, last, new in sorted(cuts):
        pieces += [text[start:first], new]
        start = last
    return "".join([*pieces, text[start:end]])


# Whose child the words are; the text node, and the white space at its two ends; where
# the words stand in the page's text.
_Run = tuple[int, tuple[str, str], str, int, int]


def _only_run(source: Source, like: int) -> _Run | None:
    """The words of a link, where they are one text node; else None."""
    runs = list(worded(source, like))
    if len(runs) != 1 or runs[0].first < 0:
        return None
    owner, data, first, last = runs[0]
    lead = data[: len(data) - len(data.lstrip())]
    return owner, (data, lead), data[len(data.rstrip()) :], first, last


class Worded(NamedTuple):
    """A text with words in it: whose child it is, what it is, and where its words stand in the
    page's text, -1 where that isn't written there."""

    owner: int
    data: str
    first: int
    last: int


def worded(source: Source, number: int) -> Iterator[Worded]:
    """The texts with words in an element, in tree order."""
    for element in source.element(number).line_inside:
        for child in element.children:
            if not isinstance(child, Text) or not re.search(r"\w", child.data):
                continue
            run = source.text_run(element.number, child.child)
            lead = len(child.data) - len(child.data.lstrip())
            first = run.start_place(lead) if run else -1
            last = run.end_place(len(child.data.rstrip())) if run else -1
            yield Worded(element.number, child.data, first, last)


def _set_apart(source: Source, element: Element) -> tuple[str, str]:
    """The space between the link and the part, and what the link needs around it to
    stand there: an entry of its own in a list, a paragraph between blocks."""
    if element.tag in _ENTRIES:
        return pieces.indent(source, element.number), element.tag
    if element.tag in BLOCKS:
        return pieces.indent(source, element.number), "p"
    return " ", ""


def looks(source: Source) -> list[int]:
    """The links and buttons of a page that a new one could be a copy of: by number,
    the first of each class, since it is the class that gives them their look
    (common practice, no source)."""
    found: dict[str, int] = {}
    for element in source.of_tags("a", "button"):
        look = " ".join(sorted((element.attr("class") or "").split()))
        if look and not element.in_template:
            found.setdefault(look, element.number)
    return list(found.values())
