"""What is to be said of a menu's words: two items with the same ones, two with the same
end, more items than readers take in.

WCAG 2.2, 2.4.4 "Link Purpose (In Context)". How many items are too many is common
practice, no source.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Sequence

from innerhop.core.menus.item_rows import ItemRow

MOST = 7  # items side by side
DEEP = "Items three levels deep are hard to reach on a phone (common practice)."


def of_menu(items: Sequence[ItemRow]) -> list[str]:
    """What is to be said of a menu as a whole."""
    side_by_side = sum(one.depth == 0 for one in items)
    found = []
    if side_by_side > MOST:
        found.append(
            f"{side_by_side} items stand side by side. Readers take in about {MOST} at a glance "
            "(common practice); put some under others."
        )
    if max((one.depth for one in items), default=0) > 1:
        found.append(DEEP)
    return found


def of_items(items: Sequence[ItemRow]) -> list[list[str]]:
    """What is to be said of each item."""
    same_words = Counter(one.label.casefold() for one in items)
    same_end: dict[str, list[ItemRow]] = defaultdict(list)
    for one in items:
        if one.to:
            same_end[one.to].append(one)
    found = []
    for own in items:
        said = []
        if not own.label.strip():
            said.append("It has no words, so nobody who can’t see it knows where it leads.")
        elif same_words[own.label.casefold()] > 1:
            said.append("Another item has the same words. Readers can’t tell the two apart.")
        other = next((one for one in same_end[own.to][:2] if one is not own), None)
        if own.to and other:
            said.append(f"“{other.label}” leads to the same place.")
        found.append(said)
    return found
