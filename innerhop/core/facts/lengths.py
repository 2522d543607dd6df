"""How long a page is, as far as its words tell, until a browser has measured it; and what
follows from its length.

Practice: the straight line that fits the pages of our demo site at 1280 px best.
"""

from __future__ import annotations

PIXELS_A_WORD = 3.3
FRAME = 700  # px of header, footer and the like


def guessed_height(words: int) -> float:
    """The height of a page with so many words, in CSS pixels."""
    return FRAME + words * PIXELS_A_WORD


# Where readers would scroll on and on (common practice, no source).
LIST_SCREENS, LIST_SECTIONS = 3, 4


def needs_list(screens: float, sections: int) -> bool:
    """Whether a page so long, with so many sections, is easier to read with a contents list."""
    return screens >= LIST_SCREENS and sections >= LIST_SECTIONS
