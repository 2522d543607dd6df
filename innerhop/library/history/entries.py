"""What was done on a site, newest first, and what is looked for in it."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property
from typing import Any, overload

from django.db.models import (
    BooleanField,
    Count,
    Exists,
    ExpressionWrapper,
    OuterRef,
    Prefetch,
    Q,
    QuerySet,
    TextField,
    Value,
)
from django.db.models.functions import Cast, Concat
from django.utils import timezone

from innerhop.core.counting import counted
from innerhop.library.history.kinds import BROUGHT, KINDS
from innerhop.library.models import BringIn, Change, Editor, Membership, Page, Revision, Site
from innerhop.library.querysets import can_be_kept

_AWAY = timedelta(minutes=30)  # who comes back sooner was here all the while


@dataclass(frozen=True)
class Search:
    """What is looked for. author, page: by primary key, 0 for any. kind: by its name in the table
    of kinds, "" for any. words: an ID, an address or other words, "" for none. since: only what
    was done after that; others_than: only what another than that editor did, 0 for all."""

    author: int = 0
    page: int = 0
    kind: str = ""
    words: str = ""
    since: datetime | None = None
    others_than: int = 0


@dataclass(frozen=True)
class TouchedPage:
    """A page that something was done to. places: how far down, from 0 to 1; none where that is
    not known. is_whole: whether the whole page came."""

    page: Page
    places: Sequence[float] = ()
    is_whole: bool = False


@dataclass(frozen=True)
class HistoryEntry:
    """One thing that was done: a change, or pages that came in. pages: a few of `count`."""

    change: Change | None
    bring_in: BringIn | None
    made: datetime
    author: Editor | None
    message: str
    pages: Sequence[TouchedPage]
    count: int

    @property
    def key(self) -> str:
        """What it is known by in addresses."""
        return f"b{self.bring_in.pk}" if self.bring_in else f"c{self.change.pk}"  # type: ignore[union-attr]


class History(Sequence[HistoryEntry]):
    """What was done on a site, as far as it is looked for; a sequence, newest first, of which
    only what is asked for is read."""

    def __init__(self, site: Site, wanted: Search) -> None:
        self._site = site
        self._changes, self._bring_ins = _changes(site, wanted), _bring_ins(site, wanted)
        if not can_be_kept(wanted.words):  # so nothing has them
            self._changes, self._bring_ins = self._changes.none(), self._bring_ins.none()

    @cached_property
    def _rows(self) -> QuerySet[Any, Any]:
        changes = _keyed(self._changes, is_change=True)
        return changes.union(_keyed(self._bring_ins, is_change=False), all=True).order_by(
            "-made", "-pk"
        )

    def __len__(self) -> int:
        return self._changes.count() + self._bring_ins.count()

    @overload
    def __getitem__(self, part: int) -> HistoryEntry: ...

    @overload
    def __getitem__(self, part: slice) -> list[HistoryEntry]: ...

    def __getitem__(self, part: int | slice) -> HistoryEntry | list[HistoryEntry]:
        if isinstance(part, slice):
            return self._read(list(self._rows[part]))
        return self._read([self._rows[part]])[0]

    def _read(self, rows: Sequence[tuple[int, datetime, bool]]) -> list[HistoryEntry]:
        keys = [pk for pk, _, is_change in rows if is_change]
        changes = {one.pk: one for one in _written(Change.objects.filter(pk__in=keys))}
        keys = [pk for pk, _, is_change in rows if not is_change]
        bring_ins = {one.pk: one for one in _brought(BringIn.objects.filter(pk__in=keys))}
        return [_of_change(changes[pk]) if is_change else _of_bring_in(bring_ins[pk])
                for pk, _, is_change in rows]  # fmt: skip


def entry(site: Site, kind: str, key: int) -> HistoryEntry | None:
    """A thing that was done, by the two parts of its key; None where there is none."""
    if kind == "c":
        change = _written(site.changes.filter(pk=key)).first()
        return _of_change(change) if change else None
    bring_in = _brought(site.bring_ins.filter(pk=key, change=None)).first()
    return _of_bring_in(bring_in) if kind == "b" and bring_in else None


def authors(site: Site) -> QuerySet[Editor]:
    """All who did something on a site."""
    changed = site.changes.order_by().values("author")
    brought = site.bring_ins.order_by().values("author")
    return Editor.objects.filter(Q(pk__in=changed) | Q(pk__in=brought)).order_by("username")


def arrive(member: Membership, now: datetime | None = None) -> None:
    """Somebody looks at the history: what others did since they were here is new to them, and
    stays so until they come another time."""
    now = now or timezone.now()
    if member.was_here and now - member.was_here > _AWAY:
        member.new_since = member.was_here
    member.was_here = now
    member.save(update_fields=["was_here", "new_since"])


def new_since(member: Membership, now: datetime | None = None) -> datetime | None:
    """After when what others did is new to somebody who looks now; None for who was never
    here."""
    if member.was_here and (now or timezone.now()) - member.was_here > _AWAY:
        return member.was_here
    return member.new_since


def _keyed(rows: QuerySet[Any], *, is_change: bool) -> QuerySet[Any, Any]:
    told = rows.order_by().annotate(is_change=Value(is_change, BooleanField()))
    keyed: QuerySet[Any, Any] = told.values_list("pk", "made", "is_change")
    return keyed


_FEW = 14  # pages that a strip each is drawn of


def _written(changes: QuerySet[Change]) -> QuerySet[Change]:
    few = Revision.objects.filter(number__gt=0).order_by("pk").select_related("page__site")
    few = few.only("page", "change", "places", "number").annotate(
        is_whole=ExpressionWrapper(Q(edits__isnull=True), BooleanField())
    )
    is_written = Q(revisions__number__gt=0)
    return (
        changes.select_related("author", "undoer", "site")
        .annotate(pages=Count("revisions__page", filter=is_written, distinct=True))
        .prefetch_related(Prefetch("revisions", few[:_FEW], "written"))
    )


def _brought(bring_ins: QuerySet[BringIn]) -> QuerySet[BringIn]:
    few = Page.everything.select_related("site").order_by("path")[:_FEW]
    return (
        bring_ins.select_related("author")
        .annotate(count=Count("pages"))
        .prefetch_related(Prefetch("pages", few, "few"))
    )


def _of_change(change: Change) -> HistoryEntry:
    first: dict[int, TouchedPage] = {}
    for one in change.written:  # type: ignore[attr-defined]
        first.setdefault(one.page_id, TouchedPage(one.page, one.places, one.is_whole))
    count: int = change.pages  # type: ignore[attr-defined]
    if change.let_go is not None:
        rows = Page.everything.filter(pk__in=change.let_go[:_FEW]).select_related("site")
        first, count = {one.pk: TouchedPage(one) for one in rows}, len(change.let_go)
    return HistoryEntry(
        change, None, change.made, change.author, change.message, list(first.values()), count
    )


def _of_bring_in(bring_in: BringIn) -> HistoryEntry:
    pages = [TouchedPage(one, is_whole=True) for one in bring_in.few]  # type: ignore[attr-defined]
    count: int = bring_in.count  # type: ignore[attr-defined]
    files = f" and {counted(bring_in.assets, 'other file')}"
    said = f"Brought in {counted(count, 'page')}{files if bring_in.assets else ''}"
    return HistoryEntry(None, bring_in, bring_in.made, bring_in.author, said, pages, count)


def _changes(site: Site, wanted: Search) -> QuerySet[Change]:
    found = _of_author(site.changes.all(), wanted)
    if wanted.kind:
        found = found.filter(act__in=KINDS[wanted.kind].acts)
    own = Revision.objects.filter(change=OuterRef("pk"), number__gt=0)
    if wanted.page:
        effects = Q(effects__contains=[{"page": wanted.page}])
        let_go = Q(let_go__contains=[wanted.page])
        found = found.filter(effects | let_go | Exists(own.filter(page=wanted.page)))
    if wanted.words:
        found = found.filter(_said(site, wanted.words, own))
    return found


def _said(site: Site, words: str, revisions: QuerySet[Revision]) -> Q:
    """What holds those words: in its line, in what was asked, in the titles and addresses of its
    pages, in what it wrote; or whoever did it is called so."""
    bare = words.lstrip("#")
    coded = json.dumps(bare, ensure_ascii=False)[1:-1]
    pages = Page.everything.filter(site=site).filter(
        Q(title__icontains=words) | Q(path__icontains=words)
    )
    wrote = revisions.annotate(said=Cast("edits", TextField())).filter(
        Q(said__icontains=coded) | Q(page__in=pages)
    )
    asked = Change.objects.filter(pk=OuterRef("pk")).annotate(said=Cast("asked", TextField()))
    return (
        Q(message__icontains=words)
        | Q(section__icontains=words)
        | Q(author__in=_called(words))
        | Exists(asked.filter(said__icontains=coded))
        | Exists(wrote)
    )


def _bring_ins(site: Site, wanted: Search) -> QuerySet[BringIn]:
    found = _of_author(site.bring_ins.filter(change=None), wanted)
    if wanted.kind not in ("", BROUGHT):
        return found.none()
    pages = Page.everything.filter(site=site)
    if wanted.page:
        pages = pages.filter(pk=wanted.page)
    if wanted.words:
        pages = pages.filter(Q(title__icontains=wanted.words) | Q(path__icontains=wanted.words))
    if not (wanted.page or wanted.words):
        return found
    brought = Exists(BringIn.pages.through.objects.filter(bringin=OuterRef("pk"), page__in=pages))
    if wanted.page:
        return found.filter(brought)
    return found.filter(brought | Q(author__in=_called(wanted.words)))


def _called(words: str) -> QuerySet[Editor]:
    whole = Concat("first_name", Value(" "), "last_name")
    named = Editor.objects.annotate(whole=whole)
    return named.filter(Q(whole__icontains=words) | Q(username__icontains=words))


def _of_author(rows: QuerySet[Any], wanted: Search) -> QuerySet[Any]:
    if wanted.author:
        rows = rows.filter(author=wanted.author)
    if wanted.since is not None:
        rows = rows.filter(made__gt=wanted.since)
    if wanted.others_than:
        rows = rows.exclude(author=wanted.others_than)
    return rows
