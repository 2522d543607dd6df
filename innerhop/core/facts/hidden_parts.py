"""Parts of a page that are shut when it opens, and whether a hop opens them.

HTML Standard, "ancestor revealing algorithm": what stands in a closed `details`,
or in a part that is `hidden=until-found`, is shown to whoever is sent there.
Nothing else that is hidden is: what has no box can't be scrolled to (CSSOM View,
"scroll an element into view").
"""

from __future__ import annotations

import re
from collections.abc import Iterator

from innerhop.core.source.tree import Node, Source

OPENS, HIDDEN = "opens", "hidden"
_SHUT = "details:not([open]), [hidden], dialog:not([open]), [style], [popover]"
_NO_BOX = re.compile(r"(?:^|;)\s*(?:display\s*:\s*none|content-visibility\s*:\s*hidden)", re.I)

SAID = {
    OPENS: "It ends in a closed part, which the browser opens for the reader.",
    HIDDEN: "It ends in a part that is hidden, so the browser has nothing to show and stays put.",
}


def states(source: Source) -> dict[int, str]:
    """The elements that stand in a shut part, by number: whether a hop OPENS it, or
    it stays HIDDEN. One hidden part around an element is enough to hide it."""
    found: dict[int, str] = {}
    for node in source.document.select(_SHUT):
        for first, last, state in _parts(source, node):
            for number in range(first, last + 1):
                if found.get(number) != HIDDEN:
                    found[number] = state
    return found


_Part = tuple[int, int, str]  # the numbers of the first and last element inside, and the state


def _parts(source: Source, node: Node) -> Iterator[_Part]:
    number = source.number(node)
    last = source.last_inside(number)
    hidden = node.attr("hidden")
    if hidden is not None or "hidden" in dict(node.attrs):
        until_found = str(hidden or "").strip().lower() == "until-found"
        yield number, last, OPENS if until_found else HIDDEN
    elif node.tag == "details" and "open" not in dict(node.attrs):
        yield from _content(source, node, number, last)
    elif _has_no_box(node):
        yield number, last, HIDDEN


def _has_no_box(node: Node) -> bool:
    if node.tag == "dialog" or node.attr("popover") is not None:
        return "open" not in dict(node.attrs)
    return _NO_BOX.search(str(node.attr("style") or "")) is not None


def _content(source: Source, details: Node, number: int, last: int) -> Iterator[_Part]:
    """What a closed `details` hides: all but its first `summary`."""
    children = [one for one in details.children if isinstance(one, Node)]
    summary = next((one for one in children if one.tag == "summary"), None)
    if summary is None:
        if last > number:
            yield number + 1, last, OPENS
        return
    at = source.number(summary)
    after = source.last_inside(at) + 1
    if at > number + 1:
        yield number + 1, at - 1, OPENS
    if after <= last:
        yield after, last, OPENS
