"""Menus: two items that are called the same."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

from innerhop.core.findings.found import (
    MENUS,
    MISLED,
    Found,
    PageRows,
    Rule,
    SiteView,
    Standard,
)


def _twice(page: PageRows, site: SiteView) -> Iterator[Found]:
    for items in page.menus:
        counts = Counter(label.casefold() for _, label in items)
        seen: set[str] = set()
        for number, label in items:
            if label and counts[label.casefold()] > 1 and label.casefold() in seen:
                yield RULE.at(number, label)
            seen.add(label.casefold())


RULE = Rule(
    name="menu-label-twice",
    level=MISLED,
    title="Two items of a menu are called the same",
    why="“{words}” stands in the menu twice, and nobody sees which leads where.",
    source=Standard(
        "WCAG 2.2, 2.4.4 “Link Purpose (In Context)”",
        "https://www.w3.org/TR/WCAG22/#link-purpose-in-context",
    ),
    avoid="Call menu items by what is there, not by what kind of page it is.",
    find=_twice,
    reads=(MENUS,),
    asks=(),
    no_fix="Which of them should be called otherwise, you choose on Menus.",
)
