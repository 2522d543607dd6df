"""Empty markers: elements that are there for their ID only, which visitors don't see.

https://www.w3.org/TR/CSS22/visuren.html#inline-formatting: a line box that holds
nothing but empty inline elements has no height and is treated as not existing, so a
marker between blocks moves nothing.
"""

from __future__ import annotations

from innerhop.core.source.tree import Source

# What people make markers of (practice).
TAGS = frozenset(("a", "span", "div", "i", "p"))
_PLAIN_ATTRIBUTES = frozenset(("id", "name", "class", "aria-hidden"))


def is_marker(source: Source, number: int) -> bool:
    """Whether an element is there for its ID or name only: nothing in it, no
    link, and nothing that a reader could see."""
    if source.reading.tag(number) not in TAGS or source.reading.has_inside(number):
        return False
    if source.text_of(number).strip():
        return False
    return _PLAIN_ATTRIBUTES.issuperset(source.attributes(number))
