"""Findings of a change on many pages, looked for before it is written, while nobody waits.

Where no rows but those of marks will be others (and what sections and shared parts tell of
them), only the rules that read these have anything new to say. They ask little of the rest of
the site; what they were told is kept, and asked again once the change holds its pages: where the
answers are still the same, so is what was found.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass
from operator import attrgetter
from typing import Any

from django.db.models import Model

from innerhop.core.facts.sections import Section as SectionRow
from innerhop.core.findings import look
from innerhop.core.findings.found import MARKS, SECTIONS, Found
from innerhop.core.findings.traits import Trait as TraitRow
from innerhop.core.site.page_rows import MarkRow
from innerhop.library.index import findings
from innerhop.library.index.store import Delta
from innerhop.library.index.stored_site import StoredSite
from innerhop.library.models import Finding, Mark, Page, Region, Section, Site, Trait

FROM = 20  # pages in a change: with fewer, nobody waits long enough to notice
_TOLD_OF_MARKS = {Mark, Section, Region}
_RULES = look.reading((MARKS, SECTIONS))

Question = tuple[str, tuple[Any, ...]]  # of a site (`found.SiteView`)


@dataclass(frozen=True)
class Foreseen:
    """What the rules that read marks will find on a page. answers: of the site, to what they
    asked. landings: the page's, as they saw them."""

    found: Sequence[Found]
    answers: Mapping[Question, Any]
    landings: Mapping[str, tuple[str, str]]


def _asked(name: str) -> Callable[..., Any]:
    def ask(self: _AskedSite, *asked: Any) -> Any:
        answer = getattr(self.stored, name)(*asked)
        self.answers[name, asked] = answer
        return answer

    return ask


class _AskedSite:
    """A site for one page, all of whose answers are kept, but for that page's own IDs."""

    def __init__(self, stored: StoredSite, page: int, ids: Sequence[str]) -> None:
        self.stored, self.address, self.meant = stored, stored.address, stored.meant
        self.answers: dict[Question, Any] = {}
        self._page, self._own = page, ids

    naming, path, title, sections = map(_asked, ("naming", "path", "title", "sections"))
    having, with_class, moved, page = map(_asked, ("having", "with_class", "moved", "page"))
    near, times, arrivals, is_shared = map(_asked, ("near", "times", "arrivals", "is_shared"))
    _other_ids = _asked("ids")

    def ids(self, page: int) -> Sequence[str]:
        """The IDs of a page, in tree order; of its own those that it is to have."""
        if page == self._page:
            return self._own
        ids: Sequence[str] = self._other_ids(page)
        return ids


def foresee(deltas: Sequence[Delta]) -> dict[int, Foreseen]:
    """What will be found on the pages, by primary key, whose deltas touch marks alone."""
    fit = [one for one in deltas if _is_of_marks(one)]
    if not fit:
        return {}
    pages = [delta.page for delta in fit]
    marks, sections = _after(Mark, fit, MarkRow), _after(Section, fit, SectionRow)
    traits = findings.rows_of(Trait, pages, TraitRow)
    landings = findings.landings_of(pages)
    stored = StoredSite(pages[0].site, pages)
    found = {}
    for page in pages:
        ids = list(dict.fromkeys(mark.value for mark in marks[page.pk]))
        site = _AskedSite(stored, page.pk, ids)
        rows = findings.as_seen(
            page,
            marks=marks[page.pk],
            sections=sections[page.pk],
            traits=traits[page.pk],
            landings=landings[page.pk],
        )
        told = look.findings_of(_RULES, rows, site)
        found[page.pk] = Foreseen(told, site.answers, landings[page.pk])
    return found


def _is_of_marks(delta: Delta) -> bool:
    """Whether a page's rows of marks, and of what tells of them, are all that a delta
    touches. With a base address, links are judged by the page's own IDs too."""
    touched = {model for rows in (delta.gone, delta.made) for model, some in rows.items() if some}
    is_alone = bool(touched) and touched <= _TOLD_OF_MARKS and not delta.shifts
    return is_alone and delta.page.base_href is None


def _after(model: type[Model], deltas: Sequence[Delta], row: Any) -> dict[int, list[Any]]:
    """The rows that pages will have."""
    gone = [pk for delta in deltas for pk in delta.gone.get(model, ())]
    rows = findings.rows_of(model, [delta.page for delta in deltas], row, without=gone)
    for delta in deltas:
        made = delta.made.get(model, ())
        if made:
            rows[delta.page.pk] += (row(*one) for one in made)
            rows[delta.page.pk].sort(key=attrgetter("number"))
    return rows


def renew(site: Site, foreseen: Mapping[int, Foreseen]) -> Collection[int]:
    """Keep what was foreseen of pages, by primary key, where it is so. Returns the others:
    they have to be looked at anew. Within a transaction that holds them, once the index is
    as it will be."""
    pages = list(Page.objects.filter(pk__in=foreseen.keys()).order_by("pk"))
    for page in pages:
        page.site = site
    stored, landings = StoredSite(site, pages), findings.landings_of(pages)
    sure = {}
    for page in pages:
        one = foreseen[page.pk]
        if one.landings == landings[page.pk] and all(
            getattr(stored, name)(*asked) == answer for (name, asked), answer in one.answers.items()
        ):
            sure[page.pk] = one.found
    rows = Finding.objects.filter(page__in=sure, rule__in=[rule.name for rule in _RULES])
    findings.keep(site, sure, rows)
    return foreseen.keys() - sure.keys()
