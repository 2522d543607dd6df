"""What a part of a page says, in one line."""

from __future__ import annotations

from collections.abc import Container
from functools import cached_property

from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.elements import Element, Text
from innerhop.core.source.parser import Elements
from innerhop.core.source.tree import Source


def words(source: Source, number: int, with_breaks: bool = True) -> str:
    """An element's text in one line, as a reader would say it.

    A picture speaks through its alternative text
    (https://html.spec.whatwg.org/multipage/images.html#alt).
    with_breaks: whether line breaks are to be looked for; a page that has none
    is read faster without.
    """
    reading = source.reading
    if with_breaks and reading.has_inside(number, "br"):
        text = " ".join(reading.text_with_breaks(number).split())
    else:
        text = " ".join(source.text_of(number).split())
    return text or _alternative(source, number)


def _alternative(source: Source, number: int) -> str:
    """What stands for an element without characters: its label, the alternative texts or
    labels in it, its title.

    https://www.w3.org/TR/accname-1.2/#computation-steps, 2D to 2I, less what is said
    elsewhere on the page.
    """
    reading = source.reading
    own = _label(source, number)
    if own or not reading.has_inside(number):
        return own or _in_one(reading.attr(number, "title"))
    labelled = [number + 1 + at for at in range(reading.count_inside(number))][:_MOST_INSIDE]
    said = " ".join(one for one in (_label(source, inner) for inner in labelled) if one)
    return said or _in_one(reading.attr(number, "title"))


_MOST_INSIDE = 60  # elements of a link or a heading that are asked for their label


def _label(source: Source, number: int) -> str:
    reading = source.reading
    label = _in_one(reading.attr(number, "aria-label"))
    if not label and reading.tag(number) in ("img", "area"):
        label = _in_one(reading.attr(number, "alt"))
    return label


def _in_one(text: str | None) -> str:
    return " ".join((text or "").split())


def words_without(source: Source, number: int, left_out: Container[int]) -> str:
    """The same, without what some of the elements inside it say."""
    return " ".join("".join(_texts(source.element(number), left_out)).split())


def _texts(element: Element, left_out: Container[int]) -> list[str]:
    found: list[str] = []
    for child in element.children:
        if isinstance(child, Text):
            found.append(child.data)
        elif isinstance(child, Element) and child.number not in left_out:
            found += ["\n"] if child.tag == "br" else _texts(child, left_out)
    return found


class Budgeted:
    """Words of many elements of one page, in time that is linear in the page.

    Elements may hold each other, hundreds deep. When much more has been read than the
    page holds, only the beginning of each is.
    """

    _MOST = 2_000  # characters: more are nobody's title

    def __init__(self, source: Source) -> None:
        self.source = source
        self._left = 3 * len(source.text) + 10_000

    @cached_property
    def _broken(self) -> set[int]:
        """The links and headings that hold a line break."""
        reading = self.source.reading
        breaks = reading.of_tags(("br",))
        return {above for one in breaks for above in reading.within(one, _SPEAKING)}

    @cached_property
    def _unshown(self) -> dict[int, set[int]]:
        """By link and heading, what in it nobody is shown: styles, scripts, hidden parts."""
        reading = self.source.reading
        found: dict[int, set[int]] = {}
        for one in (*reading.of_tags(_SILENT), *reading.matching(_HIDDEN)):
            for above in reading.within(one, _SPEAKING):
                found.setdefault(above, set()).add(one)
        return found

    def of_all(self, group: Elements) -> list[str]:
        """The words of links or headings, in one line each, or their beginnings."""
        numbers, reading = group.numbers, self.source.reading
        # A page's headings or links hold each other only where something is broken.
        if self._are_apart(numbers):
            texts = group.texts()
            for at, number in enumerate(numbers) if self._broken else ():
                if number in self._broken:
                    texts[at] = reading.text_with_breaks(number)
        else:
            texts = [self._of(number) for number in numbers]
        if self._unshown:
            at_of = {number: at for at, number in enumerate(numbers)}
            for number, hidden in self._unshown.items():
                if number in at_of:
                    texts[at_of[number]] = words_without(self.source, number, hidden)
        lines = _in_one_line(texts)
        if "" in lines:
            for at, line in enumerate(lines):
                if not line:
                    lines[at] = _alternative(self.source, numbers[at])
        return lines

    def _are_apart(self, numbers: list[int]) -> bool:
        """Whether none of some elements stands so deep in others that reading each would
        mean reading the page over and over: the last one tells, as the deepest."""
        return not numbers or len(self.source.reading.within(numbers[-1], _SPEAKING)) < _NESTED

    def _of(self, number: int) -> str:
        """The characters of one, or where much has been read already the first few."""
        if self._left < 0:
            return self.source.reading.beginning(number, self._MOST)
        text = self.source.text_of(number)
        self._left -= len(text)
        return text


_SILENT = ("style", "script", "template", "noscript")
# https://html.spec.whatwg.org/multipage/rendering.html#hidden-elements, and what a style says
_HIDDEN = "[hidden]:not([hidden=until-found]), [style*='display:none'], [style*='display: none']"
_NESTED = 4  # deep: no page that is whole has a heading in a heading in a heading
_SPEAKING = ", ".join(("a", "area", *LEVELS))


def _in_one_line(texts: list[str]) -> list[str]:
    """Texts with their white space closed up: at once for all that need it."""
    joined = "|".join(texts)
    # White space other than the plain one isn't printable
    # (https://docs.python.org/3/library/stdtypes.html#str.isprintable).
    is_plain = joined.isprintable() and "  " not in joined
    if is_plain and " |" not in f"{joined}|" and "| " not in f"|{joined}":
        return texts
    return [" ".join(text.split()) for text in texts]
