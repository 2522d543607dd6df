"""A hop to an ID that nothing has, with one that is very near, or on another page."""

from __future__ import annotations

from innerhop.core.findings import ends
from innerhop.core.findings.found import STUCK, JudgedLink, PageRows, Rule, SiteView, Told
from innerhop.core.site import guesses
from innerhop.core.site.hops import NO_ID


def _recognise(link: JudgedLink, page: PageRows, site: SiteView) -> Told | None:
    if link.why != NO_ID:
        return None
    for one in ends.likely(link, site):
        is_here = one.page == link.end_page
        if not one.mends_id and (is_here or link.region or guesses.is_telling(one.id)):
            return ends.end(one.page, one.id, site, href=link.href, slip=one.why)
    return None


RULE = Rule(
    name="near-id",
    level=STUCK,
    title="Nothing has this ID, one is very near",
    why="{href}: likely {to}. {slip}",
    source=ends.FRAGMENTS,
    avoid="Choose the end of a hop instead of typing it; and rename IDs where their hops follow.",
    recognise=_recognise,
    asks=("having", "ids", "path"),
    fix=ends.lead("Lead it to {to}", many="Lead each to the likeliest"),
)
