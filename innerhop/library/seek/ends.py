"""Finding where a hop could end: every section, mark and page of a site by its
words, ID or address, nearest first."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import TypeVar

from django.db.models import Q, QuerySet

from innerhop.library.index import shared_parts
from innerhop.library.models import Link, Mark, Page, Section, Site
from innerhop.library.seek.hops import Hop

MOST = 40
_MOST_ROWS = 400
_MOST_ELSEWHERE = 120
_CROWDED = 20  # other marks: from so many on, and more than sections, those would be hidden


@dataclass(frozen=True)
class FoundEnd:
    """One place: a section (marked or not), another mark, or a page as a whole.

    kind: "section", "mark" or "page". number: the element's, None for a page. what: of
    a mark that is no section's, what kind of part has it. is_shared: it stands in a part
    that pages share, a header or a footer.
    """

    kind: str
    page: Page
    title: str
    id: str
    number: int | None
    depth: int = 0
    what: str = ""
    is_shared: bool = False


def find(site: Site, asked: str, near: Page | None, with_pages: bool = False) -> list[FoundEnd]:
    """Places that match what was asked, best first. With nothing asked, the
    sections and other marks of the page that is near, in order: sections first where the
    others are many, marks of parts that pages share last."""
    asked = asked.strip().lstrip("#").replace("\x00", "")
    if not asked:
        return _all_of(near) if near else []
    found = [*_sections(site, asked, near), *_marks(site, asked, near)]
    if with_pages:
        found += _pages(site, asked)
    return sorted(found, key=_order(asked.casefold(), near))[:MOST]


_ALIKE = 5  # places that are called what somebody selected


def called(site: Site, words: str, near: Page | None) -> list[FoundEnd]:
    """The few places that are called what words say, or nearly: likely where those who
    selected the words mean to lead them."""
    plain = " ".join(words.split()).casefold()
    if not plain:
        return []
    found = find(site, plain, near, with_pages=True)
    return [one for one in found if _closeness(plain, one) <= _BEGINS][:_ALIKE]


def title_of(page: Page, id_: str) -> str:
    """What an end is called: its section's title, or what kind of part it is."""
    if not id_:
        return ""
    section = page.sections.filter(mark=id_).first()
    if section is not None:
        return section.title
    mark = Mark.objects.with_value(page.site_id, id_).filter(page=page).first()
    return mark.called if mark else ""


def titles_of(asked: Iterable[Hop]) -> dict[tuple[int, str], str]:
    """What the places that hops end at are called, by page and mark."""
    pages = {hop.page.pk for hop in asked if hop.page and hop.page.pk != hop.link.page_id}
    marks = Mark.objects.filter(page__in=pages).exclude(words="").order_by("-number")
    named = marks.values_list("page", "value", "words")
    titles = {(page, value): words for page, value, words in named}
    rows = Section.objects.filter(page__in=pages).exclude(mark="").order_by()
    return titles | {
        (page, mark): title for page, mark, title in rows.values_list("page", "mark", "title")
    }


def _all_of(page: Page) -> list[FoundEnd]:
    sections = list(page.sections.select_related("page")[:_MOST_ROWS])
    known = {section.mark for section in sections}
    marks = page.marks.select_related("page").exclude(words="")[:_MOST_ROWS]
    shared = shared_parts.of_page(page)
    others = [_mark(mark, shared) for mark in marks if mark.value not in known]
    is_crowded = len(others) > max(_CROWDED, len(sections))

    def place(end: FoundEnd) -> tuple[bool, bool, int]:
        # A mark that is no section's lies in the section above it.
        return end.is_shared, is_crowded and end.kind == "mark", end.number or 0

    return sorted([*map(_section, sections), *others], key=place)[:_MOST_ROWS]


def _mark(row: Mark, shared: Iterable[shared_parts.SharedPart] = ()) -> FoundEnd:
    is_shared = any(part.number <= row.number <= part.last for part in shared)
    return FoundEnd("mark", row.page, row.called, row.value, row.number, 0, row.what, is_shared)


def _section(row: Section) -> FoundEnd:
    return FoundEnd("section", row.page, row.title, row.mark, row.number, row.depth)


def _sections(site: Site, asked: str, near: Page | None) -> Iterable[FoundEnd]:
    rows = Section.objects.filter(site=site)
    marked = Mark.objects.with_value(site.pk, asked).values("page")[:_MOST_ELSEWHERE]
    exact = rows.filter(page__in=marked, mark=asked)
    match = Q(title__icontains=asked) | Q(mark__icontains=asked)
    return map(_section, _nearest(site, exact, rows.filter(match), near))


Row = TypeVar("Row", Section, Mark)


def _nearest(
    site: Site, exact: QuerySet[Row], match: QuerySet[Row], near: Page | None
) -> list[Row]:
    """Those of the page that is near, and a few of all others, those with just that ID before
    the rest: what is far down the list nobody sees, and a site may have a million."""
    found: dict[int, Row] = {}
    for rows in (exact, match):
        plain = rows.order_by().select_related("page")
        if near:
            found |= {row.pk: row for row in plain.filter(page=near)[:_MOST_ROWS]}
            plain = plain.exclude(page=near)
        if len(found) < _MOST_ELSEWHERE:
            found |= {row.pk: row for row in plain[:_MOST_ELSEWHERE]}
    for row in found.values():
        row.page.site = site
    return list(found.values())


def _marks(site: Site, asked: str, near: Page | None) -> Iterable[FoundEnd]:
    """Marks that are not a section's."""
    exact = Mark.objects.with_value(site.pk, asked)
    match = Q(value__icontains=asked) | Q(words__icontains=asked)
    rows = _nearest(site, exact, Mark.objects.filter(match, site=site), near)
    sections = Section.objects.filter(page__in={row.page_id for row in rows}).order_by()
    known = set(sections.filter(mark__in={row.value for row in rows}).values_list("page", "mark"))
    seen: set[tuple[int, str]] = set()
    for row in rows:
        key = (row.page_id, row.value)
        if key not in known and key not in seen:
            seen.add(key)
            yield _mark(row)


def _pages(site: Site, asked: str) -> Iterable[FoundEnd]:
    rows = site.pages.filter(Q(title__icontains=asked) | Q(path__icontains=asked))
    return (FoundEnd("page", row, row.title, "", None) for row in rows[:_MOST_ELSEWHERE])


Order = tuple[int, int, bool, str, int]


def _order(asked: str, near: Page | None) -> Callable[[FoundEnd], Order]:
    """This page first, then the pages it links to; in each, the closest match, and of what
    is as close sections before other marks."""
    linked: set[str] = set()
    if near is not None:
        links = Link.objects.on_site().filter(page=near).order_by()
        linked = set(links.values_list("key", flat=True).distinct())

    def order(end: FoundEnd) -> Order:
        distance = 2
        if near is not None and end.page.pk == near.pk:
            distance = 0
        elif end.page.key in linked:
            distance = 1
        closeness, is_mark = _closeness(asked, end), end.kind == "mark"
        return distance, closeness, is_mark, end.page.path, end.number or 0

    return order


_BEGINS = 1


def _closeness(asked: str, end: FoundEnd) -> int:
    words = [end.title.casefold(), end.id.casefold()]
    if asked in words:
        return 0
    if any(word.startswith(asked) for word in words):
        return _BEGINS
    return 2 if any(f" {asked}" in word or f"-{asked}" in word for word in words) else 3
