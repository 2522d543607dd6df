"""Selected words: two points in a page's tree, and the parts of text nodes that
stand between them."""

from __future__ import annotations

from dataclasses import dataclass

from innerhop.core.refusals import Refusal
from innerhop.core.source.elements import Element, Text
from innerhop.core.source.tree import Source


class NoLongerThere(Refusal):
    """The points are not on the page, or do not have one before the other."""


@dataclass(frozen=True, slots=True)
class Point:
    """A place between two characters of a text node: the element it is in, its
    place among that element's child nodes, and how many characters come before."""

    number: int
    child: int
    offset: int


@dataclass(frozen=True, slots=True)
class Words:
    """A stretch of a page's words, from one point to another, as a reader selects it."""

    start: Point
    end: Point
    text: str = ""


@dataclass(frozen=True, slots=True)
class Stretch:
    """Part of one text node: the node's point address and two offsets."""

    number: int
    child: int
    data: str
    begin: int
    end: int

    @property
    def selected(self) -> str:
        return self.data[self.begin : self.end]


def stretches_of(source: Source, words: Words) -> list[Stretch]:
    """The parts of text nodes between the two points, in tree order."""
    found: list[Stretch] = []
    start, end = words.start, words.end
    begun = False
    for number, child, data in texts_below(source, start.number, end.number):
        is_start = (number, child) == (start.number, start.child)
        is_end = (number, child) == (end.number, end.child)
        begun = begun or is_start
        if begun:
            begin = min(start.offset, len(data)) if is_start else 0
            stop = min(end.offset, len(data)) if is_end else len(data)
            found.append(Stretch(number, child, data, begin, stop))
        if begun and is_end:
            return found
    raise NoLongerThere("These words are no longer on the page. Select them again.")


def texts_below(source: Source, one: int, other: int) -> list[tuple[int, int, str]]:
    """Every text node below the element that holds both: its parent's number,
    its place among the child nodes, and its characters; in tree order."""
    return _texts_in(common(source.element(one), source.element(other)))


def _texts_in(top: Element) -> list[tuple[int, int, str]]:
    source = top.source
    found: list[tuple[int, int, str]] = []
    waiting: list[int | tuple[int, int, str]] = [top.number]
    while waiting:
        one = waiting.pop()
        if not isinstance(one, int):
            found.append(one)
        elif source.tags[one] != "template":
            for child in reversed(source.reading.children(one)):
                if isinstance(child, int):
                    waiting.append(child)
                elif isinstance(child, Text):
                    waiting.append((one, child.child, child.data))
    return found


def common(one: Element, other: Element) -> Element:
    """The innermost element around both."""
    above = set(one.line)
    for element in other.line:
        if element in above:
            return element
    raise NoLongerThere("These words are no longer on the page. Select them again.")


def trimmed(stretches: list[Stretch]) -> list[Stretch]:
    """Without white space at the ends, and without parts that hold nothing else."""
    while stretches and not stretches[0].selected.strip():
        stretches = stretches[1:]
    while stretches and not stretches[-1].selected.strip():
        stretches = stretches[:-1]
    if stretches:
        first = stretches[0]
        lead = len(first.selected) - len(first.selected.lstrip())
        stretches = [_cut(first, first.begin + lead, first.end), *stretches[1:]]
        last = stretches[-1]
        tail = len(last.selected) - len(last.selected.rstrip())
        stretches = [*stretches[:-1], _cut(last, last.begin, last.end - tail)]
    return stretches


def _cut(stretch: Stretch, begin: int, end: int) -> Stretch:
    return Stretch(stretch.number, stretch.child, stretch.data, begin, end)


def as_words(stretches: list[Stretch]) -> Words | None:
    """The stretches as words to offer; None when nothing is left of them."""
    stretches = trimmed(stretches)
    if not stretches:
        return None
    first, last = stretches[0], stretches[-1]
    text = " ".join("".join(stretch.selected for stretch in stretches).split())
    return Words(
        Point(first.number, first.child, first.begin),
        Point(last.number, last.child, last.end),
        text,
    )


def text_of(source: Source, words: Words) -> str:
    """The words themselves, in one line."""
    found = as_words(stretches_of(source, words))
    return found.text if found else ""
