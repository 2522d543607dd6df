"""The hops of a page as the index has them: where each starts, where it ends, and
whether the reader gets there."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from django.db.models import Case, Exists, OuterRef, QuerySet, When

from innerhop.core.site.hops import (
    BACK,
    BROKEN,
    HERE,
    HIDDEN,
    MENU,
    MENUS,
    NO_HASH,
    NO_HOP,
    THERE,
    missing_hash,
    reason,
)
from innerhop.library.models import Link, Page, Site, Walk
from innerhop.library.querysets import LinkQuerySet

__all__ = [
    "BACK",
    "BROKEN",
    "HERE",
    "MENU",
    "MENUS",
    "NO_HASH",
    "NO_HOP",
    "THERE",
    "Hop",
    "missing_hash",
]


@dataclass(frozen=True)
class Hop:
    """A link that ends at a mark, or at the top of a page.

    kind: one of the five, as it is drawn. page: the one it leads to, None for one that
    is not there. end: the element number it ends at, None for the top of the page or
    for nowhere. why: for a broken hop, what is wrong, in one sentence. opens: whether
    the browser opens a closed part for it.
    """

    link: Link
    kind: str
    page: Page | None
    end: int | None
    why: str = ""
    opens: bool = False


def links_of(page: Page) -> list[Link]:
    """All links of the page, in the order they stand there, with the page at hand."""
    return with_ends(Link.objects.filter(page=page).order_by("number"), {page.pk: page})


def out_of(page: Page, links: list[Link] | None = None) -> list[Hop]:
    """The hops that start on the page, in the order they stand there. links: all of
    its links, where they are at hand already."""
    links = links_of(page) if links is None else links
    return _hops(links, {page.pk: page})


def of_pages(pages: list[Page]) -> list[Hop]:
    """The hops that start on these pages of one site, page by page in order."""
    at_hand = {page.pk: page for page in pages}
    rows = Link.objects.hops().filter(page__in=pages).order_by("page_id", "number")
    return _hops(with_ends(rows, at_hand), at_hand)


def of_site(site: Site, most: int, first: int = 0) -> list[Hop]:
    """The hops of a site, those first whose walk was not as computed, then broken ones;
    `most` of them at most, from the `first` on."""
    off = Walk.objects.filter(page=OuterRef("page"), number=OuterRef("number"), agrees=False)
    order: list[Any] = [Case(When(kind=BROKEN, then=0), default=1), "page_id", "number"]
    if Walk.objects.filter(page__site=site, agrees=False).exists():
        order.insert(0, Case(When(Exists(off), then=0), default=1))
    rows = Link.objects.hops().filter(site=site).order_by(*order)
    return _hops(with_ends(rows[first : first + most], {}), {})


def with_ends(rows: QuerySet[Link], at_hand: dict[int, Page]) -> list[Link]:
    """Links with the pages they stand on and lead to, each page once."""
    links = list(rows)
    keys = {link.end_page_id for link in links if link.end_page_id}
    keys |= {link.page_id for link in links}
    lacking = Page.objects.filter(pk__in=keys - set(at_hand)).select_related("site")
    at_hand.update({page.pk: page for page in lacking})
    for link in links:
        link.page = at_hand[link.page_id]
        link.end_page = at_hand.get(link.end_page_id or 0)
    return links


def into(page: Page, most: int | None = None) -> list[Hop]:
    """The hops that start on other pages of the site and lead to this one, those of the
    menu last. most: how many at most."""
    rows = _into(page).select_related("page__site")
    in_menu = Case(When(region__in=MENUS, then=1), default=0)
    links = list(rows.order_by(in_menu, "page_id", "number")[:most])
    for link in links:
        link.end_page = page
    return _hops(links, {page.pk: page})


def of_links(links: Iterable[Link]) -> list[Hop]:
    """Hops of links that have their pages at hand."""
    return _hops(links, {})


def count_into(page: Page) -> int:
    """How many those are."""
    return _into(page).count()


def _into(page: Page) -> LinkQuerySet:
    return Link.objects.hops().to_page(page).with_fragment().exclude(page=page)


def _hops(links: Iterable[Link], at_hand: dict[int, Page]) -> list[Hop]:
    found = []
    for link in links:
        if link.kind == NO_HOP:
            continue
        page = at_hand.get(link.end_page_id or 0) or (link.end_page if link.end_page_id else None)
        title = page.title if page else ""
        why = reason(link.why, link.key, link.href, title, link.page_id == link.end_page_id)
        end = None if link.why and link.why != HIDDEN else link.end
        found.append(Hop(link, link.kind, page, None if link.why else end, why, link.opens))
    return found
