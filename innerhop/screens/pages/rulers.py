"""Pages as small rulers: their sections and marks, to scale."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

RULER_WIDTH = 560
_APART = 6.8  # how far apart two dots have to be, to be told apart


@dataclass
class PageRuler:
    """A small ruler as the paths of its drawing, RULER_WIDTH wide at most.

    odd and even: sections in turn; marked and unmarked: their dots; lead: what
    comes before the first section. break_at: where the mark of a break stands.
    """

    length: float
    lead: float
    odd: str
    even: str
    marked: str
    unmarked: str

    @property
    def break_at(self) -> int:
        return round(self.length) - 26


def ruler(tops: Sequence[float], height: float, marked: Sequence[bool], scale: float) -> PageRuler:
    """A page's sections along its ruler, each kind of shape in one path: a handbook of two
    thousand sections is still four shapes. tops: of its sections; marked: whether each has a
    mark; height: of the page, in the same unit. scale: pixels of the drawing to one of these."""
    edges = [top * scale for top in (*tops, height)]
    strips: tuple[list[str], list[str]] = ([], [])
    places: tuple[list[float], list[float]] = ([], [])
    for at, is_marked in enumerate(marked):
        x, width = edges[at], max(0.0, edges[at + 1] - edges[at])
        strips[at % 2].append(f"M{x:.1f} 12h{width:.1f}v18h-{width:.1f}z")
        places[not is_marked].append(x)
    dots = [" ".join(_dots(found)) for found in places]
    odd, even = (" ".join(paths) for paths in strips)
    return PageRuler(edges[-1], edges[0], odd, even, *dots)


def _dots(places: Sequence[float]) -> Iterator[str]:
    """A dot at each place; where dots would touch, one bar for all of them, the taller
    the closer they stand."""
    at = 0
    while at < len(places):
        last = at
        while last + 1 < len(places) and places[last + 1] - places[last] < _APART:
            last += 1
        if last - at < 2:
            yield from (f"M{x - 3.4:.1f} 12a3.4 3.4 0 1 0 6.8 0a3.4 3.4 0 1 0-6.8 0"
                        for x in places[at : last + 1])  # fmt: skip
        else:
            width = places[last] - places[at]
            tall = min(11.0, 3.0 + 8.0 * _APART * (last - at) / max(width, _APART) / 8)
            yield f"M{places[at]:.1f} {12 - tall / 2:.1f}h{width:.1f}v{tall:.1f}h-{width:.1f}z"
        at = last + 1
