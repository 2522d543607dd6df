"""Ways back, put in at the ends of sections or where someone points, and taken out or
reworded together."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from innerhop.core.contents import settings
from innerhop.core.contents.ways_back import WayBack
from innerhop.core.facts.empty_markers import is_marker
from innerhop.core.formats import html, pieces
from innerhop.core.formats.pieces import Piece
from innerhop.core.plan import Plan, join_plans
from innerhop.core.planners import contents, markers
from innerhop.core.source.content_models import BLOCKS
from innerhop.core.source.elements import Element
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source

_ENDS = ("body", "main")


@dataclass(frozen=True, slots=True)
class WayPlace:
    """Where a way back goes. number, side: beside which element; side INSIDE_END: as the
    last thing in it."""

    number: int
    side: str


INSIDE_END = "end"


@dataclass(frozen=True)
class NewWay:
    """What is put in. look: attributes of its link, as that of those that are there.
    classes: of the paragraph around it. why: see `WayBack.place`."""

    words: str
    href: str
    why: str
    look: Mapping[str, str]
    classes: str = ""


def ends_of(source: Source, starts: Sequence[int], every: Iterable[int]) -> list[WayPlace]:
    """Where sections end, by the numbers of their headings. starts: the headings of these
    sections in page order. every: all headings that end one of them. A section that has
    nothing but its heading needs no way back, and has no end here."""
    following = sorted({*starts, *every})
    return [
        _end_of(source, number, following)
        for number in starts
        if not _is_bare(source, number, following)
    ]


def _is_bare(source: Source, number: int, following: Sequence[int]) -> bool:
    """Whether the next heading comes right behind a section's own."""
    at = bisect_right(following, number)
    if at == len(following):
        return False
    around = {one.number for one in source.element(following[at]).line}
    for node in source.siblings(number, before=False):
        if isinstance(node, Element):
            if node.number in around:
                break
        elif not node.is_blank:
            return False
    between = range(source.last_inside(number) + 1, following[at])
    return not any(_is_seen(source, one) for one in between if one not in around)


def _is_seen(source: Source, number: int) -> bool:
    return source.tags[number] in _SEEN or bool(source.text_of(number).strip())


_SEEN = frozenset("img svg video audio iframe object canvas input button hr".split())


def _end_of(source: Source, number: int, following: Sequence[int]) -> WayPlace:
    at = bisect_right(following, number)
    after = following[at] if at < len(following) else None
    line = [one.number for one in source.element(number).line]
    if after is None:
        return WayPlace(_content(source, line), INSIDE_END)
    others = {one.number: one for one in source.element(after).line}
    common = next(at for at, one in enumerate(line) if one in others)
    inside = line[common - 1] if common else number
    beside = [one for one in others if source.parent(one) == line[common]]
    if source.tags[inside] in BLOCKS and inside != number and _has_more(source, inside, number):
        return WayPlace(inside, INSIDE_END)
    return WayPlace(_first_marker(source, beside[0] if beside else after), markers.BEFORE)


def _first_marker(source: Source, number: int) -> int:
    """A heading, or the first of the markers that stand right above it: they are its own,
    and what came between would be the first thing that readers see on arriving."""
    first = number
    for node in source.siblings(number, before=True):
        if isinstance(node, Element):
            if not is_marker(source, node.number):
                break
            first = node.number
        elif not node.is_blank:
            break
    return first


def _content(source: Source, line: Sequence[int]) -> int:
    """What the last section of a page ends with: the outermost part around its heading that
    is not the page's whole content, else that."""
    for at, one in enumerate(line):
        if source.tags[one] in _ENDS:
            inside = line[at - 1] if at > 1 else one
            return inside if inside != line[0] and _has_more(source, inside, line[0]) else one
    return line[-1]


def _has_more(source: Source, around: int, heading: int) -> bool:
    """Whether a part holds more that readers see than its heading."""
    return len(source.text_of(around).strip()) > len(source.text_of(heading).strip())


def plan_put(source: Source, place: WayPlace, new: NewWay, encoding: FileEncoding) -> Plan:
    """Put one way back in. Raises markers.CannotMark, and pieces.NotWhole."""
    values = {**new.look, "href": new.href, settings.WAY_BACK: new.why}
    around = {"class": new.classes} if new.classes else {}
    piece = Piece("p", around, (Piece("a", values, (new.words,)),))
    if place.side == INSIDE_END:
        at, line = _end_inside(source, place.number)
    else:
        is_above = place.side == markers.BEFORE and is_marker(source, place.number)
        if source.tags[place.number] not in BLOCKS and not is_above:
            raise contents.CannotList(
                "A way back can stand behind a whole block only. Choose a larger part."
            )
        at = markers.place_of(source, place.number, place.side)
        line = pieces.indent(source, place.number)
    is_before = place.side == markers.BEFORE
    return html.put(at, piece, encoding, space=line, is_before=is_before)


def is_certain(source: Source, place: WayPlace) -> bool:
    """Whether it is written in the text where a way back would stand: not right behind
    something that ends only because something else begins."""
    if place.side != INSIDE_END:
        before = next(source.siblings(place.number, before=True), None)
        numbers = [place.number] if place.side == markers.AFTER else []
        numbers += [before.number] if isinstance(before, Element) else []
    else:
        if source.end_tag(place.number) is None:
            return False
        inside = [one for one in source.children(place.number) if isinstance(one, Element)]
        numbers = [one.number for one in inside[-1:]]
    return all(source.end_of(number) is not None for number in numbers)


def _end_inside(source: Source, number: int) -> tuple[int, str]:
    """Right behind the last thing that a part holds, and the line end that goes there."""
    first, last = pieces.inner(source, number)
    held = source.text[first:last]
    children = [one for one in source.children(number) if isinstance(one, Element)]
    line = pieces.indent(source, children[-1].number) if children else ""
    return first + len(held.rstrip()), line


def plan_out(source: Source, ways: Iterable[WayBack]) -> Plan:
    """Take ways back out. Raises pieces.NotWhole."""
    return join_plans(contents.plan_taking_out(source, one.whole) for one in ways)


def plan_reworded(
    source: Source, ways: Iterable[WayBack], words: str, href: str, encoding: FileEncoding
) -> Plan:
    """Give ways back other words, or another end. Raises pieces.NotWhole."""
    plans = []
    for one in ways:
        values = {**source.attributes(one.number), "href": href}
        inside = (words,) if one.words != words else tuple(pieces.held_by(source, one.number))
        plans.append(html.put_instead(source, one.number, Piece("a", values, inside), encoding))
    return join_plans(plans)
