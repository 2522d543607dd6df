"""A link to the old address of a page that has moved."""

from __future__ import annotations

from innerhop.core.findings import ends
from innerhop.core.findings.found import STUCK, JudgedLink, PageRows, Rule, SiteView, Standard, Told
from innerhop.core.site.hops import NO_PAGE


def _recognise(link: JudgedLink, page: PageRows, site: SiteView) -> Told | None:
    if link.why != NO_PAGE:
        return None
    to = site.moved(link.key)
    if to is None:
        return None
    asked = ends.asked_for(link)
    return ends.end(to, asked if asked in site.ids(to) else "", site, path=link.key)


RULE = Rule(
    name="moved-page",
    level=STUCK,
    title="The page has moved",
    why="{path} is the old address of {to}.",
    source=Standard(
        "RFC 9110, “301 Moved Permanently”",
        "https://www.rfc-editor.org/rfc/rfc9110.html#name-301-moved-permanently",
    ),
    avoid="Move a page where its hops follow. For readers who come by the old address, the list "
    "of moved pages tells your site’s system what to redirect.",
    recognise=_recognise,
    asks=("ids", "moved", "path"),
    fix=ends.lead("Write it as {to}", is_safe=True, many="Use the new addresses"),
)
