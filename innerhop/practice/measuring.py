"""The job that measures the pages of a site in Chromium, where it is installed."""

from __future__ import annotations

from innerhop.core import widths
from innerhop.core.counting import counted
from innerhop.core.widths import Width
from innerhop.fetch import browser
from innerhop.library import rehearsal
from innerhop.library.jobs import kinds
from innerhop.library.jobs.kinds import JobKind, JobOutcome
from innerhop.library.jobs.running import Work
from innerhop.library.models import Page, Site
from innerhop.practice.chromium import visiting

KIND = "measure"


def unmeasured(site: Site) -> list[tuple[Page, list[Width]]]:
    """The pages of a site, each with the widths at which it was not measured as it is now."""
    all_widths = [one.width for one in widths.ALL]
    found = []
    for page in site.pages.select_related("site").order_by("path"):
        lacking = rehearsal.unmeasured(page, all_widths)
        found.append((page, [one for one in widths.ALL if one.width in lacking]))
    return found


def run(work: Work) -> JobOutcome:
    """Measure what was not measured as it is now. What is measured stays, wherever it ends."""
    site = work.job.site
    left = [(page, lacking) for page, lacking in unmeasured(site) if lacking]
    if not left:
        return JobOutcome("All was measured already.")
    done, total = 0, sum(len(lacking) for _, lacking in left)
    with visiting(site) as visitor:
        for page, lacking in left:
            work.tell(done, total, page.path)
            for one in visitor.measure(page, lacking):
                done += 1
                work.tell(done, total, f"{page.path} at {one.width}")
    return JobOutcome(f"{counted(len(left), 'page')} measured.")


kinds.register(JobKind(KIND, lambda _job: "Measuring pages", run, is_possible=browser.is_there))
