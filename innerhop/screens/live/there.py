"""The site itself rehearsed: what is wrong there beside what is wrong here, and what became of
readers who followed its hops."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from django.core.paginator import Paginator
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST, require_safe

from innerhop.core import landings, widths
from innerhop.core.findings.table import RULES
from innerhop.library.jobs import jobs, kinds
from innerhop.library.live import beside, walking
from innerhop.library.models import FoundThere, Page, Site, WalkedThere
from innerhop.library.seek.page_names import called
from innerhop.screens.access import editor_of, for_editors

_LISTED = 60  # hops
_OFF = (landings.NOWHERE, landings.SHUT, landings.COVERED, landings.CUT, landings.GAP)


@dataclass
class HopThere:
    """A hop with what was seen of it, by width."""

    page: Page
    words: str
    href: str
    seen: dict[int, WalkedThere] = field(default_factory=dict)

    @property
    def cells(self) -> list[tuple[WalkedThere | None, str]]:
        """What was seen at each width, narrow first, and that in a word."""
        rows = [self.seen.get(one.width) for one in widths.ALL]
        return [(row, _word(row)) for row in rows]

    @property
    def is_off(self) -> bool:
        """Whether something went otherwise than it should, at any width."""
        return any(one.trouble or one.verdict in _OFF for one in self.seen.values())


def _word(row: WalkedThere | None) -> str:
    if row is None:
        return "not walked"
    return "went wrong" if row.trouble else landings.NAMES.get(row.verdict, "arrived")


@require_safe
@for_editors
def show(request: HttpRequest, site: Site) -> HttpResponse:
    """All of it; one rule's places where one is asked for."""
    name, is_mended = request.GET.get("rule", ""), "mended" in request.GET
    rule = RULES.get(name)
    hops = _hops(site)
    off = [one for one in hops if one.is_off]
    wanted = hops if "all" in request.GET else off
    context = {
        "rules": beside.by_rule(site),
        "rule": rule,
        "is_mended": is_mended,
        "places": _said(beside.places(site, name, is_mended=is_mended)) if rule else [],
        "widths": widths.ALL,
        "part": Paginator(wanted, _LISTED).get_page(request.GET.get("part")),
        "is_all": wanted is hops,
        "hops": len(hops),
        "off": len(off),
        "copies": sum(any(row.is_copy for row in one.seen.values()) for one in hops),
        "walked": WalkedThere.objects.filter(site=site).order_by("-made").first(),
        "look": site.looks.first(),
        "can_walk": kinds.is_possible(walking.KIND),
    }  # fmt: skip
    return render(request, "live/there.html", context)


def _said(rows: Sequence[FoundThere]) -> list[tuple[FoundThere, str]]:
    """Places, each with what is wrong there in a few words."""
    keys = {one.told["on"] for one in rows if "on" in one.told}
    titles = called(Page.objects.filter(pk__in=keys))

    def said(row: FoundThere) -> str:
        rule = RULES[row.rule]
        return rule.says(rule.title, row.found, lambda page: titles.get(page, "a page"))

    return [(one, said(one)) for one in rows]


def _hops(site: Site) -> list[HopThere]:
    found: dict[tuple[int, int], HopThere] = {}
    by_page: dict[int, Page] = {}
    rows = WalkedThere.objects.filter(site=site, page__removed=None).select_related("page")
    for row in rows.order_by("page__path", "number", "width"):
        page = by_page.setdefault(row.page_id, row.page)
        hop = found.setdefault((row.page_id, row.number), HopThere(page, row.words, row.href))
        hop.seen[row.width] = row
    return list(found.values())


@require_POST
@for_editors
def walk(request: HttpRequest, site: Site) -> HttpResponse:
    """Have a worker follow the hops of the site itself."""
    job = jobs.begin(site, editor_of(request), walking.KIND, {})
    return redirect("job", site.slug, job.pk)
