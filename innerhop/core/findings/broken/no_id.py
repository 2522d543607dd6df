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
    asked = ends.asked_for(link)[:_LONGEST]
    return {
        "href": link.href, "on": link.end_page, "then": then, "id": asked,
        "asked": f"{site.path(link.end_page)}#{asked}",
    }  # fmt: skip


_LONGEST = 200  # characters of an ID that is told


RULE = Rule(
    name="no-id",
    level=STUCK,
    title="Nothing on “{on}” has the ID {id}",
    kind="Nothing has this ID",
    why="Readers who follow {href} don’t arrive: {then}.",
    source=ends.FRAGMENTS,
    avoid="An ID that is removed, or a section that is rebuilt, leaves its hops behind. Rename and "
    "remove IDs where the hops to them are known.",
    recognise=_recognise,
    asks=("path",),
    cause="asked",  # each missing ID is a question of its own
    no_fix="Nothing on the site is like it. Choose where it should lead, on its page.",
)
