"""The job that looks at the site itself: the pages for which something was planned, and those that
it leads to."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.conf import settings
from django.db import transaction

from innerhop.core.addresses import urls
from innerhop.core.live.station import DIFFERENTLY, NOT_YET, THERE, WAITS
from innerhop.core.merge.unlike import is_another
from innerhop.core.refusals import Refusal
from innerhop.core.source import file_encoding
from innerhop.core.source.tree import Source
from innerhop.fetch.asked import Asked
from innerhop.fetch.records import Ended, Out, Record, Same
from innerhop.fetch.records import Page as Came
from innerhop.library.acts.base import counted
from innerhop.library.fetching.fetching import drop, fetching
from innerhop.library.hand_over import copy_sheet
from innerhop.library.index.texts import current
from innerhop.library.jobs import kinds
from innerhop.library.jobs.kinds import Kind, Outcome
from innerhop.library.jobs.running import Stopped, Work
from innerhop.library.live import standing
from innerhop.library.models import Job, Link, Look, Page, Seen, Site

KIND = "look"


def pages_to_look_at(site: Site) -> list[Page]:
    """The pages for which something was planned, and those that their hops lead to."""
    planned = [sheet.page.pk for sheet in copy_sheet.of_site(site)]
    ends = Link.objects.filter(page__in=planned).exclude(end_page=None)
    wanted = {*planned, *ends.values_list("end_page", flat=True)}
    return list(site.pages.filter(pk__in=wanted).select_related("site").order_by("path"))


def run(work: Work) -> Outcome:
    """Look, and judge."""
    job, site = work.job, work.job.site
    pages = pages_to_look_at(site)
    only = job.asked.get("pages")
    if only:
        pages = [one for one in pages if one.pk in only]
    if not pages:
        raise Refusal("Nothing was planned here yet, so there is nothing to look for.")
    drop(job)  # where it is tried again, what was there at the first try is of no use
    told, is_cut = _fetched(work, pages)
    if work.stop.is_set():
        raise Stopped("Stopped. What was seen before stands.")
    with transaction.atomic():
        look = Look.objects.create(site=site, editor=job.editor)
        seen = sum(_keep(look, page, told, is_cut) for page in pages)
        if not seen:
            why = next(iter(told.values()), "nobody answered")
            raise Refusal(f"None of the pages could be looked at: {why}.")
        found = standing.keep_found(site)
        look.pages = seen
        look.there, look.differently = found.count(THERE), found.count(DIFFERENTLY)
        look.not_yet, look.waits = found.count(NOT_YET), found.count(WAITS)
        look.save()
        outcome = Outcome(f"{counted(seen, 'page')} looked at.", {"look": look.pk})
        work.finish(outcome)
    drop(job)
    return outcome


Told = dict[str, Any]  # by the key of each address, what came, or why nothing did


def _fetched(work: Work, pages: Sequence[Page]) -> tuple[Told, bool]:
    addresses = [page.address for page in pages]
    asked = Asked(
        addresses[0], most=len(addresses), contact=settings.FETCH_CONTACT,
        let_through=settings.FETCH_LETS_THROUGH, pause=settings.FETCH_PAUSE, parts=False,
        also=addresses[1:], is_only=True,
    )  # fmt: skip
    told: Told = {}
    is_cut = True
    site = work.job.site
    with fetching(work, asked) as fetch:
        for record in fetch.records():
            if isinstance(record, Ended):
                is_cut = record.cut
            _take(site, told, record, fetch.body)
            work.done, work.total = len(told), len(pages)
            work.said = "Pages looked at"
    return told, is_cut


def _take(site: Site, told: Told, record: Record, body: Any) -> None:
    match record:
        case Came():
            told[_key(site, record.address)] = (body(record.body), record.label)
        case Out():
            told[_key(site, record.address)] = record.why
        case Same() if _key(site, record.address) != _key(site, record.to):
            told[_key(site, record.address)] = f"it leads readers on to {record.to}"


def _key(site: Site, address: str) -> str:
    found = urls.resolve(address, address)
    return site.key_of(found.path) if found else ""


def _keep(look: Look, page: Page, told: Told, is_cut: bool) -> bool:
    """Keep how a page is there; returns whether it was seen."""
    missing = "the look broke off before" if is_cut else "the site does not give it"
    came = told.get(page.key, missing)
    if not isinstance(came, str):
        try:
            text, encoding = file_encoding.decode(*came)
            if is_another(current(page).source, Source(text)):
                came = "what is there has hardly anything of this page, and may be an error's"
        except file_encoding.NotText as problem:
            came = problem.message
    if isinstance(came, str):
        Seen.objects.update_or_create(
            page=page, defaults={"look": look, "why": came[:300]},
            create_defaults={"look": look, "why": came[:300], "content": b"", "label": "utf-8",
                             "codec": "utf-8"},
        )  # fmt: skip
        return False
    Seen.objects.update_or_create(
        page=page,
        defaults={"look": look, "why": "", "content": came[0], "label": encoding.label,
                  "codec": encoding.codec, "mark": encoding.mark},
    )  # fmt: skip
    return True


def called(job: Job) -> str:
    """What it is called."""
    return f"Looking at {job.site.address.partition('//')[2].rstrip('/')}"


kinds.register(Kind(KIND, called, run, drop=drop))
