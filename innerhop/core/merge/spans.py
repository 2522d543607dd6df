"""Where the elements of a page stand, those too whose tags its text leaves out
(https://html.spec.whatwg.org/multipage/syntax.html#optional-tags)."""

from __future__ import annotations

from collections.abc import Iterator

from innerhop.core.source.tree import Source, Span

DOCUMENT = -1  # stands for the whole text, where no tag of its own holds something


def outer(source: Source, number: int) -> Span | None:
    """An element with its tags; None where no tag in the text made it."""
    tag = source.start_tag(number)
    if tag is None:
        return None
    end = source.end_of(number)
    return Span(tag.start, _open_end(source, number) if end is None else end)


def inner(source: Source, number: int) -> Span | None:
    """What stands between an element's tags. None where no tag in the text made it."""
    if number == DOCUMENT:
        return Span(0, len(source.text))
    tag = source.start_tag(number)
    if tag is None:
        return None
    close = source.end_tag(number)
    if close is not None:
        return Span(tag.end, close.start)
    end = source.end_of(number)
    return Span(tag.end, _open_end(source, number) if end is None else tag.end)


def _open_end(source: Source, number: int) -> int:
    """Where an element ends whose end tag is left out: where the next begins, or what is
    around it ends."""
    ends = [len(source.text)]
    behind = source.last_inside(number) + 1
    ends += next(([one] for one in source.starts[behind:] if one >= 0), [])
    above = source.parents[number]
    while above >= 0:
        close = source.end_tag(above)
        if close is not None:
            ends.append(close.start)
            break
        above = source.parents[above]
    return min(ends)


def tagged(source: Source, number: int) -> int:
    """The element, or the nearest around it, that a tag in the text made; DOCUMENT for none."""
    while number >= 0 and source.starts[number] < 0:
        number = source.parents[number]
    return number


def held(source: Source, number: int) -> Iterator[int]:
    """The elements right inside one that have tags, in order: those without are looked into."""
    at = number + 1
    last = len(source) - 1 if number == DOCUMENT else source.last_inside(number)
    while at <= last:
        if source.starts[at] >= 0:
            yield at
            at = source.last_inside(at) + 1
        else:
            at += 1


def holder(source: Source, start: int, end: int, near: int) -> int:
    """The innermost element that holds a stretch of text between its tags; DOCUMENT for none.
    near: an element that begins at or before it, the nearest there is."""
    number = tagged(source, near)
    while number >= 0:
        span = inner(source, number)
        if span is not None and span.start <= start and end <= span.end:
            return number
        number = tagged(source, source.parents[number])
    return DOCUMENT
