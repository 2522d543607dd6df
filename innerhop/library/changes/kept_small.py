"""What was is kept small: of a page's earlier texts, one now and then stays whole, and the others
are told by it and the edits since."""

from __future__ import annotations

from datetime import timedelta
from typing import NamedTuple

from django.db.models import F, Func, IntegerField, Q, QuerySet, Sum
from django.db.models.functions import Coalesce, Mod
from django.utils import timezone

from innerhop.library.models import Revision, Site

WHOLE_EVERY = 50  # revisions: so many edits at most are done again to read a text of long ago
_NEW = timedelta(days=1)  # what is most likely taken back stays at hand
_AT_ONCE = 500


def thin(older_than: timedelta = _NEW) -> int:
    """Keep of earlier texts only those whole that have to be. Returns how many others there
    were."""
    count = 0
    told = Revision.objects.filter(
        content__isnull=False, edits__isnull=False, number__lt=F("page__revision"),
        made__lt=timezone.now() - older_than,
    )  # fmt: skip
    told = told.annotate(nth=Mod(F("number"), WHOLE_EVERY)).exclude(nth=0)
    while keys := list(told.values_list("pk", flat=True)[:_AT_ONCE]):
        count += Revision.objects.filter(pk__in=keys).update(content=None)
    return count


class Size(NamedTuple):
    """Bytes in the database: of the texts that pages have, and of what was before, with what
    was done."""

    now: int
    before: int


def size(site: Site) -> Size:
    """What a site takes."""
    rows = Revision.objects.filter(page__site=site)
    is_now = Q(number=F("page__revision"))
    return Size(_size(rows.filter(is_now)), _size(rows.exclude(is_now)))


def _size(rows: QuerySet[Revision]) -> int:
    parts = [Coalesce(Func(name, function="pg_column_size", output_field=IntegerField()), 0)
             for name in ("content", "edits", "came", "carried")]  # fmt: skip
    whole = parts[0] + parts[1] + parts[2] + parts[3]
    return int(rows.order_by().aggregate(all=Sum(whole))["all"] or 0)
