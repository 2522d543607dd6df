"""Regions that a page may share with others: its header, its footer, and other
parts that stand beside its own content. Two pages share a region when what a
reader gets there is the same, wherever its links are written from."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterator
from typing import NamedTuple

from innerhop.core.addresses import urls
from innerhop.core.facts.page_facts import Facts
from innerhop.core.source.tree import Node, Source, is_text

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


def regions(source: Source, facts: Facts, base: str) -> list[Region]:
    """The regions of a page that could be shared, in tree order.

    base: what the page's links are resolved against.
    """
    found = []
    for number in sorted({*facts.frame, *_beside_content(source, facts)})[:_MOST]:
        last = source.last_inside(number)
        if last - number > _LARGEST:
            continue
        digest = _digest(source, number, last, base)
        if digest:
            tag = source.node(number).tag
            kind = tag if tag in ("header", "footer", "nav") else "part"
            found.append(Region(number, last, kind, digest))
    return found


def _beside_content(source: Source, facts: Facts) -> Iterator[int]:
    """Parts at the top level of the page's body, or at either end of its main
    part, that hold neither the main part nor the page's heading."""
    content = {one.number for one in facts.headings if one.rank == 1 and not one.region}
    tops = source.document.select("body, main")
    content |= {source.number(top) for top in tops if top.tag == "main"}
    for top in tops:
        parts = [one for one in top.children if isinstance(one, Node) and one.tag in _PARTS]
        if top.tag == "main" and len(parts) > 2 * _AT_ENDS:
            middle = [one for one in parts[_AT_ENDS:-_AT_ENDS] if one.tag == "aside"]
            parts = [*parts[:_AT_ENDS], *middle, *parts[-_AT_ENDS:]]
        for part in parts:
            number = source.number(part)
            last = source.last_inside(number)
            if not any(number <= one <= last for one in content):
                yield number


def _digest(source: Source, number: int, last: int, base: str) -> str:
    """What the region is to a reader, as one short text; "" when it is too little."""
    root = source.node(number)
    lines: list[object] = [_element(source, root, 0, base)]
    words = 0
    for node in root.descendants:
        if isinstance(node, Node):
            above = source.number(node.parent) - number if isinstance(node.parent, Node) else -1
            lines.append(_element(source, node, above, base))
        elif is_text(node) and node.text.strip():
            words += len(node.text.split())
            lines.append(" ".join(node.text.split()))
    if words < _SMALLEST or last - number < _SMALLEST - 2:
        return ""
    return hashlib.sha1(json.dumps(lines).encode(), usedforsecurity=False).hexdigest()


def _element(source: Source, node: Node, above: int, base: str) -> list[object]:
    attributes = []
    for name, value in sorted(dict(node.attrs).items()):
        if name in _OWN_TO_PAGE:
            continue
        if name in _ADDRESSES and not str(value).startswith("#"):
            found = urls.resolve(str(value), base)
            attributes.append((name, found.href if found else str(value)))
        else:
            attributes.append((name, str(value)))
    return [node.tag, above, attributes]
