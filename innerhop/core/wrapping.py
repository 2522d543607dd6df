"""Which words of a page can be made a link, where they stand in its text, and,
when they can't be, why not and which words nearby can.

HTML Standard 4.5.1: an `a` may stand around phrasing content that holds no
interactive content, and not inside another `a`.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from itertools import takewhile

from innerhop.core.source import Node, Source, Span, TextRun, is_text

# HTML Standard 3.2.5.2.5, phrasing content that can hold text.
_PHRASING = frozenset(
    "a abbr b bdi bdo big cite code data del dfn em font i ins kbd label mark nobr q s samp small"
    " span strike strong sub sup time tt u var".split()
)
# HTML Standard 3.2.5.2.7, interactive content.
_INTERACTIVE = frozenset(
    "a audio button details embed iframe input label select textarea video".split()
)
_HOLDS_NO_LINK = {
    "button": "These words are a button's, and a link can't stand inside a button.",
    "label": "These words label a field of a form, and a click on them goes to that field.",
    "option": "These words are an entry of a form's list, which can't hold a link.",
    "textarea": "These words are the content of a form field, which can't hold a link.",
    "title": "This is the page's title, which can't hold a link.",
}
_FEW_WORDS = 5


@dataclass(frozen=True, slots=True)
class Point:
    """A place between two characters of a text node: the element it is in, its
    place among that element's child nodes, and how many characters come before."""

    number: int
    child: int
    offset: int


@dataclass(frozen=True, slots=True)
class Words:
    """A stretch of a page's words, from one point to another, as a reader selects it."""

    start: Point
    end: Point
    text: str = ""


class CannotLink(ValueError):
    """These words can't be made a link. nearest: words close by that can, if any."""

    def __init__(self, reason: str, nearest: Words | None = None) -> None:
        super().__init__(reason)
        self.reason = reason
        self.nearest = nearest


@dataclass(frozen=True, slots=True)
class _Stretch:
    """Part of one text node: the node's point address and two offsets."""

    number: int
    child: int
    data: str
    begin: int
    end: int

    @property
    def selected(self) -> str:
        return self.data[self.begin : self.end]


def span_of(source: Source, words: Words) -> Span:
    """Where the words stand in the page's text, ready to be put inside an `a`.

    Raises CannotLink with the reason and the nearest words that can be.
    """
    stretches = _trimmed(_stretches(source, words))
    if not stretches:
        raise CannotLink("No words are selected. Select the words that readers should click.")
    _refuse_inside_link(source, stretches)
    _refuse_across_blocks(source, stretches)
    _refuse_around_link(source, stretches)
    return _whole_span(source, stretches)


def _stretches(source: Source, words: Words) -> list[_Stretch]:
    """The parts of text nodes between the two points, in tree order."""
    found: list[_Stretch] = []
    start, end = words.start, words.end
    begun = False
    for number, child, data in _texts(source, start.number, end.number):
        is_start = (number, child) == (start.number, start.child)
        is_end = (number, child) == (end.number, end.child)
        begun = begun or is_start
        if begun:
            begin = min(start.offset, len(data)) if is_start else 0
            stop = min(end.offset, len(data)) if is_end else len(data)
            found.append(_Stretch(number, child, data, begin, stop))
        if begun and is_end:
            return found
    raise CannotLink("These words are no longer on the page. Select them again.")


def _texts(source: Source, one: int, other: int) -> list[tuple[int, int, str]]:
    """Every text node below the element that holds both, in tree order."""
    top = _common(source.node(one), source.node(other))
    found: list[tuple[int, int, str]] = []

    def walk(node: Node) -> None:
        number = source.number(node)
        for child, below in enumerate(node.children):
            if is_text(below):
                found.append((number, child, below.text))
            elif isinstance(below, Node):
                walk(below)

    walk(top)
    return found


def _common(one: Node, other: Node) -> Node:
    above = _line(one)
    for node in _line(other):
        if node in above:
            return node
    raise CannotLink("These words are no longer on the page. Select them again.")


def _line(node: Node) -> list[Node]:
    """The element and those around it, innermost first."""
    return [node, *(above for above in node.ancestors if isinstance(above, Node))]


def _trimmed(stretches: list[_Stretch]) -> list[_Stretch]:
    """Without white space at the ends, and without parts that hold nothing else."""
    while stretches and not stretches[0].selected.strip():
        stretches = stretches[1:]
    while stretches and not stretches[-1].selected.strip():
        stretches = stretches[:-1]
    if stretches:
        first = stretches[0]
        lead = len(first.selected) - len(first.selected.lstrip())
        stretches = [_cut(first, first.begin + lead, first.end), *stretches[1:]]
        last = stretches[-1]
        tail = len(last.selected) - len(last.selected.rstrip())
        stretches = [*stretches[:-1], _cut(last, last.begin, last.end - tail)]
    return stretches


def _cut(stretch: _Stretch, begin: int, end: int) -> _Stretch:
    return _Stretch(stretch.number, stretch.child, stretch.data, begin, end)


def _as_words(stretches: list[_Stretch]) -> Words | None:
    """The stretches as words to offer; None when nothing is left of them."""
    stretches = _trimmed(stretches)
    if not stretches:
        return None
    first, last = stretches[0], stretches[-1]
    text = " ".join("".join(stretch.selected for stretch in stretches).split())
    return Words(
        Point(first.number, first.child, first.begin), Point(last.number, last.child, last.end), text
    )


def _link_around(source: Source, number: int) -> Node | None:
    line = _line(source.node(number))
    return next((node for node in line if node.tag in _HOLDS_NO_LINK or node.tag == "a"), None)


def _refuse_inside_link(source: Source, stretches: list[_Stretch]) -> None:
    around = {stretch.number: _link_around(source, stretch.number) for stretch in stretches}
    first = next((node for node in around.values() if node is not None), None)
    if first is None:
        return
    before = takewhile(lambda stretch: around[stretch.number] is None, stretches)
    nearest = _first_block(source, list(before)) or _beside(source, first)
    raise CannotLink(_why_not_inside(first), nearest)


def _why_not_inside(node: Node) -> str:
    if node.tag != "a":
        return _HOLDS_NO_LINK[node.tag]
    href = node.attr("href")
    if href is None:
        return "These words stand inside an anchor, and a link can't stand in there."
    return f"Some of these words are a link already, to {href}. A link can't stand inside a link."


def _beside(source: Source, node: Node) -> Words | None:
    """A few words right behind an element in the same block, or right before it."""
    if not isinstance(node.parent, Node):
        return None
    number = source.number(node.parent)
    if _link_around(source, number) is not None:
        return None
    children = list(node.parent.children)
    at = children.index(node)
    for child in (*range(at + 1, len(children)), *reversed(range(at))):
        found = children[child]
        if is_text(found) and re.search(r"\w", found.text):
            pieces = list(re.finditer(r"\w[\w’'-]*", found.text))
            few = pieces[:_FEW_WORDS] if child > at else pieces[-_FEW_WORDS:]
            return _as_words([_Stretch(number, child, found.text, few[0].start(), few[-1].end())])
    return None


def _block(source: Source, number: int) -> Node:
    """The innermost element around that is a block of its own to the reader."""
    line = _line(source.node(number))
    return next((node for node in line if node.tag not in _PHRASING), line[-1])


def _first_block(source: Source, stretches: list[_Stretch]) -> Words | None:
    """The part of the stretches that stands in the first block with words in it."""
    stretches = _trimmed(stretches)
    if not stretches:
        return None
    block = _block(source, stretches[0].number)
    return _as_words([one for one in stretches if _block(source, one.number) == block])


def _refuse_across_blocks(source: Source, stretches: list[_Stretch]) -> None:
    block = _block(source, stretches[0].number)
    with_words = [one for one in stretches if one.selected.strip()]
    if all(_block(source, one.number) == block for one in with_words):
        return
    reason = "These words run from one block of the page into the next, and a link ends with its block."
    raise CannotLink(reason, _first_block(source, stretches))


def _refuse_around_link(source: Source, stretches: list[_Stretch]) -> None:
    """Pictures and line breaks may stand between the words; links and fields may not."""
    if len(stretches) < 2:
        return
    top = _common(source.node(stretches[0].number), source.node(stretches[-1].number))
    between = _children_between(source, top, stretches[0], stretches[-1])
    for child in between:
        inside = [child, *child.iter_elements()] if isinstance(child, Node) else []
        wrong = next((node for node in inside if node.tag in _INTERACTIVE), None)
        if wrong is not None:
            reason = "Between these words stands something to click, which a link can't go around."
            raise CannotLink(reason, _as_words(stretches[:1]))


def _children_between(source: Source, top: Node, first: _Stretch, last: _Stretch) -> list[object]:
    children = list(top.children)
    one, other = (_child_index(source, top, stretch) for stretch in (first, last))
    return list(children[one : other + 1])


def _child_index(source: Source, top: Node, stretch: _Stretch) -> int:
    """Which child of `top` is, or holds, the stretch's text node."""
    node = source.node(stretch.number)
    if node == top:
        return stretch.child
    while node.parent != top:
        node = node.parent  # type: ignore[assignment]  # `top` is above, so this ends there
    return list(top.children).index(node)


def _whole_span(source: Source, stretches: list[_Stretch]) -> Span:
    """The span in the text, which may begin and end with whole elements only."""
    first, last = stretches[0], stretches[-1]
    if (first.number, first.child) == (last.number, last.child):
        run = _run(source, first)
        return Span(run.start_place(first.begin), run.end_place(last.end))
    top = _common(source.node(first.number), source.node(last.number))
    whole = _grown(source, top, stretches)
    if whole[0] != first or whole[-1] != last:
        reason = "These words begin or end in the middle of words that are set apart (bold, say)."
        raise CannotLink(reason, _as_words(whole))
    start = _edge(source, top, first, at_start=True)
    end = _edge(source, top, last, at_start=False)
    if start is None or end is None:
        raise CannotLink("The markup here is broken, so where these words end is in doubt.",
                         _as_words(stretches[:1]))  # fmt: skip
    return Span(start, end)


def _grown(source: Source, top: Node, stretches: list[_Stretch]) -> list[_Stretch]:
    """The stretches grown to the whole of the inline elements they begin and end in."""
    one = _child_index(source, top, stretches[0])
    other = _child_index(source, top, stretches[-1])
    children = list(top.children)
    grown: list[_Stretch] = []
    number_of_top = source.number(top)
    for number, child, data in _texts(source, number_of_top, number_of_top):
        at = _child_index(source, top, _Stretch(number, child, data, 0, 0))
        if one <= at <= other:
            known = next((s for s in stretches if (s.number, s.child) == (number, child)), None)
            whole = _Stretch(number, child, data, 0, len(data))
            grown.append(known if known and is_text(children[at]) else whole)
    return _trimmed(grown)


def _edge(source: Source, top: Node, stretch: _Stretch, at_start: bool) -> int | None:
    """Where in the text the link begins or ends: at a character, or around an element."""
    child = list(top.children)[_child_index(source, top, stretch)]
    if is_text(child):
        run = _run(source, stretch)
        return run.start_place(stretch.begin) if at_start else run.end_place(stretch.end)
    assert isinstance(child, Node)
    number = source.number(child)
    tag = source.start_tag(number) if at_start else source.end_tag(number)
    if tag is None:
        return None
    return tag.start if at_start else tag.end


def _run(source: Source, stretch: _Stretch) -> TextRun:
    run = source.text_run(stretch.number, stretch.child)
    if run is None:
        raise CannotLink(
            "The markup around these words is broken, so their place in the page's text is in doubt. "
            "Choose other words."
        )
    return run


def text_of(source: Source, words: Words) -> str:
    """The words themselves, in one line."""
    found = _as_words(_stretches(source, words))
    return found.text if found else ""

