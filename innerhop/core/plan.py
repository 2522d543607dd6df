"""A plan: the edits for one page's text, with what they claim to do to its tree.

A plan is data. It can be looked at, joined with others, kept, and carried out later;
`proof` tells whether a page read after it is what it claims.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass, field, replace
from typing import Any

from innerhop.core.edits import Edit, EditsClash

Values = Mapping[str, str | None]


@dataclass(frozen=True, slots=True)
class Part:
    """An element of what a plan puts in whole. depth: how deep in it, from 1. text: the
    characters that it holds itself, those of elements in it left out."""

    tag: str
    attributes: Mapping[str, str]
    text: str
    depth: int


@dataclass(frozen=True, slots=True)
class NewElement:
    """An element that a plan puts in.

    edit, offset: its start tag begins so many characters into the new text of that
    edit, by its place in the plan's list. text: None where it goes around what is
    there; else the characters that it brings itself. inside: the elements that it
    brings, in tree order. before, after: text right beside it that comes with it.
    around: the characters that it goes around, None for whatever its tags enclose.
    """

    edit: int
    offset: int
    tag: str
    attributes: Mapping[str, str]
    text: str | None = None
    inside: Sequence[Part] = ()
    before: str = ""
    after: str = ""
    around: str | None = None


@dataclass(frozen=True, slots=True)
class Filling:
    """What an element is to hold instead of what it holds. text: the characters that it
    holds itself. inside: the elements in it, in tree order."""

    text: str
    inside: Sequence[Part] = ()


@dataclass(frozen=True, slots=True)
class Takes:
    """What a plan takes from readers because that is its purpose. words: as they read them.
    is_link: whether it is a link that goes, called by its words, and not the words."""

    words: str
    is_link: bool = False


@dataclass(frozen=True, slots=True)
class Claim:
    """What is to be different in the tree, and nothing else.

    attributes: for elements there now, by number, attributes with the value they are
    to have, None for none. tags: the tag that elements are to have. gone: elements
    that go, though not what they hold. new: elements more. filled: elements that are to
    hold something else. removed: elements that go with all they hold, and the text right
    before and right behind each that goes with it. takes: all that readers lose by it.
    """

    attributes: Mapping[int, Values] = field(default_factory=dict)
    tags: Mapping[int, str] = field(default_factory=dict)
    gone: Sequence[int] = ()
    new: Sequence[NewElement] = ()
    filled: Mapping[int, Filling] = field(default_factory=dict)
    removed: Mapping[int, tuple[str, str]] = field(default_factory=dict)
    takes: Sequence[Takes] = ()

    @property
    def keeps_elements(self) -> bool:
        """Whether no more than attributes change."""
        return not (self.tags or self.gone or self.new or self.filled or self.removed)


@dataclass(frozen=True, slots=True)
class Plan:
    """Edits, all counted in one text, and what they claim."""

    edits: Sequence[Edit] = ()
    claim: Claim = field(default_factory=Claim)

    def taking(self, takes: Sequence[Takes]) -> Plan:
        """The same plan, with more that readers lose by it."""
        if not takes or not self.edits:
            return self
        return Plan(self.edits, replace(self.claim, takes=[*self.claim.takes, *takes]))

    def as_data(self) -> dict[str, Any]:
        """The plan as JSON can hold it."""
        return asdict(self)


def from_data(data: Mapping[str, Any]) -> Plan:
    """The plan that `as_data` gave, also after it has been JSON."""
    claim = data["claim"]
    new = [
        NewElement(**{**one, "inside": [Part(**part) for part in one["inside"]]})
        for one in claim["new"]
    ]
    numbered = {
        name: {int(number): value for number, value in claim[name].items()}
        for name in ("attributes", "tags")
    }
    filled = {
        int(number): Filling(one["text"], [Part(**part) for part in one["inside"]])
        for number, one in claim["filled"].items()
    }
    removed = {int(number): (one[0], one[1]) for number, one in claim["removed"].items()}
    edits = [Edit(**one) for one in data["edits"]]
    gone = list(claim["gone"])
    takes = [Takes(**one) for one in claim["takes"]]
    return Plan(
        edits, Claim(**numbered, gone=gone, new=new, filled=filled, removed=removed, takes=takes)
    )


def of_attributes(edits: Sequence[Edit], values: Mapping[int, Values]) -> Plan:
    """A plan that gives elements, by number, attributes and does nothing else."""
    return Plan(edits, Claim(attributes=values))


def join_plans(plans: Iterable[Plan]) -> Plan:
    """One plan that does what several do to the same text. Raises EditsClash when two
    want the same attribute or tag of an element to be different things."""
    edits: list[Edit] = []
    attributes: dict[int, dict[str, str | None]] = {}
    tags: dict[int, str] = {}
    gone: list[int] = []
    new: list[NewElement] = []
    filled: dict[int, Filling] = {}
    removed: dict[int, tuple[str, str]] = {}
    takes: list[Takes] = []
    for plan in plans:
        claim = plan.claim
        for number, values in claim.attributes.items():
            _agree(attributes.setdefault(number, {}), values)
        _agree(tags, claim.tags)
        gone += claim.gone
        _agree(filled, claim.filled)
        _agree(removed, claim.removed)
        new += [replace(one, edit=one.edit + len(edits)) for one in claim.new]
        edits += plan.edits
        takes += claim.takes
    return Plan(edits, Claim(attributes, tags, gone, new, filled, removed, takes))


def _agree(wanted: dict[Any, Any], more: Mapping[Any, Any]) -> None:
    for name, value in more.items():
        if wanted.setdefault(name, value) != value:
            raise EditsClash("two edits want the same attribute to be different")
