"""The lines of style that leave room for a header which stays in view.

CSS Scroll Snap 1, "scroll-padding".
"""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise

AIR = 16  # px between the header and what comes below it (common practice, no source)


def room(headers: Mapping[int, int]) -> str:
    """The lines that leave room for a header. headers: by the width of the view, how
    tall it is there, both in CSS pixels. "" where no header covers anything.

    Where a header changes its height between two measured widths nobody knows,
    so between them the taller one counts.
    """
    widths = sorted(headers)
    if not any(headers.values()):
        return ""
    tallest = [headers[widths[0]]]
    tallest += [max(headers[one], headers[two]) for one, two in pairwise(widths)]
    tallest.append(headers[widths[-1]])
    lines = [f"html {{ scroll-padding-top: {tallest[0] + AIR}px }}"]
    before = tallest[0]
    for width, height in zip(widths, tallest[1:], strict=True):
        if height != before:
            rule = f"html {{ scroll-padding-top: {height + AIR}px }}"
            lines.append(f"@media (min-width: {width}px) {{ {rule} }}")
        before = height
    return "\n".join(lines)
