"""Whether a link's words say where it leads.

WCAG 2.2, 2.4.4 "Link Purpose (In Context)", with the failures that its
techniques name: F84 (words such as "click here" or "more"), F89 (a picture with
no alternative text is all that is in the link), and 2.4.9's advice that the
same words lead to the same place.
"""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Hashable, Iterable
from functools import lru_cache

EMPTY = (
    "Nothing in this link can be read out. Give its picture an alternative text that says where "
    "it leads, or put words into it."
)
VAGUE = "“{}” does not say where it leads, to those who hear the page or skim its links."
TWICE = "“{}” leads to {} different places from this page. Let the words tell them apart."

# F84 for English; the other languages' like phrases are common practice, no source.
_VAGUE = frozenset(
    """
click here|here|click|more|read more|learn more|more info|more information|details|this|link|
this link|this page|see more|find out more|go|continue|info
hier|hier klicken|klicken sie hier|mehr|mehr lesen|weiterlesen|weiter|mehr erfahren|link|infos
ici|cliquez ici|cliquer ici|en savoir plus|lire la suite|plus|suite
aquí|haga clic aquí|pulse aquí|más|leer más|más información|ver más
qui|clicca qui|leggi tutto|leggi di più|scopri di più|altro
klik hier|lees meer|lees verder|meer|meer informatie
kliknij tutaj|tutaj|więcej|czytaj więcej|czytaj dalej
clique aqui|aqui|saiba mais|leia mais|mais
klicka här|här|läs mer|mer
cliciwch yma|yma|mwy|darllen mwy
εδώ|πατήστε εδώ|περισσότερα
тут|натисніть тут|детальніше|більше
buraya tıklayın|burada|devamı|daha fazla
こちら|ここをクリック|詳しくはこちら|続きを読む|もっと見る
""".replace("\n", "|")
    .strip("|")
    .split("|")
)


# Those that say something once what they stand behind is known.
MORE = frozenset(
    """
more|read more|learn more|more info|more information|details|see more|find out more|continue|info
mehr|mehr lesen|weiterlesen|weiter|mehr erfahren|infos
en savoir plus|lire la suite|plus|suite
más|leer más|más información|ver más
leggi tutto|leggi di più|scopri di più|altro
lees meer|lees verder|meer|meer informatie
więcej|czytaj więcej|czytaj dalej|saiba mais|leia mais|mais|läs mer|mer|mwy|darllen mwy
περισσότερα|детальніше|більше|devamı|daha fazla|詳しくはこちら|続きを読む|もっと見る
""".replace("\n", "|")
    .strip("|")
    .split("|")
)
# Arrows are all that a reader sees of some links.
_ARROWS = frozenset("→»›⇒➔➜▶▸>…")


@lru_cache(maxsize=8192)  # a page's links are looked at several ways, one after the other
def plain(text: str) -> str:
    """Words as they are compared: capitals, arrows and points aside."""
    return " ".join(re.sub(r"[^\w\s]|_", " ", text).split()).casefold()


def trouble(text: str) -> str:
    """What is wrong with a link's words alone, in one sentence; "" when nothing is."""
    words = plain(text)
    if not words:
        said = text.strip()
        if not said:
            return EMPTY
        # Any other sign is a name: of an operator, a letter of an index, a note.
        return VAGUE.format(said) if set(said) <= _ARROWS else ""
    return VAGUE.format(text.strip()) if words in _VAGUE else ""


class SameWords:
    """Which words of a page lead to more than one place."""

    def __init__(self, links: Iterable[tuple[str, Hashable]]) -> None:
        """links: each link's words, and the place that it leads to."""
        self._ends: dict[str, set[Hashable]] = defaultdict(set)
        for text, end in links:
            self._ends[plain(text)].add(end)

    def count(self, text: str) -> int:
        """To how many places the links of these words lead."""
        return len(self._ends.get(plain(text), ()))

    def trouble(self, text: str, end: Hashable = None) -> str:
        """What is wrong with a link of these words beside the others, if anything.
        end: where a link that is not there yet would lead."""
        words = plain(text)
        ends = self._ends.get(words, set()) | ({end} if end is not None else set())
        return TWICE.format(text.strip(), len(ends)) if words and len(ends) > 1 else ""
