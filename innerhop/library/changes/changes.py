"""Changes: the only way a page's text is written after it came in.

A change is planned as edits on known revisions. It is saved on all its pages
or on none, and it can be undone and redone as long as no later change touched
the same characters.
"""

from __future__ import annotations

from collections.abc import Callable, Generator, Iterator, Sequence
from dataclasses import dataclass
from typing import TypeVar

from django.db import transaction
from django.db.models import F
from django.utils import timezone

from innerhop.core.edits import Edit, EditsClash, apply, carry, invert, join_all
from innerhop.core.source import file_encoding
from innerhop.library.changes import locked_parts, moves
from innerhop.library.index import index
from innerhop.library.index.texts import PageText, current, currents, from_rows, to_rows
from innerhop.library.models import Change, Editor, Move, Page, Revision, Seal, Site

_SAID_LENGTH = 500


@dataclass(frozen=True)
class Progress:
    """How far saving has come, in pages."""

    done: int
    total: int


@dataclass(frozen=True)
class Plan:
    """What is to be done to one page, planned on the revision with that number.

    make: the edits, for the text of that revision. They are worked out when they
    are shown or saved, so that a plan for thousands of pages holds no texts.
    """

    page: Page
    revision: int
    make: Callable[[PageText], Sequence[Edit]]

    def edits(self, text: PageText, sealed: Sequence[Seal]) -> Sequence[Edit]:
        """The edits themselves. Raises locked_parts.Sealed when they touch a sealed
        region, and what planning raises."""
        edits = self.make(text)
        if sealed:
            locked_parts.refuse(text.source, sealed, edits)
        return edits


class MovedOn(Exception):
    """Someone changed a page between planning and saving. Nothing was written."""

    def __init__(self, page: Page, change: Change | None) -> None:
        who = str(change.author) if change and change.author else "Someone else"
        what = f": “{change.said}”" if change else ""
        super().__init__(f"{who} changed “{page.title}” while you worked{what}. Nothing is lost.")
        self.page = page


class CannotUndo(Exception):
    """A change can't be undone, or redone; says why."""


Steps = Generator[Progress, None, Change]


def save(
    site: Site,
    author: Editor,
    said: str,
    plans: Sequence[Plan],
    move: moves.Wanted | None = None,
) -> Change:
    """Write the plans as one change. move: the address that a page gets with it.

    Raises MovedOn, and writes nothing, when any page is no longer at the
    revision its edits were planned on; and what planning raises.
    """
    return run(save_steps(site, author, said, plans, move))


def save_steps(
    site: Site,
    author: Editor,
    said: str,
    plans: Sequence[Plan],
    move: moves.Wanted | None = None,
) -> Steps:
    """The same, step by step: for changes of many pages. It is one transaction,
    and ending the steps early takes all of it back."""
    with transaction.atomic():
        locked = _lock(site, [plan.page.pk for plan in plans], move.page if move else None)
        for plan in plans:
            page = locked[plan.page.pk]
            if page.revision != plan.revision:
                last = page.revisions.get(number=page.revision).change
                raise MovedOn(page, last)
        change = Change.objects.create(site=site, author=author, said=said[:_SAID_LENGTH])
        if move:
            moves.begin(change, locked[move.page.pk], move)
        for at, batch in _batches(plans):
            yield Progress(at, len(plans))
            sealed = locked_parts.of(plan.page for plan in batch)
            writings = []
            texts = currents([locked[plan.page.pk] for plan in batch])
            for plan, text in zip(batch, texts, strict=True):
                edits = plan.edits(text, sealed[plan.page.pk])
                writings.append(_Writing.of_edits(text, edits, sealed[plan.page.pk]))
            _write(writings, change)
        if move:
            index.rewrite([current(locked[move.page.pk])])
        return change


def undo(change: Change) -> None:
    """Take a change back on all its pages. Raises CannotUndo when it can't be."""
    run(undo_steps(change))


def redo(change: Change) -> None:
    """Make an undone change again. Raises CannotUndo when it can't be."""
    run(redo_steps(change))


def undo_steps(change: Change) -> Steps:
    """Taking a change back, step by step, as one transaction."""
    return _turn_round(change, undone=True)


def redo_steps(change: Change) -> Steps:
    """Making a change again, step by step, as one transaction."""
    return _turn_round(change, undone=False)


def run(steps: Steps) -> Change:
    """All the steps to the end, for those who don't watch them."""
    while True:
        try:
            next(steps)
        except StopIteration as end:
            change: Change = end.value
            return change


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


def _lock(site: Site, keys: Sequence[int], moving: Page | None) -> dict[int, Page]:
    """The pages, held until the transaction ends; in one order, so that two
    changes never wait for each other. moving: one whose address changes."""
    keys = [*keys, moving.pk] if moving else keys
    pages = Page.objects.select_for_update(of=("self",)).select_related("site")
    return {page.pk: page for page in pages.filter(site=site, pk__in=keys).order_by("pk")}


def _turn_round(change: Change, undone: bool) -> Steps:
    with transaction.atomic():
        move = moves.of(change)
        written = [page.pk for page in pages_of(change)]
        locked = _lock(change.site, written, move.page if move else None)
        change.refresh_from_db()
        if (change.undone is not None) == undone:
            raise CannotUndo("That has been done already. Load the page again to see it as it is.")
        if move:
            _move_back(locked[move.page_id], move, undone)
        pages = [locked[key] for key in written]
        for at, batch in _batches(pages):
            yield Progress(at, len(pages))
            sealed = locked_parts.of(batch)
            _write([_turned(page, change, sealed[page.pk]) for page in batch], change)
        if move:
            index.rewrite([current(locked[move.page_id])])
        change.undone = timezone.now() if undone else None
        change.save(update_fields=["undone"])
        return change


def _move_back(page: Page, move: Move, undone: bool) -> None:
    try:
        moves.turn(page, move, undone)
    except moves.AddressTaken as problem:
        raise CannotUndo(str(problem)) from None


def _turned(page: Page, change: Change, sealed: Sequence[Seal]) -> _Writing:
    """The page without what the change did to it, or with it again."""
    text = current(page)
    last = page.revisions.filter(change=change).latest("number")
    later = list(page.revisions.filter(number__gt=last.number).select_related("change"))
    if not later and last.edits is None:  # back to the text before the whole was replaced
        before = page.revisions.get(number=last.number - 1)
        return _Writing(text, bytes(before.content), before.encoding, None, sealed)
    return _Writing.of_edits(text, _inverse(page, last, later), sealed)


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


def replace(
    page: Page, data: bytes, encoding: file_encoding.FileEncoding, change: Change
) -> PageText:
    """Give a page a new text from a file, as part of a change. Within a transaction."""
    sealed = locked_parts.of([page])[page.pk]
    return _write([_Writing(current(page), data, encoding, None, sealed)], change)[0]


@dataclass(frozen=True)
class _Writing:
    """A page's next text, ready to be kept. edits: None when the whole is new."""

    before: PageText
    data: bytes
    encoding: file_encoding.FileEncoding
    edits: Sequence[Edit] | None
    sealed: Sequence[Seal]

    @classmethod
    def of_edits(cls, text: PageText, edits: Sequence[Edit], sealed: Sequence[Seal]) -> _Writing:
        encoding = text.revision.encoding
        data = file_encoding.encode(apply(text.text, edits), encoding)
        return cls(text, data, encoding, edits, sealed)


_BATCH = 40  # pages whose texts are held at once
T = TypeVar("T")


def _batches(items: Sequence[T]) -> Iterator[tuple[int, Sequence[T]]]:
    for at in range(0, len(items), _BATCH):
        yield at, items[at : at + _BATCH]


def _write(writings: Sequence[_Writing], change: Change) -> list[PageText]:
    """Keep the new texts, and what the index and the seals say of them."""
    texts: list[PageText] = []
    described: list[Page] = []
    for one in writings:
        page = one.before.page
        page.revision += 1
        before = index.described(page)
        revision = Revision(
            page=page,
            number=page.revision,
            content=one.data,
            label=one.encoding.label,
            codec=one.encoding.codec,
            mark=one.encoding.mark,
            edits=None if one.edits is None else to_rows(one.edits),
            change=change,
        )
        text = PageText(page, revision)
        index.describe(page, text)
        texts.append(text)
        if index.described(page) != before:
            described.append(page)
        if one.sealed:
            locked_parts.carry(one.before, text, one.sealed, one.edits)
    Revision.objects.bulk_create([text.revision for text in texts])
    keys = [text.page.pk for text in texts]
    Page.objects.filter(pk__in=keys).update(revision=F("revision") + 1)
    if described:
        Page.objects.bulk_update(described, index.DESCRIBED)
    index.rewrite(texts)
    return texts
