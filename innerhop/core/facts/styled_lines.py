"""Lines that serve as headings by their look, on pages of `div`s that have no headings: short
blocks above text that are larger than it by a style of their own, or that share a class which
nothing else has (common practice, no source)."""

from __future__ import annotations

import re
from collections import Counter
from weakref import WeakKeyDictionary

from innerhop.core.facts.bold_lines import is_title, less_labels, names_text
from innerhop.core.facts.captions import BOXES, what_follows
from innerhop.core.facts.words import words
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.elements import Element, Text
from innerhop.core.source.tree import Source

_BELOW_THE_FIRST = frozenset(LEVELS) - {"h1"}
_FRAME = "nav, header, footer, aside"
_NOT_IN = f"{_FRAME}, li, dl, blockquote, figure, table, form, button, a, label, template, pre"
_LINE = ":is(div, p)"
_INSIDE = ":is(span, font, big)"
_LOOKS = "[class], [style]"
_MAYBE = f"{_LINE}:not(:last-child):is({_LOOKS}, :has(> {_INSIDE}:only-child))"
_PARTS = ("div", "p", "ul", "ol", "table", "img", "input", "h1", "code")  # of more than a line
_DEEPEST = 4  # elements in a line
_FEWEST_WORDS = 8  # in what follows: fewer are a line themselves
_MOST_HEADINGS = 50  # that were such lines: with more, this is no page of `div`s
_REPEATED = 2
_MOSTLY = 0.8  # of what has a class
# Words in the class of a line that says when, who, or what kind (from memory).
_BESIDE_TEXT = BOXES | frozenset("""
author badge breadcrumb breadcrumbs btn button byline copyright date label meta price tag tags
time year
""".split())  # fmt: skip
# From here on a size is that of a title: of 16 px, the browsers' own, and of 12 pt.
_LARGE = {"px": 18.0, "pt": 14.0, "em": 1.15, "rem": 1.15, "%": 115.0}
_SIZE = re.compile(
    r"font-size\s*:\s*(?:(\d*\.?\d+)(px|pt|r?em|%)|(large|x-large|xx-large|larger)\b)"
)
_HEAVY = re.compile(r"font-weight\s*:\s*(?:bold|bolder|[6-9]00)\b")


_known: WeakKeyDictionary[Source, dict[int, str]] = WeakKeyDictionary()


def styled_lines(source: Source) -> dict[int, str]:
    """The lines, by the number of each, with their words; none on a page that has a heading
    below its first, unless that looks the same: then it was one of them."""
    if source not in _known:  # asked of one page once for each of its parts
        _known[source] = _found(source)
    return _known[source]


def is_styled_line(source: Source, number: int) -> bool:
    """Whether one element is such a line."""
    return bool(_title(source, number)) and number in styled_lines(source)


def _found(source: Source) -> dict[int, str]:
    headings = source.reading.of_tags(_BELOW_THE_FIRST)
    if len(headings) > _MOST_HEADINGS or any(_is_bare(source, one) for one in headings):
        return {}
    found = {number: title for number in source.reading.matching(_MAYBE)
             if (title := _title(source, number))}  # fmt: skip
    if not found:
        return {}
    looks = _repeated(source, found)

    def looks_so(number: int) -> bool:
        return _class(source, number) in looks or _is_large(source, number)

    if not all(looks_so(one) or looks_so(source.parent(one)) for one in headings):
        return {}
    return less_labels({
        number: title for number, title in found.items()
        if looks_so(number) and not any(number < one <= _last(source, number) for one in headings)
    })  # fmt: skip


def _is_bare(source: Source, heading: int) -> bool:
    """Whether nothing at a heading, around or in it could say how it looks, which is told
    fastest."""
    reading = source.reading
    around = (heading, source.parent(heading))
    return not reading.has_inside(heading) and not any(
        reading.attr(one, name) for one in around for name in ("class", "style")
    )


def _last(source: Source, number: int) -> int:
    return number + source.reading.count_inside(number)


def _title(source: Source, line: int) -> str:
    """The words of a block that could be a title by what it holds and what follows; else ""."""
    reading = source.reading
    if reading.count_inside(line) > _DEEPEST or reading.is_within(line, _NOT_IN):
        return ""
    title = words(source, line)
    if not is_title(title) or title.endswith(":") or _is_date(title):
        return ""
    inside = [part for part in _PARTS if reading.has_inside(line, part)]
    if any(part != "div" for part in inside) or len(reading.inside(line, "div")) > 1:
        return ""
    if any(words(source, one) == title for one in reading.inside(line, "a")):
        return ""
    return title if _has_text_below(source, line, title) else ""


def _is_date(title: str) -> bool:
    said = title.split()
    return 3 * sum(any(map(str.isdigit, one)) for one in said) > len(said)


def _has_text_below(source: Source, line: int, title: str) -> bool:
    after = what_follows(source, line)
    if isinstance(after, Element):
        text = source.text_of(after.number)
    else:
        text = after.data if isinstance(after, Text) else ""
    return (
        len(text.split()) >= _FEWEST_WORDS
        and len(text) > len(title)
        and names_text(source, line, title)
    )


def _repeated(source: Source, said: dict[int, str]) -> set[str]:
    """The classes that lines have, and headings that were lines, and next to nothing else."""
    reading = source.reading
    having = reading.having(["class"]) if said else []
    lines = Counter(_class(source, one) for one in having
                    if one in said or reading.tag(one) in LEVELS)  # fmt: skip
    all_of_it = Counter(_class(source, one) for one in having)
    return {
        look for look, times in lines.items()
        if look and times >= _REPEATED and times >= _MOSTLY * all_of_it[look]
    }  # fmt: skip


def _class(source: Source, number: int) -> str:
    """What a line is by its class; "" for none, or one that says it stands beside text."""
    names = (source.attr(number, "class") or "").split()
    told = {word for name in names for word in re.split(r"[\W\d_]+", name.casefold())}
    return "" if told & _BESIDE_TEXT else " ".join(names)


def _is_large(source: Source, line: int) -> bool:
    """Whether a style written at a line, or at the one element in it, makes it larger or
    heavier than text."""
    inside = range(line + 1, _last(source, line) + 1)
    around = [one for one in inside if words(source, one) == words(source, line)]
    return any(_makes_large(source, one) for one in (line, *around))


def _makes_large(source: Source, number: int) -> bool:
    if source.reading.tag(number) == "big":
        return True
    # https://html.spec.whatwg.org/multipage/rendering.html#phrasing-content-3: 3 is usual.
    size = (source.attr(number, "size") or "").strip()
    if source.reading.tag(number) == "font" and re.fullmatch(r"\+[1-4]|[4-7]", size):
        return True
    style = (source.attr(number, "style") or "").casefold()
    if _HEAVY.search(style):
        return True
    told = _SIZE.search(style)
    return told is not None and (told[3] is not None or float(told[1]) >= _LARGE[told[2]])
