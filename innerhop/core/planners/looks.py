"""What a button looks like, written into the link that it becomes.

Styles for `button`, and the look that browsers give buttons by themselves, don't hold for
a link (HTML Standard, Rendering, #the-button-element-2). The sheet has the page's styles
at hand and says which values a link in the button's place would lack (CSSOM, computed
values); these go into the link's own `style`.
"""

from __future__ import annotations

import re
from collections.abc import Mapping

from innerhop.core.source.tree import Source

# What the look of a button is made of; nothing else is taken over.
PROPERTIES = frozenset((
    "display", "box-sizing", "color", "background-color", "background-image", "border",
    "border-top", "border-right", "border-bottom", "border-left", "border-radius", "padding",
    "margin", "font-family", "font-size", "font-weight", "font-style", "line-height",
    "letter-spacing", "text-transform", "text-align", "text-decoration", "text-shadow",
    "box-shadow", "white-space", "min-width", "min-height", "cursor",
))  # fmt: skip
_LONGEST = 300  # characters of a value
_NOT_A_VALUE = re.compile(r"[;{}<>\\@]|url\(|/\*|expression|javascript", re.IGNORECASE)
# A rule for buttons that are pointed at, or have the focus.
_STATES = re.compile(r"\bbutton\b[^{},;]*:(?:hover|focus|active)", re.IGNORECASE)

Look = Mapping[str, str]


def is_look(name: str, value: str) -> bool:
    """Whether that is a declaration which may go into a link: of a known property, and a
    value that ends where it seems to end."""
    return name in PROPERTIES and 0 < len(value) <= _LONGEST and not _NOT_A_VALUE.search(value)


def style_with(source: Source, number: int, look: Look) -> str | None:
    """The `style` of a link that is to look like a button: the button's own, and what a
    link lacks. None where there is nothing to write."""
    own = (source.attr(number, "style") or "").strip().rstrip(";")
    lacking = "; ".join(f"{name}: {value}" for name, value in look.items())
    return "; ".join(part for part in (own, lacking) if part) or None


def has_states(css: str) -> bool:
    """Whether styles give buttons another look when they are pointed at."""
    return bool(_STATES.search(css))


def styles_of(source: Source) -> str:
    """The page's own styles."""
    return "\n".join(source.text_of(element.number) for element in source.of_tags("style"))
