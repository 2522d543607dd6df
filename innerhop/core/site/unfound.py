"""Pages that say, with 200, that there is nothing (practice: some systems answer so)."""

from __future__ import annotations

from rapidfuzz import fuzz

_ALIKE = 97  # of 100: but for the address or a date that it repeats
_COMPARED = 20_000  # characters


class Unfound:
    """What a site answers for a page that isn't there; nothing where it says so by its status."""

    def __init__(self) -> None:
        self.text = ""

    def learn(self, text: str) -> None:
        """That is what it answers."""
        self.text = text[:_COMPARED]

    def is_like(self, text: str) -> bool:
        """Whether a page says the same."""
        own = text[:_COMPARED]
        if not self.text or abs(len(own) - len(self.text)) > 0.1 * len(self.text):
            return False
        return fuzz.ratio(own, self.text, score_cutoff=_ALIKE) > 0
