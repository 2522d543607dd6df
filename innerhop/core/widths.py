"""The three widths that pages are looked at in, in CSS pixels.

390 × 844 and 820 × 1180 are common phones and tablets held upright, 1280 × 800
a small laptop (practice).
"""

from typing import NamedTuple


class Width(NamedTuple):
    """A screen: its name, and the width and height of the reader's view."""

    name: str
    width: int
    view: int


PHONE = Width("Phone", 390, 844)
TABLET = Width("Tablet", 820, 1180)
LAPTOP = Width("Laptop", 1280, 800)
ALL = (PHONE, TABLET, LAPTOP)
LEAST, MOST = 240, 3_840  # of a width that someone wants to look at


def of(width: int) -> Width:
    """A screen so wide: one of the three, or as tall as the one of them that is nearest.
    width: from LEAST to MOST."""
    nearest = min(ALL, key=lambda one: abs(one.width - width))
    return nearest if nearest.width == width else Width("Width", width, nearest.view)
