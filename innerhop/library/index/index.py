"""The index as a whole: brought up to date after an update of Inner Hop, and compared
with a fresh reading of the texts."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from django.db import transaction
from django.db.models import Count

from innerhop.core.site import hops
from innerhop.library import usual_forms
from innerhop.library.index import findings, store, verdicts
from innerhop.library.index.rows import DESCRIBED, VERSION, describe, described, rows_of
from innerhop.library.index.texts import current
from innerhop.library.models import Link, Page, Site

_AT_ONCE = 100  # pages whose rows are held


def read_anew(page: Page) -> None:
    """Make the rows of a page what its text says. Within a transaction that holds it."""
    text = current(page)
    describe(page, text)
    page.save(update_fields=DESCRIBED)
    store.apply(store.deltas([page], [rows_of(text)], [()]))


def catch_up() -> int:
    """Write the rows of pages anew that an older version wrote. Returns how many pages there
    were."""
    count = 0
    for site in Site.objects.filter(pages__in=Page.objects.exclude(indexed=VERSION)).distinct():
        keys = site.pages.exclude(indexed=VERSION).values_list("pk", flat=True)
        for key in list(keys):
            with transaction.atomic():
                read_anew(_held(key))
            count += 1
        with transaction.atomic():
            verdicts.renew_all(site, list(site.pages.all()))
            usual_forms.learn(site)
    return count


def _held(key: int) -> Page:
    """A page, held until the transaction ends."""
    page: Page = Page.objects.select_for_update(of=("self",), no_key=True).get(pk=key)
    return page


@dataclass(frozen=True)
class Disagreement:
    """Where the index and a fresh reading of a page's text disagree. what: rows that the
    index has and should not, or lacks, or a hop that leads elsewhere."""

    page: Page
    what: str


def differences(
    site: Site, progress: Callable[[int, int], None] = lambda done, total: None
) -> Iterator[Disagreement]:
    """Everything in the index of a site that a fresh reading does not give. progress: is told
    how many pages are done, and of how many."""
    total = site.pages.count()
    pages = site.pages.select_related("site").order_by("pk")
    for done, page in enumerate(pages.iterator(_AT_ONCE), start=1):
        progress(done, total)
        text = current(page)
        delta = store.deltas([page], [rows_of(text)], [()])[0]
        for model, rows in delta.made.items():
            gone = len(delta.gone[model])
            if rows or gone:
                what = f"{len(rows)} {model.__name__} rows are lacking, {gone} are too many"
                yield Disagreement(page, what)
        kept = described(page)
        describe(page, text)
        if described(page) != kept:
            yield Disagreement(page, "what its row says of its text is out of date")
        yield from _wrong_verdicts(site, page)
    for page, rules in findings.out_of_date(site):
        yield Disagreement(page, f"its findings are out of date: {rules}")


def _wrong_verdicts(site: Site, page: Page) -> Iterator[Disagreement]:
    links = list(page.links.all())
    ends = verdicts.StoredEnds(site, links)
    for link in links:
        verdict = hops.judge(link, ends)
        if verdict != (link.kind, link.end_page_id, link.end, link.why, link.opens):
            yield Disagreement(page, f"the hop {link.href} leads elsewhere than its row says")
    counted = Link.objects.broken().filter(page=page).aggregate(n=Count("pk"))["n"]
    if counted != page.broken_count:
        yield Disagreement(page, "its count of broken hops is wrong")


def repair(site: Site) -> None:
    """Write the whole index of a site anew."""
    for key in list(site.pages.values_list("pk", flat=True)):
        with transaction.atomic():
            read_anew(_held(key))
    with transaction.atomic():
        verdicts.renew_all(site, list(site.pages.all()))
