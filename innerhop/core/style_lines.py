"""The lines of style that leave room for a header which stays in view.

CSS Scroll Snap 1, "scroll-padding" and "scroll-margin"; Selectors 4, ":target".
"""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise

AIR = 16  # px between the header and what comes below it (common practice, no source)
MOST_AIR = 200

# Where the room is made: once for the page, or on whatever a hop ends at.
PAGE, TARGET = "page", "target"
_DECLARED = {PAGE: ("html", "scroll-padding-top"), TARGET: (":target", "scroll-margin-top")}


def makes_room(css: str) -> bool:
    """Whether lines leave room above what hops end at."""
    return any(name in css for _, name in _DECLARED.values())


def room(headers: Mapping[int, int], air: int = AIR, where: str = PAGE) -> str:
    """The lines that leave room for a header. headers: by the width of the view, how
    tall it is there, both in CSS pixels. air: below it. where: PAGE or TARGET. "" where no
    header covers anything.

    Where a header changes its height between two measured widths nobody knows,
    so between them the taller one counts.
    """
    widths = sorted(headers)
    if not any(headers.values()):
        return ""
    tallest = [headers[widths[0]]]
    tallest += [max(headers[one], headers[two]) for one, two in pairwise(widths)]
    tallest.append(headers[widths[-1]])
    part, name = _DECLARED[where]
    lines = [f"{part} {{ {name}: {tallest[0] + air}px }}"]
    before = tallest[0]
    for width, height in zip(widths, tallest[1:], strict=True):
        if height != before:
            rule = f"{part} {{ {name}: {height + air}px }}"
            lines.append(f"@media (min-width: {width}px) {{ {rule} }}")
        before = height
    return "\n".join(lines)
