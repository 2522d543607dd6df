"""Headings: making one of a line that serves as one, and changing a heading's
level, by touching tags and nothing else.

https://html.spec.whatwg.org/multipage/sections.html#headings-and-outlines-2: a
heading's level says how deep its section lies, so a new one may lie one deeper than
the heading before it, and no more.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from innerhop.core.edits import Edit
from innerhop.core.facts.page_facts import Facts, Heading
from innerhop.core.facts.words import words
from innerhop.core.formats import html
from innerhop.core.plan import Claim, NewElement, Plan
from innerhop.core.planners.markers import CannotMark
from innerhop.core.planners.marking import plan_marks
from innerhop.core.source import attributes
from innerhop.core.source.content_models import FLOW_PARENTS, PHRASING
from innerhop.core.source.elements import Child, Element
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source, Span

_LONGEST = 16  # words: a longer line is no heading (common practice, no source)
_BOLD = ("b", "strong")
_NO_WORDS = "There are no words in this, so it can't be a heading."
_LINES = ("p", "div", "dt", "summary")


@dataclass
class _Work:
    """Edits under way, and what they are to do to the tree (see `plan.Claim`)."""

    edits: list[Edit] = field(default_factory=list)
    tags: dict[int, str] = field(default_factory=dict)
    gone: list[int] = field(default_factory=list)
    new: list[NewElement] = field(default_factory=list)


def possible_title(source: Source, number: int) -> str:
    """The words that would be the heading, if the element is, or begins with, a
    short line that could serve as one; else ""."""
    try:
        work = _turn(source, number, "h2")
    except CannotMark:
        return ""
    title = words(source, next(iter(work.tags)))
    return title if len(title.split()) <= _LONGEST else ""


def fitting_levels(headings: Sequence[Heading], number: int) -> list[int]:
    """The levels that a heading at that element could have without skipping one,
    the likeliest first: one deeper than the heading before it for a new one, its
    own for one that is there."""
    before = [one for one in headings if one.number < number and not one.region]
    own = next((one.level for one in headings if one.number == number), None)
    deepest = min(6, before[-1].level + 1) if before else 2
    levels = list(range(2, deepest + 1)) or [2]
    likely = own if own in levels else deepest
    return [likely, *(level for level in levels if level != likely)]


def plan_heading(
    source: Source,
    facts: Facts,
    number: int,
    level: int,
    *,
    id_: str,
    encoding: FileEncoding,
    keeps_look: bool = False,
) -> Plan:
    """Make a paragraph or a bold line a heading, with an ID.

    id_: "" for none. keeps_look: whether the line is to look as before (see `_look_of`), as
    far as its markup says how. Raises CannotMark when the element is no such line.
    """
    _check_level(level)
    line = _line(source, number)
    # HTML Standard, the summary element: it holds a heading, and a part that opens keeps it.
    if _is_plain(line) and (line.tag == "summary" or (keeps_look and line.tag == "div")):
        style = {"style": _LIKE_WORDS} if keeps_look else {}
        return _inside(source, facts, line, f"h{level}", id_=id_, style=style, encoding=encoding)
    keeps_look = keeps_look and line.tag in ("p", *_BOLD)
    work = _turn(source, number, f"h{level}", keeps_bold=keeps_look)
    turned = next(iter(work.tags))
    values = {"style": _look_of(source.element(turned))} if keeps_look else {}
    if id_ and not source.attr(turned, "id"):
        plan_marks(source, facts, [(turned, id_)], encoding)  # for what it refuses
        values["id"] = id_
    if values:
        work.edits += attributes.plan(source, turned, values, encoding)
    asked = {turned: values} if values else {}
    return Plan(work.edits, Claim(asked, work.tags, work.gone, work.new))


def _inside(
    source: Source, facts: Facts, line: Element, tag: str, *,
    id_: str, style: Mapping[str, str], encoding: FileEncoding,
) -> Plan:  # fmt: skip
    """A heading inside a block, around all that it holds."""
    number = line.number
    if not line.text.strip():
        raise CannotMark(_NO_WORDS)
    start, end = source.start_tag(number), source.end_tag(number)
    if start is None:
        raise CannotMark("No tag in the page's text made this, so it can't be changed.")
    if id_:
        plan_marks(source, facts, [(number, id_)], encoding)
    own = {"id": id_} if id_ and not source.attr(number, "id") else {}
    values = {**own, **style}
    close = end.start if end is not None else _content_end(source, number)
    return html.put_around(Span(start.end, close), tag, values, encoding)


# Nothing of what browsers and pages say of headings: all that is inherited is as around, all
# else as if nothing were said (CSS Cascading 5; not `all`, which would take the room that a
# header needs, too).
_LIKE_WORDS = (
    "font: inherit; color: inherit; letter-spacing: inherit; text-transform: inherit; "
    "text-align: inherit; background: none; border: 0; padding: 0; margin: 0"
)
_LIKE_A_PARAGRAPH = f"{_LIKE_WORDS.removesuffix('0')}1em 0"  # HTML Standard, 15.3.3
_LIKE_ITS_CLASS = "font-size: inherit; font-weight: inherit"


def _look_of(line: Element) -> str:
    """The style with which a heading made of a paragraph looks as that did. What a class says
    is not known, so of one with a class no more is said than browsers say of headings."""
    if line.tag in _BOLD:  # a line before a break
        return f"{_LIKE_WORDS}; font-weight: bold"
    style = (line.attr("style") or "").strip()
    like = _LIKE_A_PARAGRAPH if line.attr("class") is None else _LIKE_ITS_CLASS
    return f"{like}; {style}" if style else like


def _is_plain(line: Element) -> bool:
    return line.tag in _LINES and all(one.tag in PHRASING for one in line.inside)


def plan_level(source: Source, facts: Facts, number: int, level: int) -> Plan:
    """Give a heading another level. Raises CannotMark."""
    _check_level(level)
    if all(one.number != number for one in facts.headings):
        raise CannotMark("That is no heading of this page. Choose one in the outline.")
    work = _Work()
    _retag(source, number, f"h{level}", work)
    return Plan(work.edits, Claim(tags=work.tags))


def closed_up(headings: Sequence[Heading]) -> dict[int, int]:
    """The levels of headings, by number, that are to be others for none to be skipped: what
    lies deeper than one, with no level between, lies right below it; what is beside it stays
    beside it (https://www.w3.org/WAI/WCAG22/Techniques/general/G141)."""
    above: list[tuple[int, int]] = []  # the headings around, each as it is and as it is to be
    found = {}
    for one in headings:
        while above and above[-1][0] >= one.level:
            above.pop()
        level = min(one.level, above[-1][1] + 1) if above else one.level
        above.append((one.level, level))
        if level != one.level:
            found[one.number] = level
    return found


def plan_closed_up(source: Source, levels: Mapping[int, int]) -> Plan:
    """Give headings, by number, these levels. Raises CannotMark."""
    work = _Work()
    for number, level in levels.items():
        _retag(source, number, f"h{level}", work)
    return Plan(work.edits, Claim(tags=work.tags))


def _check_level(level: int) -> None:
    if level not in range(1, 7):
        raise CannotMark("A heading's level is a number from 1 to 6.")


def _line(source: Source, number: int) -> Element:
    """The line that the element is, or is in; the bold words that it is or is in."""
    element = source.element(number)
    while element.tag in PHRASING and element.tag not in _BOLD and element.parent is not None:
        element = element.parent
    while element.tag in _LINES and (inner := _only_line(element)):
        element = inner
    return element


def _turn(source: Source, number: int, tag: str, keeps_bold: bool = False) -> _Work:
    """What makes a heading of the line that the element is, or is in."""
    element, work = _line(source, number), _Work()
    if element.tag in _BOLD:
        _turn_bold(source, element, tag, work)
    elif _is_plain(element):
        if not element.text.strip():
            raise CannotMark(_NO_WORDS)
        first = element.shown[0]
        if isinstance(first, Element) and first.tag in _BOLD and len(element.shown) > 1:
            _turn_bold(source, first, tag, work)
        else:
            _retag(source, element.number, tag, work)
            if not keeps_bold:
                _unwrap_bold(source, element, work)
    else:
        raise CannotMark("Only a paragraph, or a line by itself, can be made a heading.")
    return work


def _retag(source: Source, number: int, tag: str, work: _Work) -> None:
    close = _content_end(source, number) if source.end_tag(number) is None else None
    edits = html.retagged(source, number, tag, close)
    if edits is None:
        raise CannotMark("No tag in the page's text made this, so it can't be changed.")
    work.edits += edits
    work.tags[number] = tag


def _content_end(source: Source, number: int) -> int:
    """Where the content of an element without an end tag ends."""
    children: Sequence[Child] = source.children(number)
    place = None
    if children and isinstance(children[-1], Element):
        place = source.end_of(children[-1].number)
    elif children:
        run = source.text_run(number, len(children) - 1)
        place = run.end_place(len(run.data)) if run else None
    if place is None:
        raise CannotMark("Where this line ends is not written in the markup.")
    return place


def _only_line(element: Element) -> Element | None:
    """The line that is all that a block holds."""
    inner = element.shown[0] if len(element.shown) == 1 else None
    return inner if isinstance(inner, Element) and inner.tag in _LINES else None


def _unwrap_bold(source: Source, line: Element, work: _Work) -> None:
    """A heading is bold by itself: `<p><b>…</b></p>` loses its `b`."""
    shown = line.shown
    if len(shown) != 1 or not isinstance(shown[0], Element) or shown[0].tag not in _BOLD:
        return
    number = shown[0].number
    if shown[0].attr("id"):
        return
    for span in (source.start_tag(number), source.end_tag(number)):
        if span is None:
            raise CannotMark("Where these bold words end is not written in the markup.")
        work.edits.append(Edit(span.start, source.original(span), ""))
    work.gone.append(number)


def _turn_bold(source: Source, bold: Element, tag: str, work: _Work) -> None:
    """Bold words that are a line of their own, before a line break or before all else."""
    parent, end = bold.parent, source.end_tag(bold.number)
    if end is None or parent is None:
        raise CannotMark("Where these bold words end is not written in the markup.")
    if parent.tag == "p" and parent.shown == [bold]:
        _retag(source, parent.number, tag, work)
        _unwrap_bold(source, parent, work)
        return
    following = next((one for one in bold.siblings_after() if not one.is_blank), None)
    is_line = isinstance(following, Element) and following.tag == "br"
    if not is_line or (parent.tag == "p" and parent.shown[0] != bold):
        raise CannotMark("These bold words stand in a sentence. A heading is a line of its own.")
    assert isinstance(following, Element)
    _retag(source, bold.number, tag, work)
    after = source.end_of(following.number) or end.end
    work.gone.append(following.number)
    if parent.tag in FLOW_PARENTS:
        work.edits.append(Edit(end.end, source.text[end.end : after], ""))
    elif parent.tag == "p":
        _split(source, parent, bold.number, after, work)
    else:
        raise CannotMark("Here no heading can stand. Choose a line of its own.")


def _split(source: Source, paragraph: Element, bold: int, after: int, work: _Work) -> None:
    """The paragraph begins behind the heading instead of before it."""
    number = paragraph.number
    start, end = source.start_tag(number), source.end_tag(bold)
    if start is None or end is None or paragraph.attr("id"):
        raise CannotMark("This paragraph has an ID. Take it away, or move it, first.")
    opening = source.original(start)
    work.edits.append(Edit(start.start, opening, ""))
    work.gone.append(number)
    work.new.append(NewElement(len(work.edits), 0, "p", paragraph.attributes))
    work.edits.append(Edit(end.end, source.text[end.end : after], opening))
