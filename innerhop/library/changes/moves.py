"""Moves: pages that got another address. Readers and other sites may still come by the
old one, so what moved is kept, to be handed over."""

from __future__ import annotations

from dataclasses import dataclass

from innerhop.library.models import Page, Site


@dataclass(frozen=True)
class OldAddress:
    """An address by which a page was known, and the page as it is now."""

    old: str
    page: Page


def of_site(site: Site) -> list[OldAddress]:
    """Every address that pages of a site no longer have, oldest first: what was
    moved twice leads straight to where it is now, and what came back is left out."""
    found: dict[str, Page] = {}
    for move in site.moves.filter(change__undone=None, page__removed=None).select_related(
        "page__site"
    ):
        found[move.old] = move.page
    taken = set(site.pages.filter(path__in=found).values_list("path", flat=True))
    return [OldAddress(old, page) for old, page in found.items() if old not in taken]
