"""Contents lists and ways back, and where they are lacking."""

from __future__ import annotations

from bisect import bisect_right
from collections import defaultdict
from collections.abc import Iterator

from innerhop.core.contents import ways_back
from innerhop.core.contents.lists import FEWEST
from innerhop.core.facts import lengths
from innerhop.core.findings import traits
from innerhop.core.findings.found import (
    BETTER,
    ENDS,
    LINKS,
    MISLED,
    PRACTICE,
    SECTIONS,
    TRAITS,
    Fix,
    Found,
    PageRows,
    Rule,
    SiteView,
    Standard,
)
from innerhop.core.findings.requests import PutWaysBack, UpdateList, UsualList
from innerhop.core.site.hops import BACK, HERE

# From this length on (common practice, no source).
_SCREENS_WITHOUT_BACK = 4
_SCREENS_WITHOUT_LIST = 4


def _off(page: PageRows, site: SiteView) -> Iterator[Found]:
    for trait in page.of_kind(traits.LIST_OFF):
        yield OFF.at(trait.number, trait.told, key=page.path, what=trait.told)


def _elsewhere(page: PageRows, site: SiteView) -> Iterator[Found]:
    for trait in page.of_kind(traits.ELSEWHERE):
        yield ELSEWHERE.at(trait.number, trait.told, title=trait.told)


def _has_hops_above(page: PageRows) -> bool:
    """Whether some hops that stand together lead down to sections, or are in the frame, and so
    make a list, whatever its shape; or the page is one of links to others."""
    marks = {one.mark: one.number for one in page.sections if one.mark}
    starts = [one.number for one in page.sections]
    led: dict[int, set[str]] = defaultdict(set)
    for link in page.links:
        to = marks.get(link.fragment or "") if link.key == page.key else None
        if to is not None and (link.region or link.number < to):
            place = -1 if link.region else bisect_right(starts, link.number)
            led[place].add(link.fragment or "")
    is_led = any(len(some) >= (_FEW_HOPS if place < 1 else FEWEST) for place, some in led.items())
    return is_led or len(page.links) > _OF_AN_INDEX * page.screens


_FEW_HOPS = 2  # above all sections, or in the frame
_OF_AN_INDEX = 40  # links a screen


def _no_list(page: PageRows, site: SiteView) -> Iterator[Found]:
    is_long = page.screens >= _SCREENS_WITHOUT_LIST
    if page.lists or not is_long or not lengths.needs_list(page.screens, len(page.sections)):
        return
    if not _has_hops_above(page):  # asked last: it goes through all links
        yield NO_LIST.at(0, f"{page.screens:.0f} screens, {len(page.sections)} sections",
                         key=page.path)  # fmt: skip


def _no_way_back(page: PageRows, site: SiteView) -> Iterator[Found]:
    kinds = {link.kind for link in page.links}
    is_long = page.screens >= _SCREENS_WITHOUT_BACK
    if is_long and HERE in kinds and BACK not in kinds and not page.ways_back:
        yield NO_WAY_BACK.at(
            0, f"{page.screens:.0f} screens", key=page.path, to_list=page.lists > 0
        )


def _this_list(found: Found) -> UpdateList:
    return UpdateList(found.number)


def _behind_sections(found: Found) -> PutWaysBack:
    return PutWaysBack(ways_back.SECTIONS, found.told["to_list"])


OFF = Rule(
    name="list-off",
    level=MISLED,
    title="The contents list no longer matches",
    why="{what}",
    source=PRACTICE,
    avoid="A list made here knows its page, and says so when they part.",
    find=_off,
    reads=(TRAITS,),
    asks=(),
    fix=Fix("Bring it up to date", _this_list),
)

ELSEWHERE = Rule(
    name="entry-elsewhere",
    level=MISLED,
    title="A list entry leads elsewhere than its words",
    why="It says “{title}” and leads to another section.",
    source=Standard(
        "WCAG 2.2, 2.4.4 “Link Purpose (In Context)”",
        "https://www.w3.org/TR/WCAG22/#link-purpose-in-context",
    ),
    avoid="An entry copied from the one above keeps its end.",
    find=_elsewhere,
    reads=(TRAITS,),
    asks=(),
    about_link=True,
    fix=Fix("Bring it up to date", _this_list),
)

NO_LIST = Rule(
    name="no-list",
    level=BETTER,
    title="A long page without a contents list",
    why="Readers scroll on and on to find what they came for.",
    source=Standard("WCAG 2.2, G64", "https://www.w3.org/WAI/WCAG22/Techniques/general/G64"),
    avoid="From four screens and four sections on, a list at the top pays.",
    find=_no_list,
    reads=(LINKS, SECTIONS),
    asks=(),
    fix=Fix("Put a list of its main sections", lambda _: UsualList()),
    desk="list",
)

NO_WAY_BACK = Rule(
    name="no-way-back",
    on_asking=True,
    level=BETTER,
    title="No way back on a long page",
    why="Who jumped down has to scroll all the way up again.",
    source=PRACTICE,
    avoid="From four screens on, put a link back to the list or the top behind each section.",
    find=_no_way_back,
    reads=(LINKS, ENDS),
    asks=(),
    fix=Fix("Put ways back behind its sections", _behind_sections),
)
