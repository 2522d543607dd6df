"""What is to be said of a menu's words: two items with the same ones, two with the same
end, more items than readers take in.

WCAG 2.2, 2.4.4 "Link Purpose (In Context)". How many items are too many is common
practice, no source.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from innerhop.core.menus.item_rows import ItemRow

MOST = 7  # items side by side


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
        found.append("Items three levels deep are hard to reach on a phone (common practice).")
    return found


def of_item(items: Sequence[ItemRow], at: int) -> list[str]:
    """What is to be said of one item."""
    own = items[at]
    same_words = Counter(one.label.casefold() for one in items)[own.label.casefold()]
    same_end = [one for place, one in enumerate(items)
                if own.to and one.to == own.to and place != at]  # fmt: skip
    found = []
    if not own.label.strip():
        found.append("It has no words, so nobody who can’t see it knows where it leads.")
    elif same_words > 1:
        found.append("Another item has the same words. Readers can’t tell the two apart.")
    if same_end:
        found.append(f"“{same_end[0].label}” leads to the same place.")
    return found
