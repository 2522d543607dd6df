"""Parts of a page that are shut when it opens, and whether a hop opens them.

HTML Standard, "ancestor revealing algorithm": what stands in a closed `details`,
or in a part that is `hidden=until-found`, is shown to whoever is sent there.
Nothing else that is hidden is: what has no box can't be scrolled to (CSSOM View,
"scroll an element into view").
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from innerhop.core.source import Node, Source

OPENS, HIDDEN = "opens", "hidden"
_SHUT = "details:not([open]), [hidden], dialog:not([open]), [style], [popover]"
_NO_BOX = re.compile(r"(?:^|;)\s*(?:display\s*:\s*none|content-visibility\s*:\s*hidden)", re.I)

SAID = {
    OPENS: "It ends in a closed part, which the browser opens for the reader.",
    HIDDEN: "It ends in a part that is hidden, so the browser has nothing to show and stays put.",
}


class Closed(NamedTuple):
    """A shut part: the numbers of the first and last element inside it."""

    first: int
    last: int
    state: str


def parts(source: Source) -> list[Closed]:
    """Every shut part of the page, in tree order."""
    return [part for node in source.document.select(_SHUT) for part in _parts(source, node)]


def _parts(source: Source, node: Node) -> Iterator[Closed]:
    number = source.number(node)
    last = source.last_inside(number)
    hidden = node.attr("hidden")
    if hidden is not None or "hidden" in dict(node.attrs):
        until_found = str(hidden or "").strip().lower() == "until-found"
        yield Closed(number, last, OPENS if until_found else HIDDEN)
    elif node.tag == "details" and "open" not in dict(node.attrs):
        yield from _content(source, node, number, last)
    elif _has_no_box(node):
        yield Closed(number, last, HIDDEN)


def _has_no_box(node: Node) -> bool:
    if node.tag == "dialog" or node.attr("popover") is not None:
        return "open" not in dict(node.attrs)
    return _NO_BOX.search(str(node.attr("style") or "")) is not None


def _content(source: Source, details: Node, number: int, last: int) -> Iterator[Closed]:
    """What a closed `details` hides: all but its first `summary`."""
    children = [one for one in details.children if isinstance(one, Node)]
    summary = next((one for one in children if one.tag == "summary"), None)
    if summary is None:
        if last > number:
            yield Closed(number + 1, last, OPENS)
        return
    at = source.number(summary)
    after = source.last_inside(at) + 1
    if at > number + 1:
        yield Closed(number + 1, at - 1, OPENS)
    if after <= last:
        yield Closed(after, last, OPENS)


def state(shut: Sequence[Closed], number: int) -> str:
    """HIDDEN or OPENS for an element in a shut part, else "". One hidden part
    around it is enough to keep it from being shown."""
    found = {part.state for part in shut if part.first <= number <= part.last}
    return HIDDEN if HIDDEN in found else OPENS if found else ""
