"""Undo and redo: any change, as long as no later one touched the same characters."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import starmap
from typing import Any, NamedTuple

from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from innerhop.core.edits import Edit, EditsClash, apply, carry, invert, standing
from innerhop.core.refusals import CONFLICT, Refusal
from innerhop.core.source import file_encoding
from innerhop.library.changes import effects, prepare
from innerhop.library.changes.prepare import NextText
from innerhop.library.changes.write import Steps, hold, run, write
from innerhop.library.index.texts import PageText, bytes_of, from_rows
from innerhop.library.models import Asset, Change, Editor, LockedPart, Page, Site

Done = Sequence[Edit] | None  # what a revision did; None: the whole text was replaced


class CannotUndo(Refusal):
    """A change can't be undone, or redone; says why."""

    status = CONFLICT


LET_GO = (
    "This was done so long ago that it can’t be taken back any more: an owner of the site has said "
    "for how long that is, in its settings."
)
_DONE_ALREADY = "That has been done already. Load the page again to see it as it is."


def undo(change: Change, editor: Editor | None = None) -> None:
    """Take a change back on all its pages. Raises CannotUndo when it can't be."""
    run(steps(change, editor, undone=True))


def redo(change: Change, editor: Editor | None = None) -> None:
    """Make an undone change again. Raises CannotUndo when it can't be."""
    run(steps(change, editor, undone=False))


def next_to_undo(site: Site, author: Editor) -> Change | None:
    """The author's newest change that stands."""
    return Change.objects.filter(site=site, author=author, undone=None, let_go__isnull=True).first()


def next_to_redo(site: Site, author: Editor) -> Change | None:
    """The change the author undid last, unless they made a new one since."""
    mine = Change.objects.filter(site=site, author=author, let_go__isnull=True)
    last = mine.exclude(undone=None).order_by("-undone").first()
    if last is None or mine.filter(undone=None, made__gt=last.undone).exists():
        return None
    return last


def pages_of(change: Change) -> list[Page]:
    """The pages whose texts a change wrote, those among them too that were deleted since."""
    found = Page.everything.filter(revisions__change=change, revisions__number__gt=0)
    return list(found.distinct().select_related("site").order_by("pk"))


def removal_of(item: Page | Asset) -> Change | None:
    """The change that deleted a page or a file, where it was one and stands."""
    removed = effects.removed(item)
    return Change.objects.filter(
        site=item.site_id, undone=None, effects__contains=[removed]
    ).first()


def changes_of(page: Page) -> list[Change]:
    """The changes that touched a page, newest first."""
    touched = Q(revisions__page=page, revisions__number__gt=0)
    beside = Q(site=page.site_id, effects__contains=[{"page": page.pk}])
    return list(Change.objects.filter(touched | beside).distinct().select_related("author"))


def steps(change: Change, editor: Editor | None, *, undone: bool) -> Steps:
    """Taking a change back, or making it again, step by step. editor: who does it."""
    _require(change, undone)
    pages = pages_of(change)
    written = {page.pk for page in pages}
    paths = effects.paths_after(change.effects, undone)
    turned = Turned(change, undone)
    wanted: list[tuple[Page, prepare.MakeNext | None]] = [
        (page, turned.next_text) for page in pages
    ]
    moving = Page.objects.filter(pk__in=set(paths) - written).select_related("site")
    wanted += [(page, None) for page in moving]
    ready = yield from prepare.prepared(wanted, paths)
    try:
        _keep_locks(change, ready)
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
            locked.undoer = editor if undone else None
            locked.save(update_fields=["undone", "undoer"])
    except BaseException:
        prepare.throw_away(ready)
        raise
    change.undone, change.undoer, change.effects = locked.undone, editor, locked.effects
    return change


def _require(change: Change, undone: bool) -> None:
    if change.let_go is not None:
        raise CannotUndo(LET_GO)
    if (change.undone is not None) == undone:
        raise CannotUndo(_DONE_ALREADY)


def _keep_locks(change: Change, ready: Sequence[prepare.Prepared]) -> None:
    """Refuse what would take away an element that a later change locked or unlocked."""
    gone = [pk for one in ready for pk, _, _, is_gone in one.locked if is_gone]
    others = Change.objects.filter(site=change.site_id, undone=None).exclude(pk=change.pk)
    for pk in gone:
        later = others.filter(effects__contains=[{"part": pk}]).first()
        if later is not None:
            raise CannotUndo(
                f"A part that would go was locked or unlocked later (“{later.message}”). "
                "Undo that one first."
            )


class _Step(NamedTuple):
    """A revision of a page (`models.Revision`) as far as its place in the history goes."""

    number: int
    change_id: int | None
    edits: list[Any] | None

    @property
    def done(self) -> Done:
        return None if self.edits is None else from_rows(self.edits)


class Turned:
    """Pages without what a change did to them, or with it again."""

    def __init__(self, change: Change, undone: bool) -> None:
        self.change, self.undone = change, undone

    def next_text(self, text: PageText, _locked: Sequence[LockedPart]) -> NextText:
        """A page's next text. Raises CannotUndo when a later change is in the way."""
        page = text.page
        # A page may have hundreds behind it, of which little is needed.
        rows = page.revisions.filter(number__gt=0).order_by("number")
        revisions = list(starmap(_Step, rows.values_list(*_Step._fields)))
        last = max(at for at, one in enumerate(revisions) if one.change_id == self.change.pk)
        try:
            own, since = self._own_and_since(revisions, last)
            if own is None and not since:  # back to the text before the whole was replaced
                before = page.revisions.get(number=revisions[last - 1].number)
                return NextText(bytes_of(before), before.encoding, None)
            edits = invert(_known(own))
            for step in since:
                edits = carry(edits, _known(step))
        except EditsClash:
            raise CannotUndo(_in_the_way(page, revisions[last].number)) from None
        encoding = text.revision.encoding
        return NextText(file_encoding.encode(apply(text.text, edits), encoding), encoding, edits)

    def _own_and_since(self, revisions: list[_Step], last: int) -> tuple[Done, list[Done]]:
        """What is to be turned round, and what was done since and still stands.

        The whole history says it of a change that stands, so that the newest one can
        always be undone. A change that was undone isn't in it: its undoing is turned round.
        """
        steps = [(one.change_id or -one.number, one.done) for one in revisions]
        if self.undone:
            left = standing(steps)
            at = next((at for at, one in enumerate(left) if one[0] == self.change.pk), None)
            if at is None:  # somebody undid it meanwhile
                raise CannotUndo(_DONE_ALREADY)
            own, since = left[at][1], left[at + 1 :]
        else:
            own, since = steps[last][1], standing(steps[last + 1 :])
        return own, [edits for _, edits in since]


def _known(edits: Done) -> Sequence[Edit]:
    if edits is None:
        raise EditsClash("The whole text was replaced.")
    return edits


def _in_the_way(page: Page, number: int) -> str:
    standing = Change.objects.filter(
        revisions__page=page, revisions__number__gt=number, undone=None
    )
    last = standing.first()
    what = f" (the last one: “{last.message}”)" if last else ""
    return f"A later change touched the same words of “{page.title}”{what}. Undo that one first."
