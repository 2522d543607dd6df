"""Markup of three texts beside each other: what is different in it, and where it stands."""

from __future__ import annotations

import re

from rapidfuzz.distance import Indel

from innerhop.core.facts.words import words
from innerhop.core.merge.merging import Meeting, Merged
from innerhop.core.source.content_models import LEVELS

_LONGEST = 700  # characters of a part's markup
_TOKEN = re.compile(r"\s+|\w+|.", re.DOTALL)


def shortened(markup: str) -> str:
    """A part's markup, its middle left out where it is long."""
    if len(markup) <= _LONGEST:
        return markup
    half = _LONGEST // 2
    return f"{markup[:half]} … {markup[-half:]}"


def marked(base: str, other: str) -> list[tuple[bool, str]]:
    """A part's markup in pieces, each with whether it is new against what it was."""
    old, new = _TOKEN.findall(shortened(base)), _TOKEN.findall(shortened(other))
    found: list[tuple[bool, str]] = []
    for step in Indel.opcodes(old, new):
        text = "".join(new[step.dest_start : step.dest_end])
        if text:
            found.append((step.tag != "equal", text))
    return found


def place(merged: Merged, meeting: Meeting) -> str:
    """Where a meeting is: the heading that it is, or stands under; "" before the first."""
    source, first = merged.base, meeting.ground.first
    for number in range(first, -1, -1):
        if source.tags[number] in LEVELS:
            called = f"“{words(source, number)}”"
            return called if number == first else f"under {called}"
    return ""
