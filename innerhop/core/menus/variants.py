"""The same menu on two pages: which items are the same, and what is different. Told by
their words first and by where they lead after that (common practice, no source)."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Hashable, Sequence
from itertools import pairwise
from typing import NamedTuple

from innerhop.core.menus.item_rows import ItemRow
from innerhop.core.menus.menus import WORDS

LACKS, MORE, SAID, LEADS, ORDER, DEPTH = "lacks", "more", "said", "leads", "order", "depth"
_ALIKE = 0.5  # of all items of two menus so large a part is the same in both


class ItemDifference(NamedTuple):
    """One way in which a page's menu is not like the others'. at: the item there is in
    `base`, None for none; other: the item on the page."""

    kind: str
    at: int | None = None
    other: int | None = None


def paired(base: Sequence[ItemRow], other: Sequence[ItemRow]) -> list[int | None]:
    """For each item of one menu, which item of the other it is."""
    found: list[int | None] = [None] * len(base)
    taken: set[int] = set()
    for key in _KEYS:
        left: dict[Hashable, list[int]] = defaultdict(list)
        for at, one in enumerate(other):
            if at not in taken and key(one) is not None:
                left[key(one)].append(at)
        for at, one in enumerate(base):
            if found[at] is None and left.get(key(one)):
                found[at] = left[key(one)].pop(0)
                taken.add(found[at])  # type: ignore[arg-type]
    return found


def _by_end(one: ItemRow) -> Hashable:
    return one.to or None


_KEYS: Sequence[Callable[[ItemRow], Hashable]] = (
    lambda one: (one.label.casefold(), one.depth, one.to),
    lambda one: (one.label.casefold(), one.depth),
    lambda one: one.label.casefold(),
    _by_end,
)


def differences(
    base: Sequence[ItemRow], other: Sequence[ItemRow], page: str = ""
) -> list[ItemDifference]:
    """How a page's menu differs from the one that most pages have. page: the address of that
    page from the site's root, since a bare hash means a place on it."""
    pairs = paired(base, other)
    found: list[ItemDifference] = []
    for at, one in enumerate(base):
        there = pairs[at]
        if there is None:
            found.append(ItemDifference(LACKS, at))
            continue
        found += _of_pair(at, one, there, other[there], page)
    known = {one for one in pairs if one is not None}
    found += [ItemDifference(MORE, None, at) for at in range(len(other)) if at not in known]
    if is_open_branch(base, other):
        found = [one for one in found if not _depth_of(one, base, other)]
    order = [one for one in pairs if one is not None]
    if any(before > after for before, after in pairwise(order)):
        found.append(ItemDifference(ORDER))
    return found


def _depth_of(difference: ItemDifference, base: Sequence[ItemRow], other: Sequence[ItemRow]) -> int:
    depths = [base[difference.at].depth] if difference.at is not None else []
    return max(
        [*depths, *([other[difference.other].depth] if difference.other is not None else [])],
        default=0,
    )


def _of_pair(at: int, one: ItemRow, there: int, other: ItemRow, page: str) -> list[ItemDifference]:
    found = []
    if one.label.casefold() != other.label.casefold():
        found.append(ItemDifference(SAID, at, there))
    # On its own page an item is often no link: the reader is there.
    is_open = WORDS in (one.kind, other.kind) and (one.current or other.current)
    if not is_open and _whole(one.to, page) != _whole(other.to, page):
        found.append(ItemDifference(LEADS, at, there))
    if one.depth != other.depth:
        found.append(ItemDifference(DEPTH, at, there))
    return found


def _whole(to: str, page: str) -> str:
    return f"{page}{to}" if to.startswith("#") else to


def is_alike(one: Sequence[ItemRow], other: Sequence[ItemRow]) -> bool:
    """Whether two menus are one, a little different on some page: by the words of their
    items side by side, the open page's own aside; what is under them may be open or not."""
    first, second = _side_by_side(one), _side_by_side(other)
    # The open page's item is often called otherwise, and is one of those that count if not.
    more = first.keys() & second.keys()
    own = {label for label in first.keys() ^ second.keys()
           if first.get(label) or second.get(label)}  # fmt: skip
    return bool(more) and len(more) >= _ALIKE * (len(first.keys() | second.keys()) - len(own))


def _side_by_side(items: Sequence[ItemRow]) -> dict[str, bool]:
    """The items side by side by their words, with whether each is the open page's."""
    return {item.label.casefold(): bool(item.current) or item.kind == WORDS
            for item in items if not item.depth}  # fmt: skip


def is_open_branch(one: Sequence[ItemRow], other: Sequence[ItemRow]) -> bool:
    """Whether what is under the items of a menu differs since each page opens the branch that
    it is in: at most one item has others under it, and not the same on both."""
    first, second = _open(one), _open(other)
    return first != second and len(first) <= 1 and len(second) <= 1


def _open(items: Sequence[ItemRow]) -> set[str]:
    """The items side by side that have others under them."""
    return {item.label.casefold() for item, below in pairwise(items)
            if not item.depth and below.depth}  # fmt: skip
