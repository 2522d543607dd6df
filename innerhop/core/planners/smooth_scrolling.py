"""Smooth scrolling, asked for in the page's own head, and only for visitors who
have not asked for less motion.

CSSOM View 1, "scroll-behavior"; Media Queries 5, "prefers-reduced-motion".
"""

from __future__ import annotations

from innerhop.core.edits import Edit, apply
from innerhop.core.proof import same_but
from innerhop.core.source.tree import Source

STYLE = (
    "<style>@media (prefers-reduced-motion: no-preference)"
    " { html { scroll-behavior: smooth } }</style>"
)


class CannotSmooth(ValueError):
    """The page has no place where a style could be put safely; says what to do."""


def plan_smooth(source: Source) -> list[Edit]:
    """The edits that put the style at the end of the page's head.

    Raises CannotSmooth when the page has no head of its own in its text.
    """
    place = _end_of_head(source)
    if place is not None:
        edits = [Edit(place, "", STYLE)]
        if _is_style_only(source, Source(apply(source.text, edits)), place):
            return edits
    raise CannotSmooth(
        "This page's text has no head to put the style in. Add the line to the site's own "
        f"style sheet instead: {STYLE.removeprefix('<style>').removesuffix('</style>')}"
    )


def _is_style_only(old: Source, new: Source, place: int) -> bool:
    number = new.element_at(place)
    return number is not None and same_but(old, new, added=[number])


def _end_of_head(source: Source) -> int | None:
    """Where the head ends in the text: before its end tag, or else behind the
    title, since a head without an end tag goes on until something visible."""
    closing = source.end_tag(1) if len(source.nodes) > 1 else None
    if closing is not None:
        return closing.start
    for number, node in enumerate(source.nodes):
        if node.tag == "title":
            tag = source.end_tag(number)
            return tag.end if tag else None
    return None
