"""The job that measures the pages of a site in Chromium, where it is installed."""

from __future__ import annotations

from innerhop.core import widths
from innerhop.library import rehearsal
from innerhop.library.acts.base import counted
from innerhop.library.jobs import kinds
from innerhop.library.jobs.kinds import Kind, Outcome
from innerhop.library.jobs.running import Work
from innerhop.practice.chromium import can_visit, visiting

KIND = "measure"


def run(work: Work) -> Outcome:
    """Measure what was not measured as it is now. What is measured stays, wherever it ends."""
    site = work.job.site
    all_widths = [one.width for one in widths.ALL]
    left = [
        (page, one)
        for page in site.pages.select_related("site").order_by("path")
        for one in widths.ALL
        if one.width in rehearsal.unmeasured(page, all_widths)
    ]
    if left:
        with visiting(site) as visitor:
            for at, (page, one) in enumerate(left):
                work.tell(at, len(left), f"{page.path} at {one.width}")
                visitor.measure(page, one.width, one.view)
    pages = len({page.pk for page, _ in left})
    return Outcome(f"{counted(pages, 'page')} measured." if left else "All was measured already.")


kinds.register(Kind(KIND, lambda _job: "Measuring pages", run, is_possible=can_visit))
