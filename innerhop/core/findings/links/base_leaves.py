"""A bare hash on a page with a base address, from which it leaves the page."""

from __future__ import annotations

from collections.abc import Iterator

from innerhop.core.findings import ends
from innerhop.core.findings.found import (
    STUCK,
    Found,
    PageRows,
    Rule,
    SiteView,
    Standard,
    link_words,
)


def _find(page: PageRows, site: SiteView) -> Iterator[Found]:
    if page.base_href is None:
        return
    for link in page.links:
        if link.href.startswith("#") and len(link.href) > 1 and link.key != page.key:
            asked = ends.asked_for(link)
            if asked in site.ids(page.page):
                told = ends.end(page.page, asked, site, href=link.href, base=page.base_href)
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
    about_link=True,
    fix=ends.lead("Write it as {to}", is_safe=True, many="Put the page in front"),
)
