"""Filters on the index, each written once."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING, Self

from django.db import models
from django.db.models.functions import Left

from innerhop.core.site import hops

if TYPE_CHECKING:
    from innerhop.library.models import Page

VALUE_INDEXED = 200  # characters of a mark's value that are in its index


def can_be_kept(value: str) -> bool:
    """Whether PostgreSQL can hold a text: no NUL, no lone surrogate. What can't be held
    is nowhere in the index, so it need not be asked for."""
    if "\0" in value:
        return False
    try:
        value.encode()
    except UnicodeEncodeError:
        return False
    return True


class LinkQuerySet(models.QuerySet):  # type: ignore[type-arg]  # it is generic in the stubs only
    """Links, by what they are to a reader."""

    def hops(self) -> Self:
        """Those that lead to a mark or to a top, and those that were meant to."""
        return self.exclude(kind=hops.NO_HOP)

    def broken(self) -> Self:
        """Hops that lead nowhere."""
        return self.filter(kind=hops.BROKEN)

    def that_ends_tell_of(self, pages: Iterable[Page]) -> Self:
        """Those of pages on which a finding may hang that asks where links lead
        (`core.findings.look.of_ends`): few of many."""
        own = self.filter(page__in=pages)
        kinds = own.filter(kind__in=(hops.HERE, hops.BACK)).order_by().values("page_id", "kind")
        each = kinds.annotate(one=models.Min("pk")).values("one")
        told = models.Q(kind=hops.BROKEN) | models.Q(href__contains=":")
        return own.filter(told | models.Q(pk__in=each))

    def on_site(self) -> Self:
        """Links to pages of the site that they stand on, present or not."""
        return self.exclude(key="")

    def to_page(self, page: Page) -> Self:
        """Links to a page, whether it is its top or a place on it."""
        return self.filter(site=page.site_id, key=page.key)

    def to_pages(self, site_id: int, keys: Iterable[str]) -> Self:
        """The same for many pages of one site."""
        return self.filter(site=site_id, key__in=list(keys))

    def with_fragment(self) -> Self:
        """Links to a place on a page."""
        return self.exclude(fragment=None)


class MarkQuerySet(models.QuerySet):  # type: ignore[type-arg]
    """Marks."""

    def with_value(self, site_id: int, value: str) -> Self:
        """The marks of a site with exactly that ID or name."""
        if not can_be_kept(value):
            return self.none()
        start = self.annotate(start=Left("value", VALUE_INDEXED))
        return start.filter(site=site_id, start=value[:VALUE_INDEXED], value=value)

    def twice(self) -> Self:
        """IDs that an earlier part of the same page has too."""
        same = self.model.objects.filter(
            page=models.OuterRef("page"), value=models.OuterRef("value"), attribute="id",
            number__lt=models.OuterRef("number"),
        )  # fmt: skip
        return self.filter(models.Exists(same), attribute="id")

    def with_values(self, site_id: int, values: Iterable[str]) -> Self:
        """The same for any of many."""
        wanted = {value for value in values if can_be_kept(value)}
        starts = {value[:VALUE_INDEXED] for value in wanted}
        start = self.annotate(start=Left("value", VALUE_INDEXED))
        return start.filter(site=site_id, start__in=starts, value__in=wanted)
