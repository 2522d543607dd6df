"""A page's text with its tree, and the place in the text where every element stands,
so that an edit can touch those characters and no others."""

from __future__ import annotations

import re
from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property
from itertools import accumulate

from innerhop.core.refusals import Refusal
from innerhop.core.source import parser
from innerhop.core.source.content_models import VOID
from innerhop.core.source.elements import Child, Element, Text
from innerhop.core.source.text_runs import TextRun, pieces_of

_LONE_SURROGATE = re.compile("[\ud800-\udfff]")
# https://html.spec.whatwg.org/multipage/parsing.html#tag-name-state
_TAG_NAME = re.compile("<[^\t\n\f />]+")


_NEAR = 16  # elements looked through for one that a tag of its own made


class NoSuchElement(Refusal):
    """A number that no element of the page has."""


@dataclass(frozen=True, slots=True)
class Span:
    """A stretch of the page's text, counted in characters: text[start:end]."""

    start: int
    end: int


class Source:
    """One page's text and its tree.

    Elements are addressed by their number: their place in tree order, from 0.
    Numbers hold as long as the text does, and an edit that adds no element
    keeps them.
    """

    def __init__(self, text: str) -> None:
        self.text = text
        # https://html.spec.whatwg.org/multipage/parsing.html#preprocessing-the-input-stream:
        # CR LF and CR become LF. The parser counts in that text, so this class does too.
        normal = text.replace("\r\n", "\n").replace("\r", "\n") if "\r" in text else text
        if not _is_whole(normal):
            normal = _LONE_SURROGATE.sub("\ufffd", normal)
        self.reading = parser.Reading(normal)
        self._strays: list[parser.Span] = []
        self._counted = 0  # elements that were counted one part after the other
        if self.reading.has("colgroup"):
            normal = self._without_strays(normal)
        self._normal = normal

    def _without_strays(self, normal: str) -> str:
        """The text as the parser is to have it, read anew where it has to be."""
        self._strays = parser.stray_tags(normal)
        for start, end in reversed(self._strays):
            normal = normal[:start] + normal[end:]
        if self._strays:
            self.reading = parser.Reading(normal)
        return normal

    # Rows: what each element is.

    @property
    def tags(self) -> list[str]:
        """The tag of each element: an element's number is its place here."""
        return self.reading.tags

    @property
    def parents(self) -> list[int]:
        """The number of the element around each, -1 for the outermost one."""
        return self.reading.parents

    @cached_property
    def lasts(self) -> list[int]:
        """For each element the number of the last one inside it, or its own: what an
        element holds is one run of numbers."""
        parents = self.parents
        lasts = list(range(len(parents)))
        for number in range(len(parents) - 1, 0, -1):
            above = parents[number]
            if above >= 0 and lasts[above] < lasts[number]:
                lasts[above] = lasts[number]
        return lasts

    def __len__(self) -> int:
        return len(self.reading)

    def element(self, number: int) -> Element:
        """The element with that number. Raises NoSuchElement when there is none."""
        if not 0 <= number < len(self.reading):
            raise NoSuchElement("The page has no such part. Load it again to see it as it is.")
        return Element(self, number)

    @property
    def elements(self) -> Iterator[Element]:
        """All of them, in tree order."""
        return (Element(self, number) for number in range(len(self.reading)))

    def of_tags(self, *tags: str) -> Iterator[Element]:
        """The elements of these tags, in tree order."""
        return (Element(self, number) for number in self.reading.of_tags(tags))

    def having(self, *names: str) -> Iterator[Element]:
        """The elements that have one of these attributes, in tree order."""
        return (Element(self, number) for number in self.reading.having(names))

    def parent(self, number: int) -> int:
        """The number of the element around one, -1 for the outermost one."""
        return self.reading.parent(number)

    def last_inside(self, number: int) -> int:
        """The number of the last element inside this one, or its own when it has none. Counted
        for the few who ask, as long as that takes less than a table of all."""
        if self._counted > len(self):
            return self.lasts[number]
        inside = self.reading.count_inside(number)
        self._counted += inside + 1
        return number + inside

    def attr(self, number: int, name: str) -> str | None:
        """An attribute's value as a browser reads it; None when there is none."""
        return self.reading.attr(number, name)

    def attributes(self, number: int) -> dict[str, str]:
        """All attributes of an element, in the order in which they stand in its tag."""
        return self.reading.attributes(number)

    def text_of(self, number: int) -> str:
        """All the characters inside an element."""
        return self.reading.text_of(number)

    @cached_property
    def _templates(self) -> tuple[list[int], list[int]]:
        """Where the outermost templates begin, and where each ends."""
        begins: list[int] = []
        ends: list[int] = []
        for number in self.reading.of_tags(("template",)):
            if not ends or number > ends[-1]:
                begins.append(number)
                ends.append(self.last_inside(number))
        return begins, ends

    def is_in_template(self, number: int) -> bool:
        """Whether an element is in a template's contents."""
        begins, ends = self._templates
        at = bisect_left(begins, number) - 1
        return at >= 0 and number <= ends[at]

    def children(self, number: int) -> list[Child]:
        """An element's child nodes, in order."""
        found = self.reading.children(number)
        return [Element(self, one) if isinstance(one, int) else one for one in found]

    def siblings(self, number: int, before: bool) -> Iterator[Child]:
        """The child nodes beside an element, nearest first."""
        for one in self.reading.siblings(number, before):
            yield Element(self, one) if isinstance(one, int) else one

    # Places: where in the page's own text it stands.

    @cached_property
    def _shifts(self) -> tuple[list[int], list[int]]:
        """From where on, in the parser's count, the page's own text is ahead of it, and
        by how much: a CR LF counts once there, and stray tags are left out."""
        line_feeds = enumerate(match.end() - 1 for match in re.finditer("\r\n", self.text))
        ahead = [(at - before, 1) for before, at in line_feeds]
        for start, end in reversed(self._strays):
            gone = end - start
            ahead = [(at if at <= start else max(start, at - gone), by) for at, by in ahead]
            ahead.append((start, gone))
        ahead.sort()
        return [at for at, _ in ahead], [0, *accumulate(by for _, by in ahead)]

    def _place(self, normal: int) -> int:
        """A place in the parser's count as a place in the page's own text."""
        starts, sums = self._shifts
        return normal + sums[bisect_right(starts, normal)]

    def _span(self, span: parser.Span | None) -> Span | None:
        return Span(self._place(span[0]), self._place(span[1])) if span else None

    def start_tag(self, number: int) -> Span | None:
        """Where the element's start tag stands; None when no tag in the text made it."""
        return self._span(self.reading.start_tag(number))

    def end_tag(self, number: int) -> Span | None:
        """Where the element's end tag stands; None when the text leaves it out."""
        return self._span(self.reading.end_tag(number))

    def attribute(self, number: int, name: str) -> Span | None:
        """Where `name="value"` stands in the element's start tag, if it does."""
        return self._span(self.reading.attribute(number, name))

    @cached_property
    def _tag_starts(self) -> list[int]:
        """Where each start tag begins, in the parser's count, in order."""
        return sorted(start for start in self.reading.starts if start >= 0)

    def after_tag_name(self, number: int) -> int | None:
        """The place just behind `<h2` of an element's start tag, where another
        attribute can be put; None when no tag in the text made the element."""
        start = self.reading.start(number)
        name = _TAG_NAME.match(self._normal, start) if start >= 0 else None
        return self._place(name.end()) if name else None

    def element_at(self, place: int) -> int | None:
        """The number of the element whose start tag begins at that place in the text."""
        found = self._searched(place)
        return self.by_start.get(place) if found is None else found

    def _searched(self, place: int) -> int | None:
        """The same by halves, which needs no table of all; None where it can't be told.
        Tags nearly always make elements in the order in which they stand."""
        low, high = 0, len(self)
        while low < high:
            middle = (low + high) // 2
            near = range(middle, min(high, middle + _NEAR))
            probe = next((one for one in near if self.reading.has_own_tag(one)), None)
            if probe is None:
                return None
            start = self._place(self.reading.start(probe))
            if start == place:
                return probe
            low, high = (probe + 1, high) if start < place else (low, middle)
        return None

    @cached_property
    def by_start(self) -> dict[int, int]:
        """The number of each element by the place at which its start tag begins: for those
        who ask for many (see `element_at`)."""
        return {start: number for number, start in enumerate(self.starts) if start >= 0}

    @cached_property
    def starts(self) -> list[int]:
        """For each element, where its start tag begins in the text; -1 for one that no
        tag of its own made."""
        if not self._shifts[0]:
            return self.reading.starts
        return [self._place(start) if start >= 0 else -1 for start in self.reading.starts]

    def end_of(self, number: int) -> int | None:
        """The place right behind an element: behind its end tag, or behind its
        start tag where it can hold nothing. None where the text leaves that open."""
        after = self._after(number)
        return None if after is None else self._place(after)

    def _after(self, number: int) -> int | None:
        """Just behind the element, in the parser's count, where that is certain."""
        start, end = self.reading.start_tag(number), self.reading.end_tag(number)
        if start is None or end is not None:
            return end[1] if end else None
        is_empty = self.tags[number] in VOID or self._normal[: start[1]].endswith("/>")
        return start[1] if is_empty else None

    def text_run(self, number: int, child: int) -> TextRun | None:
        """The text node that is the element's `child`-th child node, with places.

        None when the child is no text, or when broken markup around it leaves
        its place in doubt: the characters found must spell the node exactly.
        """
        children = self.children(number)
        wanted = children[child] if 0 <= child < len(children) else None
        if not isinstance(wanted, Text):
            return None
        before = children[:child]
        last = next((at for at in reversed(range(child)) if isinstance(before[at], Element)), -1)
        if last >= 0:
            begin = self._after(before[last].number)  # type: ignore[union-attr]
        else:
            tag = self.reading.start_tag(number)
            begin = tag[1] if tag else None
        if begin is None:
            return None
        comments = sum(not isinstance(one, Text) for one in before[last + 1 :])
        is_pre = self.tags[number] in ("pre", "listing")
        if child == 0 and is_pre and self._normal.startswith("\n", begin):
            # A line end right after <pre> is no text:
            # https://html.spec.whatwg.org/multipage/parsing.html#parsing-main-inbody
            begin += 1
        return self._spell(begin, comments, wanted.data)

    def _spell(self, begin: int, comments: int, wanted: str) -> TextRun | None:
        """Read on from `begin`, past so many comments, for the characters of `wanted`."""
        following = bisect_left(self._tag_starts, begin)
        stop = self._tag_starts[following] if following < len(self._tag_starts) else None
        pieces: list[tuple[int, int, int, int]] = []
        data = ""
        for run in parser.character_runs(self._normal[begin:stop]):
            if run is None:
                if comments == 0:
                    break
                comments -= 1
                data, pieces = "", []
            elif run[0]:
                first, last = self._place(begin + run[1]), self._place(begin + run[2])
                pieces += pieces_of(len(data), run[0], self.text, first, last)
                data += run[0]
            elif comments == 0 and data == wanted:
                break
        return TextRun(data, tuple(pieces)) if data == wanted and pieces else None

    def original(self, span: Span) -> str:
        """The characters of a span as the page has them."""
        return self.text[span.start : span.end]


def _is_whole(text: str) -> bool:
    """Whether no lone surrogate stands in the text (encoding finds out fastest)."""
    try:
        text.encode()
    except UnicodeEncodeError:
        return False
    return True


def as_elements(children: Iterable[Child]) -> list[Element]:
    """Those of some child nodes that are elements."""
    return [child for child in children if isinstance(child, Element)]
