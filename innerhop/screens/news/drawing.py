"""Strips of pages that came anew: sections, what was changed there above, what here below, and
where they meet."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

WIDTH = 430
_SHORTEST = 60
_BAR = 6  # what was changed there is at least so wide


@dataclass(frozen=True)
class NewsStrip:
    """A page, drawn. length: how wide. odd: path of every other section. there: bars as left and
    width. here: places. meets: places."""

    length: float
    odd: str
    there: list[tuple[float, float]]
    here: list[float]
    meets: list[float]


def strip(told: Mapping[str, Any], longest: int) -> NewsStrip:
    """The strip of what was found of a page (see `library.bring_in.news`)."""
    length = max(_SHORTEST, WIDTH * told.get("length", 1) / max(longest, 1))
    edges = [0.0, *(length * one for one in told.get("sections", [])), length]
    odd = "".join(f"M{a:.1f} 0h{b - a:.1f}v20h{a - b:.1f}z" for a, b in list(pairwise(edges))[1::2])
    there = [_bar(start * length, end * length, length) for start, end in told["there"]]
    return NewsStrip(
        length, odd, there, [length * one[0] for one in told["here"]],
        [length * one["at"] for one in told["meetings"]],
    )  # fmt: skip


def _bar(start: float, end: float, length: float) -> tuple[float, float]:
    width = max(_BAR, end - start)
    return min(start, length - width), width
