"""What two rows of things have in common, in the same order, in bounded memory."""

from __future__ import annotations

from bisect import bisect_left
from collections import Counter
from collections.abc import Hashable, Iterator, Sequence
from typing import NamedTuple

from rapidfuzz.distance import Indel

# Products of two lengths: a row of bits is kept for each pair of things.
_AT_ONCE = 2**28


class Run(NamedTuple):
    """So many things from a place of one row on are those from a place of the other on."""

    old: int
    new: int
    size: int


def runs(old: Sequence[Hashable], new: Sequence[Hashable]) -> Iterator[Run]:
    """The runs of a longest common subsequence, in order; of very long rows those between things
    that stand once on either side, and those themselves."""
    yield from _runs(old, new, 0, 0)


def _runs(old: Sequence[Hashable], new: Sequence[Hashable], at: int, there: int) -> Iterator[Run]:
    if len(old) * len(new) <= _AT_ONCE:
        for step in Indel.opcodes(old, new):
            if step.tag == "equal":
                size = step.src_end - step.src_start
                yield Run(at + step.src_start, there + step.dest_start, size)
        return
    done = (0, 0)
    for one, other in (*_landmarks(old, new), (len(old), len(new))):
        between = old[done[0] : one], new[done[1] : other]
        # Without a landmark between them nobody says which is which.
        if one - done[0] < len(old) or other - done[1] < len(new):
            yield from _runs(*between, at + done[0], there + done[1])
        if one < len(old):
            yield Run(at + one, there + other, 1)
        done = (one + 1, other + 1)


def _landmarks(old: Sequence[Hashable], new: Sequence[Hashable]) -> list[tuple[int, int]]:
    """Things that stand once in either row, as many as stand in the same order: a longest
    increasing subsequence (patience sorting)."""
    places = _once(new)
    pairs = [(at, places[one]) for one, at in _once(old).items() if one in places]
    tops: list[int] = []  # the smallest last place of a row of each length
    ends: list[int] = []  # the pair that has it
    before: list[int] = []  # for each pair, the one before it
    for number, (_, there) in enumerate(pairs):
        length = bisect_left(tops, there)
        before.append(ends[length - 1] if length else -1)
        tops[length : length + 1] = [there]
        ends[length : length + 1] = [number]
    found = []
    number = ends[-1] if ends else -1
    while number >= 0:
        found.append(pairs[number])
        number = before[number]
    return found[::-1]


def _once(row: Sequence[Hashable]) -> dict[Hashable, int]:
    """The things that stand in a row once, in its order, with their places."""
    counted = Counter(row)
    return {one: at for at, one in enumerate(row) if counted[one] == 1}
