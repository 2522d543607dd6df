"""What was done long ago can be let go, where a site's owner said so: who did what, and when,
stays listed; what it had changed can't be shown or taken back any more. All that it did to a
page's text is kept as one, so what pages say, and how they differ from what came, is the same.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from datetime import datetime

from dateutil.relativedelta import relativedelta
from django.db import transaction
from django.db.models import Max, Q, QuerySet
from django.utils import timezone

from innerhop.library.changes import since_it_came
from innerhop.library.index.texts import bytes_of, to_rows
from innerhop.library.models import Change, Page, Revision, Site

# For how many months what was done can be taken back; 0 for always. None is shorter than what was
# deleted can be had back (`library.removal`).
CHOICES = (0, 24, 12, 6, 3)
_AT_ONCE = 200


def limit(months: int, now: datetime | None = None) -> datetime:
    """So many months ago, on the same day or the last one of a shorter month."""
    ago: datetime = (now or timezone.now()) - relativedelta(months=months)
    return ago


def older(site: Site, than: datetime) -> QuerySet[Change]:
    """The changes of a site that nobody has done anything to since then, and that are whole."""
    last = Max("revisions__made", filter=Q(revisions__number__gt=0))
    rows = Change.objects.filter(site=site, let_go__isnull=True, made__lt=than)
    rows = rows.filter(Q(undone=None) | Q(undone__lt=than)).annotate(last=last)
    return rows.filter(Q(last=None) | Q(last__lt=than))


def let_go(site: Site, now: datetime | None = None) -> int:
    """Let go what is older than the site keeps. Returns how many changes that were.

    First they are said to be let go, in one moment, so that nobody takes them back meanwhile;
    then their texts go, page by page. Whatever ends it early is gone on with the next time.
    """
    count = _said(site, limit(site.keeps_months, now)) if site.keeps_months else 0
    left = Revision.objects.filter(page__site=site, number__gt=0, change__let_go__isnull=False)
    keys = left.order_by("page").values_list("page", flat=True).distinct()
    for key in list(keys):
        with transaction.atomic():
            _as_one(Page.everything.select_for_update(no_key=True).get(pk=key))
    return count


def _said(site: Site, than: datetime) -> int:
    """Say of all that can be let go that it is."""
    with transaction.atomic():
        keys = list(older(site, than).values_list("pk", flat=True))
        held = list(Change.objects.select_for_update().filter(pk__in=keys).order_by("pk"))
        wrote = _pages_of(site)
        # What was taken back, or done again, while these were waited for is not old any more.
        still = older(site, than).filter(pk__in=[one.pk for one in held])
        going = _closed(wrote, {one.pk for one in still})
        pages: dict[int, set[int]] = defaultdict(set)
        for page, rows in wrote.items():
            for change in rows:
                pages[change].add(page)
        changes = [one for one in held if one.pk in going]
        for one in changes:
            one.let_go = sorted(pages[one.pk])
        Change.objects.bulk_update(changes, ["let_go"], batch_size=_AT_ONCE)
    return len(changes)


def _pages_of(site: Site) -> dict[int, list[int]]:
    """The changes that wrote each page, by primary key, in their order: those that are whole."""
    rows = Revision.objects.filter(page__site=site, number__gt=0, change__let_go__isnull=True)
    rows = rows.exclude(change=None).exclude(change__act=Change.KEPT_AS_ONE)
    found: dict[int, list[int]] = defaultdict(list)
    for page, change in rows.order_by("page", "number").values_list("page", "change"):
        found[page].append(change)
    return found


def _closed(wrote: Mapping[int, Sequence[int]], wanted: Collection[int]) -> set[int]:
    """Those of some changes that nothing which stays was done before, on any of their pages."""
    going, before = {*wanted}, -1
    while len(going) != before:
        before = len(going)
        for rows in wrote.values():
            first = next((at for at, one in enumerate(rows) if one not in going), len(rows))
            going -= {*rows[first:]}
    return going


def _as_one(page: Page) -> None:
    """Keep as one what was done to a page by changes that are let go: the text that came, and the
    last one that they made, with all edits between the two that stand."""
    rows = page.revisions.filter(number__gt=0).defer("content", "came").select_related("change")
    until = list(rows.order_by("number"))
    while until[-1].change is None or until[-1].change.let_go is None:
        until.pop()
    first, edits = since_it_came.standing(until)
    begin = Revision.objects.get(pk=first.pk)
    last = Revision.objects.get(pk=until[-1].pk)
    came, number = since_it_came.as_it_came(begin), begin.number
    last.content = bytes_of(last)
    if edits:
        came = Revision(
            page=page, number=until[-2].number if number == last.number else number,
            content=bytes_of(came), label=came.label, codec=came.codec, mark=came.mark,
        )  # fmt: skip
        last.edits, last.change = to_rows(edits), _kept_as_one(page.site, last.made)
    else:
        last.edits = last.change = None
    last.came = last.carried = None
    Revision.objects.filter(pk__in=[one.pk for one in until[:-1]]).delete()
    last.save()
    if edits:
        came.save()
        Revision.objects.filter(pk=came.pk).update(made=begin.made)


def _kept_as_one(site: Site, made: datetime) -> Change:
    """The change that stands for all that were let go."""
    said = {"message": "What was let go, as it stands", "author": None}
    one, _ = Change.everything.get_or_create(site=site, act=Change.KEPT_AS_ONE, defaults=said)
    Change.everything.filter(pk=one.pk).update(made=made)
    return one
