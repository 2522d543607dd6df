"""The parser, and the only file that knows it: what stands in a text, as a browser's
tree of it has it.

turbohtml follows the HTML Standard's parsing algorithm, and is the only parser for
Python that tells where every tag and every attribute stands in the text. Scripting
is on, as it is for a visitor, so `noscript` holds text.

https://html.spec.whatwg.org/multipage/parsing.html
"""

from __future__ import annotations

import codecs
import copy
import re
from collections.abc import Container, Iterable, Iterator, Mapping, Sequence
from functools import cached_property, lru_cache
from itertools import accumulate, compress, islice

import turbohtml

from innerhop.core.source.elements import Comment, Text

_META = re.compile(rb"<meta[^>]*charset[^>]*>", re.IGNORECASE)
_MARKS = (codecs.BOM_UTF8, codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)
_NO_VALUE = re.compile("[\t\n\f\r ]*=[\t\n\f\r ]*(?=>)")
_PRESCANNED = 1024

Values = Mapping[str, str | None]
Attributes = list[tuple[str, str | list[str] | None]]  # a list for `class` and its like
Span = tuple[int, int]


def sniffed_encoding(data: bytes) -> str:
    """The Encoding Standard's name for how a file is written down, as a browser finds
    it, in small letters. "replacement" where browsers refuse to read it.

    https://html.spec.whatwg.org/multipage/parsing.html#determining-the-character-encoding:
    a byte-order mark, then what the first 1,024 bytes say of it ("prescan a byte stream
    to determine its encoding"), then what a `meta` further down says; then UTF-8 where
    the bytes are that, else windows-1252, the commonest of the defaults that the
    standard suggests.
    """
    for piece in _telling_pieces(data):
        name = _said_by(piece) if len(piece) < _PRESCANNED else _said_by.__wrapped__(piece)
        if name:
            return name
    if data.isascii():
        return "windows-1252"
    try:
        data.decode()
    except UnicodeDecodeError:
        return "windows-1252"
    return "utf-8"


@lru_cache(maxsize=256)  # the pages of a site begin alike
def _said_by(piece: bytes) -> str:
    """The encoding that a piece of a file names; "" where it names none."""
    found = turbohtml.parse(piece, positions=False)
    name = (found.encoding or "").lower()
    return name if name == "replacement" or found.encoding_confidence == "certain" else ""


def _telling_pieces(data: bytes) -> Iterator[bytes]:
    """Pieces of a file that may say how it is written down, the shortest first: as much
    as is read for it counts when whole sites are."""
    head = data[:_PRESCANNED]
    meta = _META.search(head)
    if meta:
        yield data[: meta.end()]
    if data.startswith(_MARKS) or b"<?xml" in head or b"charset" in head.lower():
        yield head
    if b"charset" in data[_PRESCANNED:].lower():
        yield data


def stray_tags(text: str) -> list[Span]:
    """The end tags of `col` in a text. Browsers ignore them wherever they stand, but for
    drawings; the parser ends a `colgroup` there, so it is not shown them.

    https://html.spec.whatwg.org/multipage/parsing.html#parsing-main-incolgroup
    """
    is_end = turbohtml.TokenType.END_TAG
    return [
        (start, end)
        for token, start, end in _tokens(text)
        if token.type == is_end and token.tag == "col"
    ]


class Reading:
    """A text, read. Elements are named by number: their place in tree order, from 0.

    text: without CR, and without lone surrogates; places are counted in it.
    """

    def __init__(self, text: str) -> None:
        self.text = text
        self._document = turbohtml.parse(text, source_locations=True, scripting=True)

    def __len__(self) -> int:
        return len(self._nodes)

    def has(self, tag: str) -> bool:
        """Whether the page has an element of that tag."""
        return next(self._document.iter_elements(tag), None) is not None

    @cached_property
    def _nodes(self) -> list[turbohtml.Element]:
        return list(self._document.iter_elements())

    @cached_property
    def _numbers(self) -> dict[turbohtml.Node, int]:
        """Numbers by the parser's objects, which are equal to themselves alone. There is one
        of an element as long as it is held, which `_nodes` does."""
        return dict(zip(self._nodes, range(len(self._nodes)), strict=True))

    def _number(self, node: turbohtml.Node | None) -> int:
        """An element's number; -1 for what is no element of this page."""
        return self._numbers.get(node, -1) if node is not None else -1

    def _numbers_of(self, nodes: Iterable[turbohtml.Element]) -> list[int]:
        return list(map(self._numbers.__getitem__, nodes))

    @cached_property
    def tags(self) -> list[str]:
        """The tag of each element."""
        return [node.tag for node in self._nodes]

    @cached_property
    def parents(self) -> list[int]:
        """The number of the element around each; -1 for the outermost one. Around a
        template's content is the template."""
        found = [self._number(node.parent) for node in self._nodes]
        for at, number in enumerate(found):
            above = self._nodes[at].parent if number < 0 else None
            if isinstance(above, turbohtml.DocumentFragment):
                found[at] = self._number(above.parent)
        return found

    def parent(self, number: int) -> int:
        """The number of the element around one, -1 for the outermost; for one, without a
        table of all."""
        above = self._nodes[number].parent
        if isinstance(above, turbohtml.DocumentFragment):
            above = above.parent
        return self._number(above)

    def markup(self, number: int) -> str:
        """An element as the standard writes it, whatever way it was written
        (https://html.spec.whatwg.org/multipage/parsing.html#serialising-html-fragments)."""
        return self._nodes[number].html

    @cached_property
    def identified(self) -> Elements:
        """Every element that has an `id`, in tree order."""
        nodes = self._document.select("[id]")
        return Elements(nodes, self._numbers_of(nodes))

    def of_tags(self, tags: Iterable[str]) -> list[int]:
        """The elements of these tags, in tree order."""
        return self.group(tags).numbers

    def group(self, tags: Iterable[str]) -> Elements:
        """The same, to be asked many things at once."""
        nodes = list(self._document.iter_elements(tags))
        return Elements(nodes, self._numbers_of(nodes))

    def matching(self, selector: str) -> list[int]:
        """The elements that a selector matches, in tree order."""
        return sorted(self._numbers_of(self._document.select(selector)))

    def having(self, names: Iterable[str]) -> list[int]:
        """The elements that have one of these attributes, in tree order."""
        return self.matching(", ".join(f"[{name}]" for name in names))

    def tag(self, number: int) -> str:
        """The tag of one element, without a list of all."""
        return self._nodes[number].tag

    def attr(self, number: int, name: str) -> str | None:
        """An attribute's value; None when there is none."""
        return self._nodes[number].attr(name)

    def attributes(self, number: int) -> dict[str, str]:
        """All attributes, in the order of the tag."""
        node = self._nodes[number]
        return {name: node.attr(name) or "" for name in node.attrs}

    def is_html(self, number: int) -> bool:
        """Whether an element is HTML's, and not SVG's or MathML's."""
        return self._nodes[number].namespace is turbohtml.Namespace.HTML

    def text_of(self, number: int) -> str:
        """All the characters inside an element."""
        return self._nodes[number].text

    def within(self, number: int, selector: str) -> list[int]:
        """The elements around one that a selector matches, innermost first."""
        above = self._nodes[number].parent
        found = []
        while isinstance(above, turbohtml.Element):
            one = above.closest(selector)
            if one is None:
                break
            found.append(self._number(one))
            above = one.parent
        return found

    def text_with_breaks(self, number: int) -> str:
        """The same, with each line break as a line end."""
        return "".join(
            node.data if isinstance(node, turbohtml.Text) else "\n"
            for node in self._nodes[number].descendants
            if isinstance(node, turbohtml.Text) or getattr(node, "tag", "") == "br"
        )

    def beginning(self, number: int, most: int) -> str:
        """The first characters inside an element, without reading on to its end."""
        found = ""
        for text in self._nodes[number].strings:
            found += text
            if len(found) >= most:
                break
        return found[:most]

    def first_nodes(self, number: int, most: int) -> Iterator[int | str]:
        """What an element begins with, as far as its first nodes: inner elements by
        number, and characters."""
        for node in islice(self._nodes[number].descendants, most):
            if isinstance(node, turbohtml.Text):
                yield node.data
            elif isinstance(node, turbohtml.Element):
                yield self._number(node)

    def is_first_inside(self, number: int, tags: Container[str]) -> bool:
        """Whether an element has one of these tags, or begins with one that does."""
        node = self._nodes[number]
        while node.tag not in tags:
            held = (one for one in node.children if not isinstance(one, turbohtml.Text)
                    or one.data.strip())  # fmt: skip
            first = next(held, None)
            if not isinstance(first, turbohtml.Element):
                return False
            node = first
        return True

    def inside(self, number: int, tag: str) -> list[int]:
        """The elements of that tag inside one."""
        return self._numbers_of(self._nodes[number].iter_elements(tag))

    def has_inside(self, number: int, tag: str | None = None) -> bool:
        """Whether an element holds another, of that tag if one is given."""
        return next(self._nodes[number].iter_elements(tag), None) is not None

    def count_inside(self, number: int) -> int:
        """How many elements stand inside one: up to the next that doesn't."""
        node: turbohtml.Node | None = self._nodes[number]
        while node is not None:
            beside = node.next_sibling
            while beside is not None:
                if isinstance(beside, turbohtml.Element):
                    return self._number(beside) - number - 1
                beside = beside.next_sibling
            node = node.parent
        return len(self) - number - 1

    def is_within(self, number: int, selector: str) -> bool:
        """Whether an element is, or stands inside, one that a selector matches."""
        return self._nodes[number].closest(selector) is not None

    def around(self, numbers: Iterable[int], selector: str) -> list[int]:
        """The innermost element at or around each of some that a selector matches; -1 where
        none does."""
        return [self._number(self._nodes[one].closest(selector)) for one in numbers]

    def siblings(self, number: int, before: bool) -> Iterator[int | Text | Comment]:
        """The child nodes of the same parent before, or after, an element, nearest
        first; texts and comments without their places."""
        node = self._nodes[number]
        for one in node.previous_siblings if before else node.next_siblings:
            yield self._child(one, -1)

    def just_before(self, number: int) -> Iterator[int | None]:
        """What stands before an element under the same parent, nearest first: elements by
        number, None for text that is not blank."""
        node = self._nodes[number].previous_sibling
        while node is not None:
            if isinstance(node, turbohtml.Element):
                yield self._number(node)
            elif isinstance(node, turbohtml.Text) and node.data.strip():
                yield None
            node = node.previous_sibling

    def likeness(self, number: int) -> tuple[list[tuple[str, Attributes]], list[str]]:
        """What an element is, but for the way in which it is written: its tag and attributes
        and those of all elements inside it, and the stripped characters of its text nodes."""
        node = self._nodes[number]
        rows = [(one.tag, list(one.attrs.items())) for one in (node, *node.iter_elements())]
        return rows, list(node.stripped_strings)

    def children(self, number: int) -> list[int | Text | Comment]:
        """An element's child nodes: elements by number. A template has those of its
        content."""
        node: turbohtml.Node = self._nodes[number]
        children = list(node.children)
        if len(children) == 1 and isinstance(children[0], turbohtml.DocumentFragment):
            children = list(children[0].children)
        return [self._child(child, at) for at, child in enumerate(children)]

    def children_of_tags(self, number: int, tags: Container[str]) -> list[int]:
        """An element's child elements of some tags."""
        children = self._nodes[number].children
        elements = (one for one in children if isinstance(one, turbohtml.Element))
        return self._numbers_of(one for one in elements if one.tag in tags)

    def _child(self, node: turbohtml.Node, at: int) -> int | Text | Comment:
        if isinstance(node, turbohtml.Element):
            return self._number(node)
        return Text(node.data, at) if isinstance(node, turbohtml.Text) else Comment(at)

    def words_between(
        self, bounds: Sequence[int], left_out: Iterable[int], silent: Iterable[int]
    ) -> tuple[list[int], int]:
        """How many words stand before the first of some elements, from each of them to the
        next, and in those left out. Words are what white space or a tag stands between.
        silent: elements whose words count nowhere."""
        parts = dict.fromkeys(left_out, False) | dict.fromkeys(silent, True)
        inner = sorted(parts)
        data = _with_plain_spaces(self._text_with_signs(bounds, inner, _SIGNS))
        counts = (len(bounds), len(inner), len(inner))
        signs = (_BOUND, _LEAVE, _RETURN)
        if any(data.count(sign) != count for sign, count in zip(signs, counts, strict=True)):
            # The page has such characters itself: longer signs tell them apart.
            own = {f"{one}{id(self):x}{one}": one for one in _SIGNS}
            pieces = re.split(f"({'|'.join(own)})", self._text_with_signs(bounds, inner, list(own)))
            text = "".join(own.get(one) or one.translate(_NO_SIGNS) for one in pieces)
            data = _with_plain_spaces(text)
        return _counted(data, [parts[one] for one in inner])

    def _text_with_signs(
        self, bounds: Iterable[int], inner: Iterable[int], signs: Sequence[str]
    ) -> str:
        """All text, a space between each two nodes, with signs put in for as long as it is
        read: before each bound, and around inner parts."""
        bound, leave, back = signs
        nodes = self._nodes
        before = [(nodes[one], bound) for one in bounds]
        before += [(nodes[one], leave) for one in inner]
        after = [nodes[one] for one in inner]
        # An element around each sign, read from one text: making text nodes one by one
        # costs many times as much.
        signed = [sign for _, sign in before] + [back] * len(after)
        markup = "".join([f"<i>{sign}</i>" for sign in signed])
        put = list(turbohtml.parse_fragment(markup).iter_elements())
        try:
            for (node, _), sign in zip(before, put, strict=False):
                node.insert_before(sign)
            for node, sign in zip(after, put[len(before) :], strict=True):
                node.insert_after(sign)
            return " ".join(self._document.strings)
        finally:
            for sign in put:
                sign.decompose()

    def owned_texts(self) -> Iterator[tuple[int, str | None]]:
        """The page in tree order: (number, None) where an element begins, and (number of
        the element around it, characters) for each text node."""
        number = -1
        for node in self._document.descendants:
            if isinstance(node, turbohtml.Element):
                number += 1
                yield number, None
            elif isinstance(node, turbohtml.Text) and isinstance(node.parent, turbohtml.Element):
                yield self._number(node.parent), node.data

    # Places.

    def start_tag(self, number: int) -> Span | None:
        """Where its start tag stands; None when no tag in the text made it."""
        place = self._nodes[number].source_location
        return (place.start_tag.start_offset, place.start_tag.end_offset) if place else None

    def end_tag(self, number: int) -> Span | None:
        """Where its end tag stands, if it does."""
        place = self._nodes[number].source_location
        if not place or not place.end_tag:
            return None
        return place.end_tag.start_offset, place.end_tag.end_offset

    def attribute(self, number: int, name: str) -> Span | None:
        """Where `name="value"` stands in its start tag, if it does."""
        place = self._nodes[number].source_location
        if place is None or name not in place.attrs:
            return None
        span = place.attrs[name]
        # `id=` right before `>` has no value ("before attribute value state"), and the
        # parser leaves the equals sign out of its span.
        sign = _NO_VALUE.match(self.text, span.end_offset)
        return span.start_offset, sign.end() if sign else span.end_offset

    @cached_property
    def _lines(self) -> list[int]:
        """Where each line begins."""
        return _line_starts(self.text)

    def has_own_tag(self, number: int) -> bool:
        """Whether a tag in the text made this element, and surely no other."""
        node = self._nodes[number]
        return node.position is not None and node.tag not in _REOPENED

    def start(self, number: int) -> int:
        """The same for one element, without a table of all."""
        if self._nodes[number].tag in _REOPENED:
            return self.starts[number]
        return self._begins(self._nodes[number])

    def _begins(self, node: turbohtml.Element) -> int:
        place = node.position
        return self._lines[place[0] - 1] + place[1] if place else -1

    @cached_property
    def starts(self) -> list[int]:
        """Where each element's start tag begins; -1 for one that no tag of its own made."""
        lines = self._lines
        places = [node.position for node in self._nodes]
        starts = [lines[place[0] - 1] + place[1] if place else -1 for place in places]
        if len(set(starts)) == len(starts) - max(starts.count(-1) - 1, 0):
            return starts
        # Misnested markup makes a second element of one tag
        # ("reconstruct the active formatting elements").
        seen = {-1}
        for number, start in enumerate(starts):
            if start in seen:
                starts[number] = -1
            seen.add(start)
        return starts

    # Comparing.

    def is_but_for(self, other: Reading, here: Surgery, there: Surgery) -> bool:
        """Whether two readings are the same tree once each has been operated on. The
        readings themselves stay as they are."""
        return here.on(self).equals(there.on(other))


# Whose tag may make a second element ("list of active formatting elements",
# https://html.spec.whatwg.org/multipage/parsing.html#formatting).
_REOPENED = frozenset((
    "a", "b", "big", "code", "em", "font", "i", "nobr", "s", "small", "strike", "strong", "tt", "u",
))  # fmt: skip


class Elements:
    """Some elements of a page, of which columns are read: an element at a time would take
    many times as long."""

    def __init__(self, nodes: list[turbohtml.Element], numbers: list[int]) -> None:
        self._nodes = nodes
        self.numbers = numbers

    def only(self, wanted: Iterable[bool]) -> Elements:
        """Those of them for which the flag at their place is set."""
        kept = list(wanted)
        return Elements(list(compress(self._nodes, kept)), list(compress(self.numbers, kept)))

    def tags(self) -> list[str]:
        """The tag of each."""
        return [node.tag for node in self._nodes]

    def texts(self) -> list[str]:
        """The characters inside each."""
        return [node.text for node in self._nodes]

    def values(self, name: str) -> list[str | None]:
        """One attribute of each."""
        return [node.attr(name) for node in self._nodes]


# Stand before bounds, and before and behind inner parts. A page that holds them itself has
# them made letters first.
_SIGNS = "\x01", "\x02", "\x03"
_BOUND, _LEAVE, _RETURN = b"\x01", b"\x02", b"\x03"
_NO_SIGNS = dict.fromkeys(map(ord, _SIGNS), "x")
_SPACE = b"\0"
# White space as it parts words, the signs as they are, all else a letter.
_WORDS = bytes(
    byte if byte in b"\x01\x02\x03" else 0 if byte in b"\t\n\x0b\f\r\x1c\x1d\x1e\x1f " else 255
    for byte in range(256)
)


def _counted(data: bytes, silent: Iterable[bool]) -> tuple[list[int], int]:
    """The words between bounds, and in inner parts that are not silent, of a text with plain
    spaces. Telling letters from space in bytes is ten times as fast as making a string of
    each word."""
    first, *parts = data.translate(_WORDS).split(_LEAVE)
    kept, beside = [first], 0
    within: list[bool] = []
    for is_silent, part in zip(silent, parts, strict=True):
        within.append(is_silent)
        for at, piece in enumerate(part.split(_RETURN)):
            if at:
                within.pop()
            if not within:
                kept.append(piece)
                continue
            bounds = piece.count(_BOUND)
            kept.append(_BOUND * bounds)
            if not any(within):
                beside += _words_in(piece.replace(_BOUND, _SPACE) if bounds else piece)
    return [_words_in(piece) for piece in b"".join(kept).split(_BOUND)], beside


# What Python and readers take for white space beyond ASCII, in UTF-8: U+2000 to U+200A,
# U+2028, U+2029 and U+202F begin alike, the others stand alone.
_SPACES = tuple(one.encode() for one in "\x85\xa0\u1680\u205f\u3000")
_GENERAL, _GENERAL_SPACES = b"\xe2\x80", re.compile(rb"\xe2\x80[\x80-\x8a\xa8\xa9\xaf]")


def _with_plain_spaces(text: str) -> bytes:
    """A text in UTF-8, each white space in it a space of ASCII."""
    data = text.encode("utf-8", "replace")
    if not text.isascii():
        for space in _SPACES:
            if space in data:
                data = data.replace(space, b" ")
        if _GENERAL in data:
            data = _GENERAL_SPACES.sub(b" ", data)
    return data


def _words_in(letters: bytes) -> int:
    # As one number, of which a letter's bits are set: where they change, a word begins or
    # ends, and each change is eight bits. Faster than looking for ends, or splitting.
    bits = int.from_bytes(letters, "little")
    return (bits ^ (bits << 8)).bit_count() // 16


class Surgery:
    """What is to be done to a tree, in a copy of it, before it is compared.

    attributes, tags: what elements are to have. unwrapped: elements that are to leave
    what they hold to their parents. removed: elements to go whole, each with the text
    that goes right before and right behind it. emptied: elements that are to hold nothing.
    """

    def __init__(
        self,
        attributes: Mapping[int, Values] | None = None,
        tags: Mapping[int, str] | None = None,
        unwrapped: Iterable[int] = (),
        removed: Mapping[int, tuple[str, str]] | None = None,
        emptied: Iterable[int] = (),
    ) -> None:
        self.attributes = attributes or {}
        self.tags = tags or {}
        self.unwrapped = set(unwrapped)
        self.removed = removed or {}
        self.emptied = set(emptied)

    def on(self, reading: Reading) -> turbohtml.Document:
        """The tree, operated on: the reading's own where nothing is to be done."""
        document = reading._document
        wanted = {*self.attributes, *self.tags, *self.unwrapped, *self.removed, *self.emptied}
        if not wanted:
            return document
        document = copy.deepcopy(document)
        for node, number in self._found(document, wanted):
            _set(node, self.attributes.get(number, {}))
            if number in self.tags:
                node.tag = self.tags[number]
            if number in self.emptied:
                for child in list(node.children):
                    child.decompose()
            if number in self.removed:
                _cut(node, *self.removed[number])
            elif number in self.unwrapped:
                node.unwrap()
        if document.root is not None and (self.unwrapped or self.removed):
            document.root.normalize()
        return document

    def _found(
        self, document: turbohtml.Document, wanted: set[int]
    ) -> list[tuple[turbohtml.Element, int]]:
        """Innermost first, so that nothing is gone when its turn comes."""
        last = max(wanted)
        found = []
        for number, node in enumerate(document.iter_elements()):
            if number in wanted:
                found.append((node, number))
            if number >= last:
                break
        return found[::-1]


def _set(node: turbohtml.Element, values: Values) -> None:
    for name, value in values.items():
        if value is not None:
            node.attrs[name] = value
        elif name in node.attrs:
            del node.attrs[name]


def _cut(node: turbohtml.Element, before: str, after: str) -> None:
    """Take an element out, with text beside it. Where that text is not there, the
    element stays, and the trees will differ."""
    last, following = node.previous_sibling, node.next_sibling
    if before:
        if not isinstance(last, turbohtml.Text) or not last.data.endswith(before):
            return
        last.data = last.data.removesuffix(before)
        if not last.data:
            last.decompose()
    if after:
        if not isinstance(following, turbohtml.Text) or not following.data.startswith(after):
            return
        following.data = following.data.removeprefix(after)
        if not following.data:
            following.decompose()
    node.decompose()


# Characters between tags.


def character_runs(text: str) -> Iterator[tuple[str, int, int] | None]:
    """A stretch of markup as (characters as they are read, where they start, where they
    end) for each run of characters and each reference in it; None for a comment, and a
    run of no characters for anything else."""
    for token, start, end in _tokens(text):
        if token.type == turbohtml.TokenType.COMMENT:
            yield None
        elif token.type == turbohtml.TokenType.CHARACTER_REFERENCE and token.data:
            # Letters right behind a reference without its semicolon are letters, as `some`
            # in `&eacutesome` ("named character reference state"); the tokenizer gives both.
            rest = token.data[1:]
            letters = end - len(rest) if rest and text[start:end].endswith(rest) else end
            yield token.data[: len(token.data) - (end - letters)], start, letters
            if letters < end:
                yield rest, letters, end
        elif token.data and token.type == turbohtml.TokenType.TEXT:
            yield token.data, start, end
        else:
            yield "", start, end


def _line_starts(text: str) -> list[int]:
    """Where each line of a text begins. By C alone: it is asked of every page."""
    lengths = map(len, text.split("\n"))
    return [0, *accumulate(map(_WITH_LINE_END, lengths))][:-1]


_WITH_LINE_END = (1).__add__


def _tokens(text: str) -> Iterator[tuple[turbohtml.Token, int, int]]:
    """The text's tokens, each with the span of its characters."""
    lines = _line_starts(text)
    tokens = list(turbohtml.tokenize(text, resolve_references=False))
    starts = [lines[token.line - 1] + token.col for token in tokens] + [len(text)]
    return zip(tokens, starts, starts[1:], strict=False)
