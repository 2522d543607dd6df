"""What becomes of a site when a change is taken back, or made again, before that is done."""

from __future__ import annotations

from dataclasses import dataclass

from django.db.models import Exists, OuterRef, QuerySet

from innerhop.core.refusals import Refusal
from innerhop.library.changes.undo import LET_GO, Turned, pages_of
from innerhop.library.index.texts import current
from innerhop.library.models import Change, Revision

_MOST = 25  # pages that are tried: of more, it is said when it is done


@dataclass(frozen=True)
class Ahead:
    """later: the changes that stand and touched the same pages since, and stay. trouble: why it
    can't be done, "" where nothing speaks against it."""

    later: QuerySet[Change]
    trouble: str = ""


def ahead(change: Change) -> Ahead:
    """What taking a change back would do, or making it again where it is undone."""
    if change.let_go is not None:
        return Ahead(since(change), LET_GO)
    turned = Turned(change, undone=change.undone is None)
    for page in pages_of(change)[:_MOST]:
        try:
            turned.next_text(current(page), ())
        except Refusal as problem:
            return Ahead(since(change), problem.message)
    return Ahead(since(change))


def since(change: Change) -> QuerySet[Change]:
    """The changes that stand and touched pages of a change after it, newest first."""
    own = Revision.objects.filter(change=change, number__gt=0).values("page")
    same = Revision.objects.filter(change=OuterRef("pk"), number__gt=0, page__in=own)
    rows = Change.objects.filter(site=change.site_id, undone=None, pk__gt=change.pk)
    return rows.filter(Exists(same)).select_related("author")
