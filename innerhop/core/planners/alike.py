"""All places of a page that say the same words, to lead them to one end at once."""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Collection, Iterator, Sequence

from innerhop.core.facts.page_facts import Facts
from innerhop.core.facts.sections import Section
from innerhop.core.planners.running_text import running
from innerhop.core.planners.selection import Point, Words
from innerhop.core.source.tree import Source


def pattern(words: str) -> re.Pattern[str]:
    """What finds words in a text: whole words, in any case of letters, however they are spaced.
    words: at least one."""
    return re.compile(
        r"(?<!\w)" + r"\s+".join(re.escape(one) for one in words.split()) + r"(?!\w)",
        re.IGNORECASE,
    )


def places(source: Source, facts: Facts, words: str) -> Iterator[Words]:
    """Where the running text of a page says these words, in tree order. Words that stand in
    several elements, half of them bold, are none."""
    asked = pattern(words)
    for number, child, data in running(source, facts):
        for found in asked.finditer(data):
            begin, end = (Point(number, child, at) for at in found.span())
            yield Words(begin, end, found.group())


def section_of(sections: Sequence[Section], number: int) -> int:
    """The number of the heading that an element comes after; -1 before the first. sections: in
    tree order."""
    at = bisect_right(sections, number, key=lambda one: one.number)
    return sections[at - 1].number if at else -1


def one_a_section(
    every: Iterator[Words], sections: Sequence[Section], served: Collection[int] = ()
) -> Iterator[Words]:
    """The first place of each section, but of those that are served."""
    seen = set(served)
    for one in every:
        section = section_of(sections, one.start.number)
        if section not in seen:
            seen.add(section)
            yield one
