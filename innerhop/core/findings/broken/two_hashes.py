"""A hash too many."""

from __future__ import annotations

from innerhop.core.findings import ends
from innerhop.core.findings.found import STUCK, JudgedLink, PageRows, Rule, SiteView, Told
from innerhop.core.site.hops import NO_ID


def _recognise(link: JudgedLink, page: PageRows, site: SiteView) -> Told | None:
    asked = ends.asked_for(link)
    if link.why != NO_ID or link.end_page is None or "#" not in asked:
        return None
    bare = asked.strip("#").strip()
    if bare not in site.ids(link.end_page):
        return None
    return ends.end(link.end_page, bare, site, href=link.href)


RULE = Rule(
    name="two-hashes",
    level=STUCK,
    title="Two hashes",
    why="{href} asks for an ID that begins with a hash itself, and nothing has one.",
    source=ends.FRAGMENTS,
    avoid="One hash stands in front of the ID. It often comes twice where a field puts one in "
    "front by itself and somebody types another.",
    recognise=_recognise,
    asks=("ids", "path"),
    fix=ends.lead("Leave one hash", is_safe=True),
)
