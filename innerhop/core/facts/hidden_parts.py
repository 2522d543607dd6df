"""Parts of a page that are shut when it opens, and whether a hop opens them.

https://html.spec.whatwg.org/multipage/interaction.html#ancestor-revealing-algorithm:
what stands in a closed `details`, or in a part that is `hidden=until-found`, is shown
to whoever is sent there. Nothing else that is hidden is: what has no box can't be
scrolled to (https://drafts.csswg.org/cssom-view/#scroll-an-element-into-view).
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator

from innerhop.core.source.elements import Element
from innerhop.core.source.tree import Source, as_elements

OPENS, HIDDEN = "opens", "hidden"
_NO_BOX = re.compile(r"(?:^|;)\s*(?:display\s*:\s*none|content-visibility\s*:\s*hidden)", re.I)

MESSAGES = {
    OPENS: "It ends in a closed part, which the browser opens for the reader.",
    HIDDEN: "It ends in a part that is hidden, so the browser has nothing to show and stays put.",
}

_COULD_BE = "details, dialog, [hidden], [style], [popover]"
_Part = tuple[int, int, str]  # the numbers of the first and last element inside, and the state


def states(source: Source, numbers: Iterable[int]) -> dict[int, str]:
    """Those of some elements, by number, that stand in a shut part: whether a hop OPENS
    it, or it stays HIDDEN. One hidden part around an element is enough to hide it."""
    parts = sorted(_parts(source))
    if not parts:
        return {}
    found: dict[int, str] = {}
    ends = {OPENS: -1, HIDDEN: -1}
    at = 0
    for number in sorted(numbers):
        while at < len(parts) and parts[at][0] <= number:
            _, last, state = parts[at]
            ends[state] = max(ends[state], last)
            at += 1
        if number <= ends[HIDDEN]:
            found[number] = HIDDEN
        elif number <= ends[OPENS]:
            found[number] = OPENS
    return found


def state_of(source: Source, number: int) -> str:
    """What holds of one element; "" where it is not shut."""
    return states(source, [number]).get(number, "")


def _parts(source: Source) -> Iterator[_Part]:
    for number in source.reading.matching(_COULD_BE):
        element = source.element(number)
        if element.tag in ("details", "dialog"):
            yield from _by_tag(element)
        hidden = element.attr("hidden")
        if hidden is not None:
            opens = hidden.strip().lower() == "until-found"
            yield element.number, element.last, OPENS if opens else HIDDEN
        elif _has_no_box(element):
            yield element.number, element.last, HIDDEN


def _by_tag(element: Element) -> Iterator[_Part]:
    if element.attr("open") is not None or element.attr("hidden") is not None:
        return
    if element.tag == "details":
        yield from _content(element)
    else:
        yield element.number, element.last, HIDDEN


def _has_no_box(element: Element) -> bool:
    if element.attr("popover") is not None and element.attr("open") is None:
        return True
    return _NO_BOX.search(element.attr("style") or "") is not None


def _content(details: Element) -> Iterator[_Part]:
    """What a closed `details` hides: all but its first `summary`."""
    summary = next((one for one in as_elements(details.children) if one.tag == "summary"), None)
    first, last = details.number + 1, details.last
    if summary is None:
        if last >= first:
            yield first, last, OPENS
        return
    if summary.number > first:
        yield first, summary.number - 1, OPENS
    if summary.last < last:
        yield summary.last + 1, last, OPENS
