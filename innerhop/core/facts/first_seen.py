"""What readers see first who are sent to an element: a mark that stands far from it shows
them something else, or nothing."""

from __future__ import annotations

from innerhop.core.source.content_models import EMBEDDED, LEVELS, PHRASING, SILENT
from innerhop.core.source.elements import Element, Text
from innerhop.core.source.tree import Source

_FARTHEST = 400  # elements looked through


def first_seen(source: Source, number: int) -> int:
    """The element that readers see first from an element on, by number: a heading, else the
    block around the first words or picture; the element itself where that has words of its
    own or none follow. It is the innermost that can be told, never one around the element."""
    around = source.element(number).parent
    if around is not None and _has_words(around):  # it stands in the midst of these
        return number
    last, at = len(source) - 1, number
    for _ in range(_FARTHEST):
        if at > last:
            break
        element = source.element(at)
        if element.tag in SILENT:
            at = element.last + 1
            continue
        if element.tag in LEVELS and element.text.strip():
            return at
        if element.tag in EMBEDDED or _has_words(element):
            return _block_of(element, number)
        at += 1
    return number


def _has_words(element: Element) -> bool:
    return any(isinstance(child, Text) and not child.is_blank for child in element.children)


def _block_of(element: Element, number: int) -> int:
    """The first element around one, or that one, that is no run of words: one of those
    behind `number`."""
    while element.tag in PHRASING and element.number > number:
        above = element.parent
        if above is None or above.number <= number <= above.last:
            break
        element = above
    return element.number
