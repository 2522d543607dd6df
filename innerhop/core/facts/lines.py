"""Lines that serve as headings, by whichever sign."""

from __future__ import annotations

from innerhop.core.facts.bold_lines import bold_lines, is_bold_line
from innerhop.core.facts.styled_lines import is_styled_line, styled_lines
from innerhop.core.source.tree import Source

LEVEL = 0  # in place of a heading's level, where lines and headings stand in one list


def lines(source: Source) -> dict[int, str]:
    """The lines of a page that serve as headings, by the number of each block, with their
    words. Those in the site's frame are among them."""
    return styled_lines(source) | bold_lines(source)


def is_line(source: Source, number: int) -> bool:
    """Whether one element is such a line."""
    return is_bold_line(source, number) or is_styled_line(source, number)
