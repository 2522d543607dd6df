"""Strips of pages with what was planned for them."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

from innerhop.core.live.station import Station
from innerhop.library.live.standing import PageStanding

WIDTH = 430
_SHORTEST = 80
_APART = 17  # px between two stations: what stands closer is drawn side by side


@dataclass(frozen=True)
class Drawn:
    """A page. length: how wide. odd: the path of every other section. stops: with their places."""

    length: float
    odd: str
    stops: list[tuple[Station, float]]


def drawn(standing: PageStanding, longest: int) -> Drawn:
    """A page to scale: the longest is WIDTH wide."""
    length = max(_SHORTEST, WIDTH * standing.length / max(1, longest))
    edges = [0.0, *(length * at for at in standing.sections), length]
    odd = "".join(f"M{a:.1f} 0h{b - a:.1f}v22h{a - b:.1f}z" for a, b in list(pairwise(edges))[1::2])
    placed: list[tuple[Station, float]] = []
    last = -float("inf")
    for stop in sorted(standing.stops, key=lambda one: one.at):
        last = max(length * stop.at, last + _APART)
        placed.append((stop, last))
    over = last - max(length, WIDTH)
    if over > 0:  # too many for the strip: closer together
        placed = [(stop, x * (1 - over / last)) for stop, x in placed]
    return Drawn(length, odd, placed)
