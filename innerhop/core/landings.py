"""Where a reader's view ends up after a hop, at one width, and what they see there first:
computed from what a browser measured.

CSSOM View, "scroll an element into view"
(https://drafts.csswg.org/cssom-view/#scroll-an-element); CSS Scroll Snap 1, "scroll-padding"
and "scroll-margin" (https://drafts.csswg.org/css-scroll-snap-1/#scroll-padding); CSS
Positioned Layout 3, "sticky positioning" (https://drafts.csswg.org/css-position-3/#stickypos-insets).
What a reader is sent to is not to be hidden, nor part of it: WCAG 2.2, 2.4.11 and 2.4.12.
All lengths are CSS pixels.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

# The verdicts, worst first.
NOWHERE, SHUT, COVERED, CUT, GAP, SHORT, CLEAR = (
    "nowhere", "shut", "covered", "cut", "gap", "short", "clear",
)  # fmt: skip
VERDICTS = (NOWHERE, SHUT, COVERED, CUT, GAP, SHORT, CLEAR)
# What each is called where nothing more is said.
NAMES = {
    NOWHERE: "leads nowhere", SHUT: "in a closed part", COVERED: "covered", CUT: "cut off",
    GAP: "below empty space", SHORT: "page ends before", CLEAR: "clear",
}  # fmt: skip
_LEAST = 4  # less of a line than that is covered, or left out, without harm (practice)
_EMPTY = 72  # of empty space above what a reader came for, from which it looks wrong (practice)
MANDATORY, PROXIMITY = "mandatory", "proximity"
_NEAR = 1 / 3  # of the view: so near proximity snaps (as Chromium does; from memory)


class Cover(NamedTuple):
    """What stays in view while a page scrolls, at its top. fixed: whether it does so wherever
    the page is scrolled to; else it is sticky. top: its upper edge in the view while it
    stays. natural: how far down the page it stands by itself. limit: how far down the page
    what holds it ends, at which it goes along."""

    fixed: bool
    top: float
    height: float
    natural: float = 0
    limit: float = float("inf")

    def bottom_at(self, y: float) -> float:
        """Its lower edge in the view when the page is scrolled so far."""
        if self.fixed:
            return self.top + self.height
        stuck = max(self.natural - y, self.top)
        return min(stuck, self.limit - y - self.height) + self.height


class View(NamedTuple):
    """A page at one width. height: of the view. page: of the whole page. padding: its
    scroll-padding-top. snap: "", MANDATORY or PROXIMITY; snaps: where scrolling stops. late:
    how far down pictures stand that have no size until they have loaded, which is late. foot:
    how much of the view is covered from its bottom, as bars that stay there do."""

    width: float
    height: float
    page: float
    padding: float = 0
    covers: Sequence[Cover] = ()
    snap: str = ""
    snaps: Sequence[float] = ()
    late: Sequence[float] = ()
    foot: float = 0


class Box(NamedTuple):
    """A scrolling box around a target. top: how far down the page its inside begins. height:
    of what it shows; inside: of what it holds. padding: its scroll-padding-top."""

    top: float
    height: float
    inside: float
    padding: float = 0


class Target(NamedTuple):
    """What a hop ends at. top: of its border box, how far down the page (or, in scrolling
    boxes, with these scrolled to their top). margin: its scroll-margin-top. content: where
    the first line begins that readers see in it or below it, and line, how tall that is.
    heading: where the heading that it marks ends, for a marker below it; 0 for none. boxes:
    around it, innermost first."""

    top: float
    margin: float
    content: float
    line: float
    heading: float = 0
    boxes: Sequence[Box] = ()


class Landing(NamedTuple):
    """y: how far the page is scrolled. seen: where in the view the first line stands. under:
    where in the view what covers it ends. verdict: and by how much, in pixels. moves: whether
    pictures above it that load late move it. foot: how much is covered from the bottom, and
    below: whether it is that which covers the first line."""

    y: float
    seen: float
    under: float
    verdict: str
    by: int = 0
    moves: bool = False
    foot: float = 0
    below: bool = False


def scrolled_to(view: View, target: Target) -> tuple[float, float]:
    """How far the page is scrolled when a hop ends at the target; and how far boxes around
    it are, together."""
    top, inner = target.top - target.margin, 0.0
    for box in target.boxes:
        wanted = top - inner - box.top - box.padding
        inner += min(max(0.0, wanted), max(0.0, box.inside - box.height))
    y = _held(top - inner - view.padding, view)
    return _snapped(y, view), inner


def _held(y: float, view: View) -> float:
    return min(max(0.0, y), max(0.0, view.page - view.height))


def _snapped(y: float, view: View) -> float:
    if not view.snap or not view.snaps:
        return y
    nearest = min(view.snaps, key=lambda one: abs(one - y))
    if view.snap == MANDATORY or abs(nearest - y) <= _NEAR * view.height:
        return _held(nearest, view)
    return y


def landing(view: View, target: Target | None, state: str = "") -> Landing:
    """What a reader gets who follows a hop to a target; None for one that is not there.
    state: SHUT where it stands in a part that nothing opens."""
    if target is None:
        return Landing(0, 0, 0, NOWHERE)
    y, inner = scrolled_to(view, target)
    under = covered_to(view.covers, y)
    seen = target.content - inner - y
    if state == SHUT:
        return Landing(y, seen, under, SHUT)
    moves = any(top < target.top for top in view.late)
    verdict, by = _verdict(view, target, y, seen, under)
    below = _hidden_below(view, target, seen)
    if below > max(_LEAST, by if verdict == COVERED else 0) and verdict != CUT:
        return Landing(y, seen, under, COVERED, round(below), moves, view.foot, True)
    return Landing(y, seen, under, verdict, by, moves, view.foot)


def _hidden_below(view: View, target: Target, seen: float) -> float:
    """How much of the first line what stays at the view's bottom hides: near the page's end
    nothing can be scrolled up past it."""
    if not view.foot:
        return 0
    return min(target.line, seen + target.line - (view.height - view.foot))


def at_content(target: Target) -> Target:
    """The same place marked where readers see it first: at the heading above a marker that
    stands below one, else at the first line. How tall that heading is nobody has measured:
    one line is reckoned."""
    top = target.heading - target.line if target.heading else target.content
    return Target(top, 0, top, target.line, 0, target.boxes)


def covered_to(covers: Iterable[Cover], y: float) -> float:
    """How far down the view is covered from its top, by one thing or several stacked."""
    edge = 0.0
    for one in sorted(covers, key=lambda cover: cover.top):
        bottom = one.bottom_at(y)
        if bottom - one.height <= edge + 1:  # it begins where the last one ends, or above
            edge = max(edge, bottom)
    return edge


def _verdict(view: View, target: Target, y: float, seen: float, under: float) -> tuple[str, int]:
    hidden = min(target.line, under - seen)
    if target.heading and target.heading - y <= under + _LEAST:
        return CUT, round(under - (target.heading - y))
    if hidden > _LEAST:
        return COVERED, round(hidden)
    if target.heading:  # what a reader sees first is the heading that stands above
        seen = min(seen, target.heading - y - target.line)
    is_end = y >= view.page - view.height - 1
    wanted = target.top - target.margin - view.padding
    if is_end and wanted > y + 1:
        return SHORT, round(seen - under)
    if seen - under > _EMPTY and not _is_top(y):
        return GAP, round(seen - under)
    return CLEAR, 0


def _is_top(y: float) -> bool:
    """At the top of a page its own beginning is what a reader expects."""
    return y < 1


def says(landed: Landing) -> str:
    """A verdict in a few words."""
    return _said(landed) + (", until pictures above have loaded" if landed.moves else "")


def _said(landed: Landing) -> str:
    return {
        NOWHERE: "nowhere",
        SHUT: "in a closed part",
        COVERED: f"covered by {landed.by} px{', from below' if landed.below else ''}",
        CUT: "the heading is cut off",
        GAP: f"{landed.by} px of empty space",
        SHORT: f"page ends: {landed.by} px down",
        CLEAR: "clear",
    }[landed.verdict]


def worst(landings: Iterable[Landing]) -> str:
    """The worst verdict of several, "" of none."""
    return min((one.verdict for one in landings), key=VERDICTS.index, default="")
