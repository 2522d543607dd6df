"""Regions that a page may share with others: its header, its footer, and other
parts that stand beside its own content. Two pages share a region when what a
reader gets there is the same, wherever its links are written from."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

from innerhop.core.addresses import urls
from innerhop.core.facts.page_facts import Facts
from innerhop.core.source.elements import Element
from innerhop.core.source.tree import Source, as_elements

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
        last = source.last_inside(number)
        if last - number > _LARGEST:
            continue
        digest = _digest(source, number, last, resolve)
        if digest:
            kind = facts.regions.get(number, source.tags[number])
            kind = kind if kind in ("header", "footer", "nav") else "part"
            found.append(Region(number, last, kind, digest))
    return found


def _beside_content(source: Source, facts: Facts) -> Iterator[int]:
    """Parts at the top level of the page's body, or at either end of its main
    part, that hold no content of the page's own."""
    tops = list(source.of_tags("body", "main"))
    content = _content(source, facts, [top.number for top in tops if top.tag == "main"])
    for top in tops:
        parts = [one for one in as_elements(top.children) if one.tag in _PARTS]
        if top.tag == "main" and len(parts) > 2 * _AT_ENDS:
            middle = [one for one in parts[_AT_ENDS:-_AT_ENDS] if one.tag == "aside"]
            parts = [*parts[:_AT_ENDS], *middle, *parts[-_AT_ENDS:]]
        if top.tag == "body" and not content:
            parts = _but_the_largest(parts)
        for part in parts:
            if not any(part.number <= one <= part.last for one in content):
                yield part.number


def _content(source: Source, facts: Facts, mains: list[int]) -> list[int]:
    """Elements that are surely the page's own: its main part and its heading. Without a
    heading of the first level, those of the highest level that it has outside the frame
    are its own: a system that gives pages no `h1` begins their content lower."""
    own = [one for one in facts.headings if not one.region]
    highest = min((one.level for one in own), default=1)
    if mains and highest > 1:
        return mains
    return [*mains, *(one.number for one in own if one.level == highest)]


def _but_the_largest(parts: list[Element]) -> list[Element]:
    """Where a page names nothing as its own, most of its words are."""
    largest = max(parts, key=lambda one: len(one.text), default=None)
    return [one for one in parts if one != largest]


def _digest(source: Source, number: int, last: int, resolved: Resolve) -> str:
    """What the region is to a reader, as one short text; "" when it is too little."""
    text = source.text_of(number).split()
    if len(text) < _SMALLEST or last - number < _SMALLEST - 2:
        return ""
    lines: list[object] = []
    for at in range(number, last + 1):
        above = source.parents[at] - number if at > number else 0
        lines.append([source.tags[at], above, _attributes(source, at, resolved), _text(source, at)])
    return hashlib.sha1(json.dumps(lines).encode(), usedforsecurity=False).hexdigest()


def _text(source: Source, number: int) -> Sequence[object]:
    """The words that an element itself holds, with what stands between them."""
    children = source.children(number)
    if len(children) == 1 and not isinstance(children[0], Element):
        return source.text_of(number).split()
    return [
        0 if isinstance(child, Element) else " ".join(getattr(child, "data", "").split())
        for child in children
        if not child.is_blank
    ]


def _attributes(source: Source, number: int, resolved: Resolve) -> list[tuple[str, str]]:
    found = []
    for name, value in sorted(source.attributes(number).items()):
        if name in _OWN_TO_PAGE:
            continue
        if name in _ADDRESSES and not value.startswith("#"):
            address = resolved(value)
            found.append((name, address.href if address else value))
        else:
            found.append((name, value))
    return found
