"""One planned thing, and how it stands on the site."""

from __future__ import annotations

from dataclasses import dataclass

from innerhop.core.copy_steps.step import Step

# There as planned; there, and otherwise; not yet; can't be told from the page.
THERE, DIFFERENTLY, NOT_YET, UNTOLD = "there", "differently", "not-yet", "untold"


@dataclass(frozen=True)
class Station:
    """A step of the copy sheet, and how it stands. state: one of the four. how: how it was
    entered, in a sentence, where that is otherwise. todo: what to do there. there: the markup as
    it is there, "" for none. at: how far down the page it is, from 0 to 1. end: the page
    that it leads to, as `links.End` names it, and the ID there, where it is a link."""

    step: Step
    state: str
    how: str = ""
    todo: str = ""
    there: str = ""
    at: float = 0
    end: tuple[str, str] = ("", "")
