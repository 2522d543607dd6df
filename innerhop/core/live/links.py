"""Links as they were entered, and the ways in which that goes wrong (practice)."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import NamedTuple

from innerhop.core.addresses import link_target, urls
from innerhop.core.addresses.fragments import id_of
from innerhop.core.facts.words import words
from innerhop.core.live.ids import IdState, bare
from innerhop.core.live.station import DIFFERENTLY, NOT_YET, THERE
from innerhop.core.source.tree import Source


class EndThere(NamedTuple):
    """Where a link leads. address: what all addresses of that page have in common, with its
    origin. id: the fragment, decoded."""

    address: str
    id: str


class WantedLink(NamedTuple):
    """A link that is to be there. words: what it says. new_tab: whether it opens one. number:
    which element there it is likely to be, None where that isn't known."""

    end: EndThere
    words: str
    new_tab: bool
    number: int | None


class Links:
    """The links of a page as it is there. address: of the page."""

    def __init__(self, source: Source, address: str, key_of: Callable[[str], str]) -> None:
        self.source, self.address, self.key_of = source, address, key_of

    def end(self, href: str) -> EndThere:
        """Where an address leads, however it is written."""
        found = urls.resolve(href, self.address)
        if found is None:
            return EndThere(href, "")
        return EndThere(f"{found.origin} {self.key_of(found.path)}{found.query}",
                   id_of(found.fragment or ""))  # fmt: skip

    @cached_property
    def _ends(self) -> dict[int, EndThere]:
        linked = self.source.of_tags("a", "area")
        return {one.number: self.end(one.attr("href") or "") for one in linked
                if one.attr("href") is not None}  # fmt: skip

    def to(self, end: EndThere) -> list[int]:
        """The links that lead to an end."""
        return [number for number, one in self._ends.items() if one == end]

    def found(self, wanted: WantedLink) -> IdState:
        """How a link stands that is to be there."""
        said = [number for number in self._ends if words(self.source, number) == wanted.words]
        right = [number for number in said if self._ends[number] == wanted.end]
        if right:
            return self._right(right, wanted)
        at = wanted.number if wanted.number in self._ends else next(iter(said), None)
        if at is None:
            return IdState(NOT_YET, number=wanted.number)
        if self._ends[at] == wanted.end:
            how = f"The link says “{words(self.source, at)}” there."
            return IdState(DIFFERENTLY, how, _WORDS, at)
        return self._otherwise(at, wanted)

    def _right(self, right: list[int], wanted: WantedLink) -> IdState:
        tabs = [link_target.is_new_tab(self.source.attr(one, "target") or "") for one in right]
        if wanted.new_tab in tabs:
            return IdState(THERE, number=right[tabs.index(wanted.new_tab)])
        if tabs[0]:
            return IdState(DIFFERENTLY, "It opens a new tab there.", _SAME_TAB, right[0])
        return IdState(DIFFERENTLY, "It opens in the same tab there.", _NEW_TAB, right[0])

    def _otherwise(self, at: int, wanted: WantedLink) -> IdState:
        href, end = self.source.attr(at, "href") or "", self._ends[at]
        last = end.address.rpartition("/")[2].strip()
        if wanted.end.id and not end.id and last.endswith(wanted.end.id):
            how = f"Its address, “{href}”, has no #, so it asks for a page of that name."
            return IdState(DIFFERENTLY, how, "Put a # in front.", at)
        if end.address == wanted.end.address and bare(end.id) == bare(wanted.end.id):
            how = f"Its address ends in “#{end.id}”, and the ID is “{wanted.end.id}”."
            return IdState(DIFFERENTLY, how, _AGAIN, at)
        if end.id == wanted.end.id and end.id:
            how = f"It leads to #{end.id} of another page: {href}"
            return IdState(DIFFERENTLY, how, _AGAIN, at)
        return IdState(NOT_YET, f"It leads to {href} there.", number=at)


_AGAIN = "Type the address again, as it stands here."
_WORDS = "Give it the words as they stand here, or keep what is there."
_SAME_TAB = "Take the tick off “open in a new tab” in the link's settings."
_NEW_TAB = "Let it open a new tab, in the link's settings."
