"""A hop that is right but for a space or a capital, which count in an ID."""

from __future__ import annotations

from innerhop.core.findings import ends
from innerhop.core.findings.found import STUCK, JudgedLink, PageRows, Rule, SiteView, Told
from innerhop.core.site import guesses
from innerhop.core.site.hops import NO_ID


def _recognise(link: JudgedLink, page: PageRows, site: SiteView) -> Told | None:
    if link.why != NO_ID:
        return None
    for one in ends.likely(link, site):
        if one.page == link.end_page and one.kind == guesses.SPELT and not one.mends_id:
            return ends.end(one.page, one.id, site, href=link.href, slip=one.why)
    return None


RULE = Rule(
    name="space-or-capital",
    level=STUCK,
    title="A space or a capital is off",
    why="{href} was likely meant for #{id}. {slip}",
    source=ends.FRAGMENTS,
    avoid="An ID is looked for letter by letter: capitals count, and a space is a character like "
    "any other. IDs in small letters, joined by hyphens, leave nothing to mistake.",
    recognise=_recognise,
    asks=("having", "ids", "path"),
    fix=ends.lead("Spell it as the ID", is_safe=True),
)


def _recognise_id(link: JudgedLink, page: PageRows, site: SiteView) -> Told | None:
    """The hop is right, and the ID has a space or a hash, which no ID may hold."""
    if link.why != NO_ID:
        return None
    for one in ends.likely(link, site):
        if one.page == link.end_page and one.mends_id:
            asked = ends.asked_for(link)
            return ends.end(one.page, asked, site, spelt=one.id, slip=one.why)
    return None


RULE_OF_ID = Rule(
    name="id-off",
    level=STUCK,
    title="The hop is right, the ID is not",
    why="The ID is spelt “{spelt}”. {slip}",
    source=ends.FRAGMENTS,
    avoid="An ID holds no spaces and no hash. Join its words by hyphens.",
    recognise=_recognise_id,
    asks=("having", "ids", "path"),
    no_fix="The ID is mended where it stands: see “An ID with a space in it” and “An ID written "
    "with its hash”.",
)
