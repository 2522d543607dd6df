"""Broken hops by what broke them: a thousand links to one page that is gone are one
thing to mend."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

from django.db.models import QuerySet

from innerhop.core.site.hops import NO_PAGE
from innerhop.library.models import Link, Page
from innerhop.library.seek.hops import BROKEN, Hop

_READ = 50_000  # broken links of a site that are looked through


@dataclass
class HopCause:
    """Hops to list as one. hop: the first of them. count: how many there are. starts: the
    pages that they stand on, in order."""

    hop: Hop
    count: int = 0
    starts: dict[int, Page] = field(default_factory=dict)

    @property
    def more_pages(self) -> int:
        """How many pages they start on beside the first."""
        return len(self.starts) - 1

    @property
    def more(self) -> int:
        """How many hops there are beside the first."""
        return self.count - 1


def by_cause(rows: Iterable[Hop], most: int) -> list[HopCause]:
    """Hops in their order, broken ones of one cause once, at the first of them. most: how
    many rows at most; hops of a cause that is listed are counted to the last."""
    causes: dict[object, HopCause] = {}
    for hop in rows:
        link = hop.link
        key = cause_of(link) if hop.kind == BROKEN else (link.page_id, link.number)
        if key not in causes and len(causes) >= most:
            continue
        cause = causes.setdefault(key, HopCause(hop))
        cause.count += 1
        cause.starts.setdefault(link.page_id, link.page)
    return list(causes.values())


def cause_of(link: Link) -> tuple[str, str, str | None]:
    """What broken links have in common that one mend would put right: the page that isn't
    there; the page and the fragment that finds nothing on it; and for a bare hash in the
    frame of a site, which asks every page for the same, that fragment alone."""
    return _cause(link.why, link.key, link.fragment, link.href, link.region)


def _cause(
    why: str, key: str, fragment: str | None, href: str, region: str
) -> tuple[str, str, str | None]:
    if why == NO_PAGE:
        return why, key, None
    everywhere = bool(region) and href.startswith("#")
    return why, "" if everywhere else key, fragment


def like(link: Link) -> QuerySet[Link]:
    """All broken links of the site with the cause that one has."""
    why, key, fragment = cause_of(link)
    same = Link.objects.broken().filter(site=link.site_id, why=why)
    if why == NO_PAGE:
        return same.filter(key=key)
    if not key:
        return same.filter(href=link.href).exclude(region="")
    return same.filter(key=key, fragment=fragment)
