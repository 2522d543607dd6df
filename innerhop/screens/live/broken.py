"""The hops of the site itself that lead nowhere, as Live lists them."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass

from innerhop.library.models import FoundThere, Site
from innerhop.screens.access import number_asked

_SHOWN = 40  # of those that broke


@dataclass(frozen=True)
class Broken:
    """Hops that led somewhere and lead nowhere now, all by one cause. first: the one that is told.
    hops, pages: how many more there are, on how many more pages."""

    first: FoundThere
    hops: int
    pages: int


@dataclass(frozen=True)
class Breaks:
    """All that broke. rest: how many are not shown. always: how many hops led nowhere at the
    first look already."""

    shown: list[Broken]
    rest: int
    always: int


def breaks(site: Site) -> Breaks:
    """What broke on a site, by its cause."""
    kept = FoundThere.objects.filter(site=site, is_broken=True, page__removed=None)
    rows = kept.filter(broke=True).select_related("page", "since").order_by("-since", "page__path")
    groups: dict[tuple[str, str], list[FoundThere]] = defaultdict(list)
    for row in rows:
        groups[row.href.rpartition("#")[2], row.why].append(row)
    found = [Broken(some[0], len(some) - 1, len({one.page_id for one in some}) - 1)
             for some in groups.values()]  # fmt: skip
    return Breaks(found[:_SHOWN], max(0, len(found) - _SHOWN), kept.filter(broke=False).count())


def chosen(site: Site, asked: str) -> FoundThere | None:
    """The one that is asked for by its primary key."""
    rows = FoundThere.objects.filter(site=site, is_broken=True, page__removed=None)
    rows = rows.filter(pk=number_asked(asked))
    return rows.select_related("page", "since").first()
