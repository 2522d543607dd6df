"""Smooth scrolling, asked for in the page's own head, and only for visitors who
have not asked for less motion.

CSSOM View 1, "scroll-behavior"; Media Queries 5, "prefers-reduced-motion".
"""

from __future__ import annotations

from innerhop.core.edits import Edit
from innerhop.core.plan import Claim, NewElement, Plan
from innerhop.core.refusals import Refusal
from innerhop.core.source.tree import Source

STYLE = (
    "<style>@media (prefers-reduced-motion: no-preference)"
    " { html { scroll-behavior: smooth } }</style>"
)


class CannotSmooth(Refusal):
    """The page has no place where a style could be put safely; says what to do."""


def plan_smooth(source: Source) -> Plan:
    """Put the style at the end of the page's head.

    Raises CannotSmooth when the page has no head of its own in its text.
    """
    place = _end_of_head(source)
    if place is None:
        raise CannotSmooth(
            "This page's text has no head to put the style in. Add the line to the site's own "
            f"style sheet instead: {STYLE.removeprefix('<style>').removesuffix('</style>')}"
        )
    text = STYLE.removeprefix("<style>").removesuffix("</style>")
    return Plan([Edit(place, "", STYLE)], Claim(new=[NewElement(0, 0, "style", {}, text)]))


def _end_of_head(source: Source) -> int | None:
    """Where the head ends in the text: before its end tag, or else behind the
    title, since a head without an end tag goes on until something visible."""
    closing = source.end_tag(1) if len(source) > 1 else None
    if closing is not None:
        return closing.start
    title = next(source.of_tags("title"), None)
    tag = source.end_tag(title.number) if title else None
    return tag.end if tag else None
