"""A page's sections: where each begins and ends, and how long it is.

HTML Standard 4.3.11, "Headings and outlines": a section runs from its heading
to the next of the same or a higher rank. A section ends with its container too.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from innerhop.core.facts import Facts, Heading
from innerhop.core.source import Node, Source, is_blank, is_text

WORDS_A_MINUTE = 238  # Brysbaert 2019, silent reading of non-fiction in English


@dataclass(frozen=True, slots=True)
class Section:
    """A heading and what belongs to it.

    depth: how deep it is nested, from 0, with skipped ranks closed up.
    words: the words from this heading up to the next heading of any rank, its
    own words included. mark: the ID that a reader is sent to, or "".
    """

    number: int
    rank: int
    depth: int
    title: str
    mark: str
    words: int


def page_heading(headings: Sequence[Heading]) -> Heading | None:
    """The heading that names the whole page: its first, when it is the only h1."""
    first = headings[0] if headings else None
    if first is None or first.rank != 1:
        return None
    return first if all(other.rank > 1 for other in headings[1:]) else None


def sections(source: Source, facts: Facts) -> list[Section]:
    """The page's sections in order. The heading that names the page has none:
    its section would be the page."""
    named = page_heading(facts.headings)
    counts = _words_from_each(source, facts.headings)
    marks = _marks_of_sections(source, facts)
    found = []
    open_ranks: list[int] = []
    for heading in facts.headings:
        if heading is named:
            continue
        while open_ranks and open_ranks[-1] >= heading.rank:
            open_ranks.pop()
        found.append(
            Section(
                number=heading.number,
                rank=heading.rank,
                depth=len(open_ranks),
                title=heading.text,
                mark=marks.get(heading.number, ""),
                words=counts[heading.number],
            )
        )
        open_ranks.append(heading.rank)
    return found


def _words_from_each(source: Source, headings: Sequence[Heading]) -> dict[int, int]:
    """Words from each heading up to the next, in tree order."""
    counts = {heading.number: 0 for heading in headings}
    starts = {source.node(heading.number): heading.number for heading in headings}
    current, count = -1, 0
    for node in source.document.descendants:
        if isinstance(node, Node):
            if node in starts:
                counts[current] = count
                current, count = starts[node], 0
        elif is_text(node):
            count += len(node.text.split())
    counts[current] = count
    return counts


def _marks_of_sections(source: Source, facts: Facts) -> dict[int, str]:
    """The ID by which readers reach each section.

    The heading's own; else that of an element inside it, or of the container
    whose first heading it is; else of an empty marker right before it.
    """
    ids = {mark.number: mark.value for mark in facts.marks}
    return {
        heading.number: heading.id or _near_mark(source, heading.number, ids)
        for heading in facts.headings
    }


def _near_mark(source: Source, number: int, ids: dict[int, str]) -> str:
    inside = range(number + 1, source.last_inside(number) + 1)
    near = (*inside, *_around(source, source.node(number)))
    return next((ids[at] for at in near if at in ids), "")


def _around(source: Source, node: Node) -> list[int]:
    """What stands at the same place as the heading: a marker just before it,
    and containers that begin with it."""
    found: list[int] = []
    while True:
        before = node.previous_sibling
        while before is not None and is_blank(before):
            before = before.previous_sibling
        if isinstance(before, Node) and before.tag in ("a", "span") and not before.text.strip():
            found.append(source.number(before))
        if before is not None or not isinstance(node.parent, Node):
            return found
        node = node.parent
        if node.tag == "body" or node.tag == "main":
            return found
        found.append(source.number(node))


def count_words(source: Source) -> int:
    """How many words the whole page shows, scripts and styles left out."""
    silent = sum(
        len(node.text.split())
        for tag in ("script", "style", "title", "noscript")
        for node in source.document.iter_elements(tag)
    )
    return max(0, len(source.document.text.split()) - silent)
