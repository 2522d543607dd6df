"""Acts: what an editor wants done, planned on the pages it touches and said in
one line, ready to be shown as a difference and saved as one change.

What is done in a part that pages share is done on all of them.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from innerhop.core import addresses, hopping, marking, renaming, selection, smoothing
from innerhop.core.edits import Edit, Spot, difference
from innerhop.library import seals, shared
from innerhop.library.changes import Plan
from innerhop.library.models import Link, Mark, Page
from innerhop.library.texts import PageText, bare_hash_works, current

PAGES_SHOWN = 6  # of a change of many pages, these stand for all


class NoSuchEnd(ValueError):
    """The place a hop should end at is not there; says what to do."""


@dataclass(frozen=True)
class End:
    """Where a new hop is to end.

    number: the heading's, when the section has no mark yet and `id` is to be
    its ID. number None: `id` is a mark of the page, or "" for its top.
    directive: a text directive, where the words are linked to and no mark.
    """

    page: Page
    id: str
    number: int | None = None
    directive: str = ""


@dataclass(frozen=True)
class Act:
    """Edits on one page or many, and the line that says what they do.

    notes: what the editor should know before it is done.
    """

    said: str
    plans: Sequence[Plan]
    href: str = ""
    notes: Sequence[str] = ()

    @cached_property
    def stamp(self) -> str:
        """One short text for all the revisions this was planned on."""
        revisions = sorted((plan.page.pk, plan.revision) for plan in self.plans)
        return hashlib.sha256(repr(revisions).encode()).hexdigest()[:16]

    def spots(self) -> Iterator[tuple[Page, Spot]]:
        """What changes in the markup, on the first few pages. Raises what
        planning raises."""
        shown = self.plans[:PAGES_SHOWN]
        sealed = seals.of(plan.page for plan in shown)
        for plan in shown:
            text = PageText(plan.page, plan.page.revisions.get(number=plan.revision))
            for spot in difference(text.text, plan.edits(text, sealed[plan.page.pk])):
                yield plan.page, spot


Make = Callable[[PageText, int], Sequence[Edit]]


def in_copies(page: Page, number: int, make: Make) -> list[Plan]:
    """The same done to an element on every page that shares its region. make:
    the edits for a text, and the element's number there."""
    return [
        Plan(copy.page, copy.page.revision, _at(make, copy.number))
        for copy in shared.copies(page, number)
    ]


def _at(make: Make, number: int) -> Callable[[PageText], Sequence[Edit]]:
    return lambda text: make(text, number)


def on_pages(plans: Sequence[object]) -> str:
    """How a line ends that says what was done in a shared part."""
    return f", on all {len(plans)} pages that share it" if len(plans) > 1 else ""


def hop(page: Page, words: selection.Words, end: End) -> Act:
    """Make a link of the words, and mark the section it ends at if it must be.

    Raises wrapping.CannotLink, marking.CannotMark or NoSuchEnd.
    """
    _check_end(end)
    text = current(page)
    copies = shared.copies(page, words.start.number)
    href = link_to(page, end, len(copies) > 1)
    plans = [
        Plan(copy.page, copy.page.revision, _link(_shifted(words, copy.number), href))
        for copy in copies
    ]
    said = f"Linked “{selection.text_of(text.source, words)}” to {href}{on_pages(plans)}"
    if end.number is None:
        return Act(said, plans, href)
    end_text = text if end.page.pk == page.pk else current(end.page)
    said += f" and marked “{title_of(end_text, end.number)}”"
    marks = in_copies(end.page, end.number, _mark(end.id))
    return Act(said, joined([*plans, *marks]), href)


def retarget(page: Page, link: Link, end: End) -> Act:
    """Let a link that is there lead to another end, and mark it if it must be.

    Raises marking.CannotMark or NoSuchEnd.
    """
    _check_end(end)
    copies = shared.copies(page, link.number)
    href = link_to(page, end, len(copies) > 1)

    def make(text: PageText, number: int) -> Sequence[Edit]:
        return renaming.plan_addresses(text.source, {number: href}, text.revision.spelling)

    plans = in_copies(page, link.number, make)
    said = f"“{link.text or 'A picture'}” leads to {href} now{on_pages(plans)}"
    if end.number is None:
        return Act(said, plans, href)
    marks = in_copies(end.page, end.number, _mark(end.id))
    return Act(f"{said}, which is marked", joined([*plans, *marks]), href)


def _link(words: selection.Words, href: str) -> Callable[[PageText], Sequence[Edit]]:
    return lambda text: hopping.plan_hop(text.source, words, href, text.revision.spelling)


def _mark(id_: str) -> Make:
    return lambda text, number: marking.plan_marks(
        text.source, text.facts, [(number, id_)], text.revision.spelling
    )


def _shifted(words: selection.Words, number: int) -> selection.Words:
    """The words in another copy of the region they are in."""
    by = number - words.start.number
    start, end = words.start, words.end
    return selection.Words(
        replace(start, number=start.number + by), replace(end, number=end.number + by), words.text
    )


def joined(plans: Sequence[Plan]) -> list[Plan]:
    """One plan for each page, where several want something of the same page."""
    by_page: dict[int, list[Plan]] = {}
    for plan in plans:
        by_page.setdefault(plan.page.pk, []).append(plan)
    return [_both(same) if len(same) > 1 else same[0] for same in by_page.values()]


def _both(plans: Sequence[Plan]) -> Plan:
    def make(text: PageText) -> list[Edit]:
        return [edit for plan in plans for edit in plan.make(text)]

    return Plan(plans[0].page, plans[0].revision, make)


def require_unsealed(page: Page, number: int) -> None:
    """Raise seals.Sealed when the element stands in a sealed region."""
    if seals.around(page.seals.all(), number) is not None:
        raise seals.Sealed(seals.WHY)


def smooth(page: Page) -> Act:
    """Ask for smooth scrolling on the page. Raises smoothing.CannotSmooth."""
    said = "Hops on this page glide, unless a visitor asked for less motion"
    return Act(said, [Plan(page, page.revision, lambda text: smoothing.plan_smooth(text.source))])


def title_of(text: PageText, number: int) -> str:
    """The words of a heading, for a line that speaks of it."""
    headings = text.facts.headings
    return next((one.text for one in headings if one.number == number), "") or "a heading"


def _check_end(end: End) -> None:
    is_mark = end.number is None and end.id
    if is_mark and not Mark.objects.filter(page=end.page, value=end.id).exists():
        raise NoSuchEnd(f"Nothing on “{end.page.title}” has the ID “{end.id}” any more.")


def link_to(page: Page, end: End, is_shared: bool) -> str:
    """How the hop is written. In a part that pages share, the page's address
    stands in front: a bare hash would work on one of them only."""
    bare = end.page.pk == page.pk and not is_shared and bare_hash_works(page)
    if end.directive:
        return f"{'' if bare else end.page.path}#{end.directive}"
    if end.id:
        return addresses.write_hop(end.page.path, end.id, bare)
    # HTML Standard 7.4.6.4: `top` is the top of any page that has no such ID, so in
    # a shared part it is the top of whichever page the reader is on.
    if end.page.pk == page.pk:
        return addresses.write_hop(page.path, "top", bare_hash_works(page))
    return end.page.path
