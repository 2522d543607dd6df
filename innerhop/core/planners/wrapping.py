"""Which words of a page can be made a link, where they stand in its text, and,
when they can't be, why not and which words nearby can.

HTML Standard 4.5.1: an `a` may stand around phrasing content that holds no
interactive content, and not inside another `a`.
"""

from __future__ import annotations

import re
from itertools import takewhile

from innerhop.core.planners.selection import (
    NoLongerThere,
    Stretch,
    Words,
    as_words,
    common,
    line_of,
    stretches_of,
    texts_below,
    trimmed,
)
from innerhop.core.source.tree import Node, Source, Span, TextRun, is_text

# HTML Standard 3.2.5.2.5, phrasing content that can hold text.
_PHRASING = frozenset((
    "a", "abbr", "b", "bdi", "bdo", "big", "cite", "code", "data", "del", "dfn", "em", "font",
    "i", "ins", "kbd", "label", "mark", "nobr", "q", "s", "samp", "small", "span", "strike",
    "strong", "sub", "sup", "time", "tt", "u", "var",
))  # fmt: skip
# HTML Standard 3.2.5.2.7, interactive content.
INTERACTIVE = frozenset((
    "a", "audio", "button", "details", "embed", "iframe", "input", "label", "select", "textarea",
    "video",
))  # fmt: skip
_HOLDS_NO_LINK = {
    "button": "These words are a button's, and a link can't stand inside a button.",
    "label": "These words label a field of a form, and a click on them goes to that field.",
    "option": "These words are an entry of a form's list, which can't hold a link.",
    "textarea": "These words are the content of a form field, which can't hold a link.",
    "title": "This is the page's title, which can't hold a link.",
}
_FEW_WORDS = 5


class CannotLink(ValueError):
    """These words can't be made a link. nearest: words close by that can, if any."""

    def __init__(self, reason: str, nearest: Words | None = None) -> None:
        super().__init__(reason)
        self.reason = reason
        self.nearest = nearest


def span_of(source: Source, words: Words) -> Span:
    """Where the words stand in the page's text, ready to be put inside an `a`.

    Raises CannotLink with the reason and the nearest words that can be.
    """
    try:
        stretches = trimmed(stretches_of(source, words))
    except NoLongerThere as problem:
        raise CannotLink(str(problem)) from None
    if not stretches:
        raise CannotLink("No words are selected. Select the words that readers should click.")
    _refuse_inside_link(source, stretches)
    _refuse_across_blocks(source, stretches)
    _refuse_around_link(source, stretches)
    return _whole_span(source, stretches)


def link_around(source: Source, number: int) -> Node | None:
    line = line_of(source.node(number))
    return next((node for node in line if node.tag in _HOLDS_NO_LINK or node.tag == "a"), None)


def _refuse_inside_link(source: Source, stretches: list[Stretch]) -> None:
    around = {stretch.number: link_around(source, stretch.number) for stretch in stretches}
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
    if link_around(source, number) is not None:
        return None
    children = list(node.parent.children)
    at = children.index(node)
    for child in (*range(at + 1, len(children)), *reversed(range(at))):
        found = children[child]
        if is_text(found) and re.search(r"\w", found.text):
            pieces = list(re.finditer(r"\w[\w’'-]*", found.text))
            few = pieces[:_FEW_WORDS] if child > at else pieces[-_FEW_WORDS:]
            return as_words([Stretch(number, child, found.text, few[0].start(), few[-1].end())])
    return None


def _block(source: Source, number: int) -> Node:
    """The innermost element around that is a block of its own to the reader."""
    line = line_of(source.node(number))
    return next((node for node in line if node.tag not in _PHRASING), line[-1])


def _first_block(source: Source, stretches: list[Stretch]) -> Words | None:
    """The part of the stretches that stands in the first block with words in it."""
    stretches = trimmed(stretches)
    if not stretches:
        return None
    block = _block(source, stretches[0].number)
    return as_words([one for one in stretches if _block(source, one.number) == block])


def _refuse_across_blocks(source: Source, stretches: list[Stretch]) -> None:
    block = _block(source, stretches[0].number)
    with_words = [one for one in stretches if one.selected.strip()]
    if all(_block(source, one.number) == block for one in with_words):
        return
    reason = (
        "These words run from one block of the page into the next, and a link ends with its block."
    )
    raise CannotLink(reason, _first_block(source, stretches))


def _refuse_around_link(source: Source, stretches: list[Stretch]) -> None:
    """Pictures and line breaks may stand between the words; links and fields may not."""
    if len(stretches) < 2:
        return
    top = common(source.node(stretches[0].number), source.node(stretches[-1].number))
    between = _children_between(source, top, stretches[0], stretches[-1])
    for child in between:
        inside = [child, *child.iter_elements()] if isinstance(child, Node) else []
        wrong = next((node for node in inside if node.tag in INTERACTIVE), None)
        if wrong is not None:
            reason = "Between these words stands something to click, which a link can't go around."
            raise CannotLink(reason, as_words(stretches[:1]))


def _children_between(source: Source, top: Node, first: Stretch, last: Stretch) -> list[object]:
    children = list(top.children)
    one, other = (_child_index(source, top, stretch) for stretch in (first, last))
    return list(children[one : other + 1])


def _child_index(source: Source, top: Node, stretch: Stretch) -> int:
    """Which child of `top` is, or holds, the stretch's text node."""
    node = source.node(stretch.number)
    if node == top:
        return stretch.child
    while node.parent != top:
        node = node.parent  # type: ignore[assignment]  # `top` is above, so this ends there
    return list(top.children).index(node)


def _whole_span(source: Source, stretches: list[Stretch]) -> Span:
    """The span in the text, which may begin and end with whole elements only."""
    first, last = stretches[0], stretches[-1]
    if (first.number, first.child) == (last.number, last.child):
        run = _run(source, first)
        return Span(run.start_place(first.begin), run.end_place(last.end))
    top = common(source.node(first.number), source.node(last.number))
    whole = _grown(source, top, stretches)
    if whole[0] != first or whole[-1] != last:
        reason = "These words begin or end in the middle of words that are set apart (bold, say)."
        raise CannotLink(reason, as_words(whole))
    start = _edge(source, top, first, at_start=True)
    end = _edge(source, top, last, at_start=False)
    if start is None or end is None:
        raise CannotLink("The markup here is broken, so where these words end is in doubt.",
                         as_words(stretches[:1]))  # fmt: skip
    return Span(start, end)


def _grown(source: Source, top: Node, stretches: list[Stretch]) -> list[Stretch]:
    """The stretches grown to the whole of the inline elements they begin and end in."""
    one = _child_index(source, top, stretches[0])
    other = _child_index(source, top, stretches[-1])
    children = list(top.children)
    grown: list[Stretch] = []
    number_of_top = source.number(top)
    for number, child, data in texts_below(source, number_of_top, number_of_top):
        at = _child_index(source, top, Stretch(number, child, data, 0, 0))
        if one <= at <= other:
            known = next((s for s in stretches if (s.number, s.child) == (number, child)), None)
            whole = Stretch(number, child, data, 0, len(data))
            grown.append(known if known and is_text(children[at]) else whole)
    return trimmed(grown)


def _edge(source: Source, top: Node, stretch: Stretch, at_start: bool) -> int | None:
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


def _run(source: Source, stretch: Stretch) -> TextRun:
    run = source.text_run(stretch.number, stretch.child)
    if run is None:
        raise CannotLink(
            "The markup around these words is broken, so their place in the page's "
            "text is in doubt. Choose other words."
        )
    return run
