"""Text nodes, and where in the page's text each of their characters stands."""

from __future__ import annotations

import re
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class TextRun:
    """One text node and where each of its characters stands in the page's text.

    pieces: (index in `data`, place in the text, length in `data`, length in
    the text); a character reference is a piece of its own.
    """

    data: str
    pieces: tuple[tuple[int, int, int, int], ...]

    def start_place(self, index: int) -> int:
        """The place in the text where the character at `index` begins."""
        for at, place, length, width in self.pieces:
            if at <= index < at + length:
                return place + (index - at if length == width else 0)
        return self.end_place(index)

    def end_place(self, index: int) -> int:
        """The place in the text just after the character before `index`."""
        for at, place, length, width in reversed(self.pieces):
            if at < index <= at + length:
                return place + (index - at if length == width else width)
        return self.pieces[0][1]


def pieces_of(
    at: int, data: str, text: str, first: int, last: int
) -> list[tuple[int, int, int, int]]:
    """Characters that stand at text[first:last] as pieces that match one for one.

    A line end written CR LF is one character of data and two of text.
    """
    if "\r\n" not in text[first:last]:
        return [(at, first, len(data), last - first)]
    pieces = []
    place = first
    for part in re.findall("[^\n]+|\n", data):
        width = 2 if part == "\n" and text.startswith("\r\n", place) else len(part)
        pieces.append((at, place, len(part), width))
        at, place = at + len(part), place + width
    return pieces
