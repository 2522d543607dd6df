"""Acts on what visitors get: a page's parts as they are to be, on one page or on all."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

from innerhop.core.contents import lists
from innerhop.core.contents.entries import Possible, usual
from innerhop.core.contents.labels import labels_in, said_in
from innerhop.core.contents.settings import Settings
from innerhop.core.counting import counted
from innerhop.core.names import ids
from innerhop.core.plan import Plan, join_plans
from innerhop.core.planners import marking, visitor_parts
from innerhop.core.planners.page_styles import CannotStyle
from innerhop.core.planners.visitor_parts import SCRIPT, STYLE, Parts
from innerhop.core.refusals import Refusal
from innerhop.library.acts import ways_acts
from innerhop.library.acts.base import Act
from innerhop.library.acts.ends import End, file_on, link_to
from innerhop.library.acts.page_acts import NothingLacks
from innerhop.library.acts.ways_acts import Ways
from innerhop.library.changes import effects
from innerhop.library.changes.prepare import PagePlan
from innerhop.library.index.texts import PageText, currents, naming_of
from innerhop.library.models import Page


def give(page: Page, parts: Parts, everywhere: bool = False) -> Act:
    """Give a page's visitors these parts and no others; everywhere: those of all pages of
    the site. Pages that can't have them are left out, and that is said. Raises
    CannotStyle, and NothingLacks where all is so already."""
    pages = list(page.site.pages.select_related("site")) if everywhere else [page]
    plans: list[PagePlan] = []
    left_out: list[str] = []
    for text in currents(pages):
        try:
            if not make(parts)(text).edits:
                continue
        except Refusal as problem:
            if not everywhere:
                raise
            left_out.append(f"“{text.page.title}” stays as it is: {problem.message}")
            continue
        plans.append(PagePlan(text.page, text.page.revision, make(parts)))
    if not plans:
        raise NothingLacks(left_out[0] if left_out else "All of it is so already.")
    where = f"on {counted(len(plans), 'page')}" if everywhere else f"on “{page.title}”"
    what = "Set what visitors get" if parts.needs_files else "Took out what visitors got"
    found = [effects.file(plans[0].page, path) for path in (STYLE, SCRIPT)]
    return Act(f"{what} {where}", plans, notes=left_out[:_SAID],
               effects=found if parts.needs_files else ())  # fmt: skip


_SAID = 5


def make(parts: Parts) -> Callable[[PageText], Plan]:
    """What gives a page its parts. Raises CannotStyle, and pieces.NotWhole."""

    def plan(text: PageText) -> Plan:
        source, encoding = text.source, text.revision.encoding
        if text.page.body_only:
            raise CannotStyle(
                "This is the body of a page only, so its head is the site’s own, and nothing "
                "can be put there from here."
            )
        page = text.page
        language = page.language or page.site.language
        called = labels_in(language)
        foreign = said_in(called.language, language)
        # Where readers are led on is this page's own, and not asked here.
        own = replace(parts, moved=visitor_parts.read(source).moved)
        listed = sections(text) if parts.points or parts.signs else []
        marks, named = _marks(text, listed)
        hrefs = {n: link_to(page, End(page, id_), is_shared=False) for n, id_ in named.items()}
        points = [(hrefs[one.number], one.title) for one in listed] if parts.points else []
        up = ways_acts.way_href(text, Ways(), "") if parts.up else ""
        signs = [one for one in text.possible if one.number in hrefs] if parts.signs else []
        plans = [
            visitor_parts.plan_files(source, own, encoding, file_on(page)),
            visitor_parts.plan_up(
                source, parts.up, ways_acts.words_of(page),
                {"href": up, **ways_acts.language_of(page)}, encoding,
            ),
            visitor_parts.plan_points(
                source, points, own=Settings(lists.POINTS, tuple(usual(text.possible))),
                called={"aria-label": called.sections, **foreign},
                language=language if foreign else "", encoding=encoding,
            ),
            visitor_parts.plan_signs(
                source, signs, hrefs, always=parts.always,
                called={"aria-label": called.sign, **foreign},
                encoding=encoding,
            ),
            marks,
        ]  # fmt: skip
        return join_plans(_needed(text, parts, plans))

    return plan


def _needed(text: PageText, parts: Parts, plans: Sequence[Plan]) -> list[Plan]:
    """What is there as it is to be stays untouched, so that doing it twice does nothing."""
    has = visitor_parts.read(text.source)
    files, up, points, signs, marks = plans
    found = [files, signs, marks]
    if has.up != parts.up:
        found.append(up)
    if has.points != parts.points or marks.edits:
        found.append(points)
    return found


def sections(text: PageText) -> list[Possible]:
    """The sections of a page that get points and signs: those that a list would hold."""
    kinds = usual(text.possible)
    return [one for one in text.possible if one.kind in kinds]


def _marks(text: PageText, listed: Sequence[Possible]) -> tuple[Plan, dict[int, str]]:
    """What marks the sections that have no ID yet, and the ID of each."""
    suggester = ids.Suggester(naming_of(text.page), text.marks.ids())
    named: dict[int, str] = {}
    new: list[tuple[int, str]] = []
    for one in listed:
        id_ = one.mark
        if not id_:
            id_ = suggester.suggest(one.title)
            new.append((one.number, id_))
        named[one.number] = id_
    if not new:
        return Plan(), named
    plan = marking.plan_marks(text.source, text.marks, new, text.revision.encoding)
    return plan, named
