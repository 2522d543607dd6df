"""Titles of parts that open, as lists of questions have them: of a `details`, and of a panel
that a button controls (HTML Standard, #the-details-element; WAI-ARIA 1.2, aria-controls and
aria-expanded). Each is the heading of what it opens (common practice, no source)."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

from innerhop.core.facts.words import words
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.tree import Source, as_elements

LEVEL = 7  # in place of a heading's level: deeper than any
_LONGEST = 200  # characters: questions are sentences
_FEWEST = 3  # words that it opens
_OFTEN = 4  # times the same words on a page: a label, as of programs shown on demand
_NOT_IN = "nav, a, form, template, figure, [role=navigation], [role=menu], [role=tablist]"


def opening_titles(source: Source) -> dict[int, str]:
    """The titles, each by the number of the `summary` or the button, with its words. Those in
    the site's frame are among them, those that hold a heading are not."""
    found = {}
    for number, opened in [*_details(source), *_panels(source)]:
        title = words(source, number)
        if title and len(title) <= _LONGEST and _is_title(source, number, opened):
            found[number] = title
    times = Counter(title.casefold() for title in found.values())
    return {number: one for number, one in found.items() if times[one.casefold()] < _OFTEN}


# A title, and the element that holds what it opens: around it, or after it.
_Opened = tuple[int, int]


def _details(source: Source) -> Iterator[_Opened]:
    for element in source.of_tags("details") if source.reading.has("details") else ():
        inside = as_elements(element.children)
        summary = next((one for one in inside if one.tag == "summary"), None)
        if summary is not None:
            yield summary.number, element.number


def _panels(source: Source) -> Iterator[_Opened]:
    if "aria-controls" not in source.text:
        return
    ids: dict[str, int] = {}
    for one in source.having("id"):
        ids.setdefault(one.attr("id") or "", one.number)
    for one in source.having("aria-controls"):
        is_button = one.tag == "button" or one.attr("role") == "button"
        panel = ids.get((one.attr("aria-controls") or "").strip(), -1)
        if is_button and one.attr("aria-expanded") is not None and panel > one.number:
            yield one.number, panel


def _is_title(source: Source, number: int, opened: int) -> bool:
    reading = source.reading
    if reading.is_within(number, _NOT_IN) or reading.is_within(number, _LEVELS):
        return False
    if any(reading.has_inside(number, tag) for tag in LEVELS):
        return False
    return _opens_text(source, number, opened)


_LEVELS = ", ".join(LEVELS)  # a heading around a button is the section's


def _opens_text(source: Source, number: int, opened: int) -> bool:
    """Whether what opens is text: some words, of which links are less than half."""
    said = len(source.text_of(opened).split())
    linked = _linked(source, opened)
    if opened < number:
        said -= len(source.text_of(number).split())
        linked -= _linked(source, number)
    return said >= _FEWEST and 2 * linked <= said


def _linked(source: Source, number: int) -> int:
    return sum(len(source.text_of(one).split()) for one in source.reading.inside(number, "a"))
