"""A link to words that are no longer on the page."""

from __future__ import annotations

from collections.abc import Iterator

from innerhop.core.addresses.fragments import has_directive
from innerhop.core.findings.found import (
    ENDS,
    LINKS,
    MISLED,
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
from innerhop.core.site.hops import BROKEN, NO_WORDS

_SOURCE = Standard(
    "URL Fragment Text Directives", "https://wicg.github.io/scroll-to-text-fragment/"
)


def _recognise(link: JudgedLink, page: PageRows, site: SiteView) -> Told | None:
    if link.why != NO_WORDS or link.end_page is None:
        return None
    return {"on": link.end_page}


RULE = Rule(
    name="words-gone",
    level=STUCK,
    title="The words it leads to are gone",
    why="They are no longer on “{on}”, so the page opens at its top.",
    source=_SOURCE,
    avoid="A link to words holds as long as nobody changes a letter of them. Where the section "
    "can have an ID, lead to that.",
    recognise=_recognise,
    asks=(),
    no_fix="Which words were meant, only you know. Choose the end again, on its page.",
)


def _twice(page: PageRows, site: SiteView) -> Iterator[Found]:
    for link in page.links:
        if link.fragment is None or link.kind == BROKEN or link.end_page is None:
            continue
        if has_directive(link.fragment):
            times = site.times(link.end_page, link.fragment)
            if times > 1:
                yield RULE_OF_TWO.at(link.number, link_words(link), key=link.href, times=times,
                                     on=link.end_page)  # fmt: skip


RULE_OF_TWO = Rule(
    name="words-twice",
    level=MISLED,
    title="The words it leads to stand there more than once",
    why="They stand on “{on}” {times} times. Readers arrive at the first.",
    source=_SOURCE,
    avoid="Add the words before or behind them to the address, until they stand there once.",
    find=_twice,
    reads=(LINKS, ENDS),
    asks=("times",),
    about_link=True,
    no_fix="Choose its end again on its page: the words around are added as needed.",
)
