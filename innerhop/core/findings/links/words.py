"""Links whose words don't say where they lead."""

from __future__ import annotations

from collections.abc import Iterator

from innerhop.core.findings import traits
from innerhop.core.findings.found import (
    BETTER,
    LINKS,
    MISLED,
    TRAITS,
    Found,
    JudgedLink,
    PageRows,
    Rule,
    SiteView,
    Standard,
    link_words,
)
from innerhop.core.names.link_words import EMPTY, SameWords, trouble


def _read_out(page: PageRows) -> Iterator[JudgedLink]:
    """The links of the page's readers: to pages of the site, a heading's own left out."""
    return (one for one in page.links if one.key and not one.permalink)


def _vague(page: PageRows, site: SiteView) -> Iterator[Found]:
    told = {one.number for one in page.of_kind(traits.TOLD_AROUND)}
    for link in _read_out(page):
        said = trouble(link.text)
        if said and said != EMPTY and link.number not in told:
            yield VAGUE.at(link.number, link_words(link))


def _empty(page: PageRows, site: SiteView) -> Iterator[Found]:
    for link in _read_out(page):
        if trouble(link.text) == EMPTY:
            yield NO_WORDS.at(link.number, link.href, key=link.href)


_MOST_ENDS = 3


def _same(page: PageRows, site: SiteView) -> Iterator[Found]:
    # Numbers of notes are told apart by where they stand.
    links = [one for one in _read_out(page)
             if not trouble(one.text) and any(map(str.isalpha, one.text))]  # fmt: skip
    same = SameWords((one.text, (one.key, one.fragment or "")) for one in links)
    for link in links:
        # Letters of an index, kinds in a table, names in code lead to many places by design.
        if same.trouble(link.text) and same.count(link.text) <= _MOST_ENDS:
            yield SAME.at(link.number, link.text, href=link.href)


VAGUE = Rule(
    name="vague-words",
    level=MISLED,
    title="Words that don’t say where a link leads",
    why="Who hears the page, or skims its links, hears “here” and “more” without what is around.",
    source=Standard(
        "WCAG 2.2, 2.4.4 and F84", "https://www.w3.org/WAI/WCAG22/Techniques/failures/F84"
    ),
    avoid="Make a link of the words that name what it leads to: not “click here for the prices” "
    "but “the prices”.",
    find=_vague,
    reads=(LINKS, TRAITS),
    asks=(),
    about_link=True,
    no_fix="Which words say it, only you know. Reword it on its page.",
)

NO_WORDS = Rule(
    name="empty-link",
    level=MISLED,
    title="A link with nothing to read out",
    why="It holds no words, and its picture has no alternative text.",
    source=Standard("WCAG 2.2, F89", "https://www.w3.org/WAI/WCAG22/Techniques/failures/F89"),
    avoid="Give the picture in a link an alternative text that says where it leads.",
    find=_empty,
    reads=(LINKS,),
    asks=(),
    about_link=True,
    no_fix="What it should say, only you know. Put words into it on its page.",
)

SAME = Rule(
    name="same-words",
    on_asking=True,
    level=BETTER,
    title="The same words lead to different places",
    why="“{words}” leads to more than one place from this page. Nobody hears which is which.",
    source=Standard(
        "WCAG 2.2, 2.4.9 and F63", "https://www.w3.org/WAI/WCAG22/Techniques/failures/F63"
    ),
    avoid="Let the words tell the places apart: “Fees for boats”, “Fees for berths”.",
    find=_same,
    reads=(LINKS,),
    asks=(),
    about_link=True,
    no_fix="Which words tell them apart, only you know. Reword them on the page.",
)
