"""One step of a copy sheet."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass

from innerhop.core.facts.frame import ASIDE, FOOTER, HEADER, NAV

HEADING, ID, MARKER, LINK, STYLE, MARKUP = "heading", "id", "marker", "link", "style", "markup"
NO_ID, LINK_AWAY, AWAY = "no-id", "no-link", "away"  # what goes: an ID, a link, a whole part
NEW_ITEM, REWORD, ITEM_END, MOVE_ITEM, AWAY_ITEM = ITEMS = (
    "new-item", "item-words", "item-end", "move-item", "no-item",
)  # fmt: skip
# In which order they are done to one part of a page; those on a menu in their own.
_ORDER = (STYLE, HEADING, ID, MARKER, LINK, NO_ID, LINK_AWAY, AWAY, MARKUP)
RANK = {kind: at for at, kind in enumerate(_ORDER)} | dict.fromkeys(ITEMS, len(_ORDER))
_FRAME_WORDS = {HEADER: "header", FOOTER: "footer", NAV: "navigation", ASIDE: "side part"}


@dataclass(frozen=True, slots=True)
class Step:
    """One thing to do. kind: one of RANK. section: the title of the section it is in, ""
    above the first and in the site's frame. what: the part, as an editor sees it in the
    other system. enter: what to type or paste, as it is. before: what is there now, if
    anything. note: how. at: where in the section, if the part's name does not say it.
    frame: the part of the site's frame that it is in, or "". pages: how many pages share
    the part it is in. nth: how many steps that say the same come before it on the page.
    number: the element of the new text that it is about, or that comes before what is
    gone. menu: what the menu is known by whose item it is about, "" for none. markup: the
    part as it then is, for systems that have no field for this at that place: whole where it
    is short, else its start tag; "" where there is none, or where it is what is to be entered."""

    kind: str
    section: str
    what: str
    enter: str
    before: str = ""
    note: str = ""
    at: str = ""
    frame: str = ""
    pages: int = 1
    nth: int = 0
    number: int = 0
    menu: str = ""
    markup: str = ""

    @property
    def within(self) -> str:
        """Which stretch of the page it is in, in words."""
        part = _FRAME_WORDS.get(self.frame, "")
        if self.kind == STYLE:
            return f"the same for {self.pages} pages: once will do" if self.pages > 1 else ""
        if self.pages > 1 and self.menu:
            where = f"the same on {self.pages} pages: once will do"
            where = f"in the {part}, {where}" if part else where
        elif self.pages > 1:
            part = f"shared {part}" if part else "shared part"
            where = f"in the {part}, the same on {self.pages} pages: enter it once"
        elif part:
            where = f"in the {part}"
        else:
            where = f"in “{self.section}”" if self.section and self.section not in self.what else ""
        return f"in {self.menu}{', ' if where else ''}{where}" if self.menu else where

    @property
    def message(self) -> tuple[str, ...]:
        """What it says, its place among others that say the same aside."""
        at = (self.at,) if self.menu else ()
        return self.kind, self.section, self.what, self.enter, self.before, *at

    @property
    def key(self) -> str:
        """The same as long as the step is the same."""
        message = "\n".join((*self.message, str(self.nth)))
        return hashlib.sha256(message.encode("utf-8", "surrogatepass")).hexdigest()[:40]
