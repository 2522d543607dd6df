"""The proof that a plan does what it claims and nothing else: the page read again
after its edits is the old tree plus what was claimed.

The claim is carried out on the old tree, and taken back on the new one where it puts
elements in; what is left has to be the same tree to the parser (DOM, "equals":
https://dom.spec.whatwg.org/#concept-node-equals).
"""

from __future__ import annotations

import html
from collections.abc import Mapping, Sequence

from innerhop.core import words_law
from innerhop.core.edits import Shift, apply, new_starts
from innerhop.core.plan import NewElement, Part, Plan
from innerhop.core.refusals import Refusal
from innerhop.core.source.parser import Surgery
from innerhop.core.source.tree import Source


class NotProved(Refusal):
    """A plan would do something else than it claims, so it is not carried out."""

    def __init__(self) -> None:
        super().__init__(
            "The markup around this is too broken to change it safely. Nothing was changed; "
            "choose another part of the page."
        )


class TakesWords(NotProved):
    """A plan would take words or links from readers that it doesn't name."""

    def __init__(self) -> None:
        Refusal.__init__(
            self,
            "This would take away words or links of the page that it was not meant for. Nothing "
            "was changed.",
        )


def proved(old: Source, plan: Plan) -> Source:
    """The page after the plan, read. Raises NotProved when it is not what the plan
    claims, TakesWords when readers would lose what it doesn't name, and edits.EditsClash
    when the plan was made for another text."""
    if not words_law.is_kept(old, plan):
        raise TakesWords
    new = Source(apply(old.text, plan.edits))
    if not is_claimed(old, new, plan):
        raise NotProved
    return new


def is_claimed(old: Source, new: Source, plan: Plan) -> bool:
    """Whether `new` is `old` but for what the plan claims."""
    claim = plan.claim
    made = _made(new, plan) if claim.new else {}
    filled = _filled(old, new, plan) if claim.filled else ()
    if made is None or filled is None:
        return False
    wanted = Surgery(claim.attributes, claim.tags, claim.gone, claim.removed, claim.filled)
    taken_back = Surgery(
        unwrapped=[number for number, one in made.items() if one.text is None],
        removed={
            number: (one.before, one.after) for number, one in made.items() if one.text is not None
        },
        emptied=filled,
    )
    return old.reading.is_but_for(new.reading, wanted, taken_back)


def _made(new: Source, plan: Plan) -> dict[int, NewElement] | None:
    """The elements that the plan puts in, by their numbers in the new tree; None when
    one of them is not there as claimed."""
    starts = new_starts(plan.edits)
    made: dict[int, NewElement] = {}
    for one in plan.claim.new:
        number = new.element_at(starts[one.edit] + one.offset)
        if number is None or number in made or not _is_as_claimed(new, number, one):
            return None
        made[number] = one
    return made


def _filled(old: Source, new: Source, plan: Plan) -> list[int] | None:
    """The elements that the plan fills anew, by their numbers in the new tree; None when
    one of them does not hold what is claimed."""
    shift = Shift(plan.edits)
    found = []
    for number, filling in plan.claim.filled.items():
        tag = old.start_tag(number)
        at = new.element_at(shift.of(tag.start)) if tag else None
        if at is None or not _holds(new, at, filling.text, filling.inside):
            return None
        found.append(at)
    return found


def _is_as_claimed(new: Source, number: int, one: NewElement) -> bool:
    if new.tags[number] != one.tag or new.attributes(number) != dict(one.attributes):
        return False
    if one.text is None:
        return one.around is None or new.text_of(number).split() == one.around.split()
    return _holds(new, number, one.text, one.inside)


def _holds(new: Source, number: int, text: str, wanted: Sequence[Part]) -> bool:
    """Whether an element holds just these characters itself, and these elements."""
    inside = range(number + 1, new.last_inside(number) + 1)
    if own_text(new, number) != text or len(inside) != len(wanted):
        return False
    depths: Mapping[int, int] = _depths(new, number)
    return all(
        part_of(new, at, depths[at]) == part for at, part in zip(inside, wanted, strict=True)
    )


def part_of(source: Source, number: int, depth: int) -> Part:
    """An element as a part of a larger one."""
    return Part(source.tags[number], source.attributes(number), own_text(source, number), depth)


def brought(source: Source, number: int, start: int, before: str = "") -> NewElement:
    """An element of a text as one that an edit puts in with all that it holds: the edit's new
    text begins at `start`. before: what stands before the element in that, as it is written."""
    return NewElement(
        0, source.starts[number] - start, source.tags[number], source.attributes(number),
        own_text(source, number), parts_inside(source, number), before=as_read(before),
    )  # fmt: skip


def as_read(text: str) -> str:
    """Characters between tags as a parser has them."""
    return html.unescape(text.replace("\r\n", "\n").replace("\r", "\n"))


def parts_inside(source: Source, number: int) -> list[Part]:
    """What an element holds, as parts of it."""
    return [part_of(source, at, depth) for at, depth in _depths(source, number).items()]


def _depths(source: Source, number: int) -> dict[int, int]:
    """For each element inside one, how deep in it."""
    depths = {number: 0}
    for at in range(number + 1, source.last_inside(number) + 1):
        depths[at] = depths[source.parents[at]] + 1
    del depths[number]
    return depths


def own_text(source: Source, number: int) -> str:
    """The characters that an element holds itself, those of elements in it left out."""
    return "".join(getattr(child, "data", "") for child in source.children(number))
