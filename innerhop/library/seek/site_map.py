"""The pages of a site with the hops between them; of a large site, one page with
those it has most hops with."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass

from django.db.models import Count, Q

from innerhop.library.models import Link, Page, Site
from innerhop.library.seek import hops
from innerhop.library.seek.hops import Hop

WHOLE = 12  # pages: as many can be seen at once; of more, the neighbours of one are
NEIGHBOURS = 7


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
    out, into = hops.out_of(page), hops.into(page)
    counts = Counter(_others(page, [*out, *into]))
    ranked = sorted(counts, key=lambda key: (-counts[key], key))
    chosen = set(ranked[part * NEIGHBOURS : (part + 1) * NEIGHBOURS])
    pages = {one.pk: one for one in page.site.pages.filter(pk__in=counts).select_related("site")}
    leading_in = {hop.link.page_id for hop in into if hop.link.region not in hops.MENUS}
    before = [pages[key] for key in ranked if key in chosen and key in leading_in]
    after = [pages[key] for key in ranked if key in chosen and key not in leading_in]
    while len(before) > len(after) + 1:  # the page itself in the middle
        after.append(before.pop())
    shown = [*before, page, *after]
    more = [(pages[key], counts[key]) for key in ranked if key not in chosen]
    return SiteMap(page, shown, _among(shown), more)


def _others(page: Page, found: Iterable[Hop]) -> Iterable[int]:
    """The page at the other side of each hop. A menu leads everywhere from
    everywhere, and would make neighbours of all pages."""
    for hop in found:
        if hop.link.region in hops.MENUS:
            continue
        start, end = hop.link.page_id, hop.page.pk if hop.page else None
        if start != page.pk:
            yield start
        elif end is not None and end != page.pk:
            yield end


def _among(pages: list[Page]) -> list[Hop]:
    keys = {page.pk for page in pages}
    found = hops.of_pages(pages)
    return [hop for hop in found if hop.page is None or hop.page.pk in keys]


def best_connected(site: Site) -> Page | None:
    """The page that most hops of other pages lead to; the first where there are none."""
    rows = Link.objects.filter(site=site).exclude(key="").exclude(fragment=None)
    top = rows.values("key").annotate(n=Count("pk")).order_by("-n", "key")
    for row in top[:5]:
        found = site.pages.filter(key=row["key"]).select_related("site").first()
        if found is not None:
            return found
    return site.pages.select_related("site").first()


def search(site: Site, asked: str, most: int = 20) -> list[Page]:
    """Pages with these words in their title or address."""
    match = Q(title__icontains=asked) | Q(path__icontains=asked)
    return list(site.pages.filter(match).select_related("site")[:most])
