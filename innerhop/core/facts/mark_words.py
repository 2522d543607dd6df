"""What a marked part is called where an editor looks for it: by its first words."""

from __future__ import annotations

from itertools import islice

from innerhop.core.facts.signs import is_sign_link, unsaid
from innerhop.core.source.content_models import LEVELS, PHRASING
from innerhop.core.source.elements import Element, Text
from innerhop.core.source.tree import Source

LONGEST = 80  # characters: enough to know a part by
# Of each part no more is read: thousands may stand in each other.
_NODES = 40
_BESIDE = 4
_TITLES = frozenset((*LEVELS, "caption", "figcaption", "legend", "summary", "dt", "b", "strong"))
_FEWEST = 3  # letters of a title
# What holds blocks, not a line of words.
_ROOMS = frozenset((
    "html", "body", "main", "div", "section", "article", "aside", "header", "footer", "nav",
    "form", "ul", "ol", "dl", "table", "thead", "tbody", "tfoot", "tr", "template",
))  # fmt: skip


def words_of(source: Source, number: int) -> str:
    """The words that an element is known by: of the title that it begins with (a heading,
    a caption, bold words), else its first few; of a picture, its alternative text; of
    one that is empty, those of the line that it stands in or before. "" for none."""
    # A list of links is called what screen readers call it, not by its links.
    named = source.attr(number, "aria-label") if source.reading.tag(number) == "nav" else ""
    return _few(named or _own(source, number) or _beside(source, number))


def beginning(source: Source, number: int) -> str:
    """The first words inside an element, with a space where a cell or a line begins; of a
    picture, its alternative text."""
    return _read(source, number)[0]


def title_of(source: Source, number: int) -> str:
    """The words of the title that an element begins with: a heading, a caption, bold words. ""
    where it begins with none."""
    return _few(_titled(source, _read(source, number)[1]))


def _titled(source: Source, title: int) -> str:
    said = _read(source, title)[0][: 4 * LONGEST] if title >= 0 else ""
    return said if len(said) >= _FEWEST else ""


def _own(source: Source, number: int) -> str:
    text, title = _read(source, number)
    return _titled(source, title) or text


def _read(source: Source, number: int) -> tuple[str, int]:
    """The first words, and the number of the title that they begin with, -1 for none."""
    reading, pictures = source.reading, [number]
    found, size, title, is_first = [], 0, -1, True
    for node in unsaid(source, reading.first_nodes(number, _NODES)):
        if isinstance(node, str):
            found.append(node)
            is_first = is_first and not node.strip()
            size += len(node)
        elif reading.tag(node) in _TITLES and is_first and title < 0:
            title = node
        elif reading.tag(node) == "br" or reading.tag(node) not in PHRASING:
            found.append(" ")  # another line, or cell, begins
        elif reading.tag(node) == "img":
            pictures.append(node)
        if size > 4 * LONGEST:  # some of it is space
            break
    text = " ".join("".join(found).split())
    return text or _alternative(source, pictures), title


def _alternative(source: Source, pictures: list[int]) -> str:
    """What is said in place of an element and the pictures in it."""
    reading, (own, *inside) = source.reading, pictures
    alts = (reading.attr(one, "alt") for one in inside)
    said = (reading.attr(own, "alt"), reading.attr(own, "aria-label"), *alts)
    return " ".join(next(filter(None, said), "").split())


def _beside(source: Source, number: int) -> str:
    parent = source.parent(number)
    if parent >= 0 and source.reading.tag(parent) not in _ROOMS:
        return _own(source, parent)
    for after in islice(source.siblings(number, before=False), _BESIDE):
        if isinstance(after, Element) and is_sign_link(source, after.number):
            continue
        if isinstance(after, Element) and (said := _own(source, after.number)):
            return said
        if isinstance(after, Text) and not after.is_blank:
            return " ".join(after.data[: 4 * LONGEST].split())
    return ""


def _few(text: str) -> str:
    """The first words, cut between two of them."""
    if len(text) <= LONGEST:
        return text
    return text[:LONGEST].rsplit(" ", 1)[0].rstrip(" ,;:–-") + "…"
