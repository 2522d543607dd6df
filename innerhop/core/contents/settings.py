"""What a contents list knows of itself, in data attributes of its own markup, so that a
page that goes out and comes back still knows its lists. docs/what-it-writes.md lists them.

https://html.spec.whatwg.org/multipage/dom.html#embedding-custom-non-visible-data-with-the-data-*-attributes
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

KIND, LEVELS, LEFT_OUT, SCOPE, ORDER = (
    "data-hop-list", "data-hop-levels", "data-hop-left-out", "data-hop-scope", "data-hop-order",
)  # fmt: skip
LABEL = "data-hop-label"  # on an entry whose words are the editor's own
WAY_BACK = "data-hop-back"  # on a way back: where it was put
MENU = "data-hop-menu"  # on a menu in which the section one is in is lit up
UP = "data-hop-up"  # on a way back that stays in view: after how many screens it comes
OWN = "own"
PAGE, CHOSEN = "page", "chosen"


@dataclass(frozen=True, slots=True)
class Settings:
    """levels: the kinds of part that are entries (see `entries`). left_out: the keys of
    those that are not to be in it. scope: PAGE, CHOSEN for a group picked by hand, or the
    key of the section whose parts it lists. own_order: whether its order is the editor's."""

    kind: str
    levels: tuple[str, ...] = ()
    left_out: frozenset[str] = frozenset()
    scope: str = PAGE
    own_order: bool = False

    def attributes(self) -> dict[str, str]:
        """As they are written."""
        found = {KIND: self.kind, LEVELS: " ".join(self.levels)}
        if self.left_out:
            found[LEFT_OUT] = " ".join(sorted(self.left_out))
        if self.scope != PAGE:
            found[SCOPE] = self.scope
        if self.own_order:
            found[ORDER] = OWN
        return found


ATTRIBUTES = (KIND, LEVELS, LEFT_OUT, SCOPE, ORDER)


def read(values: Mapping[str, str]) -> Settings | None:
    """The settings that stand in an element's attributes; None for an element without."""
    if KIND not in values:
        return None
    return Settings(
        values[KIND],
        tuple(values.get(LEVELS, "").split()),
        frozenset(values.get(LEFT_OUT, "").split()),
        values.get(SCOPE, PAGE) or PAGE,
        values.get(ORDER) == OWN,
    )
