"""Lines of style in a page's own head, for what its hops need: that they glide, and that
what stays at the top of the view leaves room.

CSSOM View 1, "scroll-behavior"; Media Queries 5, "prefers-reduced-motion".
"""

from __future__ import annotations

from innerhop.core.formats import html
from innerhop.core.plan import NewElement, Plan
from innerhop.core.refusals import Refusal
from innerhop.core.source import markup
from innerhop.core.source.tree import Source

SMOOTH = "@media (prefers-reduced-motion: no-preference) { html { scroll-behavior: smooth } }"


class CannotStyle(Refusal):
    """The page has no place where a style could be put safely; says what to do."""


def plan_style(source: Source, css: str) -> Plan:
    """Put a style at the end of the page's head.

    Raises CannotStyle when the page has no head of its own in its text.
    """
    place = end_of_head(source)
    if place is None:
        raise CannotStyle(
            "This page's text has no head to put the style in. Add this to the site's own "
            f"style sheet instead: {css}"
        )
    made = NewElement(0, 0, "style", {}, css)
    return html.put_as_written(place, markup.raw_text("style", css), made)


def end_of_head(source: Source) -> int | None:
    """Where the head ends in the text: before its end tag, or else behind the
    title, since a head without an end tag goes on until something visible."""
    closing = source.end_tag(1) if len(source) > 1 else None
    if closing is not None:
        return closing.start
    title = next((one for one in source.of_tags("title") if source.parent(one.number) == 1), None)
    tag = source.end_tag(title.number) if title else None
    return tag.end if tag else None
