"""What was done, by what it was done to: few kinds, so that one can be chosen."""

from __future__ import annotations

from typing import NamedTuple


class HistoryKind(NamedTuple):
    """A kind of thing that is done. title: what it is called. acts: by their names in the table
    of acts."""

    title: str
    acts: frozenset[str]


def _kind(title: str, acts: str) -> HistoryKind:
    return HistoryKind(title, frozenset(acts.split()))


BROUGHT = "brought-in"
KINDS = {
    "marks": _kind("IDs and headings", "mark marker move move-up move-down rename name-beside "
                   "take-away stop-leading heading level close-gaps from-class"),
    "hops": _kind("Hops", "hop link-part put-link retarget unlink reword mend reopen convert"),
    "lists": _kind("Contents and ways back", "contents usual-list remove-list update-lists "
                   "ways-back reword-ways"),
    "menus": _kind("Menus", "menu menu-in-line menu-current menu-lit menu-add menu-new keep-plan "
                   "drop-plan"),
    "readers": _kind("How readers arrive", "smooth room take-out-spacers say-language "
                     "visitor-parts"),
    "findings": _kind("Findings", "fix set-aside count-again"),
    "addresses": _kind("Addresses of pages", "move-page correct-address moved-there"),
    BROUGHT: _kind("Brought in", "take-in"),
    "site": _kind("The site", "settings remove lock people keep-page"),
}  # fmt: skip
