"""Regions that a page may share with others: its header, its footer, and other
parts that stand beside its own content. Two pages share a region when what a
reader gets there is the same, wherever its links are written from."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterator
from typing import NamedTuple

from innerhop.core.addresses import urls
from innerhop.core.facts.page_facts import Facts
from innerhop.core.source.tree import Source

# What a system writes differently on each page to show which one it is.
_OWN_TO_PAGE = frozenset(("class", "aria-current"))
_ADDRESSES = frozenset(("href", "src"))
_PARTS = frozenset(("aside", "section", "div", "form", "header", "footer", "nav"))
_LARGEST = 600  # elements: what is larger is a page's own content
_MOST = 40
_AT_ENDS = 2  # what pages share in their main part begins or ends it (practice)
_SMALLEST = 3  # words and elements: what is smaller is alike by chance


class Region(NamedTuple):
    """A region from the number of its element to the last number inside it.

    kind: "header", "footer", "nav" or "part". digest: the same for the same region.
    """

    number: int
    last: int
    kind: str
    digest: str


Resolve = Callable[[str], "urls.Resolved | None"]


def regions(source: Source, facts: Facts, resolve: Resolve) -> list[Region]:
    """The regions of a page that could be shared, in tree order.

    resolve: what reads an address on the page.
    """
    found = []
    for number in sorted({*facts.frame, *_beside_content(source, facts)})[:_MOST]:
        last = number + source.reading.count_inside(number)
        if last - number > _LARGEST:
            continue
        digest = digest_of(source, number, last, resolve)
        if digest:
            kind = facts.regions.get(number, source.reading.tag(number))
            kind = kind if kind in ("header", "footer", "nav") else "part"
            found.append(Region(number, last, kind, digest))
    return found


def _beside_content(source: Source, facts: Facts) -> Iterator[int]:
    """Parts at the top level of the page's body, or at either end of its main
    part, that hold no content of the page's own."""
    reading = source.reading
    mains = reading.of_tags(("main",))
    content = _content(facts, mains)
    for top in (*reading.of_tags(("body",)), *mains):
        parts = reading.children_of_tags(top, _PARTS)
        if top in mains and len(parts) > 2 * _AT_ENDS:
            middle = [one for one in parts[_AT_ENDS:-_AT_ENDS] if reading.tag(one) == "aside"]
            parts = [*parts[:_AT_ENDS], *middle, *parts[-_AT_ENDS:]]
        if not content:
            parts = _but_the_largest(source, parts)
        for part in parts:
            last = part + reading.count_inside(part)
            if not any(part <= one <= last for one in content):
                yield part


def _content(facts: Facts, mains: list[int]) -> list[int]:
    """Elements that are surely the page's own: its main part and its heading. Without a
    heading of the first level, those of the highest level that it has outside the frame
    are its own: a system that gives pages no `h1` begins their content lower."""
    own = [one for one in facts.headings if not one.region]
    highest = min((one.level for one in own), default=1)
    if mains and highest > 1:
        return mains
    return [*mains, *(one.number for one in own if one.level == highest)]


def _but_the_largest(source: Source, parts: list[int]) -> list[int]:
    """Where a page names nothing as its own, most of its words are."""
    largest = max(parts, key=lambda one: len(source.text_of(one)), default=None)
    return [one for one in parts if one != largest]


def digest_of(source: Source, number: int, last: int, resolve: Resolve) -> str:
    """What the region is to a reader, as one short text; "" when it is too little."""
    if last - number < _SMALLEST - 2:
        return ""
    elements, texts = source.reading.likeness(number)
    words = " ".join(texts)
    if len(words.split(None, _SMALLEST)) < _SMALLEST:
        return ""
    if "\n" in words or "  " in words:
        words = " ".join(words.split())
    parts = [words]
    for tag, values in elements:
        parts.append(tag)
        for name, value in values:
            if name in _ADDRESSES:
                parts.append(f"{name}={_resolved(str(value or ''), resolve)}")
            elif name not in _OWN_TO_PAGE:
                parts.append(f"{name}={value}")
    plain = "\n".join(parts).encode("utf-8", "replace")
    return hashlib.sha1(plain, usedforsecurity=False).hexdigest()


def _resolved(written: str, resolve: Resolve) -> str:
    if written.startswith("#"):
        return written
    address = resolve(written)
    return address.href if address else written
