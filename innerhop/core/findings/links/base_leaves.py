"""A bare hash on a page with a base address, from which it leaves the page."""

from __future__ import annotations

from collections.abc import Iterator

from innerhop.core.findings import ends
from innerhop.core.findings.found import (
    ENDS,
    LINKS,
    STUCK,
    Found,
    JudgedLink,
    PageRows,
    Rule,
    SiteView,
    Standard,
    Told,
    link_words,
)
from innerhop.core.site.hops import BROKEN


def _recognise(link: JudgedLink, page: PageRows, site: SiteView) -> Told | None:
    if page.base_href is None or link.key == page.key or not link.href.startswith("#"):
        return None
    asked = ends.asked_for(link)
    if not asked or asked not in site.ids(page.page):
        return None
    return ends.end(page.page, asked, site, href=link.href, base=page.base_href)


def _find(page: PageRows, site: SiteView) -> Iterator[Found]:
    """Those that arrive somewhere all the same; the others are broken hops of this kind."""
    for link in page.links if page.base_href is not None else ():
        told = _recognise(link, page, site) if link.kind != BROKEN else None
        if told is not None:
            yield RULE.at(link.number, link_words(link), key=link.href, **told)


RULE = Rule(
    name="base-leaves",
    level=STUCK,
    title="A bare hash leaves the page",
    why="This page has the base address {base}, from which {href} is read, so it opens that page.",
    source=Standard(
        "HTML Standard, “document base URL”",
        "https://html.spec.whatwg.org/multipage/urls-and-fetching.html#document-base-url",
    ),
    avoid="On a page with a base element, write the page’s own address in front of the hash.",
    find=_find,
    reads=(LINKS, ENDS),
    recognise=_recognise,
    asks=("ids", "path"),
    about_link=True,
    fix=ends.lead("Write it as {to}", is_safe=True, many="Put the page in front"),
)
