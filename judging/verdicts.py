"""What somebody judged by hand: verdicts on places, and what should be found on whole pages."""

from __future__ import annotations

import csv
from collections.abc import Iterable, Mapping
from pathlib import Path
from typing import NamedTuple

from judging.places import Place

RIGHT, ARGUABLE, WRONG = "right", "arguable", "wrong"
COUNTS = {RIGHT: 1.0, ARGUABLE: 0.5, WRONG: 0.0}
_FOLDER = Path(__file__).parent
PLACES, PAGES = _FOLDER / "verdicts.tsv", _FOLDER / "whole_pages.tsv"
_FIELDS = ("kind", "corpus", "version", "file", "place", "verdict", "why")


class Verdict(NamedTuple):
    """A verdict on a place, with a word why. version: of the package that it was judged on."""

    version: str
    verdict: str
    why: str


class Expected(NamedTuple):
    """What should be found of one kind on a page: places as `places.Place` names them."""

    kind: str
    corpus: str
    file: str
    places: frozenset[str]


Key = tuple[str, str, str, str]


def kept() -> dict[Key, Verdict]:
    """All verdicts, by what they are of."""
    found = {}
    for row in _rows(PLACES):
        key = (row["kind"], row["corpus"], row["file"], row["place"])
        found[key] = Verdict(row["version"], row["verdict"], row["why"])
    return found


def expected() -> list[Expected]:
    """What should be found on the pages that were judged whole."""
    return [
        Expected(row["kind"], row["corpus"], row["file"], frozenset(row["places"].split()))
        for row in _rows(PAGES)
    ]


def _rows(path: Path) -> list[dict[str, str]]:
    if not path.exists():
        return []
    with path.open(encoding="utf-8", newline="") as file:
        return list(csv.DictReader(file, delimiter="\t"))


class Precision(NamedTuple):
    """How the drawn places of one kind were judged. left: those that nobody has judged."""

    drawn: int
    right: int
    arguable: int
    wrong: int
    left: int

    @property
    def share(self) -> float | None:
        """How many are right, arguable ones counted half; None for none judged."""
        judged = self.right + self.arguable + self.wrong
        return (self.right + 0.5 * self.arguable) / judged if judged else None


def precision(drawn: Iterable[Place], known: Mapping[Key, Verdict]) -> Precision:
    """How often what is said is so."""
    drawn = list(drawn)
    said = [known[one.key].verdict if one.key in known else "" for one in drawn]
    return Precision(len(drawn), *(said.count(one) for one in (RIGHT, ARGUABLE, WRONG, "")))


def recall(wanted: Iterable[Expected], found: Mapping[Key, Place]) -> tuple[int, int]:
    """Of what should be found on whole pages, how much is, and how much there is."""
    there = total = 0
    for one in wanted:
        for place in one.places:
            total += 1
            there += (one.kind, one.corpus, one.file, place) in found
    return there, total
