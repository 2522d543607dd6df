"""Moves: a page gets another address. Readers and other sites may still come by
the old one, so what moved is kept, to be handed over."""

from __future__ import annotations

from dataclasses import dataclass

from innerhop.library.models import Change, Move, Page, Site


class AddressTaken(ValueError):
    """Another page of the site has this address; says which."""


@dataclass(frozen=True)
class Wanted:
    """A page and the path it is to have."""

    page: Page
    path: str


def put_at(page: Page, path: str) -> None:
    """Give a page a path of its site, and nothing else. Raises AddressTaken."""
    key = page.site.key_of(path)
    other = page.site.pages.filter(key=key).exclude(pk=page.pk).first()
    if other is not None:
        raise AddressTaken(f"“{other.title}” has the address {other.path} already. Choose another.")
    page.path, page.key = path, key
    page.save(update_fields=["path", "key"])


def begin(change: Change, page: Page, wanted: Wanted) -> None:
    """Move the page as part of a change, within its transaction. Raises AddressTaken."""
    Move.objects.create(site=page.site, page=page, change=change, old=page.path, new=wanted.path)
    put_at(page, wanted.path)


def of(change: Change) -> Move | None:
    """The move that a change made, if it made one."""
    return Move.objects.filter(change=change).select_related("page__site").first()


def turn(page: Page, move: Move, undone: bool) -> None:
    """Take a move back, or make it again. Raises AddressTaken."""
    put_at(page, move.old if undone else move.new)


@dataclass(frozen=True)
class Moved:
    """An address by which a page was known, and the page as it is now."""

    old: str
    page: Page


def of_site(site: Site) -> list[Moved]:
    """Every address that pages of a site no longer have, oldest first: what was
    moved twice leads straight to where it is now, and what came back is left out."""
    found: dict[str, Page] = {}
    for move in site.moves.filter(change__undone=None).select_related("page__site"):
        found[move.old] = move.page
    taken = set(site.pages.filter(path__in=found).values_list("path", flat=True))
    return [Moved(old, page) for old, page in found.items() if old not in taken]
