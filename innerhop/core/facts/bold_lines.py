"""Lines that serve as headings: short paragraphs that are bold from end to end, as people
write them who have no heading at hand (common practice, no source)."""

from __future__ import annotations

from collections import Counter

from innerhop.core.facts import layout_tables
from innerhop.core.facts.captions import is_counted, labels_box, what_follows
from innerhop.core.facts.words import words
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.elements import Element
from innerhop.core.source.tree import Source

_LONGEST = 100  # characters, as a title has them
_TAGS = ("b", "strong")
_BOLD = f":is({', '.join(_TAGS)})"
# Something has to follow that the line could be the heading of.
_LINE = ":is(p, div):not(:last-child)"
_MAYBE = f"{_LINE} > {_BOLD}:only-child, {_LINE} > span:only-child > {_BOLD}:only-child"
# Bold lines in these are entries, captions or buttons; in a table, words of its figures.
_NOT_IN = ", ".join((
    "li", "dl", "blockquote", "figure", "button", "summary", "label", "form", "a",
    "template", *LEVELS,
))  # fmt: skip
_OFTEN = 4  # times the same words on a page: a label
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
        if title and names_text(source, line, title):
            found[line] = title
    return less_labels(found)


def less_labels(lines: dict[int, str]) -> dict[int, str]:
    """Those that don't stand on the page again and again, as labels do."""
    times = Counter(title.casefold() for title in lines.values())
    return {line: title for line, title in lines.items() if times[title.casefold()] < _OFTEN}


def is_bold_line(source: Source, number: int) -> bool:
    """Whether one element is such a line."""
    reading = source.reading
    inside = range(number + 1, min(number + 3, len(source)))
    bold = next((one for one in inside if reading.tag(one) in _TAGS), -1)
    if bold < 0 or not reading.is_within(bold, _MAYBE):
        return False
    title = _title(source, number, bold)
    return bool(title) and names_text(source, number, title)


def names_text(source: Source, line: int, title: str) -> bool:
    """Whether what follows a line is text that it could be the title of: no list of links,
    which it would be the label of, and, behind a colon, a paragraph or a list."""
    if labels_box(source, line):
        return False
    after = what_follows(source, line)
    if not isinstance(after, Element):
        return after is not None and not title.endswith(":")
    if after.tag in ("pre", "table", "dl"):  # which it is a label of
        return False
    text = source.text_of(after.number)
    if title.endswith(":") and after.tag != "p":
        return False
    linked = sum(len(source.text_of(one)) for one in source.reading.inside(after.number, "a"))
    return 2 * linked <= len(text) or not text.strip()


def _title(source: Source, line: int, bold: int) -> str:
    """The words of a line with bold words in it, if these are all of it and it could be a
    heading; else ""."""
    title = words(source, bold)
    reading = source.reading
    if not is_title(title) or reading.is_within(line, _NOT_IN):
        return ""
    if reading.is_within(line, "table") and not layout_tables.lays_out(source, line):
        return ""
    if reading.has_inside(bold, "code"):  # a formula, or a line of a program
        return ""
    is_link = any(words(source, one) == title for one in reading.inside(bold, "a"))
    return title if title == words(source, line) and not is_link else ""


def is_title(text: str) -> bool:
    """Whether words read like a heading: few, and no sentence that ends."""
    if len(text) > _LONGEST or not any(character.isalpha() for character in text):
        return False
    return not text.endswith(_ENDS_A_SENTENCE) and not is_counted(text)
