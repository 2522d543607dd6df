"""The job that reads pages as their scripts draw them, where Chromium is installed."""

from __future__ import annotations

from django.conf import settings
from django.db import transaction

from innerhop.core.counting import counted
from innerhop.core.refusals import Refusal
from innerhop.fetch import browser
from innerhop.fetch.asked import Asked
from innerhop.fetch.drawing import drawn
from innerhop.library.bring_in import bring_ins
from innerhop.library.bring_in.bring_ins import NewFile
from innerhop.library.jobs import kinds
from innerhop.library.jobs.kinds import JobKind, JobOutcome
from innerhop.library.jobs.running import Work
from innerhop.library.steps import finished

KIND = "draw"


def run(work: Work) -> JobOutcome:
    """Read the pages, and give them the texts that are drawn; where somebody has worked on one,
    that waits."""
    job, author = work.job, work.author
    pages = job.site.pages.filter(pk__in=job.asked["pages"]).select_related("site")
    paths = {page.address: page.path for page in pages.order_by("path")}
    if not paths:
        raise Refusal("These pages were deleted.")
    agent = Asked("", contact=settings.FETCH_CONTACT).agent
    pieces, left_out = [], []
    work.tell(0, len(paths), "Reading what scripts draw")
    for at, one in enumerate(drawn(list(paths), agent, settings.FETCH_LETS_THROUGH), 1):
        if one.text:
            pieces.append(NewFile(one.address, one.text.encode("utf-8", "replace"),
                                paths[one.address], said="utf-8"))  # fmt: skip
        else:
            left_out.append((one.address, one.why))
        work.tell(at, len(paths))
    if not pieces:
        address, why = left_out[0]
        raise Refusal(f"Nothing was read: {address} was left out because {why}.")
    with transaction.atomic():
        steps = bring_ins.bring_in(
            job.site, author, pieces, len(pieces), replace=True, left_out=left_out, gone=[]
        )
        brought = finished(steps)
        outcome = JobOutcome(f"{counted(len(pieces), 'page')} read as scripts draw it.",
                          {"bring_in": brought.pk})  # fmt: skip
        work.finish(outcome)
    return outcome


kinds.register(
    JobKind(KIND, lambda _job: "Reading what scripts draw", run, is_possible=browser.is_there)
)
