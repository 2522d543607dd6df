"""Links that open another tab."""

from __future__ import annotations

import re
from collections.abc import Iterator

from innerhop.core.findings.found import (
    BETTER,
    LINKS,
    MISLED,
    Fix,
    Found,
    JudgedLink,
    PageRows,
    Rule,
    SiteView,
    Standard,
    link_words,
)
from innerhop.core.findings.requests import OpenHere

# What says so in the languages that pages are written in (common practice; from memory).
_SAYS = re.compile(
    r"\b(new|another) (tab|window)|neue[mns]? (tab|fenster)|nouvel(le)? (onglet|fenêtre)|"
    r"nieuw (tabblad|venster)|nueva (pestaña|ventana)|nuova (scheda|finestra)|nova aba|"
    r"ny (flik|fane)|nowej karcie|tab newydd|[↗⧉🗗]",
    re.IGNORECASE,
)


def _is_within(link: JudgedLink, page: PageRows) -> bool:
    return link.key == page.key and link.fragment is not None


def _within(page: PageRows, site: SiteView) -> Iterator[Found]:
    for link in page.links:
        if link.new_tab and _is_within(link, page):
            yield WITHIN.at(link.number, link_words(link), key=link.href)


def _unsaid(page: PageRows, site: SiteView) -> Iterator[Found]:
    for link in page.links:
        if link.new_tab and not _is_within(link, page) and not _SAYS.search(link.text):
            yield UNSAID.at(link.number, link_words(link), key=link.href)


def _same_tab(found: Found) -> OpenHere:
    return OpenHere(found.number)


WITHIN = Rule(
    name="new-tab-within",
    level=MISLED,
    title="A jump within the page opens a new tab",
    why="The reader gets the same page again beside the first, and the way back is gone.",
    source=Standard("WCAG 2.2, G200", "https://www.w3.org/WAI/WCAG22/Techniques/general/G200"),
    avoid="A button or link that had another end before keeps its setting for tabs. Look at it "
    "when you change where it leads.",
    find=_within,
    reads=(LINKS,),
    asks=(),
    about_link=True,
    fix=Fix("Open it in the same tab", _same_tab, is_safe=True),
)

UNSAID = Rule(
    name="new-tab-unsaid",
    on_asking=True,
    level=BETTER,
    title="It opens a new tab and doesn’t say so",
    why="Who doesn’t see the screen, or comes back by the back button, is lost there.",
    source=Standard("WCAG 2.2, G201", "https://www.w3.org/WAI/WCAG22/Techniques/general/G201"),
    avoid="Open links in the same tab. Where a new one is needed, say so in the link’s words.",
    find=_unsaid,
    reads=(LINKS,),
    asks=(),
    about_link=True,
    fix=Fix("Open it in the same tab", _same_tab),
)
