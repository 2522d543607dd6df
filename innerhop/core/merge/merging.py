"""Three texts of a page become one: as it came, as it is here, as it comes now.

What was done here is done to the new text, whose own characters stay. Where both sides did
something to the same part, an editor says what is to stand; what was done here is never left
out without being told.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

from innerhop.core import proof
from innerhop.core.edits import Edit, EditsClash, apply
from innerhop.core.merge.carrying import KEPT, MEETS, SAME, STUCK, Carried, Carrier
from innerhop.core.merge.deeds import Attributes, Deeds
from innerhop.core.merge.grounds import Ground, Sides
from innerhop.core.merge.matching import matched
from innerhop.core.plan import Plan, join_plans
from innerhop.core.refusals import Refusal
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source, Span

# What is to stand where they meet: what was done on both sides, what is there, what is here.
BOTH, THERE, HERE = "both", "there", "here"


class Undecided(Refusal):
    """Somebody has to say first what is to stand where both sides changed the same part."""

    def __init__(self, count: int) -> None:
        places = "one place" if count == 1 else f"{count} places"
        super().__init__(f"Say what is to stand at {places} first, where both sides meet.")


@dataclass(frozen=True)
class Meeting:
    """A part to which both sides did something.

    key: what it is known by, among the meetings of these texts. base, theirs, ours: its markup
    as it came, as it comes now ("" where it is gone) and as it is here. both: what it would be
    with what was done on both sides. plans: by what may stand, what is to be done to the new
    text for it. lost: by the same, the IDs that would be gone. why: what is so, in sentences.
    carried: what was done here.
    """

    key: str
    ground: Ground
    base: str
    theirs: str
    ours: str
    both: str
    plans: Mapping[str, Plan] = field(repr=False)
    lost: Mapping[str, Sequence[str]]
    why: Sequence[str]
    proposal: str
    carried: Sequence[Carried] = field(repr=False)

    @property
    def options(self) -> list[str]:
        """What may stand."""
        return list(self.plans)


class Merged:
    """What becomes of a page whose new text has come. led: the IDs of the page, as it is here,
    that hops lead to. Raises deeds.Unclear where that can't be told."""

    def __init__(
        self, base: Source, here: Source, edits: Sequence[Edit], new: Source, *,
        encoding: FileEncoding, led: Collection[str] = (),
    ) -> None:  # fmt: skip
        self.base, self.here, self.new = base, here, new
        self.match = matched(base, new)
        done = Deeds(base, here, edits)
        carrier = Carrier(self.match, here, done.deeds, encoding)
        self._sides = Sides(self.match, here, done.images)
        carried = [carrier.carried(one) for one in done.deeds]
        missed = map(carrier.carried, self._missed(led, done.origins, carried))
        carried += (
            one._replace(fate=MEETS, why=_LED) if one.fate == KEPT else one for one in missed
        )
        self.carried = _provable(new, carried)

    def of(self, *fates: str) -> list[Carried]:
        """What was done here, with one of these fates."""
        return [one for one in self.carried if one.fate in fates]

    @cached_property
    def meetings(self) -> list[Meeting]:
        """Where they meet, in the order of the page."""
        groups: dict[Ground, list[Carried]] = {}
        for one in self.of(MEETS, STUCK):
            groups.setdefault(self._sides.ground_of(one.deed.number), []).append(one)
        as_here = self._as_here(sorted(groups))
        return [self._meeting(ground, groups[ground], as_here) for ground in sorted(groups)]

    def _as_here(self, wanted: Sequence[Ground]) -> dict[Ground, Plan]:
        """What it takes to have parts as they are here, for those that can be had so. All that
        lie beside each other are proved at once."""
        plans = {one: plan for one in wanted if (plan := self._sides.as_here(one)) is not None}
        apart: list[Plan] = []
        nested: list[Plan] = []  # those that hold others, or are held
        for plan in sorted(plans.values(), key=lambda plan: plan.edits[0].end):
            is_apart = not apart or plan.edits[0].start >= apart[-1].edits[0].end
            (apart if is_apart else nested).append(plan)
        good = {id(plan) for plan in _good(self.new, apart)}
        good |= {id(plan) for plan in nested[:_NESTED] if _is_proved(self.new, [plan])}
        return {one: plan for one, plan in plans.items() if id(plan) in good}

    @cached_property
    def _ids_there(self) -> set[str | None]:
        return set(self.new.reading.identified.values("id"))

    def plan(self, choices: Mapping[str, str]) -> Plan:
        """What is to be done to the new text. choices: by the key of each meeting, what is to
        stand; its proposal where nothing is said. Raises Undecided where that is needed."""
        chosen = [(one, choices.get(one.key) or one.proposal) for one in self.meetings]
        open_ = [one for one, choice in chosen if choice not in one.plans]
        if open_:
            raise Undecided(len(open_))
        whole = [edit for one, choice in chosen if choice == HERE
                 for edit in one.plans[HERE].edits]  # fmt: skip
        plans = [*(one.plan for one in self.of(KEPT)), *(one.plans[how] for one, how in chosen)]
        return join_plans(one for one in plans if not _lies_in(one, whole))

    def _missed(
        self, led: Collection[str], origins: Sequence[int | None], carried: Sequence[Carried]
    ) -> list[Attributes]:
        """IDs that came with the page, that hops lead to, and that are not in the new text:
        each as if it were given here."""
        told = {one.deed.number for one in carried}
        group = self.here.reading.identified
        found = []
        for value, number in zip(group.values("id"), group.numbers, strict=True):
            origin = origins[number]
            if (
                value in led
                and value not in self._ids_there
                and origin is not None
                and origin not in told
            ):
                at = self.match.to[origin]
                now = None if at is None else self.new.attr(at, "id")
                found.append(Attributes(origin, {"id": (now, value)}))
        return found

    def _id_there(self, number: int) -> str | None:
        """The ID that an element of the text as it came has in the new one."""
        there = self.match.to[number]
        return None if there is None else self.new.attr(there, "id")

    def _meeting(
        self, ground: Ground, carried: Sequence[Carried], as_here: Mapping[Ground, Plan]
    ) -> Meeting:
        sides = self._sides
        plans: dict[str, Plan] = {}
        if all(one.fate == MEETS for one in carried):
            plans[BOTH] = join_plans(one.plan for one in carried)
        plans[THERE] = Plan()
        if ground in as_here:
            plans[HERE] = as_here[ground]
        theirs, ours = sides.ids_there(ground), sides.ids_here(ground)
        given = {one.deed.number for one in carried if isinstance(one.deed, Attributes)
                 and "id" in one.deed.values}  # fmt: skip
        lost = {
            BOTH: [value for number in sorted(given) if (value := self._id_there(number))],
            THERE: [one for one in ours if one not in self._ids_there],
            HERE: [one for one in theirs if one not in ours],
        }
        span = sides.there_span(ground)
        return Meeting(
            key=f"{ground.first}-{ground.last}",
            ground=ground,
            base=_original(self.base, sides.base_span(ground)),
            theirs=_original(self.new, span),
            ours=_original(self.here, sides.here_span(ground)),
            both=_within(self.new, span, plans[BOTH]) if BOTH in plans and span else "",
            plans=plans,
            lost={option: lost[option] for option in plans},
            why=list(dict.fromkeys(one.why for one in carried)),
            proposal=BOTH if BOTH in plans else "",
            carried=carried,
        )


def _provable(new: Source, carried: list[Carried]) -> list[Carried]:
    """The same, with those that can't be done to the new text told apart."""
    wanted = [one.plan for one in carried if one.fate in (KEPT, MEETS)]
    good = {id(plan) for plan in _good(new, wanted)}
    why = "The markup around it is too broken there to do it safely."
    return [one if one.fate in (SAME, STUCK) or id(one.plan) in good else
            Carried(one.deed, STUCK, why=why) for one in carried]  # fmt: skip


_NESTED = (
    20  # parts, each tried by itself: of more, what is here can be had for the outer one alone
)
_LED = "Its ID is gone there, and hops lead to it."


def _good(new: Source, wanted: list[Plan]) -> list[Plan]:
    """Those of some plans that can be done together, found by halves."""
    if not wanted or _is_proved(new, wanted):
        return wanted
    if len(wanted) == 1:
        return []
    half = len(wanted) // 2
    first = _good(new, wanted[:half])
    both = [*first, *_good(new, wanted[half:])]
    return both if _is_proved(new, both) else first


def _is_proved(new: Source, plans: Sequence[Plan]) -> bool:
    try:
        proof.proved(new, join_plans(plans))
    except (proof.NotProved, EditsClash):
        return False
    return True


def _lies_in(plan: Plan, whole: Sequence[Edit]) -> bool:
    """Whether a plan does something to a part that another replaces as a whole."""
    return any(
        (one.start < edit.end and edit.start < one.end) or (one.start == edit.start and one.old)
        for edit in plan.edits for one in whole
        if edit != one and one.end - one.start >= edit.end - edit.start
    )  # fmt: skip


def _original(source: Source, span: Span | None) -> str:
    return "" if span is None else source.original(span)


def _within(source: Source, span: Span, plan: Plan) -> str:
    """A stretch of a text as a plan leaves it."""
    moved = [Edit(one.start - span.start, one.old, one.new) for one in plan.edits]
    return apply(source.original(span), moved)
