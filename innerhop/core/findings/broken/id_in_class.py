"""The hop's ID was typed into the field for the class."""

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
from innerhop.core.findings.requests import FromClass
from innerhop.core.site.hops import NO_ID


def _recognise(link: JudgedLink, page: PageRows, site: SiteView) -> Told | None:
    asked = ends.asked_for(link)
    if link.why != NO_ID or link.end_page is None or not asked or " " in asked:
        return None
    number = site.with_class(link.end_page, asked)
    if number is None:
        return None
    return ends.end(link.end_page, asked, site, element=number)


def _request(found: Found) -> FromClass:
    return FromClass(found.told["element"], found.told["id"])


RULE = Rule(
    name="id-in-class",
    level=STUCK,
    title="The ID stands in the class",
    why="Nothing has the ID {id}, but a part has it as its class, where browsers don’t look.",
    source=ends.FRAGMENTS,
    avoid="Many editors have a field for the ID and one for the class beside it. A hop looks in "
    "the first alone.",
    recognise=_recognise,
    asks=("path", "with_class"),
    fix=Fix("Make it the ID", _request, on="page"),
)
