"""Changes, written: one short transaction that makes what was prepared the pages' own,
or nothing of it."""

from __future__ import annotations

from collections.abc import Generator, Mapping, Sequence
from typing import Any, NamedTuple

from django.db import transaction
from django.db.models import F, OuterRef, Subquery

from innerhop.core.refusals import CONFLICT, Refusal
from innerhop.library.changes import effects, prepare, sections
from innerhop.library.changes.effects import Effect
from innerhop.library.changes.prepare import LeftOut, PagePlan, PagesDone, Prepared
from innerhop.library.index import rows, store, verdicts
from innerhop.library.models import Change, Editor, LockedPart, Page, Revision, Site
from innerhop.library.steps import finished

_MESSAGE_LENGTH = 500

Steps = Generator[PagesDone, None, Change]


class Gone(Refusal):
    """A page of the change was deleted. Nothing was written."""

    status = CONFLICT

    def __init__(self, page: Page) -> None:
        super().__init__(f"“{page.title}” was deleted. Have it back first, at the end of Pages.")


class MovedOn(Refusal):
    """Someone changed a page between planning and saving. Nothing was written."""

    status = CONFLICT

    def __init__(self, page: Page, change: Change | None) -> None:
        who = str(change.author) if change and change.author else "Someone else"
        what = f": “{change.message}”" if change else ""
        super().__init__(f"{who} changed “{page.title}” while you worked{what}. Nothing is lost.")
        self.page = page


class Deed(NamedTuple):
    """Which act of the table a change was, and what was asked of it, as data."""

    act: str = ""
    asked: Mapping[str, Any] = {}


NO_DEED = Deed()


def save(
    site: Site,
    author: Editor,
    message: str,
    plans: Sequence[PagePlan],
    beside: Sequence[Effect] = (),
    *,
    deed: Deed = NO_DEED,
) -> Change:
    """Write the plans as one change. beside: its effects beside texts.

    Raises MovedOn, and writes nothing, when any page is no longer at the
    revision its edits were planned on; and what planning raises.
    """
    return run(save_steps(site, author, message, plans, beside, deed=deed))


def save_steps(
    site: Site,
    author: Editor,
    message: str,
    plans: Sequence[PagePlan],
    beside: Sequence[Effect] = (),
    *,
    deed: Deed = NO_DEED,
) -> Steps:
    """The same, step by step: for changes of many pages. Ending the steps early leaves
    nothing behind."""
    for plan in plans:
        require_revision(plan.page, plan.revision)
    paths = effects.paths_after(beside, undone=False)
    titles: list[str] = []
    wanted: list[prepare.Wanted] = [
        (plan.page, sections.noting(prepare.of_plan(plan), titles, len(plans))) for plan in plans
    ]
    planned = {plan.page.pk for plan in plans}
    moving = Page.objects.filter(site=site, pk__in=set(paths) - planned).select_related("site")
    wanted += [(page, None) for page in moving]
    left_out: list[LeftOut] = []
    try:
        ready = yield from prepare.prepared(wanted, paths, left_out)
        if left_out and not ready:
            raise Refusal(left_out[0].sentence)
    except Refusal:
        # Where the page moved on meanwhile, that is why, whatever its new text refuses.
        for page in Page.objects.filter(pk__in=planned):
            require_revision(page, next(p.revision for p in plans if p.page.pk == page.pk))
        raise
    said = " ".join([f"{message}.", *(one.sentence for one in left_out)]) if left_out else message
    change = Change(site=site, author=author, message=said[:_MESSAGE_LENGTH])
    change.effects = list(beside)
    change.act, change.asked = deed.act, dict(deed.asked)
    change.section = titles[0] if len(titles) == 1 else ""
    try:
        with transaction.atomic():
            held = hold(site, [*(one.page.pk for one in ready), *effects.pages_of(beside)])
            change.save()
            write(change, ready, held, undone=False)
    except BaseException:
        prepare.throw_away(ready)
        raise
    return change


def run(steps: Steps) -> Change:
    """All the steps to the end, for those who don't watch them."""
    return finished(steps)


def require_revision(page: Page, revision: int) -> None:
    """Raise MovedOn when a page, as it is at hand, is at another revision."""
    if page.revision != revision:
        raise MovedOn(page, page.revisions.get(number=page.revision).change)


def hold(site: Site, keys: Sequence[int]) -> dict[int, Page]:
    """The pages, held until the transaction ends; in one order, so that two
    changes never wait for each other, and no more than is needed, so that the texts
    which others prepare for these pages aren't kept waiting.

    https://www.postgresql.org/docs/15/explicit-locking.html#LOCKING-ROWS

    Raises Gone when one of them was deleted.
    """
    pages = Page.everything.select_for_update(of=("self",), no_key=True).select_related("site")
    held = {page.pk: page for page in pages.filter(site=site, pk__in=set(keys)).order_by("pk")}
    for page in held.values():
        if page.removed is not None:
            raise Gone(page)
    return held


def write(change: Change, ready: Sequence[Prepared], held: dict[int, Page], undone: bool) -> None:
    """Make what was prepared the pages' own. Within a transaction that holds them.

    Raises MovedOn when a page is no longer as it was when this was planned.
    """
    for one in ready:
        page = held[one.page.pk]
        if (page.revision, page.path) != (one.revision, one.path):
            raise MovedOn(page, page.revisions.get(number=page.revision).change)
    staged = [one.staged for one in ready if one.staged is not None]
    own = Page.objects.filter(pk=OuterRef("page")).values("revision")
    Revision.objects.filter(pk__in=staged).update(number=Subquery(own) + 1, change=change)
    keys = [one.page.pk for one in ready if one.staged is not None]
    Page.objects.filter(pk__in=keys).update(revision=F("revision") + 1)
    before = [held[one.page.pk].key for one in ready]
    effects.carry_out(change, held, undone)
    _describe(ready, held)
    _carry_locks(ready)
    _index(change.site, ready, held, before)
    for one in ready:
        page = held[one.page.pk]
        one.page.path, one.page.key = page.path, page.key
        if one.staged is not None:
            one.page.revision = one.revision + 1


def _describe(ready: Sequence[Prepared], held: dict[int, Page]) -> None:
    changed: list[rows.Row] = []
    for one in ready:
        if one.described is None:
            continue
        for page in (held[one.page.pk], one.page):
            for name, value in zip(rows.DESCRIBED, one.described, strict=True):
                setattr(page, name, value)
        changed.append((one.page.pk, *one.described))
    store.set_values(Page, rows.DESCRIBED, changed)


def _carry_locks(ready: Sequence[Prepared]) -> None:
    for one in ready:
        for pk, number, last, lifted in one.locked:
            LockedPart.objects.filter(pk=pk).update(number=number, last=last, lifted=lifted)


def _index(
    site: Site, ready: Sequence[Prepared], held: dict[int, Page], before: Sequence[str]
) -> None:
    deltas = [one.delta for one in ready]
    left = verdicts.left_by(deltas)
    store.apply(deltas)
    moved = [
        held[one.page.pk]
        for one, key in zip(ready, before, strict=True)
        if held[one.page.pk].key != key
    ]
    if moved:
        verdicts.renew_all(site, moved, before)
    foreseen = {one.page.pk: one.foreseen for one in ready if one.foreseen is not None}
    told = {one.page.pk for one in ready if one.is_told} - foreseen.keys()
    verdicts.renew_after(site, deltas, left, told, foreseen)
