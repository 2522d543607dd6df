"""Headings and bold lines that name no section: labels of notes and examples, captions of
tables and figures, the title above a list of links (common practice, no source; measured on
open corpora, see `judging`)."""

from __future__ import annotations

import re
from collections.abc import Sequence

from innerhop.core.facts.page_facts import Heading
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.elements import Child, Element
from innerhop.core.source.tree import Source

# Words in the class of a box that says something beside the text, or shows it (from memory).
BOXES = frozenset("""
note notes tip tips hint warning caution danger important attention error info information
admonition alert callout notice remark example examples sidebar sidenote aside figure caption
exercise quote toc
""".split())  # fmt: skip
# How captions are counted in the languages that pages are written in (from memory).
_COUNTED = re.compile(
    r"(?:fig(?:ure|ura|uur|\.)?|abb(?:ildung|\.)?|table(?:au)?|tabel(?:le|la)?|tabla|example|"
    r"exemple|beispiel|ejemplo|esempio|listing|plate|photo)\s+(?:\d+|[A-Z]\b)(?:[-.:]\d+)*\b",
    re.IGNORECASE,
)


def is_counted(text: str) -> bool:
    """Whether words are those of a caption, such as “Figure 2.1. The upper lock”.

    >>> [is_counted(one) for one in ("Figure 2.1. The upper lock", "Examples", "Table of fees")]
    [True, False, False]
    """
    return _COUNTED.match(text) is not None


def without(source: Source, headings: Sequence[Heading]) -> list[Heading]:
    """The headings that may name a section."""
    boxed = set(source.reading.matching(_BOXED)) if headings else set()
    return [
        one
        for one in headings
        if not is_counted(one.text) and not (one.number in boxed and labels_box(source, one.number))
    ]


def levelled(source: Source, headings: Sequence[Heading]) -> list[Heading]:
    """The headings of a page's content whose levels are to follow each other: none of the
    site's frame, no labels."""
    return [one for one in without(source, headings) if not one.region]


def is_label(source: Source, heading: Heading) -> bool:
    """Whether a heading names no text: it ends in a colon, or links follow."""
    return heading.text.endswith(":") or _labels_links(source, heading.number)


def what_follows(source: Source, number: int) -> Child | None:
    """The next thing beside an element that is no white space; None at the end."""
    found = source.siblings(number, before=False)
    return next((one for one in found if isinstance(one, Element) or not one.is_blank), None)


def _labels_links(source: Source, number: int) -> bool:
    """Whether what follows a heading is links and little else, such as what is related."""
    after = what_follows(source, number)
    if not isinstance(after, Element):
        return False
    said = "".join(source.text_of(after.number).split())
    links = source.reading.inside(after.number, "a")
    linked = sum(len("".join(source.text_of(one).split())) for one in links)
    return bool(links) and linked >= _MOSTLY * len(said)


_MOSTLY = 0.7


def labels_box(source: Source, number: int) -> bool:
    """Whether a heading or line is what a box, a table or a figure begins with."""
    reading = source.reading
    around = number
    while (around := reading.parent(around)) >= 0:
        tag = reading.tag(around)
        if tag in ("body", "main", "article"):
            return False
        if tag in ("figure", "caption", "blockquote"):
            return True
        if _is_called_box(source, around):
            return reading.count_inside(around) <= _LARGE
    return False


def _is_called_box(source: Source, number: int) -> bool:
    """Whether an element's tag, role or class says that it stands beside the text."""
    reading = source.reading
    if reading.tag(number) == "aside" or reading.attr(number, "role") in ("note", "doc-tip"):
        return True
    return not BOXES.isdisjoint((reading.attr(number, "class") or "").lower().split())


_LARGE = 120  # elements: what is larger is content, whatever its class says
_LEVELS = f":is({', '.join(LEVELS)})"
_BOXED = ", ".join(
    f"{box} {_LEVELS}"
    for box in ("aside", "figure", "caption", "blockquote", "[role=note]", "[class]")
)
