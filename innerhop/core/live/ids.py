"""IDs as they were entered, and the ways in which that goes wrong (practice)."""

from __future__ import annotations

from functools import cached_property
from typing import NamedTuple

from innerhop.core.addresses.fragments import Targets, encode, indicated
from innerhop.core.facts.page_facts import gather_marks
from innerhop.core.facts.words import words
from innerhop.core.live.station import DIFFERENTLY, NOT_YET, THERE
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.tree import Source


class IdState(NamedTuple):
    """How an ID stands. number: the element that tells it."""

    state: str
    how: str = ""
    todo: str = ""
    number: int | None = None


class IdsThere:
    """The IDs of a page as it is there."""

    def __init__(self, source: Source) -> None:
        self.source = source

    @cached_property
    def _targets(self) -> Targets[int]:
        return gather_marks(self.source).targets()

    def number(self, id_: str) -> int | None:
        """The element at which readers of that ID arrive."""
        found = indicated(encode(id_), self._targets)
        return found if isinstance(found, int) else None

    def found(self, id_: str, wanted: int | None) -> IdState:
        """How an ID stands that an element, by number, is to have; None where that element
        isn't known there."""
        number = self.number(id_)
        if number is not None:
            return self._elsewhere(id_, number, wanted)
        if wanted is not None and id_ in (self.source.attr(wanted, "class") or "").split():
            return IdState(DIFFERENTLY, _IN_CLASS, _FROM_CLASS, wanted)
        known = self._targets.ids
        slip = next((one for one in known if one != id_ and bare(one) == bare(id_)), None)
        if slip is not None:
            how = f"It was entered as “{slip}”: {_slip(slip)}"
            return IdState(DIFFERENTLY, how, _AGAIN, known[slip])
        other = self.source.attr(wanted, "id") if wanted is not None else None
        if other:
            how = f"That part has the ID “{other}” there."
            return IdState(DIFFERENTLY, how, _INSTEAD, wanted)
        return IdState(NOT_YET, number=wanted)

    def _elsewhere(self, id_: str, number: int, wanted: int | None) -> IdState:
        source = self.source
        if wanted is None or number == wanted or _shows_the_same(source, number, wanted):
            return IdState(THERE, number=number)
        if number <= wanted <= source.last_inside(number):
            return IdState(DIFFERENTLY, _ON_BLOCK, _OFF_BLOCK, number)
        is_heading = source.tags[number] in LEVELS
        what = f"“{words(source, number)[:60]}”" if is_heading else "Another part"
        how = f"{what} has the ID #{id_} there, so readers arrive at that."
        return IdState(DIFFERENTLY, how, _TO_THE_RIGHT, number)


_IN_CLASS = "The word went into the class. Hops look for an ID, so nothing happens yet."
_FROM_CLASS = (
    "Open that part's settings, empty the field for the class and type it into the one called ID "
    "or anchor, without a #."
)
_AGAIN = "Type it again, as it stands here."
_INSTEAD = "Type this one in its place, or keep what is there."
_ON_BLOCK = "The block around it has the ID, so readers arrive at the block's beginning."
_OFF_BLOCK = "Take it off the block, and give it to the part itself."
_TO_THE_RIGHT = "Take it off there, and give it to the right part."


def _shows_the_same(source: Source, one: int, other: int) -> bool:
    """Whether two elements, one inside the other, show the same words: a system's wrapper."""
    outer, inner = min(one, other), max(one, other)
    is_inside = inner <= source.last_inside(outer)
    return is_inside and words(source, outer) == words(source, inner)


def bare(id_: str) -> str:
    """What an ID is but for the slips that typing makes."""
    return "".join(id_.replace("#", "").split()).replace("-", "").replace("_", "").casefold()


def _slip(typed: str) -> str:
    if "#" in typed:
        return "the # is no part of it."
    if typed.split() != [typed]:
        return "an ID has no spaces."
    return "capitals and hyphens count."
