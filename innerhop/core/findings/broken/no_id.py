"""A hop to an ID that nothing has, and nothing is like it."""

from __future__ import annotations

from innerhop.core.findings import ends
from innerhop.core.findings.found import STUCK, JudgedLink, PageRows, Rule, SiteView, Told
from innerhop.core.site.hops import NO_ID


def _recognise(link: JudgedLink, page: PageRows, site: SiteView) -> Told | None:
    if link.why != NO_ID or link.end_page is None:
        return None
    here = link.end_page == page.page
    then = "nothing happens" if here else "that page opens at its top"
    return {"href": link.href, "on": link.end_page, "then": then}


RULE = Rule(
    name="no-id",
    level=STUCK,
    title="Nothing has this ID",
    why="Nothing on “{on}” has the ID that {href} asks for, so {then}.",
    source=ends.FRAGMENTS,
    avoid="An ID that is removed, or a section that is rebuilt, leaves its hops behind. Rename and "
    "remove IDs where the hops to them are known.",
    recognise=_recognise,
    no_fix="Nothing on the site is like it. Choose where it should lead, on its page.",
)
