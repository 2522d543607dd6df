"""Which words of a page can be made a link, where they stand in its text, and,
when they can't be, why not and which words nearby can.

HTML Standard #the-a-element: an `a` may stand around phrasing content that holds no
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
    stretches_of,
    texts_below,
    trimmed,
)
from innerhop.core.refusals import Refusal
from innerhop.core.source.content_models import INTERACTIVE, TEXT_LEVEL
from innerhop.core.source.elements import Child, Element, Text
from innerhop.core.source.text_runs import TextRun
from innerhop.core.source.tree import Source, Span

_HOLDS_NO_LINK = {
    "button": "These words are a button's, and a link can't stand inside a button.",
    "label": "These words label a field of a form, and a click on them goes to that field.",
    "option": "These words are an entry of a form's list, which can't hold a link.",
    "textarea": "These words are the content of a form field, which can't hold a link.",
    "title": "This is the page's title, which can't hold a link.",
}
_FEW_WORDS = 5


class CannotLink(Refusal):
    """These words can't be made a link. nearest: words close by that can, if any."""

    def __init__(self, reason: str, nearest: Words | None = None) -> None:
        super().__init__(reason)
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


def link_around(element: Element) -> Element | None:
    """The link, or what else can hold none, that an element is or stands in."""
    return next((one for one in element.line if one.tag in _HOLDS_NO_LINK or one.tag == "a"), None)


def _refuse_inside_link(source: Source, stretches: list[Stretch]) -> None:
    around = {stretch.number: link_around(source.element(stretch.number)) for stretch in stretches}
    first = next((node for node in around.values() if node is not None), None)
    if first is None:
        return
    before = takewhile(lambda stretch: around[stretch.number] is None, stretches)
    nearest = _first_block(source, list(before)) or _beside(source, first)
    raise CannotLink(_why_not_inside(first), nearest)


def _why_not_inside(element: Element) -> str:
    if element.tag != "a":
        return _HOLDS_NO_LINK[element.tag]
    href = element.attr("href")
    if href is None:
        return "These words stand inside an anchor, and a link can't stand in there."
    where = f", to {href}" if href.strip() else ", to the top of this page"
    return f"Some of these words are a link already{where}. A link can't stand inside a link."


def _beside(source: Source, element: Element) -> Words | None:
    """A few words right behind an element in the same block, or right before it."""
    above = element.parent
    if above is None or link_around(above) is not None:
        return None
    children = above.children
    at = list(children).index(element)
    for child in (*range(at + 1, len(children)), *reversed(range(at))):
        found = children[child]
        if isinstance(found, Text) and re.search(r"\w", found.data):
            pieces = list(re.finditer(r"\w[\w’'-]*", found.data))
            few = pieces[:_FEW_WORDS] if child > at else pieces[-_FEW_WORDS:]
            part = Stretch(above.number, child, found.data, few[0].start(), few[-1].end())
            return as_words([part])
    return None


def _block(source: Source, number: int) -> Element:
    """The innermost element around that is a block of its own to the reader."""
    line = list(source.element(number).line)
    return next((one for one in line if one.tag not in TEXT_LEVEL), line[-1])


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
    top = common(source.element(stretches[0].number), source.element(stretches[-1].number))
    between = _children_between(top, stretches[0], stretches[-1])
    for child in between:
        inside = child.line_inside if isinstance(child, Element) else ()
        if any(one.tag in INTERACTIVE for one in inside):
            reason = "Between these words stands something to click, which a link can't go around."
            raise CannotLink(reason, as_words(stretches[:1]))


def _children_between(top: Element, first: Stretch, last: Stretch) -> list[Child]:
    one, other = (_child_index(top, stretch) for stretch in (first, last))
    return list(top.children)[one : other + 1]


def _child_index(top: Element, stretch: Stretch) -> int:
    """Which child of `top` is, or holds, the stretch's text node."""
    if stretch.number == top.number:
        return stretch.child
    line = list(top.source.element(stretch.number).line)
    return list(top.children).index(line[line.index(top) - 1])


def _whole_span(source: Source, stretches: list[Stretch]) -> Span:
    """The span in the text, which may begin and end with whole elements only."""
    first, last = stretches[0], stretches[-1]
    if (first.number, first.child) == (last.number, last.child):
        run = _run(source, first)
        return Span(run.start_place(first.begin), run.end_place(last.end))
    top = common(source.element(first.number), source.element(last.number))
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


def _grown(source: Source, top: Element, stretches: list[Stretch]) -> list[Stretch]:
    """The stretches grown to the whole of the inline elements they begin and end in."""
    one = _child_index(top, stretches[0])
    other = _child_index(top, stretches[-1])
    children = top.children
    grown: list[Stretch] = []
    for number, child, data in texts_below(source, top.number, top.number):
        at = _child_index(top, Stretch(number, child, data, 0, 0))
        if one <= at <= other:
            known = next((s for s in stretches if (s.number, s.child) == (number, child)), None)
            whole = Stretch(number, child, data, 0, len(data))
            grown.append(known if known and isinstance(children[at], Text) else whole)
    return trimmed(grown)


def _edge(source: Source, top: Element, stretch: Stretch, at_start: bool) -> int | None:
    """Where in the text the link begins or ends: at a character, or around an element."""
    child = top.children[_child_index(top, stretch)]
    if not isinstance(child, Element):
        run = _run(source, stretch)
        return run.start_place(stretch.begin) if at_start else run.end_place(stretch.end)
    tag = source.start_tag(child.number) if at_start else source.end_tag(child.number)
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
