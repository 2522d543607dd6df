"""Work that outlives a request: the list, one job, and what can be done to it."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import render_to_string
from django.views.decorators.http import require_POST, require_safe

from innerhop.core.refusals import Refusal
from innerhop.library import doing
from innerhop.library.jobs import jobs, kinds
from innerhop.library.models import Job, Site
from innerhop.screens.access import editor_of, for_editors, number_asked, once_read
from innerhop.screens.jobs import shown
from innerhop.screens.pages.rulers import RULER_WIDTH


@require_safe
@for_editors
def list_jobs(request: HttpRequest, site: Site) -> HttpResponse:
    """The jobs of a site, the newest first."""
    found = jobs.of_site(site).select_related("site", "editor")
    rows = [(job, shown.shown(job)) for job in found]
    once_read(jobs.see_all, site, editor_of(request))
    return render(request, "jobs/list.html", {"rows": rows})


@require_safe
@for_editors
def show(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """One job, with what came so far."""
    job = _job(site, pk)
    once_read(jobs.see, editor_of(request), job)
    return render(request, "jobs/job.html", _context(job))


def _context(job: Job) -> dict[str, Any]:
    strips = shown.strips(job, 0)
    return {
        "job": job,
        "shown": shown.shown(job),
        "strips": strips,
        "more": job.staged.filter(kind="page").count() - len(strips),
        "ruler_width": RULER_WIDTH,
    }


@require_POST
@for_editors
def measure(request: HttpRequest, site: Site) -> HttpResponse:
    """Have the pages of a site measured where the application runs."""
    if not kinds.is_possible("measure"):
        raise Http404
    job = jobs.begin(site, editor_of(request), "measure", {})
    return redirect("job", site.slug, job.pk)


def _job(site: Site, pk: int) -> Job:
    job: Job = get_object_or_404(Job.objects.select_related("site"), site=site, pk=pk)
    return job


@require_safe
@for_editors
def now(request: HttpRequest, site: Site) -> JsonResponse:
    """The jobs that are at hand, for the bar in the frame."""
    found = shown.at_hand(site, editor_of(request))
    return JsonResponse({"jobs": [asdict(one) for one in found]})


@require_safe
@for_editors
def job_now(request: HttpRequest, site: Site, pk: int) -> JsonResponse:
    """How far a job is, and what came after what its screen shows."""
    job = _job(site, pk)
    once_read(jobs.see, editor_of(request), job)
    after = number_asked(request.GET.get("after", ""))
    found = shown.strips(job, after)
    told = {
        "job": asdict(shown.shown(job)),
        "strips": [_drawn(one) for one in found],
        "last": found[-1].number if found else after,
    }
    return JsonResponse(told)


def _drawn(strip: shown.JobStrip) -> str:
    """A page that came, as the screen lists it."""
    return render_to_string("jobs/strip.html", {"strip": strip, "ruler_width": RULER_WIDTH})


@require_POST
@for_editors
def turn(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """Stop a job, have it go on, take in what came, give it up, or put its end out of sight."""
    job, what, editor = _job(site, pk), request.POST.get("what"), editor_of(request)
    doing.require(editor, site, job.kind)
    try:
        if what == "stop":
            jobs.stop(job)
        elif what == "go-on":
            jobs.go_on(job)
        elif what == "enough":
            jobs.go_on(job, enough=True)
        elif what == "drop":
            jobs.throw_away(job)
            return redirect("jobs", site.slug)
        elif what == "see":
            jobs.see(editor, job)
            return redirect(shown.end(job) or shown.shown(job).url)
    except Refusal as problem:
        context = {**_context(job), "trouble": problem.message}
        return render(request, "jobs/job.html", context, status=problem.status)
    return redirect("job", site.slug, pk)
