"""A link to a page that isn't there."""

from __future__ import annotations

from innerhop.core.addresses import urls
from innerhop.core.findings import ends
from innerhop.core.findings.found import STUCK, JudgedLink, PageRows, Rule, SiteView, Told
from innerhop.core.site.hops import NO_PAGE


def _recognise(link: JudgedLink, page: PageRows, site: SiteView) -> Told | None:
    if link.why != NO_PAGE:
        return None
    if urls.climbs_out(link.href, page.path):
        return {"path": link.key, "missing": ABOVE, "what": ABOVE}
    path = ends.path_asked(link, page)
    folder = ends.first_folder(link.key)
    if folder and not site.has_folder(folder):
        return {"path": path, "missing": folder, "what": f"The folder {folder}"}
    return {"path": path, "missing": link.key, "what": path}


ABOVE = "What is above the site’s own folder"


RULE = Rule(
    name="no-page",
    level=STUCK,
    title="{what} isn’t there",
    kind="A page isn’t there",
    why="No page of this site has the address {path}, and none is like it.",
    source=ends.PAGES,
    avoid="Take links to a page away before the page goes, or let its address lead on.",
    recognise=_recognise,
    asks=("has_folder",),
    cause="missing",
    no_fix="No page is like it. Choose where it should lead, on its page, or bring the page in.",
)
