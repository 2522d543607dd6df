"""A page while someone works through its copy sheet from the top down: above the place
where they are it is as it will be, below as it was. So is what things are called there."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from itertools import accumulate

from innerhop.core.copy_steps.whereabouts import Whereabouts
from innerhop.core.source.tree import Source


class UnderWay:
    """origins: which element of the old text each of the new one was (see `origins`)."""

    def __init__(self, old: Source, new: Source, origins: Sequence[int | None]) -> None:
        self.before, self.after = Whereabouts(old), Whereabouts(new)
        self.origins = origins
        # Up to each element of the new text, how far that is in the old.
        self._reached = list(accumulate((-1 if one is None else one for one in origins), max))

    def called_there(self, origin: int, at: int) -> str:
        """An element of the old text, when the work has come to one of the new: its kind and
        first words, and which of those that are called the same."""
        kind, name = self.before.named(origin)
        earlier = bisect_left(self.after.alike(at, kind, name), at)
        same = self.before.alike(origin, kind, name)
        later = len(same) - bisect_right(same, origin)
        return which(name, earlier + 1, earlier + 1 + later)

    def called_here(self, number: int, at: int) -> str:
        """The same of an element of the new text."""
        origin = self.origins[number]
        if number > at and origin is not None:
            return self.called_there(origin, at)
        kind, name = self.after.named(number)
        same = self.after.alike(number, kind, name)
        old = self.before.alike(max(0, self._reached[at]), kind, name)
        later = len(old) - bisect_right(old, self._reached[at])
        done = bisect_right(same, max(at, number))
        return which(name, bisect_left(same, number) + 1, done + later)

    def words_behind(self, number: int) -> str:
        """Where words stand that a new element is put around: in which part, and behind
        which words of it."""
        inside = f"in the {self.called_here(self.after.block(number), number)}"
        lead = self.after.lead(number)
        return f"{inside}, after “{lead}”" if lead else f"{inside}, at its beginning"

    def spot(self, number: int) -> str:
        """Where a new element is put: right before a part, or behind one, or behind words."""
        page = self.after
        if page.follows_words(number):
            return self.words_behind(number)
        last, following = page.beside(number)
        if following is None or page.is_title(following):
            if last is not None and not page.is_title(last):
                section = page.section(number)
                end = f"at the end of “{section}”, " if section else ""
                return f"{end}right behind the {self.called_here(last, number)}"
        elif last is not None and page.source.parent(following) != page.source.parent(number):
            return f"right behind the {self.called_here(last, number)}"
        if following is None:
            return "at the page’s end"
        return f"right before the {self.called_here(following, number)}"


def which(name: str, nth: int, of: int) -> str:
    """A name, and which of several of that name."""
    return name if of < 2 else f"{name} ({_nth(nth)} of {of})"


def _nth(number: int) -> str:
    ending = {1: "st", 2: "nd", 3: "rd"}.get(number % 10, "th")
    return f"{number}{'th' if number % 100 in (11, 12, 13) else ending}"
