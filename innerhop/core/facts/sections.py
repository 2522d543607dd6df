"""A page's sections: where each begins and ends, and how long it is.

https://html.spec.whatwg.org/multipage/sections.html#headings-and-outlines-2: a section
runs from its heading to the next of the same or a higher level. A section ends with
its container too. A line that serves as a heading begins one as well, and so does the
title of a part that opens; both are deeper than the heading before them.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from innerhop.core.facts import captions, heading_marks, lines, opening_titles
from innerhop.core.facts.page_facts import Facts, Heading
from innerhop.core.source.content_models import SILENT
from innerhop.core.source.tree import Source

WORDS_A_MINUTE = 238  # Brysbaert 2019, silent reading of non-fiction in English


class Section(NamedTuple):
    """A heading and what belongs to it.

    level: the heading's, or 0 for such a line (see `lines`) and 7 for the title of a part
    that opens (see `opening_titles`). depth: how deep it is
    nested, from 0, with skipped levels closed up. words: the words from this heading up
    to the next of any level, its own words included. mark: the ID that a reader is sent
    to, or "".
    """

    number: int
    level: int
    depth: int
    title: str
    mark: str
    words: int


def page_heading(headings: Sequence[Heading]) -> Heading | None:
    """The heading that names the whole page: its only h1, when no other heading
    of the content comes before it."""
    content = [one for one in headings if one.level == 1 or not one.region]
    levels = [one.level for one in content]
    return content[0] if levels[:1] == [1] and levels.count(1) == 1 else None


def sections(source: Source, facts: Facts) -> list[Section]:
    """The page's sections in order.

    The heading that names the page has none: its section would be the page.
    Headings of the site's frame, on every page the same, have none either, nor have labels
    of notes and captions (see `captions`).
    """
    return sections_and_words(source, facts)[0]


def sections_and_words(source: Source, facts: Facts) -> tuple[list[Section], int]:
    """The page's sections, and how many words the whole page shows, scripts and styles
    left out, at once: both are counted on the same way through the text."""
    starts = _starts(source, facts)
    numbers = [one.number for one in starts]
    silent = source.reading.of_tags(SILENT)
    counts, beside = source.reading.words_between(numbers, facts.frame, silent)
    marks = _marks_of_sections(source, facts, starts)
    named = page_heading(facts.headings)
    found = []
    open_levels: list[int] = []
    for heading, words in zip(starts, counts[1:], strict=True):
        if heading is named or heading.region:
            continue
        level = heading.level or _DEEPEST
        while open_levels and open_levels[-1] >= level:
            open_levels.pop()
        depth, mark = len(open_levels), marks.get(heading.number, "")
        section = (heading.number, heading.level, depth, heading.text, mark, words)
        found.append(_tuple(Section, section))
        open_levels.append(level)
    return found, sum(counts) + beside


_tuple = tuple.__new__  # the quickest way to make a named tuple


# What serves as a heading and is none, by its level: what one and several are called.
SERVING = {
    lines.LEVEL: ("line like a heading", "lines like headings"),
    opening_titles.LEVEL: ("title that opens", "titles that open"),
}
_DEEPEST = opening_titles.LEVEL  # where such a line lies, too


def _starts(source: Source, facts: Facts) -> list[Heading]:
    """The headings of the page, and the lines and titles of its content that serve as such."""
    found = [
        *((lines.LEVEL, *one) for one in lines.lines(source).items()),
        *((opening_titles.LEVEL, *one) for one in opening_titles.opening_titles(source).items()),
    ]
    own = [
        Heading(number, level, title, source.attr(number, "id") or "")
        for level, number, title in found
        if not any(first <= number <= last for first, last in facts.frame.items())
    ]
    named = captions.without(source, facts.headings)
    return sorted([*named, *own], key=lambda one: one.number) if own else named


def _marks_of_sections(source: Source, facts: Facts, starts: Sequence[Heading]) -> dict[int, str]:
    """The ID by which readers reach each section."""
    own = {one.number: one.id for one in starts if one.id}
    bare = [one.number for one in starts if not one.id]
    ids = {mark.number: mark.value for mark in facts.marks} if bare else {}
    return own | heading_marks.marks_of(source, bare, ids)
