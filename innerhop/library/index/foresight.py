"""Findings of a change on many pages, looked for before it is written, while nobody waits.

What rules say that read what is written on a page is known before: its rows are made already.
They ask a little of the rest of the site; what they were told is kept, and asked again once
the change holds its pages: where the answers are still the same, so is what was found. Rules
that need to know where links lead are run then, on the few links that they may speak of.

Where no rows but those of marks will be others (and what sections and shared parts tell of
them), all other rules have nothing new to say.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass
from itertools import starmap
from operator import attrgetter
from typing import Any, NamedTuple, cast

from django.db.models import Model

from innerhop.core.facts.sections import Section as SectionRow
from innerhop.core.findings import look
from innerhop.core.findings.found import (
    LINKS,
    MARKS,
    MENUS,
    SECTIONS,
    TRAITS,
    Found,
    JudgedLink,
    SiteView,
)
from innerhop.core.findings.traits import Trait as TraitRow
from innerhop.core.site import guesses, hops
from innerhop.core.site.page_rows import MarkRow
from innerhop.library.index import findings
from innerhop.library.index.other_ids import OF_MARKS, TOLD_OF_MARKS
from innerhop.library.index.rows import MenuRow, Rows
from innerhop.library.index.store import Delta
from innerhop.library.index.stored_site import StoredSite
from innerhop.library.models import Finding, Link, Mark, Menu, Page, Section, Site, Trait

FROM = 20  # pages in a change: with fewer, nobody waits long enough to notice
MOST = 50_000  # findings that are held until they can be kept
_AS_WRITTEN = look.as_written((MARKS, LINKS, SECTIONS, TRAITS, MENUS))

# A question of a site (`found.SiteView`), with what it is asked about.
Inquiry = tuple[str, tuple[Any, ...]]


class Subject(NamedTuple):
    """A page as it will be, with what becomes of its rows. rows: all that it will have; none
    where only the delta is known."""

    page: Page
    delta: Delta
    rows: Rows


@dataclass(frozen=True)
class Foreseen:
    """What rules will find on a page. answers: of the site, to what they asked. landings: the
    page's, as they saw them. is_whole: whether all rules were run that read what is written,
    and not only those that read marks."""

    found: Sequence[Found]
    answers: Mapping[Inquiry, Any]
    landings: Mapping[str, tuple[str, str]]
    is_whole: bool


def _asked(name: str) -> Callable[..., Any]:
    def ask(self: _AskedSite, *asked: Any) -> Any:
        answer = getattr(self.stored, name)(*asked)
        self.answers[name, asked] = answer
        return answer

    return ask


class _AskedSite:
    """A site for one page, all of whose answers are kept, but for that page's own IDs."""

    def __init__(self, stored: StoredSite, page: int, ids: Sequence[str]) -> None:
        self.stored, self.address, self.asked = stored, stored.address, stored.asked
        self.answers: dict[Inquiry, Any] = {}
        self.meant = guesses.Meanings(self.ids, self.having)
        self._page, self._own = page, ids

    naming, path, title, sections = map(_asked, ("naming", "path", "title", "sections"))
    having, with_class, moved, page = map(_asked, ("having", "with_class", "moved", "page"))
    near, times, arrivals, is_shared = map(_asked, ("near", "times", "arrivals", "is_shared"))
    has_folder = _asked("has_folder")
    _other_ids = _asked("ids")

    def ids(self, page: int) -> Sequence[str]:
        """The IDs of a page, in tree order; of its own those that it is to have."""
        if page == self._page:
            return self._own
        ids: Sequence[str] = self._other_ids(page)
        return ids


def foresee(subjects: Sequence[Subject]) -> dict[int, Foreseen]:
    """What will be found on pages, by primary key; for as many as can be told."""
    # With a base address, whether hops stay on the page depends on its own IDs too.
    fit = [one for one in subjects if one.page.base_href is None]
    whole = [one for one in fit if not _is_of_marks(one)]
    marks = [one for one in fit if _is_of_marks(one)]
    return _foreseen(whole, is_whole=True) | _foreseen(marks, is_whole=False)


def _is_of_marks(subject: Subject) -> bool:
    """Whether a page's rows of marks, and of what tells of them, are all that changes."""
    delta = subject.delta
    touched = {model for rows in (delta.gone, delta.made) for model, some in rows.items() if some}
    return not subject.rows and touched <= TOLD_OF_MARKS


def _foreseen(subjects: Sequence[Subject], *, is_whole: bool) -> dict[int, Foreseen]:
    if not subjects:
        return {}
    pages = [one.page for one in subjects]
    stored, landings = StoredSite(pages[0].site, pages), findings.landings_of(pages)
    marks, sections = _after(Mark, subjects, MarkRow), _after(Section, subjects, SectionRow)
    traits = _after(Trait, subjects, TraitRow)
    links = _after(Link, subjects, _unjudged)
    menus = _after(Menu, subjects, MenuRow) if is_whole else {}
    found = {}
    for page in pages:
        key = page.pk
        ids = list(dict.fromkeys(mark.value for mark in marks[key]))
        site = _AskedSite(stored, key, ids)
        rows = findings.as_seen(
            page,
            marks=marks[key],
            sections=sections[key],
            traits=traits[key],
            links=links.get(key, ()),
            menus=[one.labels for one in menus.get(key, ())],
            landings=landings[key],
        )
        told = look.findings_of(_AS_WRITTEN if is_whole else OF_MARKS, rows, cast(SiteView, site))
        found[key] = Foreseen(told, site.answers, landings[key], is_whole)
    return found


def _unjudged(*row: Any) -> JudgedLink:
    return JudgedLink._make((*row, *hops.NONE))


def _after(model: type[Model], subjects: Sequence[Subject], row: Any) -> dict[int, list[Any]]:
    """The rows that pages will have, in tree order."""
    known = {page.pk: list(starmap(row, rows[model])) for page, _, rows in subjects if rows}
    deltas = [one.delta for one in subjects if not one.rows]
    gone = [pk for delta in deltas for pk in delta.gone.get(model, ())]
    left = model._default_manager.exclude(pk__in=gone)
    found = findings.rows_of(left, [delta.page for delta in deltas], row) if deltas else {}
    for delta in deltas:
        made = delta.made.get(model, ())
        if made:
            found[delta.page.pk] += starmap(row, made)
            found[delta.page.pk].sort(key=attrgetter("number"))
    return defaultdict(list, known | found)


def renew(site: Site, foreseen: Mapping[int, Foreseen]) -> Collection[int]:
    """Keep what was foreseen of pages, by primary key, where it is so. Returns the others:
    they have to be looked at anew. Within a transaction that holds them, once the index is
    as it will be."""
    pages = list(Page.objects.filter(pk__in=foreseen.keys()).order_by("pk"))
    for page in pages:
        page.site = site
    stored, landings = StoredSite(site, pages), findings.landings_of(pages)
    sure = [page for page in pages
            if _is_so(foreseen[page.pk], stored, landings[page.pk])]  # fmt: skip
    whole = [page for page in sure if foreseen[page.pk].is_whole]
    ends = findings.of_ends(stored, whole)
    told = {page.pk: [*foreseen[page.pk].found, *ends[page.pk]] for page in whole}
    findings.keep(site, told, Finding.objects.filter(page__in=told))
    marks = {page.pk: foreseen[page.pk].found for page in sure if page.pk not in told}
    names = [rule.name for rule in OF_MARKS]
    findings.keep(site, marks, Finding.objects.filter(page__in=marks, rule__in=names))
    return foreseen.keys() - told.keys() - marks.keys()


def _is_so(foreseen: Foreseen, stored: StoredSite, landings: Mapping[str, tuple[str, str]]) -> bool:
    return foreseen.landings == landings and all(
        getattr(stored, name)(*asked) == answer
        for (name, asked), answer in foreseen.answers.items()
    )
