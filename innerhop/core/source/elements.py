"""A page's elements as the rest of the core sees them: by number, with what each is,
holds and stands in, whatever parser read them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from innerhop.core.source.tree import Source


@dataclass(frozen=True, slots=True)
class Text:
    """A text node: its characters, and its place among its parent's child nodes."""

    data: str
    child: int

    @property
    def is_blank(self) -> bool:
        """Whether a reader sees nothing of it."""
        return not self.data.strip()


@dataclass(frozen=True, slots=True)
class Comment:
    """A comment, or anything else that is neither element nor text."""

    child: int

    @property
    def is_blank(self) -> bool:
        return True


class Element:
    """One element of a page. Two are equal when they are the same element.

    number: its place in tree order, from 0.
    """

    __slots__ = ("number", "source")
    is_blank = False

    def __init__(self, source: Source, number: int) -> None:
        self.source = source
        self.number = number

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Element) and other.number == self.number

    def __hash__(self) -> int:
        return self.number

    def __repr__(self) -> str:
        return f"<{self.tag} {self.number}>"

    @property
    def tag(self) -> str:
        """The tag's name, in small letters where it is HTML's."""
        return self.source.reading.tag(self.number)

    @property
    def last(self) -> int:
        """The number of the last element inside it, or its own when it has none."""
        return self.source.last_inside(self.number)

    @property
    def parent(self) -> Element | None:
        """The element around it; that of a template's content is the template."""
        above = self.source.parent(self.number)
        return Element(self.source, above) if above >= 0 else None

    @property
    def ancestors(self) -> Iterator[Element]:
        """The elements around it, innermost first."""
        above = self.parent
        while above is not None:
            yield above
            above = above.parent

    @property
    def line(self) -> Iterator[Element]:
        """The element itself and those around it, innermost first."""
        yield self
        yield from self.ancestors

    @property
    def inside(self) -> Iterator[Element]:
        """Every element inside it, in tree order."""
        return (Element(self.source, number) for number in range(self.number + 1, self.last + 1))

    @property
    def line_inside(self) -> Iterator[Element]:
        """The element itself and every one inside it, in tree order."""
        yield self
        yield from self.inside

    def attr(self, name: str) -> str | None:
        """An attribute's value as a browser reads it; None when there is none."""
        return self.source.attr(self.number, name)

    @property
    def attributes(self) -> dict[str, str]:
        """All its attributes, in the order in which they stand in the tag."""
        return self.source.attributes(self.number)

    @property
    def text(self) -> str:
        """All the characters inside it."""
        return self.source.text_of(self.number)

    @property
    def children(self) -> Sequence[Child]:
        """Its child nodes, in order."""
        return self.source.children(self.number)

    @property
    def shown(self) -> list[Child]:
        """Its child nodes less comments and white space."""
        return [child for child in self.children if not child.is_blank]

    @property
    def in_template(self) -> bool:
        """Whether it is in a template's contents, which are in no visitor's tree.

        https://html.spec.whatwg.org/multipage/scripting.html#the-template-element
        """
        return self.source.is_in_template(self.number)

    def siblings_before(self) -> Iterator[Child]:
        """The child nodes of its parent that come before it, nearest first."""
        return self.source.siblings(self.number, before=True)

    def siblings_after(self) -> Iterator[Child]:
        """The child nodes of its parent that come after it, nearest first."""
        return self.source.siblings(self.number, before=False)


Child = Element | Text | Comment
