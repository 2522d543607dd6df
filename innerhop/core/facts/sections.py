"""A page's sections: where each begins and ends, and how long it is.

https://html.spec.whatwg.org/multipage/sections.html#headings-and-outlines-2: a section
runs from its heading to the next of the same or a higher level. A section ends with
its container too.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from innerhop.core.facts import heading_marks
from innerhop.core.facts.page_facts import Facts, Heading
from innerhop.core.source.content_models import SILENT
from innerhop.core.source.tree import Source

WORDS_A_MINUTE = 238  # Brysbaert 2019, silent reading of non-fiction in English


@dataclass(frozen=True, slots=True)
class Section:
    """A heading and what belongs to it.

    depth: how deep it is nested, from 0, with skipped levels closed up.
    words: the words from this heading up to the next heading of any level, its
    own words included. mark: the ID that a reader is sent to, or "".
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
    Headings of the site's frame, on every page the same, have none either.
    """
    named = page_heading(facts.headings)
    counts = _words_from_each(source, facts)
    marks = _marks_of_sections(source, facts)
    found = []
    open_levels: list[int] = []
    for heading in facts.headings:
        if heading is named or heading.region:
            continue
        while open_levels and open_levels[-1] >= heading.level:
            open_levels.pop()
        found.append(
            Section(
                number=heading.number,
                level=heading.level,
                depth=len(open_levels),
                title=heading.text,
                mark=marks.get(heading.number, ""),
                words=counts[heading.number],
            )
        )
        open_levels.append(heading.level)
    return found


def _words_from_each(source: Source, facts: Facts) -> dict[int, int]:
    """Words from each heading up to the next, in tree order; without those of
    the site's frame, and of what is never shown."""
    counts = {heading.number: 0 for heading in facts.headings}
    following = iter(list(counts))
    current, until = -1, next(following, len(source))
    count = 0
    for number, data in source.reading.texts(_left_out(source, facts)):
        while number >= until:
            counts[current] = count
            current, until, count = until, next(following, len(source)), 0
        count += len(data.split())
    counts[current] = count
    return counts


def _left_out(source: Source, facts: Facts) -> dict[int, int]:
    """The parts whose words are not the page's own, to the last number inside each."""
    count = source.reading.count_inside
    silent = (number for number, tag in enumerate(source.tags) if tag in SILENT)
    return {**{number: number + count(number) for number in silent}, **facts.frame}


def _marks_of_sections(source: Source, facts: Facts) -> dict[int, str]:
    """The ID by which readers reach each section."""
    ids = {mark.number: mark.value for mark in facts.marks}
    return {
        heading.number: heading.id or heading_marks.mark_of(source, heading.number, ids)
        for heading in facts.headings
    }


def count_words(source: Source) -> int:
    """How many words the whole page shows, scripts and styles left out."""
    silent = sum(
        len(source.text_of(number).split())
        for number, tag in enumerate(source.tags)
        if tag in SILENT
    )
    return max(0, len(source.reading.whole_text.split()) - silent)
