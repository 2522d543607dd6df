"""Where the counts of ribbons stand on the map: on their ribbon, in a gap between rulers, and
never over one another."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

Point = tuple[float, float]
Curve = tuple[Point, Point, Point, Point]

_LETTER = 7.0  # how wide a digit is, about
_HEIGHT = 14.0
_AIR = 2.0
# Where along a ribbon a count is tried: the middle first, then further and further from it.
_TRIED = [0.5, *(0.5 + way * step / 20 for step in range(1, 9) for way in (-1, 1))]


@dataclass
class MapLabels:
    """The counts placed so far. rulers: the left edges of all rulers; width: of each."""

    rulers: Sequence[float]
    width: float
    _taken: list[tuple[float, float, float]] = field(default_factory=list)

    def place(self, curve: Curve, count: int) -> Point | None:
        """The middle of where a count stands on a ribbon, drawn as a cubic curve; None where
        there is no room for it."""
        half = len(str(count)) * _LETTER / 2 + _AIR
        for at in _TRIED:
            x, y = point_of(curve, at)
            if self._is_free(x, y, half):
                self._taken.append((x, y, half))
                return x, y
        return None

    def _is_free(self, x: float, y: float, half: float) -> bool:
        on_ruler = any(x + half > one and x - half < one + self.width for one in self.rulers)
        return not on_ruler and not any(
            abs(x - other) < half + wide and abs(y - height) < _HEIGHT
            for other, height, wide in self._taken
        )


def point_of(curve: Curve, at: float) -> Point:
    """A point of a cubic Bézier curve (SVG 2, “cubic Bézier curve commands”); at: 0 to 1.

    >>> point_of(((0, 0), (0, 0), (8, 8), (8, 8)), 0.5)
    (4.0, 4.0)
    """
    rest = 1 - at
    shares = (rest**3, 3 * rest**2 * at, 3 * rest * at**2, at**3)
    x = sum(share * one[0] for share, one in zip(shares, curve, strict=True))
    return x, sum(share * one[1] for share, one in zip(shares, curve, strict=True))
