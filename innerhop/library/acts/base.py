"""Acts: what an editor wants done, planned on the pages it touches and said in
one line, ready to be shown as a difference and saved as one change.

What is done in a part that pages share is done on all of them.
"""

from __future__ import annotations

import hashlib
from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from innerhop.core.addresses import address_forms, fragments
from innerhop.core.edits import Edit, Spot, difference
from innerhop.core.planners import marking, smooth_scrolling
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from innerhop.library.changes import locked_parts, moves
from innerhop.library.changes.changes import Plan
from innerhop.library.index import shared_parts
from innerhop.library.index.texts import PageText, bare_hash_works, base_of
from innerhop.library.models import Link, Mark, Page

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
class Outside:
    """The end of a link that leaves the site: its address, as it is to be written."""

    href: str


Goal = End | Outside


@dataclass(frozen=True)
class Act:
    """Edits on one page or many, and the line that says what they do.

    notes: what the editor should know before it is done. move: the address that a
    page gets with it. forms: how its hop could be written.
    """

    said: str
    plans: Sequence[Plan]
    href: str = ""
    notes: Sequence[str] = ()
    move: moves.Wanted | None = None
    forms: Sequence[address_forms.Written] = ()

    @cached_property
    def stamp(self) -> str:
        """One short text for all the revisions this was planned on."""
        revisions = sorted((plan.page.pk, plan.revision) for plan in self.plans)
        return hashlib.sha256(repr(revisions).encode()).hexdigest()[:16]

    def spots(self) -> Iterator[tuple[Page, Spot]]:
        """What changes in the markup, on the first few pages. Raises what
        planning raises."""
        shown = self.plans[:PAGES_SHOWN]
        sealed = locked_parts.of(plan.page for plan in shown)
        for plan in shown:
            text = PageText(plan.page, plan.page.revisions.get(number=plan.revision))
            for spot in difference(text.text, plan.edits(text, sealed[plan.page.pk])):
                yield plan.page, spot


Make = Callable[[PageText, int], Sequence[Edit]]
Planner = Callable[[Source, Mapping[int, str], FileEncoding], Sequence[Edit]]


def in_copies(page: Page, number: int, make: Make) -> list[Plan]:
    """The same done to an element on every page that shares its region. make:
    the edits for a text, and the element's number there."""
    return [
        Plan(copy.page, copy.page.revision, _at(make, copy.number))
        for copy in shared_parts.copies(page, number)
    ]


def on_links(links: Iterable[Link], wanted: Callable[[Link], str], plan: Planner) -> list[Plan]:
    """The same done to many links, page by page. wanted: what each is to have."""
    by_page: dict[int, dict[int, str]] = defaultdict(dict)
    pages: dict[int, Page] = {}
    for link in links:
        by_page[link.page_id][link.number] = wanted(link)
        pages[link.page_id] = link.page
    return [_on_page(pages[pk], values, plan) for pk, values in by_page.items()]


def _on_page(page: Page, values: Mapping[int, str], plan: Planner) -> Plan:
    return Plan(page, page.revision, lambda text: plan(text.source, values, text.revision.encoding))


def marked(id_: str) -> Make:
    """The edits that give an element an ID."""
    return lambda text, number: marking.plan_marks(
        text.source, text.facts, [(number, id_)], text.revision.encoding
    )


def counted(count: int, what: str) -> str:
    """How many of something, in words."""
    return f"{count} {what}{'' if count == 1 else 's'}"


def _at(make: Make, number: int) -> Callable[[PageText], Sequence[Edit]]:
    return lambda text: make(text, number)


def on_pages(plans: Sequence[object]) -> str:
    """How a line ends that says what was done in a shared part."""
    return f", on all {len(plans)} pages that share it" if len(plans) > 1 else ""


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
    """Raise locked_parts.Sealed when the element stands in a sealed region."""
    if locked_parts.around(page.seals.all(), number) is not None:
        raise locked_parts.Sealed(locked_parts.WHY)


def smooth(page: Page) -> Act:
    """Ask for smooth scrolling on the page. Raises smooth_scrolling.CannotSmooth."""
    said = "Hops on this page glide, unless a visitor asked for less motion"
    return Act(
        said, [Plan(page, page.revision, lambda text: smooth_scrolling.plan_smooth(text.source))]
    )


def title_of(text: PageText, number: int) -> str:
    """The words of a heading, for a line that speaks of it."""
    headings = text.facts.headings
    return next((one.text for one in headings if one.number == number), "") or "a heading"


def check_end(end: Goal) -> None:
    """Raise NoSuchEnd when what a hop is to end at is not there."""
    if isinstance(end, Outside):
        return
    is_mark = end.number is None and end.id
    if is_mark and not Mark.objects.filter(page=end.page, value=end.id).exists():
        raise NoSuchEnd(f"Nothing on “{end.page.title}” has the ID “{end.id}” any more.")


def fragment_of(page: Page, end: End) -> str | None:
    """What stands behind the hash of a hop from a page to that end."""
    if end.directive or end.id:
        return end.directive or fragments.encode(end.id)
    # HTML Standard 7.4.6.4: `top` is the top of any page that has no such ID.
    return "top" if end.page.pk == page.pk else None


def start_of(page: Page, is_shared: bool) -> address_forms.Start:
    """A place on the page where a hop is to be written."""
    return address_forms.Start(page.address, base_of(page), is_shared)


def link_to(page: Page, end: Goal, is_shared: bool, form: str = "") -> str:
    """How a hop is written on a page. form: one chosen for it; without one, the
    site's way. Raises address_forms.CannotWrite."""
    if isinstance(end, Outside):
        return end.href
    fragment = fragment_of(page, end)
    if fragment == "top" and is_shared and not form and bare_hash_works(page):
        return "#top"  # the top of whichever page the reader is on
    start = start_of(page, is_shared)
    return address_forms.best(start, end.page.address, fragment, page.site.hop_form, form).href
