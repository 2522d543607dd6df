"""Jobs as screens show them: the bar in the frame, the list, one job."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from itertools import accumulate
from typing import Any

from django.urls import reverse
from django.utils import timezone

from innerhop.core.facts import lengths
from innerhop.core.widths import LAPTOP
from innerhop.library.jobs import jobs, kinds
from innerhop.library.models import Editor, Job, Site, Staged
from innerhop.screens.pages.rulers import RULER_WIDTH, PageRuler, ruler

_State = Job.State
_IN_WORDS = {
    _State.WAITS: "Waits for its turn",
    _State.RUNS: "At work",
    _State.STOPPED: "Stopped",
    _State.FAILED: "Not done",
    _State.DONE: "Done",
}
_UNSEEN = timedelta(seconds=20)


@dataclass(frozen=True)
class Shown:
    """A job. state: in words. done, total: how far it is; total is 0 where that isn't known.
    at: what it is at, or how it ended. url: of its own screen; end: of what became of it, "" for
    nothing. The rest: what can be done to it."""

    pk: int
    called: str
    state: str
    at_work: bool
    done: int
    total: int
    at: str
    url: str
    end: str
    can_stop: bool
    can_go_on: bool
    can_take_in: bool
    can_drop: bool
    is_trouble: bool


def shown(job: Job) -> Shown:
    """A job, for a screen."""
    kind = kinds.of(job)
    stands = job.state in (_State.STOPPED, _State.FAILED)
    gathered = stands and job.staged.filter(kind="page").exists()
    at = job.said if job.state == _State.RUNS else job.message
    if job.state == _State.WAITS and timezone.now() - job.made > _UNSEEN:
        at = "No worker has taken it up. Whoever runs Inner Hop starts one: see “On a server”."
    return Shown(
        job.pk,
        kind.called(job),
        "Stopping" if job.stop and job.is_at_work else _IN_WORDS[_State(job.state)],
        job.is_at_work,
        job.done,
        job.total,
        at,
        reverse("job", args=[job.site.slug, job.pk]),
        end(job),
        job.is_at_work and not job.stop,
        stands,
        gathered,
        not job.is_at_work and job.state != _State.DONE,
        job.state == _State.FAILED,
    )


def end(job: Job) -> str:
    """The address of what became of a job; "" for nothing."""
    if brought := job.result.get("bring_in"):
        return reverse("brought", args=[job.site.slug, brought])
    if job.result.get("walked"):
        return reverse("there", args=[job.site.slug])
    if job.result.get("look"):
        return reverse("live", args=[job.site.slug])
    return reverse("history", args=[job.site.slug]) if job.result.get("change") else ""


def at_hand(site: Site, editor: Editor) -> list[Shown]:
    """The jobs for the bar in the frame."""
    return [shown(job) for job in jobs.at_hand(site, editor).select_related("site")]


@dataclass(frozen=True)
class JobStrip:
    """A page that came and is not taken in yet. number: of its staged row. is_broken_off: whether
    it is longer than it is drawn."""

    number: int
    title: str
    path: str
    sections: int
    marked: int
    is_drawn: bool
    ruler: PageRuler
    is_broken_off: bool


_SCREENS = 15  # of the laptop, across the whole width: nothing is drawn anew when more come
AT_ONCE = 100  # strips


def strips(job: Job, after: int) -> list[JobStrip]:
    """The pages that came after a number, in their order."""
    rows = Staged.objects.filter(job=job, kind="page", number__gt=after).defer("content")
    return [_strip(row) for row in rows.order_by("number")[:AT_ONCE]]


def _strip(row: Staged) -> JobStrip:
    found: dict[str, Any] = row.found
    sections = found.get("sections", [])
    words = found.get("words", 0)
    height = lengths.guessed_height(words)
    spoken = sum(own for _, own, _ in sections)
    lead = height - spoken * lengths.PIXELS_A_WORD
    tops = [lead + before * lengths.PIXELS_A_WORD
            for before in accumulate((own for _, own, _ in sections[:-1]), initial=0)]  # fmt: skip
    longest = _SCREENS * LAPTOP.view
    scale = RULER_WIDTH / max(height, longest)
    marked = [has for *_, has in sections]
    path = "/" + row.name.partition("//")[2].partition("/")[2]
    drawing = ruler(tops[: len(sections)], height, marked, scale)
    return JobStrip(
        row.number, found.get("title", path), path, len(sections), sum(marked),
        bool(found.get("drawn")), drawing, height > longest,
    )  # fmt: skip
