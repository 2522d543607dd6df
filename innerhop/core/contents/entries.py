"""What a contents list can be made of: the headings of a page, and whatever serves as a
question or a heading on it."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Generic, TypeVar

from innerhop.core.facts import heading_marks, lines, opening_titles
from innerhop.core.facts.page_facts import Facts
from innerhop.core.facts.sections import SERVING, Section
from innerhop.core.facts.words import words, words_without
from innerhop.core.names import ids
from innerhop.core.source.tree import Source

LINE, OPENS, TERM = "bold", "summary", "dt"
# Deeper than any heading, since these stand below one.
_DEPTHS = {LINE: 7, OPENS: 8, TERM: 8}
# What serves as a heading and is none, by its level among sections.
_LINES = {lines.LEVEL: LINE, opening_titles.LEVEL: OPENS}
# What is said of each kind; headings by their level.
KIND_NAMES = {**{kind: SERVING[level][1] for level, kind in _LINES.items()}, TERM: "terms"}
MOST_DEEP = 1_000  # entries: a list of more is for nobody, so only its first level is offered


@dataclass(frozen=True, slots=True)
class Possible:
    """A part that could be an entry. kind: "h2" to "h6", LINE, OPENS or TERM. title: its
    words. mark: the ID by which readers reach it, "" for none yet. others: more IDs at its
    place."""

    number: int
    kind: str
    title: str
    mark: str
    others: tuple[str, ...] = ()

    @property
    def level(self) -> int:
        """How deep it lies, as headings count."""
        return _DEPTHS.get(self.kind) or int(self.kind[1:])

    @property
    def key(self) -> str:
        """What it is known by in a list's settings: its ID, or the one that would be
        suggested for it."""
        return self.mark or ids.suggest(self.title)


def possible(
    source: Source, facts: Facts, sections: Sequence[Section], left_out: Iterable[range] = ()
) -> list[Possible]:
    """All that could be entries, in page order; without what says nothing, and what stands
    in some stretches, such as a list's own title."""
    ids_ = {mark.number: mark.value for mark in facts.marks}
    bare = [one.number for one in sections if one.mark and one.number not in ids_]
    beside = heading_marks.all_of(source, bare, ids_)
    found = [
        Possible(one.number, _LINES.get(one.level) or f"h{one.level}", one.title, one.mark,
                 tuple(beside.get(one.number, ())))
        for one in sections
    ]  # fmt: skip
    found += _questions(source, facts, {one.number for one in sections})
    hidden = [*left_out, *(range(first, last + 1) for first, last in facts.frame.items())]
    kept = [
        one for one in found if one.title and not any(one.number in stretch for stretch in hidden)
    ]
    return sorted(kept, key=lambda one: one.number)


def _questions(source: Source, facts: Facts, known: set[int]) -> list[Possible]:
    """Titles of parts that open, and terms, which aren't sections of the page."""
    numbers = [
        one.number
        for one in source.of_tags(OPENS, TERM)
        if not one.in_template
        and not known.intersection(range(one.number, one.last + 1))  # a heading in it counts
    ]
    values = {mark.number: mark.value for mark in facts.marks}
    bare = [number for number in numbers if number not in values]
    beside = heading_marks.marks_of(source, bare, values) if bare else {}
    signs = [link.number for link in facts.links if link.permalink] if numbers else []
    return [
        Possible(
            number,
            source.tags[number],
            _said(source, number, signs),
            values.get(number) or beside.get(number, ""),
        )
        for number in numbers
    ]


def _said(source: Source, number: int, signs: Sequence[int]) -> str:
    """The words of a part, less its sign. signs: of the page, in tree order."""
    at = bisect_right(signs, number)
    if at < len(signs) and signs[at] <= source.last_inside(number):
        return words_without(source, number, set(signs[at:]))
    return words(source, number)


def usual(parts: Sequence[Possible]) -> list[str]:
    """The kinds that a list is made of unless someone chooses others: the highest that
    stands there more than once; where most parts are questions of one kind, those."""
    counts: dict[str, int] = {}
    for one in parts:
        counts[one.kind] = counts.get(one.kind, 0) + 1
    several = sorted((kind for kind, count in counts.items() if count > 1), key=_level_of)
    if not several:
        return list(counts)[:1]
    highest = several[0]
    asked = [one.kind for one in parts if one.title.rstrip().endswith("?")]
    for kind in several:
        if asked.count(kind) > max(2, counts[highest]) or (
            kind in (OPENS, TERM, LINE) and counts[kind] > 2 * counts[highest]
        ):
            return [kind]
    return [highest]


def _level_of(kind: str) -> int:
    return _DEPTHS.get(kind) or int(kind[1:])


T = TypeVar("T")


@dataclass(frozen=True)
class Branch(Generic[T]):
    """An entry with those below it."""

    entry: T
    below: tuple[Branch[T], ...] = ()


def nested(entries: Sequence[tuple[int, T]]) -> tuple[Branch[T], ...]:
    """Entries, each with its level, as a tree. Skipped levels are closed up: what is
    deeper than the one before it lies one below, whatever lies between.

    https://html.spec.whatwg.org/multipage/sections.html#headings-and-outlines-2
    """
    top: list[Branch[T]] = []
    at = 0
    while at < len(entries):
        level, entry = entries[at]
        end = at + 1
        while end < len(entries) and entries[end][0] > level:
            end += 1
        top.append(Branch(entry, nested(entries[at + 1 : end])))
        at = end
    return tuple(top)


def flat(branches: Iterable[Branch[T]], depth: int = 0) -> list[tuple[int, T]]:
    """The entries of a tree in order, each with how deep it lies, from 0."""
    found: list[tuple[int, T]] = []
    for branch in branches:
        found.append((depth, branch.entry))
        found += flat(branch.below, depth + 1)
    return found


def by_mark(listed: Iterable[Possible]) -> Mapping[str, Possible]:
    """What each ID leads to."""
    parts = list(listed)
    beside = {id_: one for one in reversed(parts) for id_ in one.others}
    return beside | {one.mark: one for one in reversed(parts) if one.mark}
