"""A page's sections: where each begins and ends, and how long it is.

HTML Standard 4.3.11, "Headings and outlines": a section runs from its heading
to the next of the same or a higher rank. A section ends with its container too.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from innerhop.core.facts.page_facts import Facts, Heading
from innerhop.core.source.tree import Node, Source, is_blank, is_text

_SILENT = ("script", "style", "title", "noscript", "template")
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
    """The heading that names the whole page: its only h1, when no other heading
    of the content comes before it."""
    content = [one for one in headings if one.rank == 1 or not one.region]
    ranks = [one.rank for one in content]
    return content[0] if ranks[:1] == [1] and ranks.count(1) == 1 else None


def sections(source: Source, facts: Facts) -> list[Section]:
    """The page's sections in order.

    The heading that names the page has none: its section would be the page.
    Headings of the site's frame, on every page the same, have none either.
    """
    named = page_heading(facts.headings)
    counts = _words_from_each(source, facts)
    marks = _marks_of_sections(source, facts)
    found = []
    open_ranks: list[int] = []
    for heading in facts.headings:
        if heading is named or heading.region:
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


def _words_from_each(source: Source, facts: Facts) -> dict[int, int]:
    """Words from each heading up to the next, in tree order; without those of
    the site's frame, and of what is never shown."""
    counts = {heading.number: 0 for heading in facts.headings}
    number, current, count = -1, -1, 0
    skip = range(0)
    for node in source.document.descendants:
        if isinstance(node, Node):
            number += 1
            if number in counts:
                counts[current] = count
                current, count = number, 0
            if number not in skip and (number in facts.frame or node.tag in _SILENT):
                skip = range(number, source.last_inside(number) + 1)
        elif is_text(node) and not (number in skip and _is_inside(source, node.parent, skip)):
            count += len(node.text.split())
    counts[current] = count
    return counts


def _is_inside(source: Source, parent: object, numbers: range) -> bool:
    """Whether a text's parent is one of those elements; a template's content
    has a parent that is no element."""
    return not isinstance(parent, Node) or source.number(parent) in numbers


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
        len(node.text.split()) for tag in _SILENT for node in source.document.iter_elements(tag)
    )
    return max(0, len(source.document.text.split()) - silent)
