"""Offers: words of a page that name a section of the site and lead nowhere, so that the hop is
one step away (common practice, no source; measured on open corpora, see `judging`). Words are
taken for a section's name where they are written as one, where what stands before them says so,
where they are long, or where the site says them rarely. A section offers each hop once, where
it is mentioned first."""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Collection, Iterator, Mapping, Sequence
from typing import NamedTuple

from innerhop.core.planners.running_text import around, running
from innerhop.core.planners.selection import Point, Words
from innerhop.core.site.page_reading import PageReading
from innerhop.core.source.content_models import PHRASING
from innerhop.core.source.tree import Source

_TOKEN = re.compile(r"\w+(?:['’-]\w+)*")
_FEWEST, _MOST = 2, 8  # words of a title
_SHORTEST = 9  # letters of a title: shorter ones are met by chance
# Words that name nothing by themselves (from memory; articles, prepositions and their like).
_LITTLE_WORDS = """
a an and are at be before after by can do down for from has have how if in into is it its of off on
or our out over that the their there these they this to under up us was we what when where which
who why with you your
am an auf aus bei bis das dem den der des die ein eine einen einer für im in ist mit nach oder und
von vor was wie wo zu zum zur
au aux avec ce ces dans de des du en est et la le les leur nos notre ou où par pour quand que qui
sur un une votre vos
al como con cuando de del donde el en la las lo los o para por que qué su sus un una y
che chi come con da dal dei del della di dove e gli i il in la le lo nel per quando un una
aan bij de een en het in is met naar of op te uit van voor wat wie
a ar at dy ei eich ein gan i o pan sut y yn yr
"""
_LITTLE = frozenset(_LITTLE_WORDS.split())


class Named(NamedTuple):
    """A section that words may name. page: by key of its store. number: its heading's."""

    page: int
    number: int
    title: str
    mark: str


# A hop: in which section of its page it starts, and in which section of which page it ends.
Led = tuple[int, int, int]


class Offer(NamedTuple):
    """Words that could be a hop, where they stand, with the section that they name. around:
    the words before and behind them. sure: how sure it is that the section is meant, from 1."""

    words: Words
    end: Named
    around: tuple[str, str]
    sure: int = 1


def folded(title: str) -> str:
    """A title as it is looked for: its words alone, without case."""
    return " ".join(_TOKEN.findall(title.casefold()))


class Names(dict[str, Named]):
    """The sections that can be named, by their words. lengths: how many words such names have,
    most first, by their first word."""

    def __init__(self, ends: Mapping[str, Named]) -> None:
        super().__init__(ends)
        found: dict[str, set[int]] = {}
        for words in ends:
            first, *more = words.split()
            found.setdefault(first, set()).add(len(more) + 1)
        self.lengths = {first: sorted(counts, reverse=True) for first, counts in found.items()}


def names(ends: Sequence[Named]) -> Names:
    """The sections that can be named; none whose words two sections have."""
    found: dict[str, Named | None] = {}
    for end in ends:
        words = folded(end.title)
        own = [word for word in words.split() if word not in _LITTLE]
        is_named = len(own) >= _FEWEST and len(words.split()) <= _MOST
        if is_named and len(words) >= _SHORTEST:
            found[words] = None if words in found else end
    return Names({words: end for words, end in found.items() if end is not None})


def offers(
    reading: PageReading, page: int, known: Names, led: Collection[Led],
    rare: Collection[str] = (),
) -> list[Offer]:  # fmt: skip
    """The offers of a page, in tree order. page: its own key. known: what `names` gave. led:
    the hops that there are. rare: of the known words, those that the site says rarely."""
    starts = [one.number for one in reading.sections]
    title = folded(reading.facts.title)
    seen = set(led)
    found = []
    for number, child, data in running(reading.source, reading.facts):
        place = bisect_right(starts, number) - 1
        own = starts[place] if place >= 0 else -1
        is_set_apart = reading.source.tags[number] in PHRASING
        if is_set_apart and _begins_block(reading.source, number):
            continue  # a label
        for first, last, end in _named(data, known):
            key = (own, end.page, end.number)
            if key in seen or (end.page, end.number) == (page, own):
                continue
            said = folded(end.title)
            sure = _sureness(
                data, first, last, end.title, is_rare=said in rare, is_set_apart=is_set_apart
            )
            if not sure or said in title:
                continue
            seen.add(key)
            words = Words(Point(number, child, first), Point(number, child, last), data[first:last])
            found.append(Offer(words, end, around(data, first, last), sure))
    return found


def _begins_block(source: Source, number: int) -> bool:
    """Whether words that are set apart are the first of their paragraph or entry."""
    block = number
    while source.tags[block] in PHRASING:
        block = source.parent(block)
    text = source.text_of(block).lstrip()
    return text.startswith(source.text_of(number).strip()[:20])


def mentions(reading: PageReading, known: Names) -> Iterator[str]:
    """The known words that the running text of a page says, each as often as it does."""
    for _, _, data in running(reading.source, reading.facts):
        for first, last, _ in _named(data, known):
            yield folded(data[first:last])


RARELY = 3  # times on the whole site
COUNTED = 60  # pages of a site whose texts are looked through for how often words come


def _sureness(
    data: str, first: int, last: int, title: str, *, is_rare: bool, is_set_apart: bool
) -> int:
    """How sure it is that words of a text mean the section of a title; 0 for not enough.
    is_set_apart: whether they stand in bold words or the like, inside a sentence."""
    before, after = data[:first].rstrip(), data[last:].lstrip()
    words = data[first:last]
    beside = len(_TOKEN.findall(before[-200:])) + len(_TOKEN.findall(after[:200]))
    if beside < _FEWEST_BESIDE and not is_set_apart:
        return 0
    if _TOKEN.search(data[first - 1 : first] + data[last : last + 1]):
        return 0
    if _is_inside_longer(before, after, words):
        return 0
    begins_little = folded(title).split()[0] in _LITTLE and not words[:1].isupper()
    if begins_little and not is_set_apart and not is_rare:
        return 0
    is_quoted = before[-1:] in _OPENING and after[:1] in _CLOSING
    is_called = _as_title(words, title) and bool(before) and before[-1:] not in ".!?:;•"
    own = sum(word not in _LITTLE for word in folded(title).split())
    is_cued = _CUE.search(before) is not None and words[:1].isupper()
    is_name = is_quoted and (_as_title(words, title) or _PLACE.match(after[1:]) is not None)
    sure = 3 * (is_name or is_cued) + 2 * (own >= _LONG)
    sure += 2 * is_rare + is_called
    return sure if sure >= _ENOUGH else 0


_ENOUGH = 2


def _as_title(words: str, title: str) -> bool:
    """Whether words are written as a title is, which begins with a capital letter, as a common
    word in a sentence doesn't."""
    return " ".join(words.split()) == " ".join(title.split()) and words[:1].isupper()


def _is_inside_longer(before: str, after: str, words: str) -> bool:
    """Whether names go on beside the words, which are then a part of another name."""
    if not words[:1].isupper():
        return False
    last, following = before.rpartition(" ")[2], after.partition(" ")[0]
    goes_on = following[:1].isupper() and not after.startswith("I ")
    comes_from = last[:1].isupper() and len(last) > 1 and last.isalpha()
    is_told = last.casefold() in _LITTLE or _CUE.search(before) is not None
    return goes_on or (comes_from and not is_told)


_FEWEST_BESIDE = 3  # words of the same text
_LONG = 5  # words that name something
_OPENING, _CLOSING = frozenset("“\"„«‘'»"), frozenset("”\"“»’'«")
_PLACE = re.compile(r"\s*(?:sections?|above|below|oben|unten|chapters?)\b", re.IGNORECASE)
# What says that a section is meant, right before its name (from memory).
_CUE = re.compile(
    r"(?:\b(?:see|sections?|chapters?|headed|siehe|abschnitt|kapitel|voir|"
    r"section|chapitre|zie|hoofdstuk|véase|sección|vedi|sezione|se|avsnitt|gweler|adran))"
    r"(?: (?:also|the|our|auch|aussi|ook|también|anche|även|hefyd|y|le|la|de|het))?[:\s“\"„«‘]*$",
    re.IGNORECASE,
)


def _named(data: str, known: Names) -> Iterator[tuple[int, int, Named]]:
    """Where a text has the words of a title, the longest first."""
    tokens = [(one.group().casefold(), one.start(), one.end()) for one in _TOKEN.finditer(data)]
    at = 0
    while at < len(tokens):
        for count in known.lengths.get(tokens[at][0], ()):
            run = tokens[at : at + count]
            end = known.get(" ".join(word for word, _, _ in run)) if len(run) == count else None
            if end is not None:
                yield run[0][1], run[-1][2], end
                at += count - 1
                break
        at += 1
