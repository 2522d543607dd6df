"""Shared parts: regions that are the same on several pages, so that what is done
in one is done in all of them."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from django.db.models import Count

from innerhop.library.models import Page, Region


@dataclass(frozen=True)
class Copy:
    """An element as it stands on one of the pages that share its region."""

    page: Page
    number: int


@dataclass(frozen=True)
class SharedPart:
    """A region of a page that other pages have too. pages: how many in all. digest:
    the same on each of them."""

    number: int
    last: int
    kind: str
    pages: int
    digest: str


def around(page: Page, number: int) -> Region | None:
    """The outermost region around an element that other pages share, if any."""
    regions = Region.objects.filter(page=page, number__lte=number, last__gte=number)
    for region in regions.order_by("number"):
        same = Region.objects.filter(site_id=page.site_id, digest=region.digest)
        if same.exclude(page=page).exists():
            return region
    return None


def copies(page: Page, number: int) -> list[Copy]:
    """The element on every page that shares the region it is in, this page first.
    An element of the page's own content is there once."""
    found = [Copy(page, number)]
    region = around(page, number)
    if region is None:
        return found
    others = Region.objects.filter(site_id=page.site_id, digest=region.digest).exclude(page=page)
    seen = {page.pk}
    for other in others.select_related("page__site").order_by("page_id", "number"):
        if other.page_id not in seen:  # twice on one page: the first is meant
            seen.add(other.page_id)
            found.append(Copy(other.page, other.number + number - region.number))
    return found


def copies_of(page: Page, numbers: Iterable[int]) -> dict[int, list[Copy]]:
    """The same of many elements, by number, asked of the index at once."""
    shared = of_page(page)
    return {
        one: copies(page, one)
        if any(part.number <= one <= part.last for part in shared)
        else [Copy(page, one)]
        for one in numbers
    }


def of_page(page: Page) -> list[SharedPart]:
    """The parts of a page that it shares with others, outermost ones only."""
    regions = list(page.regions.all())
    digests = {region.digest for region in regions}
    same = Region.objects.filter(site_id=page.site_id, digest__in=digests)
    rows = same.values_list("digest").annotate(Count("page", distinct=True)).order_by()
    counts = dict(rows)
    found: list[SharedPart] = []
    for one in regions:
        inside = found and one.number <= found[-1].last
        if counts[one.digest] > 1 and not inside:
            found.append(SharedPart(one.number, one.last, one.kind, counts[one.digest], one.digest))
    return found
