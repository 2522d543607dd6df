"""The pages of a site with the hops between them; of a large site, one page with
those it has most hops with."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from django.db.models import Count, Q

from innerhop.library.models import Link, Page, Site
from innerhop.library.seek import hops
from innerhop.library.seek.hops import Hop

WHOLE = 12  # pages: as many can be seen at once; of more, the neighbours of one are
NEIGHBOURS = 7
_MORE = 200  # neighbours named beside the map


@dataclass(frozen=True)
class SiteMap:
    """What a map shows. centre: the page whose neighbours they are, None for the
    whole site. hops: those that start and end on these pages, and their broken ones.
    more: neighbours that are not shown, each with its number of hops."""

    centre: Page | None
    pages: list[Page]
    hops: list[Hop]
    more: list[tuple[Page, int]]


def whole(site: Site) -> SiteMap:
    """All pages of a site."""
    pages = list(site.pages.select_related("site"))
    return SiteMap(None, pages, _among(pages), [])


def around(page: Page, part: int = 0) -> SiteMap:
    """A page between those that lead to it and those that it leads to. part: 1 for
    the next neighbours, and so on."""
    into, out = _neighbours(page)
    counts = into + out
    ranked = sorted(counts, key=lambda key: (-counts[key], key))
    chosen = set(ranked[part * NEIGHBOURS : (part + 1) * NEIGHBOURS])
    rows = page.site.pages.filter(pk__in=chosen).select_related("site")
    pages = {one.pk: one for one in rows}
    before = [pages[key] for key in ranked if key in chosen and into[key]]
    after = [pages[key] for key in ranked if key in chosen and not into[key]]
    while len(before) > len(after) + 1:  # the page itself in the middle
        after.append(before.pop())
    shown = [*before, page, *after]
    beyond = [key for key in ranked if key not in chosen][:_MORE]
    named = page.site.pages.select_related("site").in_bulk(beyond)
    return SiteMap(page, shown, _among(shown), [(named[key], counts[key]) for key in beyond])


def between(page: Page, other: Page) -> SiteMap:
    """Two pages alone, with what leads from one to the other."""
    found = [hop for hop in _among([page, other]) if hop.page and hop.page.pk != hop.link.page_id]
    return SiteMap(page, [page, other], found, [])


def _neighbours(page: Page) -> tuple[Counter[int], Counter[int]]:
    """The pages with hops to a page, and those it has hops to, each with how many. A menu
    leads everywhere from everywhere, and would make neighbours of all pages."""
    content = Link.objects.hops().exclude(region__in=hops.MENUS).order_by()
    into = content.to_page(page).with_fragment().exclude(page=page).values_list("page")
    out = content.filter(page=page).exclude(end_page__in=[page.pk]).exclude(end_page=None)
    return (
        Counter(dict(into.annotate(n=Count("pk")))),
        Counter(dict(out.values_list("end_page").annotate(n=Count("pk")))),
    )


def _among(pages: list[Page]) -> list[Hop]:
    keys = {page.pk for page in pages}
    found = hops.of_pages(pages)
    return [hop for hop in found if hop.page is None or hop.page.pk in keys]


def first_centre(site: Site) -> Page | None:
    """Where a map of a large site begins: at the page with most marked sections, since
    that is where most hops lead."""
    return site.pages.select_related("site").order_by("-marked_count", "path").first()


def search(site: Site, asked: str, most: int = 20) -> list[Page]:
    """Pages with these words in their title or address."""
    match = Q(title__icontains=asked) | Q(path__icontains=asked)
    return list(site.pages.filter(match).select_related("site")[:most])
