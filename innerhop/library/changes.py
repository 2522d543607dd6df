"""Changes: the only way a page's text is written after it came in.

A change is planned as edits on known revisions. It is saved on all its pages
or on none, and it can be undone and redone as long as no later change touched
the same characters.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from django.db import transaction
from django.utils import timezone

from innerhop.core import encoding
from innerhop.core.edits import Edit, EditsClash, apply, carry, invert, join_all
from innerhop.library import index
from innerhop.library.models import Change, Editor, Page, Revision, Site
from innerhop.library.texts import PageText, current, from_rows, to_rows

_SAID_LENGTH = 500


@dataclass(frozen=True)
class Plan:
    """Edits for one page, planned on the revision with that number."""

    page: Page
    revision: int
    edits: Sequence[Edit]


class MovedOn(Exception):
    """Someone changed a page between planning and saving. Nothing was written."""

    def __init__(self, page: Page, change: Change | None) -> None:
        who = str(change.author) if change and change.author else "Someone else"
        what = f": “{change.said}”" if change else ""
        super().__init__(f"{who} changed “{page.title}” while you worked{what}. Nothing is lost.")
        self.page = page


class CannotUndo(Exception):
    """A change can't be undone, or redone; says why."""


@transaction.atomic
def save(site: Site, author: Editor, said: str, plans: Sequence[Plan]) -> Change:
    """Write the plans as one change.

    Raises MovedOn, and writes nothing, when any page is no longer at the
    revision its edits were planned on.
    """
    locked = _lock(site, [plan.page.pk for plan in plans])
    for plan in plans:
        page = locked[plan.page.pk]
        if page.revision != plan.revision:
            last = page.revisions.get(number=page.revision).change
            raise MovedOn(page, last)
    change = Change.objects.create(site=site, author=author, said=said[:_SAID_LENGTH])
    for plan in plans:
        _write(current(locked[plan.page.pk]), plan.edits, change)
    return change


@transaction.atomic
def undo(change: Change) -> None:
    """Take a change back on all its pages. Raises CannotUndo when it can't be."""
    _turn_round(change, undone=True)


@transaction.atomic
def redo(change: Change) -> None:
    """Make an undone change again. Raises CannotUndo when it can't be."""
    _turn_round(change, undone=False)


def next_to_undo(site: Site, author: Editor) -> Change | None:
    """The author's newest change that stands."""
    return Change.objects.filter(site=site, author=author, undone=None).first()


def next_to_redo(site: Site, author: Editor) -> Change | None:
    """The change the author undid last, unless they made a new one since."""
    mine = Change.objects.filter(site=site, author=author)
    last = mine.exclude(undone=None).order_by("-undone").first()
    if last is None or mine.filter(undone=None, made__gt=last.undone).exists():
        return None
    return last


def pages_of(change: Change) -> list[Page]:
    """The pages that a change touched."""
    return list(Page.objects.filter(revisions__change=change).distinct())


def _lock(site: Site, keys: Sequence[int]) -> dict[int, Page]:
    """The pages, held until the transaction ends; in one order, so that two
    changes never wait for each other."""
    pages = Page.objects.select_for_update(of=("self",)).select_related("site")
    return {page.pk: page for page in pages.filter(site=site, pk__in=keys).order_by("pk")}


def _turn_round(change: Change, undone: bool) -> None:
    locked = _lock(change.site, [page.pk for page in pages_of(change)])
    change.refresh_from_db()
    if (change.undone is not None) == undone:
        raise CannotUndo("That has been done already. Load the page again to see it as it is.")
    for page in locked.values():
        last = page.revisions.filter(change=change).latest("number")
        later = page.revisions.filter(number__gt=last.number)
        if not later and last.edits is None:
            _restore(page, last, change)
        else:
            _write(current(page), _inverse(page, last, list(later)), change)
    change.undone = timezone.now() if undone else None
    change.save(update_fields=["undone"])


def _inverse(page: Page, last: Revision, later: list[Revision]) -> list[Edit]:
    """What takes the revision's edits back in the text as it is now."""
    try:
        steps = [revision.edits for revision in (last, *later)]
        if None in steps:
            raise EditsClash("the whole text was replaced")
        own, *since = (from_rows(rows or ()) for rows in steps)
        return carry(invert(own), join_all(since))
    except EditsClash:
        raise CannotUndo(_in_the_way(page, later)) from None


def _in_the_way(page: Page, later: list[Revision]) -> str:
    names = [revision.change.said for revision in later if revision.change]
    what = f" (the last one: “{names[-1]}”)" if names else ""
    return f"A later change touched the same words of “{page.title}”{what}. Undo that one first."


def _restore(page: Page, last: Revision, change: Change) -> None:
    """Go back to the text before a revision that replaced the whole of it."""
    before = page.revisions.get(number=last.number - 1)
    _keep(page, bytes(before.content), before.spelling, None, change)


def replace(page: Page, data: bytes, spelling: encoding.Spelling, change: Change) -> PageText:
    """Give a page a new text from a file, as part of a change. Within a transaction."""
    return _keep(page, data, spelling, None, change)


def _write(text: PageText, edits: Sequence[Edit], change: Change) -> None:
    spelling = text.revision.spelling
    data = encoding.encode(apply(text.text, edits), spelling)
    _keep(text.page, data, spelling, list(edits), change)


def _keep(
    page: Page,
    data: bytes,
    spelling: encoding.Spelling,
    edits: list[Edit] | None,
    change: Change,
) -> PageText:
    page.revision += 1
    revision = Revision.objects.create(
        page=page,
        number=page.revision,
        content=data,
        label=spelling.label,
        codec=spelling.codec,
        mark=spelling.mark,
        edits=None if edits is None else to_rows(edits),
        change=change,
    )
    text = PageText(page, revision)
    index.describe(page, text)
    page.save()
    index.rewrite(text)
    return text
