"""By which mark readers reach a heading: its own, or one that stands at its place."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable, Iterator, Mapping

from innerhop.core.names.ids import is_a_systems
from innerhop.core.source.tree import Source

_MARKERS = ("a", "span")


def marks_of(source: Source, headings: Iterable[int], ids: Mapping[int, str]) -> dict[int, str]:
    """By heading, the ID that leads to it where it has none itself: of an element inside
    it, of the container whose first heading it is, or of an empty marker right before
    it. ids: by the number of the element that has it."""
    found = {}
    for heading, own in all_of(source, headings, ids).items():
        # A name that someone gave is better than one that a system counted.
        said = (one for one in own if not is_a_systems(one))
        found[heading] = next(said, own[0] if own else "")
    return found


def all_of(source: Source, headings: Iterable[int], ids: Mapping[int, str]) -> dict[int, list[str]]:
    """The same, with all such IDs, the nearest first."""
    numbers = sorted(ids)
    found = {}
    for heading in headings:
        first = bisect_right(numbers, heading)
        last = bisect_right(numbers, heading + source.reading.count_inside(heading))
        places = [*numbers[first:last], *(one for one in _around(source, heading) if one in ids)]
        found[heading] = [ids[one] for one in places]
    return found


def near(source: Source, heading: int) -> Iterator[int]:
    """The elements that stand where the heading does, but for the heading itself."""
    yield from range(heading + 1, heading + source.reading.count_inside(heading) + 1)
    yield from _around(source, heading)


def _around(source: Source, number: int) -> Iterator[int]:
    """Empty markers before an element, and containers that begin with it."""
    reading = source.reading
    while True:
        for before in reading.just_before(number):
            if before is None:
                return
            if _is_unseen(source, before):
                yield before
            elif not _is_bar(source, before):
                return
        number = reading.parent(number)
        if number < 0 or reading.tag(number) in ("body", "main"):
            return
        yield number


def _is_bar(source: Source, number: int) -> bool:
    """Whether an element is links and little else, as the steps that generators put above the
    heading of each section."""
    said = source.text_of(number).split()
    if len(said) > _LONGEST_BAR:
        return False
    links = source.reading.inside(number, "a")
    return bool(links) and 2 * sum(len(source.text_of(one).split()) for one in links) >= len(said)


_LONGEST_BAR = 30  # words


def _is_unseen(source: Source, number: int) -> bool:
    """Whether readers see nothing of what could be a marker."""
    return source.reading.tag(number) in _MARKERS and not source.text_of(number).strip()
