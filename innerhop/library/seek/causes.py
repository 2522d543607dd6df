"""Broken hops by what broke them: a thousand links to one page that is gone are one
thing to mend."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

from django.db.models import QuerySet

from innerhop.core.site.hops import NO_PAGE, reason
from innerhop.library.models import Link, Page, Site
from innerhop.library.seek import hops
from innerhop.library.seek.hops import BROKEN, Hop

_READ = 50_000  # broken links of a site that are looked through


@dataclass
class Cause:
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


def by_cause(found: Iterable[Hop], most: int) -> list[Cause]:
    """Hops in their order, broken ones of one cause once, at the first of them. most: how
    many rows at most; hops of a cause that is listed are counted to the last."""
    causes: dict[object, Cause] = {}
    for hop in found:
        link = hop.link
        key = cause_of(link) if hop.kind == BROKEN else (link.page_id, link.number)
        if key not in causes and len(causes) >= most:
            continue
        cause = causes.setdefault(key, Cause(hop))
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


@dataclass(frozen=True)
class Broken:
    """A cause on a whole site. hop: the first that it broke. places: some of them; count
    and pages: how many hops it broke, on how many pages."""

    hop: Hop
    places: Sequence[Hop]
    count: int
    pages: int

    @property
    def why(self) -> str:
        """What is wrong, in one sentence."""
        link, page = self.hop.link, self.hop.page
        if self.pages > 1 and not cause_of(link)[1]:
            return "Nothing on these pages has this ID, so nothing happens."
        return reason(link.why, link.key, link.href, page.title if page else "", False)


_SHOWN = 4  # places of a cause that are named


@dataclass(frozen=True)
class SiteCauses:
    """What broke a site's hops, most first. shown: a part of these causes."""

    hops: int
    causes: int
    shown: Sequence[Broken]


def of_site(site: Site, first: int, most: int) -> SiteCauses:
    """The causes of a site's broken hops, those that broke most first; `most` of them
    from `first` on."""
    rows = Link.objects.broken().filter(site=site).order_by("page_id", "number")
    keys: dict[object, list[tuple[int, int]]] = {}
    fields = ("pk", "page_id", "why", "key", "fragment", "href", "region")
    for pk, page, *row in rows.values_list(*fields)[:_READ]:
        keys.setdefault(_cause(*row), []).append((pk, page))
    ordered = sorted(keys.values(), key=len, reverse=True)
    chosen = ordered[first : first + most]
    wanted = [pk for places in chosen for pk, _ in _apart(places)]
    links = hops.with_ends(Link.objects.filter(pk__in=wanted), {})
    made = {one.link.pk: one for one in hops.of_links(links)}
    shown = []
    for places in chosen:
        named = [made[pk] for pk, _ in _apart(places) if pk in made]
        if named:
            shown.append(Broken(named[0], named, len(places), len({page for _, page in places})))
    return SiteCauses(sum(map(len, ordered)), len(ordered), shown)


def _apart(places: Sequence[tuple[int, int]]) -> list[tuple[int, int]]:
    """A few places, of different pages where there are such."""
    firsts = {page: (pk, page) for pk, page in reversed(places)}
    found = [firsts[page] for page in dict.fromkeys(page for _, page in places)]
    return (found + [one for one in places if one not in found])[:_SHOWN]
