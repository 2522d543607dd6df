"""IDs came to a page, or went from it, and all else of it stayed: which of the broken hops to it
may have been meant otherwise than was told. The others need not be asked about again, and a page
may have thousands of them."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence

from innerhop.core.facts.sections import Section
from innerhop.core.findings import ends
from innerhop.core.findings.found import JudgedLink, Question
from innerhop.core.findings.table import ASKED_FOR_HOPS
from innerhop.core.names.ids import Naming
from innerhop.core.site import guesses

# What rules ask for hops whose answers are told here, or are the same whatever IDs a page has.
_KNOWN: frozenset[Question] = frozenset((
    "having", "titles", "ids", "path", "naming", "moved", "near", "has_folder", "with_class",
    "times",
))  # fmt: skip
MOST = 20  # IDs: of more, asking about each hop again takes no longer


class OtherIds:
    """What is new of a page.

    values: the IDs that came or went. sections: those of its sections that have another ID now.
    naming: how its IDs are named.
    """

    def __init__(
        self, values: Collection[str], sections: Sequence[Section], naming: Naming
    ) -> None:
        self._values = frozenset(values)
        self._ids = guesses.Ids([*values])
        # Without the IDs they have: the words of a heading count whether it has one or not.
        rows = [guesses.Titled(one.number, one.title, "") for one in sections]
        self._titles = guesses.Titles(rows, naming)
        self._has_other_answer: Mapping[Question, Callable[[JudgedLink], bool]] = {
            "having": self._is_asked_for,
            "titles": self._has_words,
            "ids": self._is_near,
        }

    def may_concern(self, link: JudgedLink) -> bool:
        """Whether something else may be told now of a broken hop to this page."""
        if ASKED_FOR_HOPS is None or not ASKED_FOR_HOPS <= _KNOWN:
            return True
        return any(is_other(link) for question, is_other in self._has_other_answer.items()
                   if question in ASKED_FOR_HOPS)  # fmt: skip

    def _is_near(self, link: JudgedLink) -> bool:
        asked = ends.asked_for(link)
        is_in_it = any(id_ and id_ in asked for id_ in self._values)
        return is_in_it or bool(guesses.likely(link.fragment or "", 0, self._ids, ()))

    def _is_asked_for(self, link: JudgedLink) -> bool:
        return ends.asked_for(link) in self._values

    def _has_words(self, link: JudgedLink) -> bool:
        return bool(self._titles.like(link.fragment or "", link.text))
