"""A link to a page that isn't there."""

from __future__ import annotations

from innerhop.core.findings import ends
from innerhop.core.findings.found import STUCK, JudgedLink, PageRows, Rule, SiteView, Told
from innerhop.core.site.hops import NO_PAGE


def _recognise(link: JudgedLink, page: PageRows, site: SiteView) -> Told | None:
    return {"path": link.key} if link.why == NO_PAGE else None


RULE = Rule(
    name="no-page",
    level=STUCK,
    title="{path} isn’t there",
    kind="A page isn’t there",
    why="No page of this site has the address {path}, and none is like it.",
    source=ends.PAGES,
    avoid="Take links to a page away before the page goes, or let its address lead on.",
    recognise=_recognise,
    cause="path",
    no_fix="No page is like it. Choose where it should lead, on its page, or bring the page in.",
)
