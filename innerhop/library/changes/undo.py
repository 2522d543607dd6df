"""Undo and redo: any change, as long as no later one touched the same characters."""

from __future__ import annotations

from collections.abc import Sequence

from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from innerhop.core.edits import Edit, EditsClash, apply, carry, invert, join_all
from innerhop.core.refusals import CONFLICT, Refusal
from innerhop.core.source import file_encoding
from innerhop.library.changes import effects, prepare
from innerhop.library.changes.prepare import NextText
from innerhop.library.changes.write import Steps, hold, run, write
from innerhop.library.index.texts import PageText, from_rows
from innerhop.library.models import Change, Editor, LockedPart, Page, Revision, Site


class CannotUndo(Refusal):
    """A change can't be undone, or redone; says why."""

    status = CONFLICT


def undo(change: Change) -> None:
    """Take a change back on all its pages. Raises CannotUndo when it can't be."""
    run(undo_steps(change))


def redo(change: Change) -> None:
    """Make an undone change again. Raises CannotUndo when it can't be."""
    run(redo_steps(change))


def undo_steps(change: Change) -> Steps:
    """Taking a change back, step by step."""
    return _steps(change, undone=True)


def redo_steps(change: Change) -> Steps:
    """Making a change again, step by step."""
    return _steps(change, undone=False)


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
    """The pages whose texts a change wrote."""
    found = Page.objects.filter(revisions__change=change, revisions__number__gt=0)
    return list(found.distinct().select_related("site").order_by("pk"))


def changes_of(page: Page) -> list[Change]:
    """The changes that touched a page, newest first."""
    touched = Q(revisions__page=page, revisions__number__gt=0)
    beside = Q(site=page.site_id, effects__contains=[{"page": page.pk}])
    return list(Change.objects.filter(touched | beside).distinct().select_related("author"))


def _steps(change: Change, undone: bool) -> Steps:
    _require(change, undone)
    pages = pages_of(change)
    written = {page.pk for page in pages}
    paths = effects.paths_after(change.effects, undone)
    turned = _Turned(change)
    wanted: list[tuple[Page, prepare.MakeNext | None]] = [
        (page, turned.next_text) for page in pages
    ]
    moving = Page.objects.filter(pk__in=set(paths) - written).select_related("site")
    wanted += [(page, None) for page in moving]
    ready = yield from prepare.prepared(wanted, paths)
    try:
        with transaction.atomic():
            keys = [*(one.page.pk for one in ready), *effects.pages_of(change.effects)]
            held = hold(change.site, keys)
            locked = Change.objects.select_for_update().get(pk=change.pk)
            _require(locked, undone)
            try:
                write(locked, ready, held, undone)
            except (effects.AddressTaken, effects.InTheWay) as problem:
                raise CannotUndo(problem.message) from None
            locked.undone = timezone.now() if undone else None
            locked.save(update_fields=["undone"])
    except BaseException:
        prepare.throw_away(ready)
        raise
    change.undone, change.effects = locked.undone, locked.effects
    return change


def _require(change: Change, undone: bool) -> None:
    if (change.undone is not None) == undone:
        raise CannotUndo("That has been done already. Load the page again to see it as it is.")


class _Turned:
    """Pages without what a change did to them, or with it again."""

    def __init__(self, change: Change) -> None:
        self.change = change

    def next_text(self, text: PageText, _locked: Sequence[LockedPart]) -> NextText:
        """A page's next text. Raises CannotUndo when a later change is in the way."""
        page = text.page
        revisions = page.revisions.filter(number__gt=0).defer("content")
        last = revisions.filter(change=self.change).latest("number")
        later = list(revisions.filter(number__gt=last.number).select_related("change"))
        if not later and last.edits is None:  # back to the text before the whole was replaced
            assert last.number is not None
            before = page.revisions.get(number=last.number - 1)
            return NextText(bytes(before.content), before.encoding, None)
        edits = _inverse(page, last, later)
        encoding = text.revision.encoding
        return NextText(file_encoding.encode(apply(text.text, edits), encoding), encoding, edits)


def _inverse(page: Page, last: Revision, later: list[Revision]) -> list[Edit]:
    """What takes the revision's edits back in the text as it is now."""
    try:
        steps = [revision.edits for revision in (last, *later)]
        if None in steps:
            raise EditsClash("The whole text was replaced.")
        own, *since = (from_rows(rows or ()) for rows in steps)
        return carry(invert(own), join_all(since))
    except EditsClash:
        raise CannotUndo(_in_the_way(page, later)) from None


def _in_the_way(page: Page, later: list[Revision]) -> str:
    names = [revision.change.message for revision in later if revision.change]
    what = f" (the last one: “{names[-1]}”)" if names else ""
    return f"A later change touched the same words of “{page.title}”{what}. Undo that one first."
