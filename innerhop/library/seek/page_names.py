"""What pages are called where they are named beside others."""

from __future__ import annotations

from collections.abc import Iterable

from django.db.models import Count

from innerhop.library.models import Page


def called(pages: Iterable[Page]) -> dict[int, str]:
    """Some pages of one site, by primary key, each by its title; by its path where another
    page of the site has the same title."""
    named = list(pages)
    if not named:
        return {}
    same = Page.objects.filter(site=named[0].site_id, title__in={page.title for page in named})
    counts = same.order_by().values_list("title").annotate(n=Count("pk")).filter(n__gt=1)
    alike = {title for title, _ in counts}
    return {page.pk: page.path if page.title in alike else page.title for page in named}
