"""A link to a page that isn't there, with one whose address is very near."""

from __future__ import annotations

from innerhop.core.addresses import urls
from innerhop.core.findings import ends
from innerhop.core.findings.found import STUCK, JudgedLink, PageRows, Rule, SiteView, Told
from innerhop.core.names import ids
from innerhop.core.site import guesses
from innerhop.core.site.hops import NO_PAGE


def _recognise(link: JudgedLink, page: PageRows, site: SiteView) -> Told | None:
    if link.why != NO_PAGE or urls.climbs_out(link.href, page.path):
        return None
    if link.key.count("/") >= _DEEP and not site.has_folder(ends.first_folder(link.key)):
        return None  # it leads into another tree of files, whatever its last part is called
    asked = ends.asked_for(link)
    own = asked and not ids.is_a_systems(asked)
    near = [to for to in site.near(link.key) if to != page.page and guesses.may_mean(
        link.key, site.path(to), bool(own) and asked in site.ids(to))]  # fmt: skip
    if not near:
        return None
    path = ends.path_asked(link, page)
    for to in near:
        if not asked or asked in site.ids(to):
            return ends.end(to, asked, site, path=path)
    return ends.end(near[0], "", site, path=path)


_DEEP = 3  # folders

RULE = Rule(
    name="near-page",
    level=STUCK,
    title="The page isn’t there, one is very near",
    why="{path} was likely meant for {to}.",
    source=ends.PAGES,
    avoid="Choose the page a hop leads to instead of typing its address.",
    recognise=_recognise,
    asks=("has_folder", "ids", "near", "path"),
    fix=ends.lead("Lead it to {to}", many="Lead each to the likeliest"),
)
