"""Mending broken hops: one, on every page that shares it, or all with the same cause."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence

from innerhop.core.addresses.fragments import id_of
from innerhop.core.counting import counted
from innerhop.core.plan import Plan
from innerhop.core.planners import mending as core
from innerhop.core.planners.mending import Lead
from innerhop.core.site.hops import NO_PAGE
from innerhop.library.acts.base import Act
from innerhop.library.acts.ends import End, check_end, link_to
from innerhop.library.acts.hop_acts import with_mark
from innerhop.library.changes.prepare import PagePlan
from innerhop.library.index import shared_parts
from innerhop.library.index.texts import PageText
from innerhop.library.models import Link, Mark, Page, Region
from innerhop.library.seek import causes


def mend(page: Page, link: Link, end: End, everywhere: bool = False) -> Act:
    """Let a broken hop lead to an end; everywhere: all with the same cause too. Raises
    NoSuchEnd, address_forms.CannotWrite, marking.CannotMark."""
    check_end(end)
    links = [link]
    if everywhere:
        links = list(causes.like(link).select_related("page__site").order_by("page_id", "number"))
    plans, count = plans_for([(one, end) for one in links])
    href = link_to(page, end, False)
    where = f", in {count} places on {counted(len(plans), 'page')}" if count > 1 else ""
    message = f"“{link.text or 'A picture'}” leads to {href} now{where}"
    return with_mark(Act(message, plans, href), end)


def plans_for(wanted: Sequence[tuple[Link, End]]) -> tuple[list[PagePlan], int]:
    """The plans that lead each link to its end, on all pages that share its part; and how
    many places they touch. Raises address_forms.CannotWrite."""
    asked: dict[int, dict[int, Lead]] = defaultdict(dict)
    pages: dict[int, Page] = {}
    ends = {(link.page_id, link.number): end for link, end in wanted}
    ids = _kept_ids(wanted)
    for one, copies in _with_copies([link for link, _ in wanted]):
        for copy in copies:
            pages[copy.page.pk] = copy.page
            end = ends[one.page_id, one.number]
            lead = _lead(one, copy.page, end, ids, len(copies) > 1)
            asked[copy.page.pk][copy.number] = lead
    plans = [PagePlan(pages[pk], pages[pk].revision, _make(asked[pk])) for pk in asked]
    return plans, sum(map(len, asked.values()))


def _with_copies(links: Iterable[Link]) -> Iterable[tuple[Link, list[shared_parts.Copy]]]:
    """Each link with itself on every page that shares its part, each place once."""
    links = list(links)
    regions: dict[int, list[tuple[int, int]]] = defaultdict(list)
    rows = Region.objects.filter(page__in={one.page_id for one in links})
    for pk, number, last in rows.values_list("page_id", "number", "last"):
        regions[pk].append((number, last))
    seen: set[tuple[int, int]] = set()
    for one in links:
        if (one.page_id, one.number) in seen:
            continue
        is_inside = any(first <= one.number <= last for first, last in regions[one.page_id])
        own = [shared_parts.Copy(one.page, one.number)]
        copies = shared_parts.copies(one.page, one.number) if is_inside else own
        seen |= {(copy.page.pk, copy.number) for copy in copies}
        yield one, copies


def _kept_ids(wanted: Iterable[tuple[Link, End]]) -> set[tuple[int, str]]:
    """The IDs that links to a page that isn't there ask for, and that their end's page has."""
    asked: dict[int, set[str]] = defaultdict(set)
    sites: dict[int, int] = {}
    for link, end in wanted:
        if link.why == NO_PAGE:
            asked[end.page.pk].add(id_of(link.fragment))
            sites[end.page.pk] = end.page.site_id
    found: set[tuple[int, str]] = set()
    for page, values in asked.items():
        rows = Mark.objects.with_values(sites[page], values).filter(page=page)
        found |= {(page, value) for value in rows.values_list("value", flat=True)}
    return found


def _lead(link: Link, page: Page, end: End, ids: set[tuple[int, str]], is_shared: bool) -> Lead:
    if core.keeps_its_page(link.why, link.end_page_id == end.page.pk, end.id, is_shared):
        return Lead(id=end.id)
    own = id_of(link.fragment)
    is_there = core.keeps_its_id(link.why, (end.page.pk, own) in ids)
    return Lead(href=link_to(page, End(end.page, own) if is_there else end, is_shared))


def _make(asked: Mapping[int, Lead]) -> Callable[[PageText], Plan]:
    return lambda text: core.plan_leads(text.source, asked, text.revision.encoding)
