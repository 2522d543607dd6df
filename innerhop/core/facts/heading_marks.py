"""By which mark readers reach a heading: its own, or one that stands at its place."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from innerhop.core.source.elements import Child, Element
from innerhop.core.source.tree import Source

_MARKERS = ("a", "span")


def mark_of(source: Source, heading: int, ids: Mapping[int, str]) -> str:
    """The ID that leads to a heading that has none itself: of an element inside it, of
    the container whose first heading it is, or of an empty marker right before it; ""
    where there is none. ids: by the number of the element that has it."""
    return next((ids[number] for number in near(source, heading) if number in ids), "")


def near(source: Source, heading: int) -> Iterator[int]:
    """The elements that stand where the heading does, but for the heading itself."""
    yield from (one.number for one in source.element(heading).inside)
    yield from _around(source.element(heading))


def _around(element: Element) -> Iterator[int]:
    while True:
        before = _shown_before(element)
        if isinstance(before, Element) and before.tag in _MARKERS and not before.text.strip():
            yield before.number
        above = element.parent
        if before is not None or above is None or above.tag in ("body", "main"):
            return
        yield above.number
        element = above


def _shown_before(element: Element) -> Child | None:
    return next((one for one in element.siblings_before() if not one.is_blank), None)
