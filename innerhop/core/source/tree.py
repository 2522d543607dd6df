"""A page's text read as a browser reads it, with the place in the text where
every element stands, so that an edit can touch those characters and no others.

The parser (turbohtml) follows the HTML Standard, section 13.2; it is imported
here and nowhere else. Scripting is on, as it is for a visitor, so `noscript`
holds text (13.2.6.4.4).
"""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

import turbohtml
from turbohtml import Element as Node
from turbohtml import Node as AnyNode

__all__ = ["AnyNode", "Node", "Source", "Span", "TextRun", "sniff_encoding"]

_LONE_SURROGATE = re.compile("[\ud800-\udfff]")
# HTML Standard 13.2.5.8, "Tag name state".
_TAG_NAME = re.compile("<[^\t\n\f />]+")
_NO_VALUE = re.compile("[\t\n\f\r ]*=[\t\n\f\r ]*(?=>)")
# HTML Standard 13.1.2, void elements.
VOID = frozenset((
    "area", "base", "br", "col", "embed", "hr", "img", "input", "link", "meta", "source", "track",
    "wbr",
))  # fmt: skip


@dataclass(frozen=True, slots=True)
class Span:
    """A stretch of the page's text, counted in characters: text[start:end]."""

    start: int
    end: int


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


def sniff_encoding(data: bytes) -> str:
    """The encoding label a browser would choose for a file (HTML Standard 13.2.3.2)."""
    return turbohtml.parse(data, positions=False).encoding or "utf-8"


class Source:
    """One page's text and its tree.

    Elements are addressed by their number: their place in tree order, from 0.
    Numbers hold as long as the text does, and an edit that adds no element
    keeps them.
    """

    def __init__(self, text: str) -> None:
        self.text = text
        # HTML Standard 13.2.3.5 "Preprocessing the input stream": CR LF and
        # CR become LF. The parser counts in that text, so this class does too.
        normal = text.replace("\r\n", "\n").replace("\r", "\n") if "\r" in text else text
        self._normal = normal if _is_whole(normal) else _LONE_SURROGATE.sub("\ufffd", normal)
        self.document = turbohtml.parse(self._normal, source_locations=True, scripting=True)

    @cached_property
    def _line_feeds(self) -> list[int]:
        """Where, in the parser's count, each CR LF of the text stands."""
        pairs = re.finditer("\r\n", self.text)
        return [match.start() - count for count, match in enumerate(pairs)]

    def _place(self, normal: int) -> int:
        """A place in the parser's count as a place in the page's own text."""
        return normal + bisect_left(self._line_feeds, normal)

    @cached_property
    def _numbers(self) -> dict[Node, int]:
        return {node: number for number, node in enumerate(self.document.iter_elements())}

    @cached_property
    def nodes(self) -> list[Node]:
        """The elements in tree order: an element's number is its place here."""
        return list(self._numbers)

    def number(self, node: Node) -> int:
        """The number of an element of this page."""
        return self._numbers[node]

    def node(self, number: int) -> Node:
        """The element with that number. Raises LookupError when there is none."""
        if not 0 <= number < len(self.nodes):
            raise LookupError(f"the page has no element number {number}")
        return self.nodes[number]

    def last_inside(self, number: int) -> int:
        """The number of the last element inside this one, or its own when it
        has none: what an element holds is one run of numbers."""
        behind = (node for node in self.nodes[number].following if isinstance(node, Node))
        following = next(behind, None)
        return len(self._numbers) - 1 if following is None else self._numbers[following] - 1

    def start_tag(self, number: int) -> Span | None:
        """Where the element's start tag stands; None when no tag in the text made it."""
        place = self.node(number).source_location
        return self._span(place.start_tag) if place else None

    def end_tag(self, number: int) -> Span | None:
        """Where the element's end tag stands; None when the text leaves it out."""
        place = self.node(number).source_location
        return self._span(place.end_tag) if place and place.end_tag else None

    def attribute(self, number: int, name: str) -> Span | None:
        """Where `name="value"` stands in the element's start tag, if it does."""
        place = self.node(number).source_location
        if place is None or name not in place.attrs:
            return None
        span = self._span(place.attrs[name])
        # `id=` right before `>` has no value (13.2.5.37), and the parser leaves the
        # equals sign out of its span.
        sign = _NO_VALUE.match(self.text, span.end)
        return Span(span.start, sign.end()) if sign else span

    def _span(self, span: turbohtml.SourceSpan) -> Span:
        return Span(self._place(span.start_offset), self._place(span.end_offset))

    @cached_property
    def _starts(self) -> list[int]:
        """For each element, where its start tag begins, in the parser's count;
        -1 for an element that no tag of its own made."""
        lines = [0, *(match.end() for match in re.finditer("\n", self._normal))]
        seen = {-1}
        starts = []
        for node in self.nodes:
            place = node.position
            start = lines[place[0] - 1] + place[1] if place else -1
            # Misnested markup makes a second element of one tag (13.2.4.3,
            # "reconstruct the active formatting elements").
            starts.append(-1 if start in seen else start)
            seen.add(start)
        return starts

    @cached_property
    def _tag_starts(self) -> list[int]:
        """Where each start tag begins, in the parser's count, in order."""
        return sorted(start for start in self._starts if start >= 0)

    def after_tag_name(self, number: int) -> int | None:
        """The place just behind `<h2` of an element's start tag, where another
        attribute can be put; None when no tag in the text made the element."""
        start = self._starts[number]
        name = _TAG_NAME.match(self._normal, start) if start >= 0 else None
        return self._place(name.end()) if name else None

    def element_at(self, place: int) -> int | None:
        """The number of the element whose start tag begins at that place in the text."""
        normal = place - bisect_left(self._line_feeds, place, key=self._place)
        return self._at.get(normal)

    @cached_property
    def _at(self) -> dict[int, int]:
        return {start: number for number, start in enumerate(self._starts) if start >= 0}

    def end_of(self, number: int) -> int | None:
        """The place right behind an element: behind its end tag, or behind its
        start tag where it can hold nothing. None where the text leaves that open."""
        after = self._after(self.node(number))
        return None if after is None else self._place(after)

    def text_run(self, number: int, child: int) -> TextRun | None:
        """The text node that is the element's `child`-th child node, with places.

        None when the child is no text, or when broken markup around it leaves
        its place in doubt: the characters found must spell the node exactly.
        """
        parent = self.node(number)
        children = list(parent.children)
        if not 0 <= child < len(children) or not isinstance(children[child], turbohtml.Text):
            return None
        before = children[:child]
        last = next((n for n in reversed(before) if isinstance(n, Node)), None)
        begin = self._after(last) if last is not None else self._inside(parent)
        if begin is None:
            return None
        comments = before[before.index(last) + 1 :] if last is not None else before
        skipped = sum(isinstance(n, turbohtml.Comment) for n in comments)
        if child == 0 and parent.tag in ("pre", "listing") and self._normal.startswith("\n", begin):
            begin += 1  # HTML Standard 13.1.2.5: a newline right after <pre> is no text.
        return self._spell(begin, skipped, children[child].text)

    def _inside(self, node: Node) -> int | None:
        place = node.source_location
        return place.start_tag.end_offset if place else None

    def _after(self, node: Node) -> int | None:
        """Just behind the element, in the parser's count, where that is certain."""
        place = node.source_location
        if place is None:
            return None
        if place.end_tag:
            return place.end_tag.end_offset
        childless = node.tag in VOID or self._normal[: place.start_tag.end_offset].endswith("/>")
        return place.start_tag.end_offset if childless else None

    def _spell(self, begin: int, comments: int, wanted: str) -> TextRun | None:
        """Read on from `begin`, past so many comments, for the characters of `wanted`."""
        following = bisect_left(self._tag_starts, begin)
        stop = self._tag_starts[following] if following < len(self._tag_starts) else None
        region = self._normal[begin:stop]
        pieces: list[tuple[int, int, int, int]] = []
        data = ""
        for token, start, end in _tokens(region):
            if token.type == turbohtml.TokenType.COMMENT:
                if comments == 0:
                    break
                comments -= 1
                data, pieces = "", []
            elif token.data and token.type in _CHARACTERS:
                first, last = self._place(begin + start), self._place(begin + end)
                pieces += _split_at_line_ends(len(data), token.data, self.text, first, last)
                data += token.data
            elif data == wanted:
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


def is_text(node: turbohtml.Node) -> bool:
    """Whether a node of the tree is a text node."""
    return isinstance(node, turbohtml.Text)


def in_template(node: Node) -> bool:
    """Whether an element is in a template's contents, which are in no visitor's
    tree (HTML Standard 4.12.3)."""
    return any(isinstance(above, turbohtml.DocumentFragment) for above in node.ancestors)


def is_blank(node: turbohtml.Node) -> bool:
    """Whether a reader sees nothing of a node: a comment, or white space."""
    return not isinstance(node, Node) and (not is_text(node) or not node.text.strip())


_CHARACTERS = (turbohtml.TokenType.TEXT, turbohtml.TokenType.CHARACTER_REFERENCE)


def _tokens(region: str) -> Iterator[tuple[turbohtml.Token, int, int]]:
    """The region's tokens, each with the span of its characters."""
    lines = [0, *(match.end() for match in re.finditer("\n", region))]
    tokens = list(turbohtml.tokenize(region, resolve_references=False))
    starts = [lines[token.line - 1] + token.col for token in tokens] + [len(region)]
    return zip(tokens, starts, starts[1:], strict=False)


def _split_at_line_ends(
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
