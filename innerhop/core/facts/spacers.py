"""Empty paragraphs and line ends that someone put above a heading to move it down: they leave
a reader who arrives there in front of white space (common practice, no source)."""

from __future__ import annotations

from typing import NamedTuple

from innerhop.core.source.content_models import LEVELS, PHRASING
from innerhop.core.source.elements import Element
from innerhop.core.source.tree import Source

_BLOCKS = ("p", "div")
_INLINE = frozenset(("br", "span", "strong", "b", "em", "i"))
_INLINE_BEFORE = PHRASING - {"br"}  # a line end behind one of these ends its line
# What may be on them without making them anything that is seen.
_PLAIN = frozenset(("class", "style", "dir", "align", "lang"))
_MOST = 20  # elements in one: more are no empty paragraph


class Spacer(NamedTuple):
    """Empty elements in a row, by number, and the heading below them."""

    numbers: tuple[int, ...]
    below: int


def spacers(source: Source) -> list[Spacer]:
    """The spacers of a page, in tree order. A marker may stand between them and the heading."""
    group = source.reading.group(_BLOCKS)
    maybe = [
        number
        for number, text in zip(group.numbers, group.texts(), strict=True)
        if not text.strip()  # which takes spaces that don't break as well
    ]
    maybe += source.reading.of_tags(("br",))
    empty = {number for number in maybe if _is_empty(source, number)}
    found = []
    for number in sorted(empty):
        if number in empty:
            row, below = _row(source, number, empty)
            empty.difference_update(row)
            if below is not None:
                found.append(Spacer(tuple(row), below))
    return found


def _row(source: Source, first: int, empty: set[int]) -> tuple[list[int], int | None]:
    """The empty elements from one on, and the heading behind them."""
    row = [first]
    for one in source.siblings(first, before=False):
        if isinstance(one, Element):
            if one.number in empty:
                row.append(one.number)
            elif one.tag in LEVELS:
                return row, one.number
            elif one.children or one.tag not in _INLINE - {"br"} | {"a"}:
                break  # more than a marker
        elif not one.is_blank:
            break
    return row, None


def _is_empty(source: Source, number: int) -> bool:
    """Whether an element without words takes room: a paragraph, or a block with a line end
    or a space that doesn't break. A `br` only between blocks, where it ends no line."""
    element = source.element(number)
    if element.in_template or element.attributes.keys() - _PLAIN:
        return False
    if element.tag == "br":
        before = next((one for one in element.siblings_before() if not one.is_blank), None)
        return isinstance(before, Element) and before.tag not in _INLINE_BEFORE
    if element.last - number > _MOST:
        return False
    inside = [source.element(one) for one in range(number + 1, element.last + 1)]
    if any(one.tag not in _INLINE or one.attributes for one in inside):
        return False
    return element.tag == "p" or "\N{NO-BREAK SPACE}" in element.text or bool(inside)
