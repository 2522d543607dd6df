"""Which element of one text of a page is which of another, where nothing is known of how the
one became the other: told by IDs, by words and place, and by what stands around (common
practice, no source)."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property
from itertools import islice

from rapidfuzz import fuzz

from innerhop.core.merge import common
from innerhop.core.proof import own_text
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.tree import Source

_TELLING = 12  # characters: a part with as many, once on each side, is known wherever it stands
ALIKE = 50  # of 100: from there on two parts with the same tag in the same place are one
_COMPARED = 900  # pairs of parts without a match between the same two, all of them compared
_UP = 4  # elements around one, tried for the one around it on the other side


class Shape:
    """What the elements of a page are known by, whatever way they are written in."""

    def __init__(self, source: Source) -> None:
        self.source = source
        self._digests: dict[int, int] = {}
        self._sizes: dict[int, int] = {}

    def digest(self, number: int) -> int:
        """The same for elements of one tag that hold as many elements and the same words; of
        many words, the first and the last."""
        found = self._digests.get(number)
        if found is None:
            text = self.source.text_of(number)
            self._sizes[number] = len(text)
            ends = text if len(text) <= _ENDS else text[:_ENDS] + text[-_ENDS:]
            count = self.source.lasts[number] - number
            found = hash((self.source.tags[number], count, plain(ends)))
            self._digests[number] = found
        return found

    def size(self, number: int) -> int:
        """How many characters an element holds."""
        self.digest(number)
        return self._sizes[number]

    def inner(self, number: int) -> list[int]:
        """The elements right inside one."""
        found, lasts = [], self.source.lasts
        at, last = number + 1, lasts[number]
        while at <= last:
            found.append(at)
            at = lasts[at] + 1
        return found

    def once(self, numbers: Iterable[int]) -> dict[int, int]:
        """Those of some elements that none of them is like, by their digests."""
        found = [(self.digest(one), one) for one in numbers]
        counted = Counter(digest for digest, _ in found)
        return {digest: one for digest, one in found if counted[digest] == 1}

    @cached_property
    def identified(self) -> dict[str, int]:
        """The elements with an ID that no other has, by it."""
        group = self.source.reading.identified
        values = group.values("id")
        counted = Counter(values)
        pairs = zip(values, group.numbers, strict=True)
        return {value: number for value, number in pairs if value and counted[value] == 1}

    def text(self, number: int) -> str:
        """All words inside an element."""
        return plain(self.source.text_of(number))

    def beginning(self, number: int) -> str:
        """The first of them: many pairs of long parts are compared."""
        return plain(self.source.reading.beginning(number, 2 * _ENDS))

    def words(self, number: int) -> str:
        """An element's own words, those of elements in it left out."""
        return plain(own_text(self.source, number))


_ENDS = 400  # characters at either end of a long text that say which it is


def plain(text: str) -> str:
    """A text with each stretch of white space as one space, and none at its ends."""
    return " ".join(text.split())


class Match:
    """Elements of an old text and which of a new one each is.

    to: by number in the old text, the number in the new one, None for one that is not there.
    back: the same the other way.
    """

    def __init__(self, old: Shape, new: Shape) -> None:
        self.old, self.new = old, new
        self.to: list[int | None] = [None] * len(old.source)
        self.back: list[int | None] = [None] * len(new.source)

    def pair(self, one: int, other: int) -> None:
        """Say that two are the same, unless either is another already."""
        if self.to[one] is None and self.back[other] is None:
            self.to[one], self.back[other] = other, one

    def pair_whole(self, one: int, other: int) -> None:
        """The same of all that two elements with one digest hold, where that is the same."""
        if not self._is_equal(one, other):
            return
        for at in range(self.old.source.lasts[one] - one + 1):
            self.pair(one + at, other + at)

    def is_same(self, number: int) -> bool:
        """Whether an element is there, with the same words in the same elements."""
        there = self.to[number]
        return there is not None and self._is_equal(number, there)

    def _is_equal(self, one: int, other: int) -> bool:
        old, new = self.old, self.new
        if old.digest(one) != new.digest(other):
            return False
        ends = old.source.lasts[one] + 1, new.source.lasts[other] + 1
        if old.source.tags[one : ends[0]] != new.source.tags[other : ends[1]]:
            return False
        return old.size(one) <= _ENDS or old.text(one) == new.text(other)

    @property
    def unknown(self) -> list[int]:
        """The elements of the old text that none of the new one is, so far."""
        return [at for at, one in enumerate(self.to) if one is None]

    @property
    def unknown_there(self) -> list[int]:
        """The same the other way."""
        return [at for at, one in enumerate(self.back) if one is None]


def matched(old: Source, new: Source) -> Match:
    """Which element of `new` each of `old` is."""
    found = Match(Shape(old), Shape(new))
    if not len(old) or not len(new):
        return found
    found.pair(0, 0)
    over, last = _beginning_and_end(found)
    _by_words(found)
    _by_ids(found)
    _by_addresses(found)
    _around(found)
    number = 0
    while number < last:  # each before what it holds
        behind = old.lasts[number] + 1
        whole = number in over or found.is_same(number)
        if not whole and found.to[number] is not None:
            _inside(found, number)
        number = behind if whole else number + 1
    return found


def _beginning_and_end(match: Match) -> tuple[set[int], int]:
    """Pair what stands in the same characters at the beginning and at the end of both texts;
    returns the elements of the old one that are over by the first difference, and from which on
    they are behind the last."""
    old, new = match.old.source, match.new.source
    begin = _common(old.text, new.text)
    most = min(len(old.text), len(new.text)) - begin
    end = _common(old.text[: -most - 1 : -1], new.text[: -most - 1 : -1])
    first, over, lasts = 0, set(), old.lasts
    for one, other in zip(old.starts, new.starts, strict=False):
        if one != other or one >= begin:
            break
        behind = old.starts[lasts[first] + 1] if lasts[first] + 1 < len(old.starts) else -1
        # One that is open there may be another.
        if 0 <= behind <= begin or _ends_by(old, first, begin):
            match.pair(first, first)
            over.add(first)
        first += 1
    last, behind = len(old), len(new)
    while (
        last > first
        and behind > first
        and (
            old.starts[last - 1] - len(old.text) == new.starts[behind - 1] - len(new.text)
            and old.starts[last - 1] >= len(old.text) - end
        )
    ):
        last, behind = last - 1, behind - 1
        match.pair(last, behind)
    return over, last


def _ends_by(source: Source, number: int, place: int) -> bool:
    """Whether an element is over at a place in its text."""
    end = source.end_of(number)
    return end is not None and end <= place


def _common(one: str, other: str) -> int:
    """How many characters two texts have in common at their beginning."""
    low, high = 0, min(len(one), len(other))
    while low < high:
        middle = (low + high + 1) // 2
        if one[low:middle] == other[low:middle]:
            low = middle
        else:
            high = middle - 1
    return low


def _by_ids(match: Match) -> None:
    """An ID that stands once on each side, on the same kind of element, says who it is."""
    old, new = match.old, match.new
    for value, one in old.identified.items():
        other = new.identified.get(value)
        if other is not None and old.source.tags[one] == new.source.tags[other]:
            match.pair(one, other)


def _by_addresses(match: Match) -> None:
    """A link or picture that alone leads to an address is the same, whatever its words."""
    for tag, name in (("a", "href"), ("img", "src")):
        mine = _alone(match.old.source, tag, name, match.to)
        other = _alone(match.new.source, tag, name, match.back)
        for address, number in mine.items():
            if address in other:
                match.pair(number, other[address])


def _alone(source: Source, tag: str, name: str, known: Sequence[int | None]) -> dict[str, int]:
    """Elements that none is known to be, by an attribute that no other of them has so."""
    pairs = [(value, one.number) for one in source.of_tags(tag)
             if known[one.number] is None and (value := one.attr(name))]  # fmt: skip
    counted = Counter(value for value, _ in pairs)
    return {value: number for value, number in pairs if counted[value] == 1}


def _by_words(match: Match) -> None:
    old, new = match.old, match.new
    once = old.once(match.unknown)
    there = new.once(match.unknown_there)
    for digest, number in sorted(once.items(), key=lambda one: one[1]):
        least = 1 if old.source.tags[number] in LEVELS else _TELLING
        if digest in there and match.to[number] is None and old.size(number) >= least:
            match.pair_whole(number, there[digest])


def _around(match: Match) -> None:
    """What is around elements that are known, innermost first."""
    old, new = match.old, match.new.source
    for number in reversed(match.unknown):
        tag = old.source.tags[number]
        votes: Counter[int] = Counter()
        for one in old.inner(number):
            there = match.to[one]
            near = () if there is None else _above(new, there)
            votes.update(islice((at for at in near if new.tags[at] == tag), 1))
        for other, _count in votes.most_common():
            match.pair(number, other)


def _above(source: Source, number: int) -> Iterator[int]:
    for _ in range(_UP):
        number = source.parents[number]
        if number < 0:
            return
        yield number


def _inside(match: Match, number: int) -> None:
    """What stands right inside two elements that are one: the same things first, and between
    these what is alike."""
    there = match.to[number]
    if there is None:
        return
    ours, theirs = match.old.inner(number), match.new.inner(there)
    if all(match.to[one] is not None for one in ours):
        return
    for mine, other in _gaps(match, ours, theirs):
        _alike(match, mine, other)


def _gaps(
    match: Match, ours: Sequence[int], theirs: Sequence[int]
) -> Iterable[tuple[list[int], list[int]]]:
    """What has no match yet, between the same neighbours; what is the same there is paired."""
    for old, new in _between(match, ours, theirs):
        if not old or not new:
            continue
        digests = [match.old.digest(one) for one in old], [match.new.digest(one) for one in new]
        for run in common.runs(*digests):
            for at in range(run.size):
                match.pair_whole(old[run.old + at], new[run.new + at])
        yield from _between(match, old, new)


def _between(
    match: Match, ours: Sequence[int], theirs: Sequence[int]
) -> list[tuple[list[int], list[int]]]:
    """Runs of elements without a match, each with the run that stands at its place."""
    places = {one: at for at, one in enumerate(theirs)}
    runs: list[tuple[list[int], list[int]]] = []
    mine: list[int] = []
    done = 0
    for one in [*ours, None]:
        end = len(theirs) if one is None else places.get(_there(match, one), -1)
        if one is not None and match.to[one] is None:
            mine.append(one)
        elif end >= done:
            runs.append((mine, [x for x in theirs[done:end] if match.back[x] is None]))
            mine, done = [], end + 1
    return runs


def _there(match: Match, one: int) -> int:
    there = match.to[one]
    return -1 if there is None else there


def _alike(match: Match, ours: Sequence[int], theirs: Sequence[int]) -> None:
    """Pair what is alike, the most alike first, and never across each other; then what is
    left of a kind, where as many are on both sides."""
    if not ours or not theirs:
        return
    if len(ours) * len(theirs) <= _COMPARED:
        _most_alike(match, ours, theirs)
    for mine, other in _between(match, ours, theirs):
        if [match.old.source.tags[one] for one in mine] == [
            match.new.source.tags[one] for one in other
        ]:
            for one, there in zip(mine, other, strict=True):
                if _may_be(match, one, there):
                    match.pair(one, there)


def _may_be(match: Match, one: int, there: int) -> bool:
    """Whether two parts in the same place, with the same tag, may be one: a heading may have
    quite other words, and what holds other parts; a line of text without a word in common is
    another."""
    old, new = match.old, match.new
    if old.source.tags[one] in LEVELS or old.source.lasts[one] > one:
        return True
    before, now = old.beginning(one), new.beginning(there)
    return not set(before.split()).isdisjoint(now.split()) or fuzz.ratio(before, now) >= ALIKE


def _is_kind(one: str, other: str) -> bool:
    """Whether two tags may be of the same part: a heading may have another level by now."""
    return one == other or (one in LEVELS and other in LEVELS)


def _most_alike(match: Match, ours: Sequence[int], theirs: Sequence[int]) -> None:
    old, new = match.old, match.new
    mine = {one: old.beginning(one) for one in ours}
    other = {one: new.beginning(one) for one in theirs}
    scores = [
        (fuzz.ratio(mine[one], other[there], score_cutoff=ALIKE), -at, one, there)
        for at, one in enumerate(ours)
        for there in theirs
        if _is_kind(old.source.tags[one], new.source.tags[there]) and mine[one] and other[there]
    ]
    pairs: list[tuple[int, int]] = []
    for score, _, one, there in sorted(scores, reverse=True):
        crosses = any((one < a) != (there < b) or one == a or there == b for a, b in pairs)
        if score and not crosses:
            pairs.append((one, there))
            match.pair(one, there)
