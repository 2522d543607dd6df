"""Links to words: for a section that can't carry an ID, the browser can be asked
to look for its words instead.

URL Fragment Text Directives (WICG), "Syntax" and what follows it. Browsers that don't know it, and
all of them when the words are gone, open the page at its top.
"""

from __future__ import annotations

import re
import unicodedata
from bisect import bisect_right
from collections.abc import Iterator
from dataclasses import dataclass, field
from urllib.parse import quote, unquote

from innerhop.core.addresses.fragments import FRAGMENT_DIRECTIVE
from innerhop.core.source.content_models import TEXT_LEVEL
from innerhop.core.source.tree import Source

_SILENT = frozenset(("script", "style", "title", "noscript", "template", "head", "select",
                     "textarea", "iframe", "object", "video", "audio"))  # fmt: skip
# Words of one block, as the browser takes it: what a sentence is made of, and buttons
# and pictures in it.
_INLINE = TEXT_LEVEL | {"button", "img", "wbr", "br"}
_MOST_WORDS = 12
_MOST_CONTEXT = 8
_BLOCK = "\n"


@dataclass(frozen=True, slots=True)
class TextDirective:
    """What a browser is to look for: the words, and what stands right before
    and after them."""

    start: str
    end: str = ""
    prefix: str = ""
    suffix: str = ""

    def __str__(self) -> str:
        """As it stands behind the hash, `:~:` and all (3.2, "TextDirective")."""
        parts = [f"{_encode(self.prefix)}-"] if self.prefix else []
        parts.append(_encode(self.start))
        if self.end:
            parts.append(_encode(self.end))
        if self.suffix:
            parts.append(f"-{_encode(self.suffix)}")
        return f"{FRAGMENT_DIRECTIVE}text={','.join(parts)}"


def _encode(text: str) -> str:
    """3.2: comma, ampersand and hyphen part the directive, so they are encoded too."""
    return quote(text, safe="").replace("-", "%2D")


def read(fragment: str) -> TextDirective | None:
    """The first text directive of a fragment, if it has one (3.3, parsing)."""
    _, _, directives = fragment.partition(FRAGMENT_DIRECTIVE)
    for directive in directives.split("&"):
        name, _, value = directive.partition("=")
        if name == "text" and value:
            return _read_parts(value.split(","))
    return None


def _read_parts(parts: list[str]) -> TextDirective | None:
    prefix = suffix = ""
    if parts[0].endswith("-"):
        prefix, parts = unquote(parts[0][:-1]), parts[1:]
    if parts and parts[-1].startswith("-"):
        suffix, parts = unquote(parts[-1][1:]), parts[:-1]
    if not 1 <= len(parts) <= 2 or not parts[0]:
        return None
    end = unquote(parts[1]) if len(parts) == 2 else ""
    return TextDirective(unquote(parts[0]), end, prefix, suffix)


@dataclass(slots=True)
class PageWords:
    """A page's words as a browser looks through them: white space made one space,
    blocks apart, letters without case and accents (3.6: base letters only)."""

    text: str = ""
    folded: str = ""
    places: list[int] = field(default_factory=list)
    owners: list[int] = field(default_factory=list)

    def owner(self, at: int) -> int:
        """The number of the element that the character at `at` stands in."""
        return self.owners[bisect_right(self.places, at) - 1]

    def found(self, asked: TextDirective) -> Iterator[int]:
        """Where the directive's words stand, in order."""
        start = _fold(asked.start).strip()
        for match in re.finditer(re.escape(start), self.folded) if start else ():
            begin, end = match.span()
            if not self._is_whole(begin, end):
                continue
            if asked.end:
                end = self._range_end(end, _fold(asked.end).strip())
            before, after = _fold(asked.prefix).strip(), _fold(asked.suffix).strip()
            if end >= 0 and self._comes_before(begin, before) and self._comes_after(end, after):
                yield begin

    def _range_end(self, at: int, end: str) -> int:
        found = self.folded.find(end, at)
        return -1 if found < 0 else found + len(end)

    def _comes_before(self, begin: int, words: str) -> bool:
        if not words:
            return True
        head = self.folded[:begin].rstrip()
        return head.endswith(words) and self._is_whole(len(head) - len(words), len(head))

    def _comes_after(self, end: int, words: str) -> bool:
        if not words:
            return True
        tail = self.folded[end:]
        at = end + len(tail) - len(tail.lstrip())
        return self.folded.startswith(words, at) and self._is_whole(at, at + len(words))

    def _is_whole(self, begin: int, end: int) -> bool:
        """Whether words begin and end there (3.6, "is at a word boundary")."""
        text = self.folded
        starts = begin == 0 or not (text[begin - 1].isalnum() and text[begin].isalnum())
        ends = end >= len(text) or not (text[end - 1].isalnum() and text[end].isalnum())
        return starts and ends


def _fold(text: str) -> str:
    return "".join(_fold_one(character) for character in text)


def _fold_one(character: str) -> str:
    """One character for one, so that places stay places."""
    base = unicodedata.normalize("NFKD", character)[0].casefold()
    return base[0] if base else character


def words_of(source: Source) -> PageWords:
    """The words of a page that readers can see, as far as its markup tells."""
    page = PageWords()
    pieces: list[str] = [_BLOCK]
    length, last = 1, _BLOCK
    blocks = _blocks(source)
    current = -1
    for number, data in source.reading.owned_texts():
        if data is None:
            if source.tags[number] in ("br", "hr") and last != _BLOCK:
                last = " " if source.tags[number] == "br" else _BLOCK
                pieces.append(last)
                length += 1
            continue
        block = blocks[number]
        if block < 0:
            continue
        if block != current and last != _BLOCK:
            pieces.append(_BLOCK)
            length, last = length + 1, _BLOCK
        text = re.sub(r"\s+", " ", data)
        if last.isspace():
            text = text.lstrip()
        if text:
            current = block
            page.places.append(length)
            page.owners.append(number)
            pieces.append(text)
            length, last = length + len(text), text[-1]
    page.text = "".join(pieces)
    page.folded = _fold(page.text)
    return page


def _blocks(source: Source) -> list[int]:
    """For each element, the number of the block that text in it belongs to; -1 where
    text is not shown."""
    hidden = {
        one.number
        for one in source.having("hidden")
        if (one.attr("hidden") or "").lower() != "until-found"
    }
    found: list[int] = []
    for number, tag in enumerate(source.tags):
        above = source.parents[number]
        around = found[above] if above >= 0 else number
        if around < 0 or tag in _SILENT or number in hidden:
            found.append(-1)
        else:
            found.append(around if tag in _INLINE else number)
    return found


def find(page: PageWords, asked: TextDirective) -> int | None:
    """The number of the element whose words a browser would show; None when
    they are not on the page."""
    at = next(page.found(asked), None)
    return None if at is None else page.owner(at)


def shortest(source: Source, page: PageWords, number: int) -> TextDirective | None:
    """The shortest text that leads to the element's own words and to no others
    before or after: its first words, with what follows or comes before added
    where they are not enough. None when it has no words."""
    inside = range(number, source.last_inside(number) + 1)
    owned = zip(page.places, page.owners, strict=True)
    begin = next((at for at, owner in owned if owner in inside), None)
    if begin is None:
        return None
    block_end = page.text.find(_BLOCK, begin)
    block = page.text[begin : block_end if block_end >= 0 else len(page.text)]
    words = block.split()[:_MOST_WORDS]
    for count in range(1, len(words) + 1):
        asked = TextDirective(" ".join(words[:count]))
        if _is_only(page, asked, begin):
            return asked
    whole = " ".join(words)
    after = _next_block(page, begin + len(whole))
    before = _block_before(page, begin)
    for count in range(1, _MOST_CONTEXT + 1):
        for asked in (
            TextDirective(whole, suffix=" ".join(after[:count])),
            TextDirective(whole, prefix=" ".join(before[-count:])),
            TextDirective(whole, prefix=" ".join(before[-count:]), suffix=" ".join(after[:count])),
        ):
            if _is_only(page, asked, begin):
                return asked
    return None


def _is_only(page: PageWords, asked: TextDirective, begin: int) -> bool:
    found = page.found(asked)
    return next(found, None) == begin and next(found, None) is None


def _next_block(page: PageWords, end: int) -> list[str]:
    rest = page.text[end:].lstrip()
    return rest.partition(_BLOCK)[0].split()


def _block_before(page: PageWords, begin: int) -> list[str]:
    head = page.text[:begin].rstrip()
    return head.rpartition(_BLOCK)[2].split()
