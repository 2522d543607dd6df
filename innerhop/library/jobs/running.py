"""A job carried out. Whoever works on it says every moment that it is still there; where that
stops, as when its machine does, another takes it up. What it does to the site and that it is done
are written in one transaction, so that nothing is done twice."""

from __future__ import annotations

import logging
import secrets
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta

from django.conf import settings
from django.db import connection, transaction
from django.db.models import Q, QuerySet
from django.db.models.functions import Now
from django.utils import timezone

from innerhop.core.refusals import Refusal
from innerhop.library import doing
from innerhop.library.jobs import kinds
from innerhop.library.jobs.kinds import JobOutcome
from innerhop.library.models import Editor, Job, Site

BEAT = 0.5  # seconds between two signs of life
LOST = timedelta(seconds=settings.JOBS_LOST_AFTER)  # without one: nobody works on it any more
_log = logging.getLogger(__name__)


class Stopped(Exception):
    """The job was asked to stop, and did. message: what stands, and what can be done."""

    def __init__(self, message: str = "") -> None:
        super().__init__(message)
        self.message = message or "Stopped. Nothing was changed."


class TakenUp(Exception):
    """Another one works on the job."""


class Work:
    """A job at hand. What is told of it is written by a thread of its own, since what it does
    may be in a transaction that nobody sees into."""

    def __init__(self, job: Job) -> None:
        self.job = job
        self.done, self.total, self.said = job.done, job.total, job.said
        self.stop = threading.Event()
        self.over = threading.Event()

    @property
    def author(self) -> Editor:
        """Whoever asked for it, as long as they may. Raises Refusal where they may no more, or
        the site was deleted."""
        editor, site = self.job.editor, self.job.site
        if site.removed is not None:
            raise Refusal("The site was deleted, so this was not done.")
        if editor is None or not doing.may(editor, site, self.job.kind):
            raise Refusal("Who asked for this is no editor of the site any more. It was not done.")
        return editor

    def require(self) -> None:
        """Raise Refusal where this may not be done any more."""
        is_unasked = self.job.editor is None and kinds.of(self.job).is_unasked
        if not is_unasked or self.job.site.removed is not None:
            _ = self.author

    def is_ours(self) -> bool:
        """Whether no other one has taken the job up meanwhile. Within a transaction: then none
        does until its end."""
        own = Job.objects.select_for_update().filter(pk=self.job.pk, state=Job.State.RUNS)
        return own.filter(runner=self.job.runner).exists()

    def tell(self, done: int, total: int, said: str = "") -> None:
        """How far it is, and what it is at. Raises Stopped."""
        self.done, self.total, self.said = done, total, (said or self.said)[:300]
        self.check()

    def check(self) -> None:
        """Raise Stopped where somebody asked for it, or another one works on it."""
        if self.stop.is_set():
            raise Stopped

    def beat(self) -> None:
        """Say that it is still worked on, until it is over."""
        own = Job.objects.filter(pk=self.job.pk, runner=self.job.runner)
        try:
            while not self.over.wait(BEAT):
                told = {"done": self.done, "total": self.total, "said": self.said}
                if not own.update(beat=Now(), **told) or own.filter(stop=True).exists():
                    self.stop.set()
        except Exception:  # the database is gone: another one takes it up
            self.stop.set()
            _log.exception("a job can't be told of")
        finally:
            connection.close()

    def finish(self, outcome: JobOutcome) -> None:
        """Write that it is done. Within the transaction that holds what it did. Raises TakenUp."""
        if not _end(self.job, Job.State.DONE, outcome.message, outcome):
            raise TakenUp


def claim(pk: int) -> Job | None:
    """Take a job up, unless another one works on it, or on another job of its site."""
    with transaction.atomic():
        job = Job.objects.select_for_update(of=("self",)).select_related("site", "editor")
        found = job.filter(_free(), pk=pk).first()
        if found is None:
            return None
        Site.everything.select_for_update(no_key=True).get(pk=found.site_id)
        if _others(found).exists():
            return None
        found.state, found.runner = Job.State.RUNS, secrets.token_hex(8)
        found.beat = Now()
        found.save(update_fields=["state", "runner", "beat"])
    return found


def _free() -> Q:
    """Jobs that nobody works on and that are to be worked on. Time is the database's: clocks of
    machines differ, and jump."""
    return Q(state=Job.State.WAITS) | Q(state=Job.State.RUNS, beat__lt=Now() - LOST)


def _others(job: Job) -> QuerySet[Job]:
    at_work = Job.objects.filter(site=job.site, state=Job.State.RUNS).exclude(pk=job.pk)
    return at_work.filter(beat__gte=Now() - LOST)


def is_to_be_run(pk: int) -> bool:
    """Whether a job is to be worked on, and nobody does."""
    return Job.objects.filter(_free(), pk=pk).exists()


def lost() -> list[int]:
    """The jobs, by primary key, whose worker is gone."""
    gone = Job.objects.filter(state=Job.State.RUNS, beat__lt=Now() - LOST)
    return list(gone.values_list("pk", flat=True))


def run(pk: int) -> bool:
    """Carry a job out. Returns whether it was this one that worked on it."""
    job = claim(pk)
    if job is None:
        return False
    work = Work(job)
    with _told(work):
        try:
            work.require()  # who may no more, or on what is gone, does nothing
            outcome = kinds.of(job).run(work)
            if not _is_finished(job):
                work.finish(outcome)
        except TakenUp:
            pass
        except Stopped as problem:
            _end(job, Job.State.STOPPED, problem.message)
        except Refusal as problem:
            _end(job, Job.State.FAILED, problem.message)
        except Exception:
            _log.exception("a job broke")
            _end(job, Job.State.FAILED, _BROKE)
    return True


_BROKE = "Something here broke while this was done. Nothing of it was kept. Try it once more."


@contextmanager
def _told(work: Work) -> Iterator[None]:
    thread = threading.Thread(target=work.beat, daemon=True)
    thread.start()
    try:
        yield
    finally:
        work.over.set()
        thread.join()


def _is_finished(job: Job) -> bool:
    return Job.objects.filter(pk=job.pk, state=Job.State.DONE, runner=job.runner).exists()


def _end(job: Job, state: Job.State, message: str, outcome: JobOutcome | None = None) -> bool:
    """Write how a job ended. Returns whether it was still this one's to end."""
    own = Job.objects.filter(pk=job.pk, runner=job.runner, state=Job.State.RUNS)
    result = dict(outcome.result) if outcome else job.result
    told = {"message": message, "result": result, "ended": timezone.now()}
    is_unasked = job.editor_id is None
    return bool(own.update(state=state, stop=False, seen=is_unasked, **told))
