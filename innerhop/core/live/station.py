"""One planned thing, and how it stands on the site."""

from __future__ import annotations

from dataclasses import dataclass

from innerhop.core.copy_steps.step import Step

# There as planned; there, and otherwise; not yet; can't be told from the page; leads to a mark of
# another page that isn't there yet; of a page that nobody has looked at.
THERE, DIFFERENTLY, NOT_YET, UNTOLD = "there", "differently", "not-yet", "untold"
WAITS, UNSEEN = "waits", "unseen"


@dataclass(frozen=True)
class LiveStation:
    """A step of the copy sheet, and how it stands. state: one of these. how: how it was
    entered, in a sentence, where that is otherwise. todo: what to do there. there: the markup as
    it is there, "" for none. at: how far down the page it is, from 0 to 1. end: the page
    that it leads to, as `links.EndThere` names it, and the ID there, where it is a link.
    waits_for: the page, by key of its store, whose mark it waits for."""

    step: Step
    state: str
    how: str = ""
    todo: str = ""
    there: str = ""
    at: float = 0
    end: tuple[str, str] = ("", "")
    waits_for: int | None = None

    @property
    def is_there(self) -> bool:
        """Whether it is as planned."""
        return self.state == THERE
