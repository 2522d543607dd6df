"""A bare hash in a part that many pages share: it is looked for on the page that the reader
is on."""

from __future__ import annotations

from innerhop.core.findings import ends
from innerhop.core.findings.found import STUCK, JudgedLink, PageRows, Rule, SiteView, Told
from innerhop.core.site.hops import NO_ID


def _recognise(link: JudgedLink, page: PageRows, site: SiteView) -> Told | None:
    if link.why != NO_ID or not link.region or not link.href.startswith("#"):
        return None
    asked = ends.asked_for(link)
    others = site.having(asked)
    if not others:
        return None
    more = f" and {len(others) - 1} more" if len(others) > 1 else " only"
    return ends.end(others[0], asked, site, href=link.href, on=others[0], more=more)


RULE = Rule(
    name="menu-hash",
    level=STUCK,
    title="{href} in the menu works on {on}{more}",
    kind="A bare hash in the menu works on some pages only",
    why="A bare hash is looked for on the page that the reader is on. Elsewhere nothing happens.",
    source=ends.FRAGMENTS,
    avoid="In a header, menu or footer that several pages share, write the page’s address in "
    "front of the hash: /opening/#times. Then it works from every page.",
    recognise=_recognise,
    asks=("having", "path"),
    cause="href",
    fix=ends.lead("Write it as {to}", is_safe=True),
)
