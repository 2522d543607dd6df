"""The job that carries out an act of the table on very many pages."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db import transaction

from innerhop.core.refusals import CONFLICT, Refusal
from innerhop.library import doing
from innerhop.library.acts.base import Act
from innerhop.library.jobs import jobs, kinds
from innerhop.library.jobs.kinds import JobKind, JobOutcome
from innerhop.library.jobs.running import Work
from innerhop.library.models import Editor, Job, Page, Site
from innerhop.library.steps import finished

KIND = "act"
MANY = 1_000  # pages: a change of more is a job


def begin(
    editor: Editor, name: str, subject: Page | Site, sent: Mapping[str, Any], planned: Act
) -> Job:
    """Have a worker carry out an act as it was planned."""
    site = subject.site if isinstance(subject, Page) else subject
    page = subject.pk if isinstance(subject, Page) else None
    asked = {
        "act": name, "page": page, "sent": dict(sent), "stamp": planned.stamp,
        "message": planned.message,
    }  # fmt: skip
    return jobs.begin(site, editor, KIND, asked)


def run(work: Work) -> JobOutcome:
    """Plan it once more, and do it where it is still what it was."""
    job = work.job
    asked, editor = job.asked, work.author
    subject: Page | Site = job.site
    if asked["page"] is not None:
        found = job.site.pages.filter(pk=asked["page"]).select_related("site").first()
        if found is None:
            raise Refusal("The page that this was asked of was deleted, so it was not done.")
        subject = found
    act = doing.planned(editor, asked["act"], subject, asked["sent"])
    if act.stamp != asked["stamp"]:
        raise Refusal("Pages were changed meanwhile. Look at it again, and do it then.", CONFLICT)
    with transaction.atomic():
        steps = doing.steps(editor, asked["act"], job.site, asked["sent"], act)
        change = finished(steps, lambda step: work.tell(step.done, step.total, "Pages"))
        outcome = JobOutcome(f"{change.message}.", {"change": change.pk})
        work.finish(outcome)
    return outcome


kinds.register(JobKind(KIND, lambda job: job.asked["message"], run))
