"""A link within the page that was written without its hash."""

from __future__ import annotations

from innerhop.core.findings import ends
from innerhop.core.findings.found import STUCK, JudgedLink, PageRows, Rule, SiteView, Told
from innerhop.core.site.hops import NO_HASH, missing_hash


def _recognise(link: JudgedLink, page: PageRows, site: SiteView) -> Told | None:
    if link.why != NO_HASH:
        return None
    return ends.end(page.page, missing_hash(link.key), site)


RULE = Rule(
    name="no-hash",
    level=STUCK,
    title="No hash in front",
    why="The browser takes {id} for a page. There is a part of that name right here.",
    source=ends.PAGES,
    avoid="A link to a part of the same page begins with a hash: #opening-times. Without it the "
    "browser looks for a page of that name, and finds none.",
    recognise=_recognise,
    asks=("path",),
    fix=ends.lead("Put the hash in front", is_safe=True),
)
