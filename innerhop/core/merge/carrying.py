"""Deeds done to one text of a page, carried over to another: as a plan on it, as done there
already, or with the reason why they can't be."""

from __future__ import annotations

from bisect import bisect_left
from collections import Counter, defaultdict
from collections.abc import Hashable, Iterator, Mapping, Sequence
from functools import cached_property
from itertools import islice
from typing import NamedTuple

from rapidfuzz import fuzz

from innerhop.core import words_law
from innerhop.core.edits import Edit
from innerhop.core.formats import html
from innerhop.core.merge import deeds as done
from innerhop.core.merge import spans
from innerhop.core.merge.deeds import Around, Attributes, Deed, Filled, Put, TakenOut
from innerhop.core.merge.matching import ALIKE, Match, plain
from innerhop.core.merge.places import Alignment
from innerhop.core.plan import Claim, Part, Plan
from innerhop.core.proof import own_text, parts_inside
from innerhop.core.source import attributes
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source, Span

_TITLE = 16  # words: what is no longer may be called by all of its words
# What became of a deed.
KEPT, SAME, MEETS, STUCK = "kept", "same", "meets", "stuck"


class Carried(NamedTuple):
    """A deed, and what becomes of it. fate: KEPT, done as well; SAME, done there already; MEETS,
    it can be done, but what it was done to is another now; STUCK, it can't be. why: a sentence
    for the last two. plan: on the new text."""

    deed: Deed
    fate: str
    plan: Plan = Plan()
    why: str = ""


class Carrier:
    """Carries deeds over. match: from the text as it came to the new one. here: the text that
    they led to. deeds: all of them."""

    def __init__(
        self, match: Match, here: Source, deeds: Sequence[Deed], encoding: FileEncoding
    ) -> None:
        self.match, self.here, self.encoding = match, here, encoding
        self._deeds = deeds
        self.base, self.new = match.old.source, match.new.source
        self._alignments: dict[int, Alignment] = {}
        self._known: set[int] = set()  # elements of the new text that a deed was known again in
        self._leaving = set(self._left_by(deeds))

    def _left_by(self, deeds: Sequence[Deed]) -> Iterator[int]:
        """Elements of the new text whose IDs go, so that they are free for others."""
        for one in deeds:
            there = self.match.to[one.number] if one.number >= 0 else None
            if there is None:
                continue
            if isinstance(one, TakenOut | Filled):
                yield from range(there, self.new.last_inside(there) + 1)
            elif isinstance(one, Attributes) and "id" in one.values:
                yield there

    def carried(self, deed: Deed) -> Carried:
        """What becomes of a deed."""
        found = self._fate_of(deed)
        twice = self._used_elsewhere(deed) if found.fate in (KEPT, MEETS) else ""
        if twice:
            return Carried(deed, STUCK, why=f"#{twice} stands on another part there.")
        return found

    def _fate_of(self, deed: Deed) -> Carried:
        match deed:
            case Attributes():
                return self._attributes(deed)
            case Put():
                return self._put(deed)
            case Around():
                return self._around(deed)
            case TakenOut():
                return self._taken(deed)
            case Filled():
                return self._filled(deed)

    def aligned(self, number: int) -> Alignment:
        """What an element of the text as it came holds, beside what it holds in the new one."""
        if number not in self._alignments:
            self._alignments[number] = Alignment(self.match, number)
        return self._alignments[number]

    def _attributes(self, deed: Attributes) -> Carried:
        there = self.match.to[deed.number]
        if there is None:
            is_done = deed.tag and self._is_turned(deed)
            return Carried(deed, SAME if is_done else STUCK, why="This is no longer there.")
        new, values = self.new, done.values_after(deed)
        tag = self.base.tags[deed.number]
        left = {name: value for name, value in values.items() if new.attr(there, name) != value}
        tags = {there: deed.tag} if deed.tag and new.tags[there] != deed.tag else {}
        if not left and not tags:
            return Carried(deed, SAME)
        for name in left:
            before, after = new.attr(there, name), deed.values[name][0]
            if before != after:
                return Carried(deed, STUCK, why=_differs(name, before, values[name]))
        if tags and new.tags[there] != tag:
            return Carried(deed, STUCK, why=f"It is a {new.tags[there]} there, and was a {tag}.")
        edits = html.retagged(self.new, there, deed.tag) if tags else []
        if edits is None or new.after_tag_name(there) is None:
            return Carried(deed, STUCK, why="It has no tag of its own there.")
        edits += attributes.plan(new, there, left, self.encoding)
        plan = Plan(edits, Claim(attributes={there: left} if left else {}, tags=tags))
        if (left.get("id") or tags) and self._is_reworded(deed.number, there):
            return Carried(deed, MEETS, plan, "It was reworded there.")
        return Carried(deed, KEPT, plan)

    def _is_turned(self, deed: Attributes) -> bool:
        """Whether an element that is to have another tag stands there with it already."""
        words = self.match.old.text(deed.number)
        return any(self.new.tags[at] == deed.tag for at in self._there_by_words.get(words, ()))

    def _is_reworded(self, number: int, there: int) -> bool:
        """Whether an ID may say something else than the part does by now: of a long part, where
        most of it is other words."""
        before, now = self.match.old.text(number), self.match.new.text(there)
        is_long = len(before.split()) > _TITLE
        return fuzz.ratio(before, now) < ALIKE if is_long else before != now

    def _put(self, deed: Put) -> Carried:
        if self._is_put_there(deed.made, self.aligned(deed.number).around(deed.place)):
            return Carried(deed, SAME)
        place = self.aligned(deed.number).place(deed.place)
        if place is None:
            return Carried(deed, STUCK, why="What stood beside it is no longer there.")
        return Carried(deed, KEPT, Plan([Edit(place, "", deed.new)], Claim(new=deed.elements)))

    def _around(self, deed: Around) -> Carried:
        holder = None if deed.number < 0 else self.match.to[deed.number]
        inside = None if holder is None else spans.inner(self.new, holder)
        if self._is_put_there(deed.made, inside):
            return Carried(deed, SAME)
        span = self.aligned(deed.number).stretch(deed.first, deed.last)
        if span is None:
            return Carried(deed, STUCK, why="Its words are others there, or gone.")
        edits = [Edit(span.start, "", deed.opening), Edit(span.end, "", deed.closing)]
        return Carried(deed, KEPT, Plan(edits, Claim(new=deed.elements)))

    def _taken(self, deed: TakenOut) -> Carried:
        there = self.match.to[deed.number]
        if there is None or self.match.new.text(there) in self._put_words:
            return Carried(deed, SAME)
        span = spans.outer(self.new, there)
        if span is None or not self._is_as_it_came(deed.number):
            return Carried(deed, STUCK, why="It was changed there, and taken away here.")
        takes = words_law.whole(self.new, there)
        edit = Edit(span.start, self.new.original(span), "")
        return Carried(deed, KEPT, Plan([edit], Claim(removed={there: ("", "")}, takes=takes)))

    def _filled(self, deed: Filled) -> Carried:
        there = self.match.to[deed.number]
        if there is not None and self._is_as_here(deed, there):
            return Carried(deed, SAME)
        span = None if there is None else spans.inner(self.new, there)
        if there is None or span is None:
            return Carried(deed, STUCK, why="This is no longer there.")
        if not self._is_as_it_came(deed.number):
            return Carried(deed, STUCK, why="It was changed there and here.")
        takes = words_law.whole(self.new, there)
        edit = Edit(span.start, self.new.original(span), deed.new)
        claim = Claim(filled={there: deed.filling}, takes=takes)
        return Carried(deed, KEPT, Plan([edit], claim))

    def _is_as_it_came(self, number: int) -> bool:
        """Whether an element is there with all that it held, attributes too."""
        there = self.match.to[number]
        if there is None or not self.match.is_same(number):
            return False
        size = self.base.last_inside(number) - number
        if self.new.last_inside(there) - there != size:
            return False
        return all(
            self.base.attributes(number + at) == self.new.attributes(there + at)
            for at in range(1, size + 1)
        )

    def _is_as_here(self, deed: Filled, there: int) -> bool:
        return own_text(self.new, there).split() == deed.filling.text.split() and _parts(
            parts_inside(self.new, there)
        ) == _parts(deed.filling.inside)

    @cached_property
    def _put_words(self) -> set[str]:
        """The words of what was put in here: where they stand in the place of other words, these
        were taken out there too."""
        made = (one for deed in self._deeds if isinstance(deed, Put) for one in deed.made)
        return {plain(self.here.text_of(one)) for one in made} - {""}

    # What was done there as well.

    def _is_put_there(self, made: Sequence[int], near: Span | None) -> bool:
        """Whether elements that do the same were put in there too: have the same IDs, or are
        the same links with the same words. near: where they would stand; what was put in here
        at several places is known by its place alone."""
        taken: list[int] = []
        for one in made:
            doing = self._doings(self.here, one)
            there = self._there(doing.sign, None if self._made[doing.sign] == 1 else near)
            number = next((at for at in there if at not in self._known), None)
            if number is None:
                self._known -= set(taken)
                return False
            taken.append(number)
            self._known.add(number)
        return True

    def _there(self, sign: Sign, near: Span | None) -> Iterator[int]:
        """The elements of the new text that do that, and that were not there so before."""
        found = self._by_sign.get(sign, [])
        first = 0 if near is None else bisect_left(found, (near.start, 0))
        for start, number in islice(found, first, None):
            if near is not None and start > near.end:
                return
            yield number

    @cached_property
    def _made(self) -> Counter[Sign]:
        """How often the same was put in here."""
        made = (one for deed in self._deeds if isinstance(deed, Put | Around) for one in deed.made)
        return Counter(self._doings(self.here, one).sign for one in made)

    @cached_property
    def _by_sign(self) -> Mapping[Sign, list[tuple[int, int]]]:
        """Elements of the new text that the one before did not have so, by what they do: in
        their order, each with where it begins."""
        starts = self.new.starts
        found: dict[Sign, list[tuple[int, int]]] = defaultdict(list)
        for number, before in enumerate(self.match.back):
            if before is None or not self.match.is_same(before):
                found[self._doings(self.new, number).sign].append((starts[number], number))
        for value, number in self._new_ids.items():
            found["ids", (value,)].append((starts[number], number))
        return {sign: sorted(those) for sign, those in found.items()}

    @cached_property
    def _new_ids(self) -> dict[str, int]:
        """The IDs of the new text that the one before did not have, or on another part."""
        group = self.base.reading.identified
        before = dict(zip(reversed(group.values("id")), reversed(group.numbers), strict=True))
        now = self.new.reading.identified
        return {
            value: number for value, number in zip(now.values("id"), now.numbers, strict=True)
            if value and (value not in before or self.match.to[before[value]] != number)
        }  # fmt: skip

    @cached_property
    def _there_by_words(self) -> Mapping[str, list[int]]:
        """Elements of the new text that the one before did not have so, by their words."""
        found: dict[str, list[int]] = defaultdict(list)
        for number, before in enumerate(self.match.back):
            if before is None or not self.match.is_same(before):
                found[" ".join(self.new.text_of(number).split())].append(number)
        return found

    @staticmethod
    def _doings(source: Source, number: int) -> Doing:
        inside = range(number, source.last_inside(number) + 1)
        ids = tuple(value for one in inside if (value := source.attr(one, "id")))
        links = tuple(
            (plain(source.text_of(one)), source.attr(one, "href") or "")
            for one in inside if source.tags[one] == "a" and source.attr(one, "href") is not None
        )  # fmt: skip
        return Doing(
            ids,
            links,
            plain(source.text_of(number)),
            (source.tags[number], frozenset(source.attributes(number).items())),
        )

    def _used_elsewhere(self, deed: Deed) -> str:
        """An ID that a deed gives, and that stands elsewhere in the new text; "" for none."""
        mine = -1
        if isinstance(deed, Attributes):
            mine = -1 if (there := self.match.to[deed.number]) is None else there
            given = [deed.values["id"][1]] if "id" in deed.values else []
        elif isinstance(deed, Put | Around):
            given = [one.attributes.get("id") for one in deed.elements]
            given += [part.attributes.get("id") for one in deed.elements for part in one.inside]
        elif isinstance(deed, Filled):
            given = [part.attributes.get("id") for part in deed.filling.inside]
        else:
            return ""
        owners = self._owners
        return next((one for one in given if one and owners.get(one, mine) != mine), "")

    @cached_property
    def _owners(self) -> dict[str, int]:
        group = self.new.reading.identified
        pairs = zip(group.values("id"), group.numbers, strict=True)
        kept = [(value, one) for value, one in pairs if value and one not in self._leaving]
        return dict(reversed(kept))


Sign = tuple[str, Hashable]


class Doing(NamedTuple):
    """What an element does for readers. ids: in it. links: in it, by words and address. mute:
    its tag and attributes."""

    ids: tuple[str, ...]
    links: tuple[tuple[str, str], ...]
    words: str
    mute: Hashable

    @property
    def sign(self) -> Sign:
        """What it is known by, wherever it stands and whatever holds it."""
        if self.links:
            return "links", (self.words, self.links)
        if self.ids:
            return "ids", self.ids
        return ("words", self.words) if self.words else ("mute", self.mute)


def _parts(parts: Sequence[Part]) -> list[tuple[object, ...]]:
    """Parts without how white space stands in them."""
    return [(one.tag, one.attributes, one.text.split(), one.depth) for one in parts]


def _differs(name: str, there: str | None, here: str | None) -> str:
    what = "ID" if name == "id" else name
    said = [f"has no {what}" if one is None else f"has the {what} “{one}”" for one in (there, here)]
    return f"It {said[0]} there, and {said[1]} here."
