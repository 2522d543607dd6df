"""Edits: the only way a page's text ever changes.

A list of edits replaces stretches of one text, all counted in that text, in
order and without overlap. Lists can be applied, turned round, carried past
other lists and joined into one, which is what undo, redo and the difference
before a download are made of.
"""

from __future__ import annotations

import re
from bisect import bisect_left, bisect_right
from collections.abc import Hashable, Iterable, Sequence
from dataclasses import dataclass
from itertools import accumulate, pairwise

from rapidfuzz.distance import Indel

from innerhop.core.refusals import CONFLICT, Refusal


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


class EditsClash(Refusal):
    """Two edits want the same characters, or the text is not the one planned on."""

    status = CONFLICT


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


def new_starts(edits: Sequence[Edit]) -> list[int]:
    """For each edit of a list, in its order, where its new text begins afterwards."""
    starts = [0] * len(edits)
    shift = 0
    for at in sorted(range(len(edits)), key=lambda at: (edits[at].start, edits[at].end)):
        starts[at] = edits[at].start + shift
        shift += len(edits[at].new) - len(edits[at].old)
    return starts


class Shift:
    """Where the characters that edits leave alone stand afterwards."""

    def __init__(self, edits: Iterable[Edit]) -> None:
        ordered = in_order(edits)
        self._ends = [edit.end for edit in ordered]
        self._shifts = [0, *accumulate(len(edit.new) - len(edit.old) for edit in ordered)]

    def of(self, place: int) -> int:
        """The place of a character after the edits."""
        return place + self._shifts[bisect_right(self._ends, place)]


def carry(edits: Sequence[Edit], past: Iterable[Edit]) -> list[Edit]:
    """The same edits for the text that `past` has been applied to meanwhile.

    Raises EditsClash when `past` touched what an edit replaces, or inserted at
    the very place where it would insert: nobody can say then what was meant.
    """
    others = in_order(past)
    starts, ends = [one.start for one in others], [one.end for one in others]
    shifts = [0, *accumulate(len(one.new) - len(one.old) for one in others)]
    moved = []
    for edit in edits:
        near = range(bisect_left(ends, edit.start), bisect_right(starts, edit.end))
        if any(_touch(edit, others[at]) for at in near):
            raise EditsClash("A later change touched the same characters.")
        shift = shifts[bisect_right(ends, edit.start)]
        moved.append(Edit(edit.start + shift, edit.old, edit.new))
    return moved


def _touch(one: Edit, other: Edit) -> bool:
    if one.start == other.start and (not one.old or not other.old):
        return not one.old and not other.old
    return one.start < other.end and other.start < one.end


def join(first: Iterable[Edit], then: Iterable[Edit]) -> list[Edit]:
    """One list that does what `first` and, on its result, `then` do."""
    before, after = in_order(first), in_order(then)
    places = new_starts(before)  # where each stands in the text between the two
    joined: list[Edit] = []
    shift = at = late = 0  # shift: how much longer the text between is, up to here
    while late < len(after):
        while at < len(before) and places[at] + len(before[at].new) < after[late].start:
            joined.append(before[at])
            shift += len(before[at].new) - len(before[at].old)
            at += 1
        hit, lates = _touching(before, places, after, at, late)
        early = [(places[one], before[one].new, before[one].old) for one in hit]
        then_done = [(after[one].start, after[one].old, after[one].new) for one in lates]
        joined.append(_one(early, then_done, shift))
        shift += sum(len(before[one].new) - len(before[one].old) for one in hit)
        at, late = at + len(hit), late + len(lates)
    return [edit for edit in (*joined, *before[at:]) if edit.old != edit.new]


def _touching(
    before: Sequence[Edit], places: Sequence[int], after: Sequence[Edit], at: int, late: int
) -> tuple[range, range]:
    """From `at` and `late` on, the earlier edits that the later ones touch, and the
    later ones that touch one of those too: together they make one edit."""
    hit_end, late_end = at, late + 1
    while True:
        if hit_end < len(before) and places[hit_end] <= after[late_end - 1].end:
            hit_end += 1
            continue
        last = hit_end - 1
        ends = places[last] + len(before[last].new) if hit_end > at else -1
        if late_end == len(after) or after[late_end].start > ends:
            return range(at, hit_end), range(late, late_end)
        late_end += 1


_Change = tuple[int, str, str]  # a place, what is there, what is to be there instead


def _one(early: Sequence[_Change], late: Sequence[_Change], shift: int) -> Edit:
    """One edit in the place of several that touch each other; early: turned round."""
    between = sorted((place, len(is_there), is_there) for place, is_there, _ in (*early, *late))
    begin = between[0][0]
    # The text between the two lists, as known from the edits that cover it.
    known = ""
    for place, _, text in between:
        known += text[max(0, begin + len(known) - place) :]
    return Edit(begin - shift, _replaced(known, begin, early), _replaced(known, begin, late))


def _replaced(text: str, begin: int, edits: Sequence[_Change]) -> str:
    """A text that starts at `begin`, with changes done."""
    parts: list[str] = []
    done = 0
    for place, is_there, new in edits:
        parts += (text[done : place - begin], new)
        done = place - begin + len(is_there)
    return "".join((*parts, text[done:]))


Step = tuple[Hashable, Sequence[Edit] | None]  # whose it is; None: the whole was replaced


def standing(steps: Iterable[Step]) -> list[Step]:
    """What is left of a row of steps when each that was taken back later, and the step
    that took it back, are left out: the second step of the same owner is that of the first.

    Steps between the two are counted anew, as if neither had ever been. Raises
    EditsClash when one of them touched the same characters.
    """
    left: list[Step] = []
    for owner, edits in steps:
        at = next((at for at, step in enumerate(left) if step[0] == owner), None)
        if at is None:
            left.append((owner, edits))
            continue
        done = left.pop(at)[1]
        back = None if done is None else invert(done)
        for later, (whose, between) in enumerate(left[at:], at):
            if back is None or between is None:
                raise EditsClash("The whole text was replaced.")
            left[later] = (whose, carry(between, back))
            back = carry(back, between)
    return left


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
    return Spot(
        line, tuple((kind, _SURROGATE.sub("\ufffd", words)) for kind, words in parts if words)
    )


# What stands for a byte that the page's encoding can't explain: shown as browsers show it.
_SURROGATE = re.compile("[\ud800-\udfff]")


def changed_stretches(start: int, old: str, new: str) -> list[Edit]:
    """What turns one stretch of markup into another, entry by entry and link by link, so
    that a difference shows what is different and nothing else. start: where it begins."""
    return changed_pieces(start, _cut(old), _cut(new))


def changed_pieces(start: int, before: Sequence[str], after: Sequence[str]) -> list[Edit]:
    """What turns the pieces of one text, from a place on, into those of another, piece by
    piece."""
    places = list(accumulate(map(len, before), initial=start))
    found: list[Edit] = []
    for step in Indel.opcodes(before, after):
        if step.tag == "equal":
            continue
        gone, come = before[step.src_start : step.src_end], after[step.dest_start : step.dest_end]
        edit = Edit(places[step.src_start], "".join(gone), "".join(come))
        if found and found[-1].end == edit.start:  # what goes, and what comes in its place
            last = found.pop()
            edit = Edit(last.start, last.old + edit.old, last.new + edit.new)
        found.append(edit)
    return found


_ENTRY = re.compile(r"(?=\s*<li\b)|(?=<a\b)|(?<=</a>)", re.IGNORECASE)


def _cut(text: str) -> list[str]:
    return [one for one in _ENTRY.split(text) if one]
