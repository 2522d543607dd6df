"""What an item of a menu does on each page that shows it, and pages put together on which
all items do the same, so that a thousand pages can be seen at a glance.

https://html.spec.whatwg.org/multipage/browsing-the-web.html#scroll-to-fragid for what a
hash does; where each link leads is told by `site.hops`.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from innerhop.core.menus.menus import BUTTON, WORDS
from innerhop.core.site import hops

# What an item does: jumps on the page itself; opens a page and jumps; opens it at its top;
# the reader is there already; nothing happens; opens a page, not the place on it; leads to
# a page that is not there; leaves the site; only a script knows; words; not in this menu.
JUMPS, OPENS_JUMPS, OPENS, THERE = "jumps", "opens-jumps", "opens", "there"
NOTHING, LOST, GONE = "nothing", "lost", "gone"
AWAY, SCRIPT, WORD, LACKING = "away", "script", "words", "lacking"
WRONG = frozenset((NOTHING, LOST, GONE))

MEANINGS = {
    JUMPS: "jumps, on this page",
    OPENS_JUMPS: "opens the page and jumps",
    OPENS: "opens the page at its top",
    THERE: "the reader is there, at the top",
    NOTHING: "nothing happens",
    LOST: "opens the page, but not the place on it",
    GONE: "leads to a page that is not there",
    AWAY: "leaves the site",
    SCRIPT: "a button: only a script knows",
    WORD: "words, no link",
    LACKING: "not in this page’s menu",
}
MOST = 14  # stations that can be told apart on one line


@dataclass(frozen=True)
class Way:
    """Where an item's link leads from one page. kind, why: as `hops.Verdict`. is_on_site:
    whether it leads to an address of the site. is_own: to the page that it stands on.
    has_hash: whether its address has one. at_top: whether it ends at a page's top."""

    kind: str
    why: str
    is_on_site: bool
    is_own: bool
    has_hash: bool
    at_top: bool


def does(kind: str, way: Way | None) -> str:
    """What an item does. kind: of the item; way: None where its link is not known."""
    if kind in (BUTTON, WORDS) or way is None:
        return SCRIPT if kind == BUTTON else WORD
    if not way.is_on_site:
        return AWAY
    if way.kind == hops.BROKEN:
        if way.why in (hops.NO_PAGE, hops.NO_HASH):
            return GONE
        return NOTHING if way.is_own else LOST
    if not way.has_hash:
        return THERE if way.is_own else OPENS
    if way.is_own:
        return JUMPS
    return OPENS if way.at_top else OPENS_JUMPS


def wrong(states: Sequence[str]) -> int:
    """On how many of some pages an item leads nowhere, by what it does on each."""
    return sum(state in WRONG for state in states)


@dataclass(frozen=True)
class Station:
    """Pages on which every item does the same. states: one an item. pages: by key.
    is_each: whether each of them is also the page of one of the items."""

    states: Sequence[str]
    pages: Sequence[int]
    is_each: bool = False


# What an item of the open page does on all others.
_FROM_ELSEWHERE = {THERE: OPENS, JUMPS: OPENS_JUMPS}


def stations(vectors: Mapping[int, Sequence[str]], most: int = MOST) -> list[Station]:
    """Pages put together. vectors: by page, in order, what each item does there. Where there
    are few pages each is a station of its own."""
    if len(vectors) <= most:
        return [Station(tuple(states), (page,)) for page, states in vectors.items()]
    found = _alike({page: tuple(states) for page, states in vectors.items()})
    if len(found) > most:
        found = _without_own(found)
    return found[:most] if len(found) <= most else _rest(found, most)


def _alike(vectors: Mapping[int, tuple[str, ...]]) -> list[Station]:
    groups: dict[tuple[str, ...], list[int]] = {}
    for page, states in vectors.items():
        groups.setdefault(states, []).append(page)
    return [Station(states, pages) for states, pages in groups.items()]


def _without_own(stops: Sequence[Station]) -> list[Station]:
    """A menu of fifty pages is different on each of them in one item: its own."""
    groups: dict[tuple[str, ...], list[Station]] = {}
    for one in stops:
        plain = tuple(_FROM_ELSEWHERE.get(state, state) for state in one.states)
        groups.setdefault(plain, []).append(one)
    merged = []
    for plain, same in groups.items():
        pages = [page for one in same for page in one.pages]
        merged.append(same[0] if len(same) == 1 else Station(plain, pages, is_each=True))
    return merged


def _rest(stops: Sequence[Station], most: int) -> list[Station]:
    """The largest, and all others as one: where they disagree, the worst is shown."""
    by_size = sorted(stops, key=lambda one: -len(one.pages))
    kept, others = by_size[: most - 1], by_size[most - 1 :]
    states = [_worst([one.states[at] for one in others]) for at in range(len(others[0].states))]
    pages = [page for one in others for page in one.pages]
    return [*kept, Station(tuple(states), pages, is_each=True)]


def _worst(states: Sequence[str]) -> str:
    return next((one for one in (NOTHING, GONE, LOST) if one in states), states[0])
