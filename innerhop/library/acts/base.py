"""Acts: what an editor wants done, planned on the pages it touches and said in
one line, ready to be shown as a difference and saved as one change.

What is done in a part that pages share is done on all of them.
"""

from __future__ import annotations

import hashlib
from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from innerhop.core import words_law
from innerhop.core.addresses import address_forms
from innerhop.core.edits import Spot, difference
from innerhop.core.names import ids
from innerhop.core.plan import Plan, join_plans
from innerhop.core.planners import markers, marking
from innerhop.core.proof import TakesWords, proved
from innerhop.core.refusals import Refusal
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from innerhop.library.changes import locked_parts
from innerhop.library.changes.effects import Effect
from innerhop.library.changes.prepare import LeftOut, PagePlan
from innerhop.library.index import shared_parts
from innerhop.library.index.shared_parts import Copy
from innerhop.library.index.texts import PageText
from innerhop.library.models import Link, Page

PAGES_SHOWN = 6  # of a change of many pages, these stand for all


class NothingToDo(Refusal):
    """An act would change nothing."""


@dataclass(frozen=True)
class Preview:
    """What is to be put in, for the sheet to show where it will stand. markup: as it will
    be written. number, side: the element that it stands before or after; side "": that it
    replaces. lit: the addresses of the links in it that are new."""

    markup: str
    number: int
    side: str
    lit: Sequence[str]


@dataclass(frozen=True)
class Act:
    """Plans for one page or many, and the line that says what they do.

    notes: what the editor should know before it is done. effects: what it does beside
    writing texts. forms: how its hop could be written. preview: what finds the part that
    it puts in, on the first page as it becomes. lacks_room: whether the page that its hop
    ends on leaves too little room for what covers its view's top.
    """

    message: str
    plans: Sequence[PagePlan]
    href: str = ""
    notes: Sequence[str] = ()
    effects: Sequence[Effect] = ()
    forms: Sequence[address_forms.Written] = ()
    preview: Callable[[Source], Preview] | None = None
    lacks_room: bool = False

    @cached_property
    def stamp(self) -> str:
        """One short text for all the revisions this was planned on."""
        revisions = sorted((plan.page.pk, plan.revision) for plan in self.plans)
        return hashlib.sha256(repr(revisions).encode()).hexdigest()[:16]

    @cached_property
    def _looked_at(self) -> tuple[list[_Shown], list[LeftOut]]:
        """The first few pages, with their plans and what they become; and those of them that
        stay as they are. Raises what planning raises."""
        shown = self.plans[:PAGES_SHOWN]
        locked = locked_parts.of(plan.page for plan in shown)
        found: list[_Shown] = []
        left: list[LeftOut] = []
        for plan in shown:
            text = PageText(plan.page, plan.page.revisions.get(number=plan.revision))
            try:
                planned = plan.make(text)
                locked_parts.refuse(text.source, locked[plan.page.pk], planned.edits)
                found.append((text, planned, proved(text.source, planned)))
            except Refusal as problem:
                if not plan.is_alone or len(self.plans) == 1:
                    raise
                left.append(LeftOut(plan.page, problem.message))
        return found, left

    @property
    def _shown(self) -> list[_Shown]:
        return self._looked_at[0]

    def told(self) -> list[str]:
        """What the editor should know before it is done: its notes, the pages among the
        first few that stay as they are, and what readers lose on the others. Raises what
        planning raises."""
        taken = [words_law.taken_by(text.source, planned) for text, planned, _ in self._shown]
        lost = words_law.sentence(taken)
        left = [one.sentence for one in self._looked_at[1]]
        return [*self.notes, *left, *([lost] if lost else [])]

    def spots(self) -> Iterator[tuple[Page, Spot]]:
        """What changes in the markup, on the first few pages. Raises what planning
        raises."""
        for text, planned, _ in self._shown:
            for spot in difference(text.text, planned.edits):
                yield text.page, spot

    def previewed(self) -> Preview | None:
        """The part that it puts in, as it will be on the first page. Raises the same."""
        return self.preview(self._shown[0][2]) if self.preview else None


_Shown = tuple[PageText, Plan, Source]
Make = Callable[[PageText, int], Plan]
Planner = Callable[[Source, Mapping[int, str], FileEncoding], Plan]


def in_copies(page: Page, number: int, make: Make) -> list[PagePlan]:
    """The same done to an element on every page that shares its region. make:
    the plan for a text, and the element's number there."""
    return in_each(shared_parts.copies(page, number), make)


def in_each(copies: Iterable[Copy], make: Make) -> list[PagePlan]:
    """The same done to these copies of an element."""
    return [PagePlan(one.page, one.page.revision, _at(make, one.number)) for one in copies]


def on_links(links: Iterable[Link], wanted: Callable[[Link], str], plan: Planner) -> list[PagePlan]:
    """The same done to many links, page by page. wanted: what each is to have."""
    by_page: dict[int, dict[int, str]] = defaultdict(dict)
    pages: dict[int, Page] = {}
    for link in links:
        by_page[link.page_id][link.number] = wanted(link)
        pages[link.page_id] = link.page
    return [_on_page(pages[pk], values, plan) for pk, values in by_page.items()]


def _on_page(page: Page, values: Mapping[int, str], plan: Planner) -> PagePlan:
    return PagePlan(
        page, page.revision, lambda text: plan(text.source, values, text.revision.encoding)
    )


def marked(id_: str) -> Make:
    """What gives an element an ID."""
    return lambda text, number: marking.plan_marks(
        text.source, text.marks, [(number, id_)], text.revision.encoding
    )


def marked_before(id_: str) -> Make:
    """What puts an empty marker with an ID before an element."""

    def make(text: PageText, number: int) -> Plan:
        marking.check_id(id_, text.facts.ids())
        return markers.left_marker(text.source, number, id_, text.revision.encoding)

    return make


def marked_anyhow(id_: str) -> Make:
    """What gives an element an ID, or a marker before it where it has one that a system made,
    which is rarely the editor's to change."""

    def make(text: PageText, number: int) -> Plan:
        is_a_systems = ids.looks_generated(text.source.attr(number, "id") or "")
        return (marked_before if is_a_systems else marked)(id_)(text, number)

    return make


def _at(make: Make, number: int) -> Callable[[PageText], Plan]:
    return lambda text: make(text, number)


def on_pages(plans: Sequence[object]) -> str:
    """How a line ends that says what was done in a shared part."""
    return f", on all {len(plans)} pages that share it" if len(plans) > 1 else ""


def joined(plans: Sequence[PagePlan]) -> list[PagePlan]:
    """One plan for each page, where several want something of the same page."""
    by_page: dict[int, list[PagePlan]] = {}
    for plan in plans:
        by_page.setdefault(plan.page.pk, []).append(plan)
    return [_both(same) if len(same) > 1 else same[0] for same in by_page.values()]


def _both(plans: Sequence[PagePlan]) -> PagePlan:
    def make(text: PageText) -> Plan:
        return join_plans(plan.make(text) for plan in plans)

    is_alone = all(plan.is_alone for plan in plans)
    return PagePlan(plans[0].page, plans[0].revision, make, is_alone)


def alone(plans: Iterable[PagePlan]) -> list[PagePlan]:
    """The same plans, none of which the others wait for where it can't be carried out."""
    return [replace(plan, is_alone=True) for plan in plans]


def keeping_words(act: Act) -> Act:
    """An act whose purpose it is not to take words or links from readers, so that it is
    refused where it would."""
    return replace(act, plans=[replace(plan, make=_keeping(plan.make)) for plan in act.plans])


def _keeping(make: Callable[[PageText], Plan]) -> Callable[[PageText], Plan]:
    def checked(text: PageText) -> Plan:
        plan = make(text)
        if plan.claim.takes and words_law.taken_by(text.source, plan).is_any:
            raise TakesWords
        return plan

    return checked


def title_of(text: PageText, number: int) -> str:
    """The words of a heading, for a line that speaks of it."""
    headings = text.facts.headings
    return next((one.text for one in headings if one.number == number), "") or "a heading"
