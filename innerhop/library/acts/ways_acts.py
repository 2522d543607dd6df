"""Acts on ways back: put in, reworded, removed together."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from innerhop.core.contents import ways_back
from innerhop.core.contents.labels import said_in
from innerhop.core.contents.ways_back import WayBack
from innerhop.core.counting import counted
from innerhop.core.plan import Plan, join_plans
from innerhop.core.planners import markers
from innerhop.core.planners import ways_back as back_planner
from innerhop.core.planners.contents import CannotList
from innerhop.core.planners.ways_back import WayPlace
from innerhop.library.acts.base import Act
from innerhop.library.acts.ends import End, link_to
from innerhop.library.changes.prepare import PagePlan
from innerhop.library.index import shared_parts
from innerhop.library.index.texts import PageText, current
from innerhop.library.models import Page, Site

NONE = "none"


@dataclass(frozen=True)
class Ways:
    """Which ways back there are to be. where: "" to leave them as they are, NONE, or one
    of ways_back.SECTIONS, SCREENS, PLACES. words: "" for those of the site and language.
    to_list: whether they lead to the contents list, else to the top. places: for SCREENS
    and PLACES, behind which parts. instead: the ways back of the site's own, by number, that
    the editor was shown and has chosen to replace."""

    where: str = ""
    words: str = ""
    to_list: bool = False
    places: Sequence[int] = ()
    instead: Sequence[int] = ()


def replaced(text: PageText, instead: Sequence[int] = ()) -> list[WayBack]:
    """The ways back of a page that are ours to take out: made here, or chosen."""
    return [one for one in text.ways_back if one.is_made or one.number in instead]


def plans(
    page: Page, ways: Ways, list_id: str, headings: Sequence[int] | None = None
) -> list[PagePlan]:
    """The plans that give a page these ways back instead of those that were made here, or
    beside them behind chosen places. A section that ends with one of the site's own gets no
    second one. Raises CannotList."""
    if ways.where in (ways_back.SCREENS, ways_back.PLACES) and not ways.places:
        raise CannotList("The page is too short for that: there is no place for a way back.")
    for number in ways.places:
        refuse_shared(page, number)

    def plan(text: PageText) -> Plan:
        made = []
        if ways.where != ways_back.PLACES:
            made.append(back_planner.plan_out(text.source, replaced(text, ways.instead)))
        if ways.where != NONE:
            model = text.ways_back[0] if text.ways_back else None
            new = back_planner.NewWay(
                ways.words or words_of(page), way_href(text, ways, list_id), ways.where,
                {**_look(text, model), **({} if ways.words else language_of(page))},
                _classes(text, model),
            )  # fmt: skip
            for place in _places(text, ways, headings):
                made.append(back_planner.plan_put(text.source, place, new, text.revision.encoding))
        return join_plans(made)

    return [PagePlan(page, page.revision, plan)]


def said(text: PageText, ways: Ways, headings: Sequence[int] | None = None) -> str:
    """What becomes of a page's ways back, as part of what a larger act says; "" for nothing."""
    if ways.where == NONE:
        gone = len(replaced(text, ways.instead))
        return f"without its {counted(gone, 'way')} back" if gone else ""
    new = len(_places(text, ways, headings)) if ways.where else 0
    return f"with {counted(new, 'way')} back" if new else ""


def refuse_shared(page: Page, number: int) -> None:
    """Raise CannotList where other pages share the part: what is put there is of one."""
    pages = len(shared_parts.copies(page, number))
    if pages > 1:
        raise CannotList(
            f"This part is the same on {pages} pages, and what would stand there is this page’s "
            "own. Choose a part of the page’s own content."
        )


def _places(text: PageText, ways: Ways, headings: Sequence[int] | None) -> list[WayPlace]:
    """Where ways back go, but for places that can't be told for certain."""
    source = text.source
    return [one for one in _wanted(text, ways, headings) if back_planner.is_certain(source, one)]


def _wanted(text: PageText, ways: Ways, headings: Sequence[int] | None) -> list[WayPlace]:
    if ways.where != ways_back.SECTIONS:
        return [WayPlace(number, markers.AFTER) for number in ways.places]
    starts = list(headings) if headings is not None else usual_sections(text)
    levels = {one.number: one.level for one in text.possible}
    highest = min((levels.get(number, 9) for number in starts), default=0)
    every = [one.number for one in text.possible if one.level <= highest]
    ends = [*sorted({*starts, *every}), len(text.source)]
    out = replaced(text, ways.instead)
    kept = [one.number for one in text.ways_back if one not in out]
    lacking = [
        start
        for start in starts
        if not any(start < one < ends[ends.index(start) + 1] for one in kept)
    ]
    return back_planner.ends_of(text.source, lacking, every)


def usual_sections(text: PageText) -> list[int]:
    """The sections at whose ends ways back stand unless someone chooses others."""
    listed = {entry.to for one in text.lists for entry in one.entries if entry.depth == 0}
    levels = [one.level for one in text.possible if one.mark and one.mark in listed]
    highest = min(levels or (one.level for one in text.possible), default=0)
    return [one.number for one in text.possible if one.level == highest]


def way_href(text: PageText, ways: Ways, list_id: str) -> str:
    """How a way back is written: to the list, else to the real top of the page."""
    page = text.page
    if ways.to_list and list_id:
        return link_to(page, End(page, list_id), is_shared=False)
    return link_to(page, End(page, top_id(text)), is_shared=False)


def top_id(text: PageText) -> str:
    """The ID that leads to the page's real top, "" for `#top`, which does where nothing
    else on the page is called so."""
    ids_ = text.facts.ids()
    if ways_back.TOP not in ids_:
        return ""
    seen = [one.number for one in text.facts.links[:1]]
    seen += [one.number for one in text.facts.headings[:1]]
    first = min(seen, default=0)
    for mark in text.facts.marks:
        if mark.attribute == "id" and mark.number <= first:
            return mark.value
    raise CannotList(
        "Something below this page’s top has the ID “top”, so a link to the top would end there. "
        "Rename that mark first."
    )


_MOST_LANGUAGES = 12


def languages_of(site: Site) -> list[str]:
    """The languages that a site's pages are in, its own first."""
    used = site.pages.exclude(language="").values_list("language", flat=True).distinct()
    found = [one.lower().partition("-")[0] for one in (site.language, *used)]
    return list(dict.fromkeys(found))[:_MOST_LANGUAGES]


def words_of(page: Page) -> str:
    """What readers of a page click to get back to its top."""
    language = (page.language or page.site.language).lower()
    chosen = page.site.back_words.get(language.partition("-")[0], "")
    return str(chosen) or ways_back.words_in(language)


def language_of(page: Page) -> dict[str, str]:
    """The attribute that says so where those words are of another language than the page."""
    language = page.language or page.site.language
    if page.site.back_words.get(language.lower().partition("-")[0]):
        return {}
    return said_in(ways_back.language_of_words(language), language)


def _look(text: PageText, model: WayBack | None) -> dict[str, str]:
    if model is None:
        return {}
    has = text.source.attributes(model.number)
    return {name: has[name] for name in ("class", "style") if has.get(name)}


def _classes(text: PageText, model: WayBack | None) -> str:
    if model is None or model.whole == model.number:
        return ""
    return text.source.attr(model.whole, "class") or ""


def left_out(count: int) -> str:
    """What is said of places at which the markup leaves open what ends there."""
    return (
        f"{counted(count, 'place')} had to be left out: what stands there has no end in the markup."
    )


def put(page: Page, ways: Ways) -> Act:
    """Give a page ways back, instead of those that it has; or take them out. Raises
    CannotList."""
    text = current(page)
    list_id = next((one.id for one in text.lists if one.id), "")
    made = plans(page, ways, list_id)
    has = len(replaced(text, ways.instead))
    if ways.where == NONE:
        if not has:
            raise CannotList(_NONE_MADE)
        return Act(f"Removed {counted(has, 'way')} back", made)
    count = len(_places(text, ways, None))
    left = len(_wanted(text, ways, None)) - count
    notes = [left_out(left)] if left else []
    if not count:
        raise CannotList(left_out(left) if left else "There is no section that could end so, or "
                         "each has a way back already.")  # fmt: skip
    return Act(f"Put in {counted(count, 'way')} back", made, notes=notes)


_NONE_MADE = (
    "This page has no ways back that were made here. Those of the site’s own stay; choose them if "
    "they are to be replaced."
)


def reword(page: Page, words: str, to_list: bool, instead: Sequence[int] = ()) -> Act:
    """Give the ways back of a page these words, and this end: those made here, and those
    chosen. Raises CannotList."""
    text = current(page)
    list_id = next((one.id for one in text.lists if one.id), "")
    meant = replaced(text, instead)
    if not meant:
        raise CannotList(_NONE_MADE)

    def plan(text: PageText) -> Plan:
        href = way_href(text, Ways(to_list=to_list), list_id)
        own = words or words_of(page)
        return back_planner.plan_reworded(
            text.source, replaced(text, instead), own, href, text.revision.encoding
        )

    return Act(
        f"{counted(len(meant), 'way')} back "
        f"say{'s' if len(meant) == 1 else ''} “{words or words_of(page)}” now",
        [PagePlan(page, page.revision, plan)],
    )
