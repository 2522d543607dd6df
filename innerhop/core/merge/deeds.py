"""What was done to a page here, told from its text as it came, its text as it is, and the edits
between them: deed by deed, each of which can be done to another text of the page or not."""

from __future__ import annotations

import re
from bisect import bisect_right
from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from innerhop.core.edits import Edit, in_order, new_starts
from innerhop.core.merge import spans
from innerhop.core.origins import origins_of
from innerhop.core.plan import Filling, NewElement, Values
from innerhop.core.proof import as_read, brought, own_text, parts_inside
from innerhop.core.refusals import Refusal
from innerhop.core.source.tree import Source


class Unclear(Refusal):
    """The markup is too broken to say what was done to it."""


@dataclass(frozen=True, slots=True)
class Attributes:
    """An element got other attributes, or another tag. number: of the element in the text as it
    came. values: by name, before and after. tag: the new one, "" for the same."""

    number: int
    values: Mapping[str, tuple[str | None, str | None]]
    tag: str = ""


@dataclass(frozen=True, slots=True)
class Put:
    """Elements were put in. number: the element that they stand in, spans.DOCUMENT for none.
    place: where, in the text as it came. made: their numbers in the text as it is."""

    number: int
    place: int
    new: str
    elements: Sequence[NewElement]
    made: Sequence[int]


@dataclass(frozen=True, slots=True)
class Around:
    """An element was put around words or parts. number: the element that these stand in. first,
    last: where they begin and end in the text as it came. made: it, in the text as it is."""

    number: int
    first: int
    last: int
    opening: str
    closing: str
    elements: Sequence[NewElement]
    made: Sequence[int]


@dataclass(frozen=True, slots=True)
class TakenOut:
    """An element was taken out, with all that it holds."""

    number: int


@dataclass(frozen=True, slots=True)
class Filled:
    """What an element holds became something else. made: it, in the text as it is."""

    number: int
    new: str
    filling: Filling
    made: Sequence[int]


Deed = Attributes | Put | Around | TakenOut | Filled


class Deeds:
    """What the edits did. base: the page as it came. here: as it is now.

    origins: for each element here, which it was as the page came, None for a new one. images:
    the same the other way.
    """

    def __init__(self, base: Source, here: Source, edits: Iterable[Edit]) -> None:
        self.base, self.here, self.edits = base, here, in_order(edits)
        self.origins = origins_of(base, here, self.edits)
        self.images = {one: at for at, one in enumerate(self.origins) if one is not None}
        self._starts = new_starts(self.edits)
        self._tags = sorted((start, at) for at, start in enumerate(base.starts) if start >= 0)

    @cached_property
    def deeds(self) -> list[Deed]:
        """What was done, in the order of the page. Raises Unclear where that can't be told
        from its markup."""
        of_tags: set[int] = set()
        of_content: list[int] = []
        for at, edit in enumerate(self.edits):
            number = self._tag_around(edit)
            if number is None:
                of_content.append(at)
            else:
                of_tags.add(number)
        found: list[Deed] = [self._attributes(one) for one in sorted(of_tags)]
        for group in self._groups(of_content):
            found += self._content(group)
        return sorted(_outermost(self.base, found), key=self._order)

    def _order(self, deed: Deed) -> int:
        if isinstance(deed, Put):
            return deed.place
        return deed.first if isinstance(deed, Around) else self.base.starts[deed.number]

    def _near(self, place: int) -> int:
        """The element whose start tag is the last to begin at or before a place."""
        at = bisect_right(self._tags, (place, len(self.base))) - 1
        return self._tags[at][1] if at >= 0 else spans.DOCUMENT

    def _tag_around(self, edit: Edit) -> int | None:
        """The element in whose tag an edit lies."""
        number = self._near(edit.start)
        tag = self.base.start_tag(number) if number >= 0 else None
        if tag is not None and tag.start < edit.start and edit.end < tag.end:
            return number if number in self.images else None
        while number >= 0:
            end = self.base.end_tag(number)
            if end is not None and end.start < edit.start and edit.end < end.end:
                return number if number in self.images else None
            number = self.base.parents[number]
        return None

    def _attributes(self, number: int) -> Attributes:
        image = self.images[number]
        old, new = self.base.attributes(number), self.here.attributes(image)
        names = [one for one in {**old, **new} if old.get(one) != new.get(one)]
        values = {name: (old.get(name), new.get(name)) for name in names}
        tag = self.here.tags[image]
        return Attributes(number, values, "" if tag == self.base.tags[number] else tag)

    # Edits that belong together: they open and close the same element.

    def _groups(self, wanted: Sequence[int]) -> Iterator[list[int]]:
        above = {at: at for at in wanted}

        def root(at: int) -> int:
            while above[at] != at:
                at = above[at]
            return at

        for one, other in (*self._closers(), *self._removed_closers()):
            if one not in above or other not in above:
                raise Unclear("Tags were put in that the page's own tags close.")
            above[max(root(one), root(other))] = min(root(one), root(other))
        groups: dict[int, list[int]] = defaultdict(list)
        for at in wanted:
            groups[root(at)].append(at)
        yield from groups.values()

    def _closers(self) -> Iterator[tuple[int, int]]:
        for number in self._new:
            end = self.here.end_tag(number)
            opener = self._edit_at(self.here.starts[number])
            yield opener, opener if end is None else self._edit_at(end.start)

    def _removed_closers(self) -> Iterator[tuple[int, int]]:
        for number in self._gone:
            end = self.base.end_tag(number)
            opener = self._old_edit_at(self.base.starts[number])
            yield opener, opener if end is None else self._old_edit_at(end.start)

    @cached_property
    def _new(self) -> list[int]:
        """Elements of the text as it is that it did not have, of tags of their own."""
        starts = self.here.starts
        return [at for at, one in enumerate(self.origins) if one is None and starts[at] >= 0]

    @cached_property
    def _gone(self) -> list[int]:
        """Elements that it had, and has no more."""
        starts = self.base.starts
        return [at for at, start in enumerate(starts) if start >= 0 and at not in self.images]

    def _edit_at(self, place: int) -> int:
        """The edit that put in the character at a place of the new text; -1 for none."""
        at = bisect_right(self._starts, place) - 1
        while at >= 0 and not self.edits[at].new:
            at -= 1
        is_in = at >= 0 and place < self._starts[at] + len(self.edits[at].new)
        return at if is_in else -1

    @cached_property
    def _olds(self) -> list[int]:
        return [edit.start for edit in self.edits]

    def _old_edit_at(self, place: int) -> int:
        """The edit that took out the character at a place of the old text; -1 for none."""
        at = bisect_right(self._olds, place) - 1
        return at if at >= 0 and place < self.edits[at].end else -1

    # What a group of them did.

    def _content(self, group: Sequence[int]) -> list[Deed]:
        edits = [self.edits[at] for at in group]
        new = sorted(one for at in group for one in self._new_by_edit[at])
        if not any(edit.old for edit in edits):
            found = self._put(group, new) if len(group) == 1 else self._around(group, new)
            if found is not None:
                return [found]
        if len(group) == 1 and not edits[0].new and (gone := self._taken(group[0])):
            return gone
        return [self._filled(edits)]

    @cached_property
    def _new_by_edit(self) -> Mapping[int, list[int]]:
        """New elements by the edit that their start tag stands in."""
        found: dict[int, list[int]] = defaultdict(list)
        for number in self._new:
            found[self._edit_at(self.here.starts[number])].append(number)
        return found

    @cached_property
    def _gone_by_edit(self) -> Mapping[int, list[int]]:
        """The same of elements that are gone."""
        found: dict[int, list[int]] = defaultdict(list)
        for number in self._gone:
            found[self._old_edit_at(self.base.starts[number])].append(number)
        return found

    def _put(self, group: Sequence[int], new: Sequence[int]) -> Put | None:
        edit, start = self.edits[group[0]], self._starts[group[0]]
        elements: list[NewElement] = []
        made: list[int] = []
        done = start
        for number in new:
            if made and number <= self.here.last_inside(made[-1]):
                continue
            span = spans.outer(self.here, number)
            if span is None or span.end > start + len(edit.new):
                return None
            elements.append(brought(self.here, number, start, self.here.text[done : span.start]))
            made.append(number)
            done = span.end
        rest = self.here.text[done : start + len(edit.new)]
        beside = [rest, *(one.before for one in elements)]
        if not made or any(one.strip() for one in beside):
            return None
        elements[-1] = replace(elements[-1], after=as_read(rest))
        number = spans.holder(self.base, edit.start, edit.start, self._near(edit.start - 1))
        return Put(number, edit.start, edit.new, elements, made)

    def _around(self, group: Sequence[int], new: Sequence[int]) -> Around | None:
        first, last = self.edits[group[0]], self.edits[group[-1]]
        if len(group) != 2 or not new or _TAG.sub("", first.new + last.new).strip():
            return None
        start = self._starts[group[0]]
        if any(self._edit_at(self.here.starts[one]) != group[0] for one in new):
            return None
        elements = [
            NewElement(0, self.here.starts[one] - start, self.here.tags[one],
                       self.here.attributes(one))
            for one in new if (end := self.here.end_tag(one)) is not None
            and self._edit_at(end.start) == group[1]
        ]  # fmt: skip
        if len(elements) != len(new):
            return None
        number = spans.holder(self.base, first.start, last.start, self._near(first.start - 1))
        return Around(number, first.start, last.start, first.new, last.new, elements, new)

    def _taken(self, at: int) -> list[Deed]:
        """The elements that one edit took out, where it took nothing else."""
        found: list[Deed] = []
        edit = self.edits[at]
        done, last = edit.start, -1
        for number in self._gone_by_edit[at]:
            if number <= last:
                continue
            span = spans.outer(self.base, number)
            if span is None or self.base.text[done : span.start].strip() or span.end > edit.end:
                return []
            found.append(TakenOut(number))
            done, last = span.end, self.base.last_inside(number)
        return [] if self.base.text[done : edit.end].strip() else found

    def _filled(self, edits: Sequence[Edit]) -> Filled:
        start, end = edits[0].start, max(edit.end for edit in edits)
        number = spans.holder(self.base, start, end, self._near(start - 1))
        while number >= 0 and number not in self.images:
            number = spans.tagged(self.base, self.base.parents[number])
        image = self.images.get(number, -1)
        inside = spans.inner(self.here, image) if image >= 0 else None
        if inside is None:
            raise Unclear("What was done here stands in no part of the page.")
        filling = Filling(own_text(self.here, image), parts_inside(self.here, image))
        return Filled(number, self.here.original(inside), filling, [image])


_TAG = re.compile(r"<[^<>]*>")


def _outermost(base: Source, deeds: Sequence[Deed]) -> list[Deed]:
    """The deeds without those that another, which filled a part anew, has in it."""
    filled: list[tuple[int, int]] = []  # the outermost of them, from and to
    for number in sorted({one.number for one in deeds if isinstance(one, Filled)}):
        if not filled or number > filled[-1][1]:
            filled.append((number, base.last_inside(number)))
    kept: list[Deed] = []
    seen: set[int] = set()
    for one in deeds:
        at = bisect_right(filled, (one.number, len(base))) - 1
        first, last = filled[at] if at >= 0 else (-1, -1)
        is_of_itself = isinstance(one, Attributes | Filled | TakenOut)
        if first < one.number <= last or (one.number == first >= 0 and not is_of_itself):
            continue
        if isinstance(one, Filled):
            if one.number in seen:
                continue
            seen.add(one.number)
        kept.append(one)
    return kept


def values_after(deed: Attributes) -> Values:
    """The attributes that a deed gives an element; None for one that it takes away."""
    return {name: after for name, (_before, after) in deed.values.items()}
