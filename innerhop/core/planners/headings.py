"""Headings: making one of a line that serves as one, and changing a heading's
rank, by touching tags and nothing else.

HTML Standard 4.3.11: a heading's rank says how deep its section lies, so a new
one may lie one deeper than the heading before it, and no more.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from innerhop.core.edits import Edit, apply
from innerhop.core.facts.page_facts import Facts, Heading, words
from innerhop.core.planners.marking import CannotMark, plan_marks
from innerhop.core.proof import same_but
from innerhop.core.source import attributes
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Node, Source, is_blank

_LONGEST = 16  # words: a longer line is no heading (common practice, no source)
_BOLD = ("b", "strong")
_LINES = ("p", "div", "dt", "summary")
# HTML Standard 4.4.1: what may stand in a paragraph but not in a heading is nothing;
# what makes a `div` more than a line is any element that is a block of its own.
_PHRASING = frozenset((
    "a", "abbr", "b", "bdi", "bdo", "br", "cite", "code", "em", "i", "img", "mark", "q", "s",
    "small", "span", "strong", "sub", "sup", "time", "u", "wbr", "font",
))  # fmt: skip
_FLOW = frozenset((
    "div", "section", "article", "main", "body", "aside", "td", "th", "li", "dd", "blockquote",
    "details", "figure", "header", "footer", "form", "fieldset", "center",
))  # fmt: skip


@dataclass
class _Work:
    """Edits under way, and what the tree is to be afterwards (see `sameness`)."""

    edits: list[Edit] = field(default_factory=list)
    tags: dict[int, str] = field(default_factory=dict)
    removed: list[int] = field(default_factory=list)
    added: list[int] = field(default_factory=list)


def possible_title(source: Source, number: int) -> str:
    """The words that would be the heading, if the element is, or begins with, a
    short line that could serve as one; else ""."""
    try:
        work = _turn(source, number, "h2")
    except CannotMark:
        return ""
    title = words(source.node(next(iter(work.tags))))
    return title if len(title.split()) <= _LONGEST else ""


def fitting_ranks(headings: Sequence[Heading], number: int) -> list[int]:
    """The ranks that a heading at that element could have without skipping one,
    the likeliest first: one deeper than the heading before it for a new one, its
    own for one that is there."""
    before = [one for one in headings if one.number < number and not one.region]
    own = next((one.rank for one in headings if one.number == number), None)
    deepest = min(6, before[-1].rank + 1) if before else 2
    ranks = list(range(2, deepest + 1)) or [2]
    likely = own if own in ranks else deepest
    return [likely, *(rank for rank in ranks if rank != likely)]


def plan_heading(
    source: Source, facts: Facts, number: int, rank: int, *, id_: str, encoding: FileEncoding
) -> list[Edit]:
    """The edits that make a paragraph or a bold line a heading, with an ID.

    id_: "" for none. Raises CannotMark when the element is no such line.
    """
    _check_rank(rank)
    work = _turn(source, number, f"h{rank}")
    turned = next(iter(work.tags))
    asked = {}
    if id_ and not source.node(turned).attr("id"):
        plan_marks(source, facts, [(turned, id_)], encoding)  # for what it refuses
        work.edits += attributes.plan(source, turned, {"id": id_}, encoding)
        asked = {turned: {"id": id_}}
    new = Source(apply(source.text, work.edits))
    if not same_but(source, new, attributes=asked, tags=work.tags,
                    removed=work.removed, added=work.added):  # fmt: skip
        raise CannotMark("The markup around this line is too broken to make it a heading safely.")
    return work.edits


def plan_rank(source: Source, facts: Facts, number: int, rank: int) -> list[Edit]:
    """The edits that give a heading another rank. Raises CannotMark."""
    _check_rank(rank)
    if all(one.number != number for one in facts.headings):
        raise CannotMark("That is no heading of this page. Choose one in the outline.")
    work = _Work()
    _retag(source, number, f"h{rank}", work)
    if not same_but(source, Source(apply(source.text, work.edits)), tags=work.tags):
        raise CannotMark("The markup around this heading is too broken to change its rank safely.")
    return work.edits


def _check_rank(rank: int) -> None:
    if rank not in range(1, 7):
        raise CannotMark("A heading's rank is a number from 1 to 6.")


def _turn(source: Source, number: int, tag: str) -> _Work:
    """What makes a heading of the line that the element is, or is in."""
    node, work = source.node(number), _Work()
    while node.tag in _PHRASING and node.tag not in _BOLD and isinstance(node.parent, Node):
        node = node.parent
    if node.tag in _BOLD:
        _turn_bold(source, node, tag, work)
    elif node.tag in _LINES and all(one.tag in _PHRASING for one in node.iter_elements()):
        if not node.text.strip():
            raise CannotMark("There are no words in this, so it can't be a heading.")
        first = _shown(node)[0]
        if isinstance(first, Node) and first.tag in _BOLD and len(_shown(node)) > 1:
            _turn_bold(source, first, tag, work)
        else:
            _retag(source, source.number(node), tag, work)
            _unwrap_bold(source, node, work)
    else:
        raise CannotMark("Only a paragraph, or a bold line, can be made a heading.")
    return work


def _shown(node: Node) -> list[object]:
    return [one for one in node.children if not is_blank(one)]


def _retag(source: Source, number: int, tag: str, work: _Work) -> None:
    name_end, start = source.after_tag_name(number), source.start_tag(number)
    if name_end is None or start is None:
        raise CannotMark("No tag in the page's text made this, so it can't be changed.")
    name = source.text[start.start + 1 : name_end]
    work.edits.append(Edit(start.start + 1, name, tag))
    work.tags[number] = tag
    end = source.end_tag(number)
    if end is not None:
        old = source.text[end.start + 2 : end.start + 2 + len(name)]
        work.edits.append(Edit(end.start + 2, old, tag))
    else:
        work.edits.append(Edit(_content_end(source, number), "", f"</{tag}>"))


def _content_end(source: Source, number: int) -> int:
    """Where the content of an element without an end tag ends."""
    children = list(source.node(number).children)
    place = None
    if children and isinstance(children[-1], Node):
        place = source.end_of(source.number(children[-1]))
    elif children:
        run = source.text_run(number, len(children) - 1)
        place = run.end_place(len(run.data)) if run else None
    if place is None:
        raise CannotMark("Where this line ends is not written in the markup.")
    return place


def _unwrap_bold(source: Source, node: Node, work: _Work) -> None:
    """A heading is bold by itself: `<p><b>…</b></p>` loses its `b`."""
    shown = _shown(node)
    if len(shown) != 1 or not isinstance(shown[0], Node) or shown[0].tag not in _BOLD:
        return
    number = source.number(shown[0])
    if shown[0].attr("id"):
        return
    for span in (source.start_tag(number), source.end_tag(number)):
        if span is None:
            raise CannotMark("Where these bold words end is not written in the markup.")
        work.edits.append(Edit(span.start, source.original(span), ""))
    work.removed.append(number)


def _turn_bold(source: Source, bold: Node, tag: str, work: _Work) -> None:
    """Bold words that are a line of their own, before a line break or before all else."""
    parent = bold.parent
    number = source.number(bold)
    if source.end_tag(number) is None or not isinstance(parent, Node):
        raise CannotMark("Where these bold words end is not written in the markup.")
    if parent.tag == "p" and _shown(parent) == [bold]:
        _retag(source, source.number(parent), tag, work)
        _unwrap_bold(source, parent, work)
        return
    following = bold.next_sibling
    while following is not None and is_blank(following):
        following = following.next_sibling
    is_line = isinstance(following, Node) and following.tag == "br"
    if not is_line or (parent.tag == "p" and _shown(parent)[0] != bold):
        raise CannotMark("These bold words stand in a sentence. A heading is a line of its own.")
    assert isinstance(following, Node)
    _retag(source, number, tag, work)
    after = source.end_of(source.number(following))
    end = source.end_tag(number)
    assert end is not None
    work.removed.append(source.number(following))
    if parent.tag in _FLOW:
        work.edits.append(Edit(end.end, source.text[end.end : after], ""))
    elif parent.tag == "p":
        _split(source, parent, number, after or end.end, work)
    else:
        raise CannotMark("Here no heading can stand. Choose a line of its own.")


def _split(source: Source, paragraph: Node, bold: int, after: int, work: _Work) -> None:
    """The paragraph begins behind the heading instead of before it."""
    number = source.number(paragraph)
    start, end = source.start_tag(number), source.end_tag(bold)
    if start is None or end is None or paragraph.attr("id"):
        raise CannotMark("This paragraph has an ID. Take it away, or move it, first.")
    opening = source.original(start)
    work.edits.append(Edit(start.start, opening, ""))
    work.edits.append(Edit(end.end, source.text[end.end : after], opening))
    work.removed.append(number)
    work.added.append(number + 1 + source.last_inside(bold) - bold)
