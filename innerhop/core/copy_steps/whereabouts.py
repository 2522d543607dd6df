"""Where things are on a page, said so that they are found there by someone who looks at it
in another system: under which title, which of those that are called the same, and behind
which words."""

from __future__ import annotations

from bisect import bisect_right
from collections import defaultdict
from functools import cached_property

from innerhop.core.facts import frame, places
from innerhop.core.facts.empty_markers import is_marker
from innerhop.core.facts.lines import lines
from innerhop.core.facts.mark_words import words_of
from innerhop.core.facts.words import words
from innerhop.core.source.content_models import LEVELS, PHRASING
from innerhop.core.source.elements import Element, Text
from innerhop.core.source.tree import Source

_TITLES = (*LEVELS, "summary", "dt")
_BUTTONS = ("button", "btn")  # classes that make a link look like one (practice)
_BLOCKS = ("div", "main", "center", "hgroup", "search", "dialog")
_FEW = 4  # words that are enough to find a place by, where they stand there once


class Whereabouts:
    """A page as it is seen by someone who follows a copy sheet."""

    def __init__(self, source: Source) -> None:
        self.source = source
        self._alike: dict[tuple[int, str], dict[str, list[int]]] = {}

    @cached_property
    def _titles(self) -> list[tuple[int, str]]:
        """What the page's stretches are called by, in page order: headings, questions, bold
        lines; before the first of these, parts that are marked."""
        found = lines(self.source)
        for element in self.source.of_tags(*_TITLES):
            found[element.number] = words(self.source, element.number)
        first = min(found, default=len(self.source))
        for element in self.source.having("id"):
            if element.number < first and element.tag in ("p", "li", "figure", "table"):
                found[element.number] = words_of(self.source, element.number)
        return sorted((number, said) for number, said in found.items() if said)

    def _title_at(self, number: int) -> int:
        return bisect_right(self._titles, number, key=lambda title: title[0]) - 1

    def section(self, number: int) -> str:
        """The words of the title that an element is, or that it comes after; "" for none,
        and in the site's frame, which is not below any."""
        at = -1 if self.frame(number) else self._title_at(number)
        return self._titles[at][1] if at >= 0 else ""

    @cached_property
    def _roles(self) -> dict[int, str]:
        return frame.roles(self.source)

    def frame(self, number: int) -> str:
        """What part of the site's frame an element stands in (see `facts.frame`), the
        outermost if in several; "" for none."""
        line = [one.number for one in self.source.element(number).line]
        if frame.is_content(self.source, number):
            return ""
        tags = self.source.reading.tag
        parts = [
            self._roles.get(one) or (tags(one) if tags(one) in frame.TAGS else "") for one in line
        ]
        return next((part for part in reversed(parts) if part), "")

    def named(self, number: int) -> tuple[str, str]:
        """An element as an editor knows it: its kind, and its kind with its first words."""
        spot = places.place(self.source, number)
        kind = spot.kind
        if spot.tag == "a" and any(
            name.lower().startswith(_BUTTONS)
            for name in (self.source.attr(number, "class") or "").split()
        ):
            kind = places.KINDS["button"]
        return kind, f"{kind} “{spot.words}”" if spot.words else f"{kind} without words"

    def alike(self, near: int, kind: str, name: str) -> list[int]:
        """The elements of that name in the section, or above all sections, that one of them
        is in: read once for all steps that ask."""
        at = self._title_at(near)
        if (at, kind) not in self._alike:
            found: dict[str, list[int]] = defaultdict(list)
            for element in self.source.of_tags(*_tags(kind)):
                if self._title_at(element.number) == at:
                    found[self.named(element.number)[1]].append(element.number)
            self._alike[at, kind] = found
        return self._alike[at, kind].get(name, [])

    def is_title(self, number: int) -> bool:
        """Whether a section begins with that element."""
        at = self._title_at(number)
        return at >= 0 and self._titles[at][0] == number

    def beside(self, number: int) -> tuple[int | None, int | None]:
        """The element that ends right before another begins beside it, and the one that
        begins right behind it, markers aside; None where there is none."""
        before = (
            node.number
            for node in self.source.siblings(number, before=True)
            if isinstance(node, Element) and not is_marker(self.source, node.number)
        )
        after = self.source.last_inside(number) + 1
        while after < len(self.source) and is_marker(self.source, after):
            after += 1
        return next(before, None), after if after < len(self.source) else None

    def follows_words(self, number: int) -> bool:
        """Whether words of a line stand right before an element."""
        before = next(self.source.siblings(number, before=True), None)
        return isinstance(before, Text) and not before.is_blank

    def block(self, number: int) -> int:
        """The block that an element stands in the line of."""
        blocks = (one for one in self.source.element(number).ancestors if one.tag not in PHRASING)
        return next(blocks, self.source.element(0)).number

    def lead(self, number: int) -> str:
        """The last words before an element in its block, as many as tell the place from
        others there; "" at the block's beginning."""
        block = self.source.element(self.block(number))
        said, own = _before(block, number).split(), self.source.text_of(number)
        whole = " ".join(block.text.split())
        for few in range(_FEW, len(said)):
            tail = " ".join(said[-few:])
            if whole.count(f"{tail} {own}".strip()) == 1:
                return f"…{tail}"
        return " ".join(said)


def _tags(kind: str) -> list[str]:
    """The tags of what is called so."""
    tags = [tag for tag, called in places.KINDS.items() if called == kind]
    more = {places.KINDS["button"]: ["a", "input"], places.HEADING_LINE: ["p", "div"]}
    return [*tags, *more.get(kind, [])] or list(_BLOCKS)


def _before(block: Element, number: int) -> str:
    """The text of a block up to one of the elements in it."""
    found: list[str] = []
    for child in block.children:
        if isinstance(child, Text):
            found.append(child.data)
        elif isinstance(child, Element):
            if child.number == number:
                break
            if child.number < number <= child.last:
                return "".join(found) + _before(child, number)
            found.append(child.text)
    return "".join(found)
