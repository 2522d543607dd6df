"""The running text of a page: its own words, in sentences, where a link could be put. What
pages share around it, headings, labels, code and what can be clicked already are none."""

from __future__ import annotations

from collections.abc import Iterator

from innerhop.core.facts.page_facts import Facts
from innerhop.core.planners.selection import texts_below
from innerhop.core.source.content_models import LEVELS, SILENT
from innerhop.core.source.tree import Source

_AROUND = 40  # characters shown on either side
# Words in these are links already, or no running text.
_NOT_IN = frozenset((
    "a", "button", "summary", "label", "nav", "pre", "code", "kbd", "samp", "textarea", "select",
    "option", "caption", "figcaption", "dt", "template", "svg", "math", *LEVELS, *SILENT,
))  # fmt: skip


def running(source: Source, facts: Facts) -> Iterator[tuple[int, int, str]]:
    """The texts of a page that are sentences of its own: the element that each is in, its place
    among that element's child nodes, and its characters."""
    silent = _silent(source, facts)
    for number, child, data in texts_below(source, 0, 0):
        if number not in silent:
            yield number, child, data


def _silent(source: Source, facts: Facts) -> set[int]:
    """The elements whose words are no running text of the page's own."""
    found: set[int] = set()
    for number, tag in enumerate(source.tags):
        if tag in _NOT_IN or number in facts.frame or source.parents[number] in found:
            found.add(number)
    return found


def around(data: str, first: int, last: int) -> tuple[str, str]:
    """What stands before and behind words of a text, as far as it is shown: whole words."""
    before, after = data[:first], data[last:]
    if len(before) > _AROUND:
        before = before[-_AROUND:].partition(" ")[2]
    if len(after) > _AROUND:
        after = after[:_AROUND].rpartition(" ")[0]
    return before, after
