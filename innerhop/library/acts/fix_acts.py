"""Findings mended: one, chosen ones, or all with the same cause, as one change. Each is
mended by the act that its rule names."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass

from django.db.models import QuerySet

from innerhop.core.counting import counted
from innerhop.core.findings.found import Fix, Rule
from innerhop.core.findings.requests import LeadThere, OfElement, Request
from innerhop.core.findings.table import RULES
from innerhop.core.refusals import CONFLICT, Refusal
from innerhop.library.acts import mending
from innerhop.library.acts.base import Act, alone, joined
from innerhop.library.acts.ends import End
from innerhop.library.changes import locked_parts
from innerhop.library.changes.prepare import PagePlan
from innerhop.library.index import shared_parts
from innerhop.library.models import Finding, Link, Page, Site
from innerhop.library.seek import findings as seek

MOST = 20_000  # findings at once
Planned = Callable[[str, Page, object], Act]


class NothingToFix(Refusal):
    """What was to be mended is no longer there, or has no mend."""

    status = CONFLICT


@dataclass(frozen=True)
class Which:
    """Which findings: of a rule, with a cause. chosen: of these, by primary key, alone; page:
    those on one page alone; None for all."""

    rule: str
    cause: str
    chosen: Collection[int] | None = None
    page: int | None = None

    def on(self, site: Site) -> QuerySet[Finding]:
        """These, as far as nobody has set them aside."""
        rows = seek.open_on(site).filter(rule=self.rule, cause=self.cause)
        if self.page is not None:
            rows = rows.filter(page=self.page)
        return rows if self.chosen is None else rows.filter(pk__in=self.chosen)


def fix(site: Site, which: Which, planned: Planned) -> Act:
    """Mend findings. planned: plans an act of the table. Raises NothingToFix, and what
    planning raises."""
    rule = RULES.get(which.rule)
    if rule is None or rule.fix is None:
        raise NothingToFix("Nothing mends that by itself. Open the place and choose.")
    rows = which.on(site)
    found = list(rows.select_related("page__site").order_by("page_id", "number")[:MOST])
    found, locked = _unlocked(found)
    asked = [(row, one) for row in found if (one := rule.fix.request(row.found)) is not None]
    if not asked:
        raise NothingToFix(
            "It stands in a part that can’t be edited here." if locked
            else "Nothing of this is there any more. Load the list again."
        )  # fmt: skip
    leads = [(row, one) for row, one in asked if isinstance(one, LeadThere)]
    act = _mended(site, rule, leads) if leads else _one_by_one(rule, rule.fix, asked, planned)
    notes = [*act.notes]
    if locked:
        notes.append(f"{counted(locked, 'place')} in parts that can’t be edited stay as they are.")
    return Act(act.message, act.plans, act.href, notes, act.effects)


def _unlocked(findings: Sequence[Finding]) -> tuple[list[Finding], int]:
    """The findings outside of locked parts, and how many stand in such."""
    parts = locked_parts.of({row.page for row in findings})
    free = [row for row in findings if locked_parts.around(parts[row.page_id], row.number) is None]
    return free, len(findings) - len(free)


def _mended(site: Site, rule: Rule, asked: Sequence[tuple[Finding, LeadThere]]) -> Act:
    """All links of these at once."""
    pages = _pages(site, {lead.page for _, lead in asked})
    links = _links({row.page_id for row, _ in asked})
    wanted = []
    for row, lead in asked:
        page, link = pages.get(lead.page), links.get((row.page_id, row.number))
        if page is not None and link is not None:
            link.page = row.page
            wanted.append((link, End(page, lead.id)))
    if not wanted:
        raise NothingToFix("What it should lead to is no longer there. Load the list again.")
    plans, count = mending.plans_for(wanted)
    return Act(_message(rule, asked[0][0], count, plans), alone(plans))


def _pages(site: Site, keys: Collection[int]) -> dict[int, Page]:
    return {page.pk: page for page in site.pages.filter(pk__in=keys).select_related("site")}


def _links(pages: Collection[int]) -> dict[tuple[int, int], Link]:
    rows = Link.objects.filter(page__in=pages)
    return {(link.page_id, link.number): link for link in rows}


def _one_by_one(
    rule: Rule, fix_: Fix, asked: Sequence[tuple[Finding, Request]], planned: Planned
) -> Act:
    """Each by its own act; what can't be mended is left out, and that is said."""
    acts: list[Act] = []
    refused: list[Refusal] = []
    done: set[tuple[int, Request]] = set()
    shared: set[tuple[int, int]] = set()  # done already, by the copy on another page
    ends = {row.told[fix_.on] for row, _ in asked} if fix_.on else set()
    pages = _pages(asked[0][0].page.site, ends)
    for row, request in asked:
        page = pages.get(row.told[fix_.on]) if fix_.on else row.page
        once = (page.pk if page else 0, request)
        number = request.number if isinstance(request, OfElement) else row.number
        if page is None or once in done or (page.pk, number) in shared:
            continue
        done.add(once)
        try:
            act = planned(request.ACT, page, request.sent())
        except Refusal as problem:
            refused.append(problem)
            continue
        if len(act.plans) > 1:
            copies = shared_parts.copies(page, number)
            shared |= {(copy.page.pk, copy.number) for copy in copies}
        acts.append(act)
    if not acts:
        raise refused[0]
    # What is done on one page alone keeps no other waiting where it can't be.
    each = [alone(act.plans) if len(act.plans) == 1 else act.plans for act in acts]
    plans = joined([plan for some in each for plan in some])
    notes = list(dict.fromkeys(note for act in acts for note in act.notes))
    if refused:
        notes.append(f"{counted(len(refused), 'place')} stay as they are: {refused[0].message}")
    effects = [one for act in acts for one in act.effects]
    return Act(_message(rule, asked[0][0], len(acts), plans), plans, "", notes, effects)


def _message(rule: Rule, finding: Finding, count: int, plans: Sequence[PagePlan]) -> str:
    what = seek.said(rule.title, finding, seek.titles_of([finding]))
    return f"Mended “{what}”: {counted(count, 'place')} on {counted(len(plans), 'page')}"
