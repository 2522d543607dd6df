"""How long a page is, as far as its words tell, until a browser has measured it.

Practice: the straight line that fits the pages of our demo site at 1280 px best.
"""

from __future__ import annotations

PIXELS_A_WORD = 3.3
FRAME = 700  # px of header, footer and the like


def guessed_height(words: int) -> float:
    """The height of a page with so many words, in CSS pixels."""
    return FRAME + words * PIXELS_A_WORD
