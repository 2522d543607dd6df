"""What Live draws: strips of pages with what was planned for them, and how it went."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise

from innerhop.core.live.station import LiveStation
from innerhop.library.live import telling
from innerhop.library.live.standing import PageStanding
from innerhop.library.models import Look

WIDTH = 430
_SHORTEST = 80
_APART = 17  # px between two stations: what stands closer is drawn side by side


@dataclass(frozen=True)
class DrawnPage:
    """A page. length: how wide. odd: the path of every other section. stops: with their places."""

    length: float
    odd: str
    stops: list[tuple[LiveStation, float]]


def drawn(standing: PageStanding, longest: int) -> DrawnPage:
    """A page to scale: the longest is WIDTH wide."""
    length = max(_SHORTEST, WIDTH * standing.length / max(1, longest))
    edges = [0.0, *(length * at for at in standing.sections), length]
    odd = "".join(f"M{a:.1f} 0h{b - a:.1f}v22h{a - b:.1f}z" for a, b in list(pairwise(edges))[1::2])
    placed: list[tuple[LiveStation, float]] = []
    last = -float("inf")
    for stop in sorted(standing.stops, key=lambda one: one.at):
        last = max(length * stop.at, last + _APART)
        placed.append((stop, last))
    over = last - max(length, WIDTH)
    if over > 0:  # too many for the strip: closer together
        placed = [(stop, x * (1 - over / last)) for stop, x in placed]
    return DrawnPage(length, odd, placed)


@dataclass(frozen=True)
class Went:
    """A look, in the drawing of how it went. count: of hops that led nowhere. is_told: whether
    that is another number than at the look before. note: what changed, where there is room.
    pk: the look's where something changed, else 0."""

    x: float
    y: float
    count: int
    made: datetime
    is_told: bool
    note: str
    pk: int


_SPAN = 880  # px
_NOTE = 130  # px that a note takes


def went(looks: Sequence[Look]) -> list[Went]:
    """How many hops led nowhere, look by look. looks: the newest first."""
    counts = [one.broken or 0 for one in reversed(looks)]
    most = max(counts, default=0) or 1
    step = _SPAN / max(1, len(counts) - 1)
    found: list[Went] = []
    free = 60.0  # where the date of the first look ends
    for at, (one, count) in enumerate(zip(reversed(looks), counts, strict=True)):
        x = at * step
        has_room = free <= x <= _SPAN - 1.2 * _NOTE
        note = _note(one) if at and has_room else ""
        free = x + _NOTE if note else free
        is_told = at == 0 or count != counts[at - 1]
        found.append(Went(x, 60 - 46 * count / most, count, one.made, is_told, note,
                          one.pk if one.changed else 0))  # fmt: skip
    return found


def _note(look: Look) -> str:
    broke, mended = telling.broke(look), telling.mended(look)
    if broke:
        end = broke[0]["href"].rpartition("#")[2][:12]
        return f"#{end} broke" if len(broke) == 1 else f"{len(broke)} broke"
    return f"{len(mended)} mended" if mended else ""
