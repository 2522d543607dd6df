"""The job that fetches a site, or a part of one, and takes in what came."""

from __future__ import annotations

import shutil
import threading
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import transaction

from innerhop.core.addresses import urls
from innerhop.core.counting import counted
from innerhop.core.refusals import Refusal
from innerhop.core.site.scope import same_host
from innerhop.fetch.asked import MOST_PAGES, Asked, below_of, read_address
from innerhop.fetch.records import Ended, FetchedPage
from innerhop.fetch.running import Fetch
from innerhop.library.bring_in import bring_ins
from innerhop.library.fetching import taking
from innerhop.library.fetching.staging import Staging
from innerhop.library.index import led_on
from innerhop.library.jobs import kinds
from innerhop.library.jobs.kinds import JobKind, JobOutcome
from innerhop.library.jobs.running import Stopped, Work
from innerhop.library.models import Job, Site
from innerhop.library.steps import finished

KIND = "fetch"


def read_asked(site: Site, typed: str, most: int, *, is_whole: bool) -> Mapping[str, Any]:
    """What an editor asks for, as data. typed: the address. is_whole: whether the whole site is
    meant, and not the part below it. Raises urls.NotAnAddress, public.NotPublic, and Refusal
    where it is another site's."""
    address = read_address(typed, settings.FETCH_LETS_THROUGH)
    own, found = urls.origin_of(site.address), urls.resolve(address, address)
    assert found is not None  # it was read
    if site.pages.exists() and not same_host(own, found.origin):
        host, here = found.origin.partition("//")[2], own.partition("//")[2]
        raise Refusal(
            f"{host} is another site than {here}, whose pages are here. Make a site of its own "
            "for it, and fetch it there."
        )
    if not 1 <= most <= MOST_PAGES:
        raise Refusal(f"Ask for 1 to {MOST_PAGES:,} pages.")
    # Most sites have https by now; one whose scheme wasn't typed may not.
    return {"address": address, "below": "/" if is_whole else below_of(address), "most": most,
            "is_guess": "://" not in typed}  # fmt: skip


def called(job: Job) -> str:
    """What it is called."""
    return f"Fetching {job.asked['address'].partition('//')[2].rstrip('/')}"


def run(work: Work) -> JobOutcome:
    """Fetch, unless it was said that what came is enough, and take in."""
    if not work.job.asked.get("enough"):
        _fetch(work)
    return _take_in(work)


def _fetch(work: Work) -> None:
    job = work.job
    asked = Asked(
        job.asked["address"],
        job.asked["below"],
        job.asked["most"],
        settings.FETCH_CONTACT,
        settings.FETCH_LETS_THROUGH,
        settings.FETCH_PAUSE,
        also=_known(job),
        is_guess=job.asked.get("is_guess", False),
    )
    is_cut = True
    with fetching(work, asked) as fetch:
        staging = Staging(job, fetch.body)
        for record in fetch.records():
            if isinstance(record, Ended):
                is_cut = record.cut
            staging.take(record)
            if isinstance(record, FetchedPage):
                work.total = record.of
            work.done = staging.pages
            work.said = f"{counted(staging.pages, 'page')} and {counted(staging.files, 'file')}"
    came = counted(staging.pages, "page")
    if work.stop.is_set():
        raise Stopped(f"Stopped. {came} came so far.")
    if is_cut:
        raise Refusal(f"The fetching broke off; {came} came before. It can go on from there.")


def _known(job: Job) -> list[str]:
    """The addresses of the pages that are here already, in the part that is asked for."""
    paths = job.site.pages.filter(path__startswith=job.asked["below"]).order_by("path")
    origin = urls.origin_of(job.asked["address"])
    return [f"{origin}{path}" for path in paths.values_list("path", flat=True)[: job.asked["most"]]]


@contextmanager
def fetching(work: Work, asked: Asked) -> Iterator[Fetch]:
    """A fetch that stops when the job does."""
    fetch = Fetch(asked, folder_of(work.job))
    done = threading.Event()

    def until_stopped() -> None:
        while not done.wait(0.2):
            if work.stop.is_set():
                fetch.stop()
                return

    thread = threading.Thread(target=until_stopped, daemon=True)
    thread.start()
    try:
        yield fetch
    finally:
        done.set()
        thread.join()
        fetch.close()


def _take_in(work: Work) -> JobOutcome:
    job = work.job
    found = taking.found(job)
    if not found.pages:
        raise Refusal(found.nothing)
    with transaction.atomic():
        notes = taking.set_address(job.site, found)
        led_on.learn(job.site, found.led, found.pages.values())
        steps = bring_ins.bring_in(
            job.site, work.author, taking.pieces(job, found), found.total,
            replace=True, left_out=found.left_out, notes=[*notes, *found.notes], gone=found.gone,
        )  # fmt: skip
        brought = finished(steps, lambda one: work.tell(one.done, one.total, "Taking it in"))
        taking.keep_elsewhere(job, found)
        keys = [job.site.key_of(path) for path in found.drawn]
        brought.drawn = list(job.site.pages.filter(key__in=keys).values_list("pk", flat=True))
        brought.save(update_fields=["drawn"])
        job.staged.all().delete()
        pages, files = counted(len(found.pages), "page"), counted(found.files, "file")
        outcome = JobOutcome(f"{pages} and {files} came.", {"bring_in": brought.pk})
        work.finish(outcome)
    drop(job)
    return outcome


def folder_of(job: Job) -> Path:
    """Where what comes is kept until it is taken in."""
    # The moment too: another database counts from 1 as well.
    return Path(settings.FETCH_FOLDER) / f"{job.pk}-{job.made:%Y%m%d%H%M%S%f}"


def drop(job: Job) -> None:
    """Throw away what was fetched."""
    shutil.rmtree(folder_of(job), ignore_errors=True)


kinds.register(JobKind(KIND, called, run, drop=drop))
