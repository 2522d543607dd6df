"""Edits: the only way a page's text ever changes.

A list of edits replaces stretches of one text, all counted in that text, in
order and without overlap. Lists can be applied, turned round, carried past
other lists and joined into one, which is what undo, redo and the difference
before a download are made of.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise


@dataclass(frozen=True, slots=True, order=True)
class Edit:
    """Put `new` in the place of `old`, which stands at text[start:start + len(old)]."""

    start: int
    old: str
    new: str

    @property
    def end(self) -> int:
        """Where the replaced stretch ends, in the text before the edit."""
        return self.start + len(self.old)


class EditsClash(ValueError):
    """Two edits want the same characters, or the text is not the one planned on."""


def in_order(edits: Iterable[Edit]) -> list[Edit]:
    """The edits sorted by place. Raises EditsClash when two overlap.

    Edits that only insert keep their given order at the same place.
    """
    ordered = sorted(edits, key=lambda edit: (edit.start, edit.end))
    for one, next_one in pairwise(ordered):
        if next_one.start < one.end:
            raise EditsClash("two edits want the same characters")
    return ordered


def apply(text: str, edits: Iterable[Edit]) -> str:
    """The text after the edits. Raises EditsClash when the old text is not there."""
    parts: list[str] = []
    done = 0
    for edit in in_order(edits):
        if text[edit.start : edit.end] != edit.old:
            raise EditsClash("the text is not the one the edit was planned on")
        parts += (text[done : edit.start], edit.new)
        done = edit.end
    return "".join((*parts, text[done:]))


def invert(edits: Iterable[Edit]) -> list[Edit]:
    """The edits that turn the new text back into the old."""
    back = []
    shift = 0
    for edit in in_order(edits):
        back.append(Edit(edit.start + shift, edit.new, edit.old))
        shift += len(edit.new) - len(edit.old)
    return back


def carry(edits: Sequence[Edit], past: Iterable[Edit]) -> list[Edit]:
    """The same edits for the text that `past` has been applied to meanwhile.

    Raises EditsClash when `past` touched what an edit replaces, or inserted at
    the very place where it would insert: nobody can say then what was meant.
    """
    others = in_order(past)
    moved = []
    for edit in edits:
        shift = 0
        for other in others:
            if _touch(edit, other):
                raise EditsClash("a later change touched the same characters")
            if other.end <= edit.start:
                shift += len(other.new) - len(other.old)
        moved.append(Edit(edit.start + shift, edit.old, edit.new))
    return moved


def _touch(one: Edit, other: Edit) -> bool:
    if one.start == other.start and (not one.old or not other.old):
        return not one.old and not other.old
    return one.start < other.end and other.start < one.end


def join(first: Iterable[Edit], then: Iterable[Edit]) -> list[Edit]:
    """One list that does what `first` and, on its result, `then` do."""
    joined = in_order(first)
    for edit in reversed(in_order(then)):
        joined = _add(joined, edit)
    return [edit for edit in joined if edit.old != edit.new]


def join_all(steps: Iterable[Iterable[Edit]]) -> list[Edit]:
    """One list that does what all the steps do, one after the other."""
    whole: list[Edit] = []
    for step in steps:
        whole = join(whole, step)
    return whole


def _add(edits: list[Edit], late: Edit) -> list[Edit]:
    """Join one edit, counted in the text after `edits`, into them."""
    before: list[Edit] = []
    after: list[Edit] = []
    hit: list[tuple[int, Edit]] = []
    shift = 0
    for edit in edits:
        at = edit.start + shift
        if at + len(edit.new) < late.start:
            before.append(edit)
        elif at > late.end:
            after.append(edit)
        else:
            hit.append((at, edit))
        shift += len(edit.new) - len(edit.old)
    lead = sum(len(edit.new) - len(edit.old) for edit in before)
    if not hit:
        return [*before, Edit(late.start - lead, late.old, late.new), *after]
    # The stretch, in the text after `edits`, that the hit edits and this one cover.
    begin = min(late.start, hit[0][0])
    end = max(late.end, hit[-1][0] + len(hit[-1][1].new))
    middle = _rebuild(begin, end, late, hit)
    old = _unapply(middle, begin, hit)
    new = middle[: late.start - begin] + late.new + middle[late.end - begin :]
    return [*before, Edit(begin - lead, old, new), *after]


def _rebuild(begin: int, end: int, late: Edit, hit: list[tuple[int, Edit]]) -> str:
    """The text between `begin` and `end` as known from the edits that cover it."""
    letters: list[str] = [""] * (end - begin)
    for at, word in [(late.start, late.old), *((at, edit.new) for at, edit in hit)]:
        letters[at - begin : at - begin + len(word)] = word
    return "".join(letters)


def _unapply(middle: str, begin: int, hit: list[tuple[int, Edit]]) -> str:
    for at, edit in reversed(hit):
        middle = middle[: at - begin] + edit.old + middle[at - begin + len(edit.new) :]
    return middle


SAME, OLD, NEW = "same", "old", "new"


@dataclass(frozen=True, slots=True)
class Spot:
    """One place where two texts differ, with some of the text around it.

    line: the line, from 1, in the old text. parts: (SAME, OLD or NEW, text) in
    order; OLD parts are gone from the new text.
    """

    line: int
    parts: tuple[tuple[str, str], ...]


def difference(text: str, edits: Iterable[Edit], around: int = 60) -> list[Spot]:
    """What the edits change in `text`, place by place. Edits of one line that
    stand close together make one spot."""
    groups: list[list[Edit]] = []
    for edit in in_order(edits):
        last = groups[-1][-1] if groups else None
        between = text[last.end : edit.start] if last else ""
        if last and len(between) <= 2 * around and "\n" not in between:
            groups[-1].append(edit)
        else:
            groups.append([edit])
    return [_spot(text, group, around) for group in groups]


def _spot(text: str, group: list[Edit], around: int) -> Spot:
    start = group[0].start
    parts = [(SAME, text[max(0, start - around) : start].rpartition("\n")[2].lstrip())]
    for edit, following in zip(group, [*group[1:], None], strict=True):
        parts += [(OLD, edit.old), (NEW, edit.new)]
        if following:
            parts.append((SAME, text[edit.end : following.start]))
        else:
            after = text[edit.end : edit.end + around].partition("\n")[0].rstrip("\r")
            parts.append((SAME, after))
    line = text.count("\n", 0, start) + 1
    return Spot(line, tuple((kind, words) for kind, words in parts if words))
