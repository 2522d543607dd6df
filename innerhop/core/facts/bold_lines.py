"""Lines that serve as headings: short paragraphs that are bold from end to end, as people
write them who have no heading at hand (common practice, no source)."""

from __future__ import annotations

from innerhop.core.facts.words import words
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.tree import Source

LEVEL = 0  # in place of a heading's level, where lines and headings stand in one list
_LONGEST = 100  # characters, as a title has them
_TAGS = ("b", "strong")
_BOLD = f":is({', '.join(_TAGS)})"
# Something has to follow that the line could be the heading of.
_LINE = ":is(p, div):not(:last-child)"
_MAYBE = f"{_LINE} > {_BOLD}:only-child, {_LINE} > span:only-child > {_BOLD}:only-child"
# Bold lines in these are entries, captions or buttons.
_NOT_IN = ", ".join((
    "table", "li", "dl", "blockquote", "figure", "button", "summary", "label", "form", "a",
    "template", *LEVELS,
))  # fmt: skip
_ENDS_A_SENTENCE = (".", "!", ",", ";", "…")


def bold_lines(source: Source) -> dict[int, str]:
    """The lines of a page that serve as headings, by the number of each paragraph, with
    their words. Those in the site's frame are among them."""
    reading = source.reading
    if not (any(reading.has(tag) for tag in _TAGS)):
        return {}
    found = {}
    for number in reading.matching(_MAYBE):
        parent = source.parent(number)
        line = source.parent(parent) if reading.tag(parent) == "span" else parent
        title = _title(source, line, number)
        if title:
            found[line] = title
    return found


def is_bold_line(source: Source, number: int) -> bool:
    """Whether one element is such a line."""
    reading = source.reading
    inside = range(number + 1, min(number + 3, len(source)))
    bold = next((one for one in inside if reading.tag(one) in _TAGS), -1)
    return bold > 0 and reading.is_within(bold, _MAYBE) and bool(_title(source, number, bold))


def _title(source: Source, line: int, bold: int) -> str:
    """The words of a line with bold words in it, if these are all of it and it could be a
    heading; else ""."""
    title = words(source, bold)
    if not _is_title(title) or source.reading.is_within(line, _NOT_IN):
        return ""
    is_link = any(words(source, one) == title for one in source.reading.inside(bold, "a"))
    return title if title == words(source, line) and not is_link else ""


def _is_title(text: str) -> bool:
    """Whether words read like a heading: few, and no sentence that ends."""
    if len(text) > _LONGEST or not any(character.isalpha() for character in text):
        return False
    return not text.endswith(_ENDS_A_SENTENCE)
