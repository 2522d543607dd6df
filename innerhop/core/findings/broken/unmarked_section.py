"""A hop to an ID that nobody has given yet, though the section it was meant for is there."""

from __future__ import annotations

from innerhop.core.findings import ends
from innerhop.core.findings.found import (
    STUCK,
    Fix,
    Found,
    JudgedLink,
    PageRows,
    Rule,
    SiteView,
    Told,
)
from innerhop.core.findings.requests import GiveId
from innerhop.core.site.hops import NO_ID


def _recognise(link: JudgedLink, page: PageRows, site: SiteView) -> Told | None:
    if link.why != NO_ID or link.end_page is None:
        return None
    asked = ends.asked_for(link)
    for one, _ in site.titles(link.end_page).like(link.fragment or "", link.text):
        if one.id:
            return ends.end(link.end_page, one.id, site, title=one.title, marks=None)
        return ends.end(link.end_page, asked, site, title=one.title, marks=one.number)
    return None


def _request(found: Found) -> GiveId | None:
    number = found.told["marks"]
    return None if number is None else GiveId(number, found.told["id"])


def _unmarked(link: JudgedLink, page: PageRows, site: SiteView) -> Told | None:
    told = _recognise(link, page, site)
    return told if told and told["marks"] is not None else None


def _renamed(link: JudgedLink, page: PageRows, site: SiteView) -> Told | None:
    told = _recognise(link, page, site)
    return told if told and told["marks"] is None else None


RULE = Rule(
    name="unmarked-section",
    level=STUCK,
    title="The section is there and has no ID",
    why="“{title}” was meant. With the ID {id} the hop arrives.",
    source=ends.FRAGMENTS,
    avoid="Give the section its ID first, then make the link: the tool does both in one step.",
    recognise=_unmarked,
    asks=("path", "titles"),
    fix=Fix("Give it the ID", _request, on="page"),
)

RULE_OF_WORDS = Rule(
    name="words-of-a-heading",
    level=STUCK,
    title="The link’s words are a heading’s",
    why="Nothing has the ID that it asks for; the heading “{title}” has the words of the link.",
    source=ends.FRAGMENTS,
    avoid="Rename an ID where all hops to it follow.",
    recognise=_renamed,
    asks=("path", "titles"),
    fix=ends.lead("Lead it to {to}", many="Lead each to its heading"),
)
