"""What editors do to jobs: begin one, stop it, have it go on, throw it away, see its end."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db import transaction
from django.db.models import Case, IntegerField, Q, QuerySet, When

from innerhop.core.refusals import CONFLICT, Refusal
from innerhop.library import doing
from innerhop.library.jobs import kinds
from innerhop.library.models import Editor, Job, Site

_AT_HAND = (Job.State.WAITS, Job.State.RUNS)
_LISTED = 50


class NotSo(Refusal):
    """The job is not where that can be done to it."""

    status = CONFLICT


@transaction.atomic
def begin(site: Site, editor: Editor, kind: str, asked: Mapping[str, Any]) -> Job:
    """Have something done by a worker. Raises doing.MayNot."""
    doing.require(editor, site, kind)
    job = Job.objects.create(site=site, editor=editor, kind=kind, asked=dict(asked))
    hand_over(job)
    return job


@transaction.atomic
def begin_unasked(site: Site, kind: str, asked: Mapping[str, Any]) -> Job:
    """Have something done by a worker that the site is set to have done by itself. Nobody waits to
    be told how it ends."""
    job = Job.objects.create(site=site, kind=kind, asked=dict(asked), seen=True)
    hand_over(job)
    return job


def hand_over(job: Job) -> None:
    """Have a worker take a job up. Within the transaction that says that it waits."""
    from innerhop.library.tasks import work_on  # noqa: PLC0415  (which knows of all this)

    work_on.defer(pk=job.pk)


def of_site(site: Site) -> QuerySet[Job]:
    """The jobs of a site, the newest first."""
    return Job.objects.filter(site=site)[:_LISTED]


def at_hand(site: Site, editor: Editor) -> QuerySet[Job]:
    """The jobs of a site that are at work, and those of an editor whose end was not told yet."""
    untold = Q(seen=False, editor=editor) & ~Q(state__in=_AT_HAND)
    found = Job.objects.filter(Q(state__in=_AT_HAND) | untold, site=site)
    at_work = Case(When(state__in=_AT_HAND, then=0), default=1, output_field=IntegerField())
    return found.order_by(at_work, "-pk")


def stop(job: Job) -> None:
    """Ask a job to stop: one that waits does at once."""
    stopped = Job.objects.filter(pk=job.pk, state=Job.State.WAITS)
    message = "Stopped before it began. Nothing was changed."
    if not stopped.update(state=Job.State.STOPPED, message=message):
        Job.objects.filter(pk=job.pk, state=Job.State.RUNS).update(stop=True)


@transaction.atomic
def go_on(job: Job, **more: Any) -> None:
    """Have a job that stopped or failed go on from there. more: what else is asked of it.
    Raises NotSo."""
    there = Job.objects.select_for_update().get(pk=job.pk)
    if there.is_at_work or there.state == Job.State.DONE:
        raise NotSo("This is at work, or done, already.")
    there.asked = {**there.asked, **more}
    there.state, there.message, there.stop = Job.State.WAITS, "", False
    there.save(update_fields=["asked", "state", "message", "stop"])
    hand_over(there)


@transaction.atomic
def throw_away(job: Job) -> None:
    """Give a job up, with what it has gathered. What it did to the site stands. Raises NotSo."""
    there = Job.objects.select_for_update().get(pk=job.pk)
    if there.is_at_work:
        raise NotSo("This is at work. Stop it first.")
    kinds.of(there).drop(there)
    there.delete()


def see(editor: Editor, job: Job) -> None:
    """An editor sees how far a job is: where it was theirs and has ended, that was told."""
    if job.editor_id == editor.pk and not job.seen and not job.is_at_work:
        Job.objects.filter(pk=job.pk, state=job.state).update(seen=True)


def see_all(site: Site, editor: Editor) -> None:
    """An editor sees all jobs of a site."""
    own = Job.objects.filter(site=site, editor=editor, seen=False).exclude(state__in=_AT_HAND)
    own.update(seen=True)
