"""Findings, kept as rows: renewed for the pages that a change can affect, and no others."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from functools import cached_property
from itertools import groupby
from operator import itemgetter
from typing import Any

from django.db import connection
from django.db.models import Model
from psycopg.types.json import Jsonb

from innerhop.core import landings
from innerhop.core.addresses import text_directives
from innerhop.core.facts.lengths import guessed_height
from innerhop.core.facts.sections import Section as SectionRow
from innerhop.core.findings import ends, look
from innerhop.core.findings.found import Found, JudgedLink, PageRows
from innerhop.core.findings.traits import Trait as TraitRow
from innerhop.core.findings.whole_site import classes_of
from innerhop.core.menus import item_rows
from innerhop.core.names.ids import Naming
from innerhop.core.site import guesses
from innerhop.core.site.hops import BROKEN, NO_ID
from innerhop.core.site.page_rows import MarkRow
from innerhop.core.widths import ALL, LAPTOP
from innerhop.library.index import shared_parts
from innerhop.library.index.rows import COLUMNS, Row, kept
from innerhop.library.index.texts import PageText, current, naming_of, paths_of
from innerhop.library.models import (
    Finding,
    Layout,
    Link,
    Mark,
    Menu,
    Move,
    Page,
    Revision,
    Section,
    SetAside,
    Site,
    Trait,
)

_AT_ONCE = 200  # pages whose rows are held
_MANY = 20  # words looked for: for fewer, the pages are read one by one
_LONGEST = 300
_WORDS = 200
_JUDGED = ("kind", "end_page_id", "end", "why", "opens")
_COMMON = [one.width for one in ALL]


class StoredSite:
    """A site as rules ask for it (`found.SiteView`), answered by the index; what was asked
    once is remembered, so it holds for one moment only."""

    def __init__(self, site: Site, pages: Iterable[Page]) -> None:
        self.site = site
        self.address = site.address
        self.meant: dict[tuple[int, str], list[guesses.Meant]] = {}
        self._pages = {page.pk: page for page in pages}
        self._ids: dict[int, list[str]] = {}
        self._sections: dict[int, list[SectionRow]] = {}
        self._having: dict[str, list[int]] = {}
        self._classes: dict[int, dict[str, int]] = {}
        self._texts: dict[int, PageText] = {}
        self._near: dict[str, list[int]] = {}
        self._at: dict[str, int | None] = {}
        self._arrivals: dict[int, set[int]] | None = None
        self._lacking: set[tuple[int, str]] = set()

    def at_hand(self, keys: Collection[int]) -> None:
        """Ask for what rules will want of some pages, by primary key, all at once."""
        lacking = set(keys) - self._ids.keys()
        if not lacking:
            return
        unknown = lacking - self._pages.keys()
        self._pages |= Page.objects.select_related("site").in_bulk(list(unknown))
        ids: dict[int, dict[str, None]] = {page: {} for page in lacking}
        marks = Mark.objects.filter(page__in=lacking).order_by("page", "number")
        for page, value in marks.values_list("page_id", "value"):
            ids[page][value] = None
        self._ids |= {page: list(values) for page, values in ids.items()}
        self._sections |= {page: [] for page in lacking}
        sections = Section.objects.filter(page__in=lacking).order_by("page", "number")
        for page, *row in sections.values_list("page_id", *COLUMNS[Section]):
            self._sections[page].append(SectionRow(*row))

    def at_hand_words(self, asked: Collection[tuple[int, str]]) -> None:
        """Ask of many words at once whether they stand in the texts of pages at all, where
        the database can tell: in letters that all encodings but UTF-16 write alike."""
        plain = [(page, word) for page, word in asked if word.isascii() and "\0" not in word]
        if len(plain) < _MANY:
            return
        pages, words = zip(*plain, strict=True)
        with connection.cursor() as cursor:
            cursor.execute(
                "select v.page, v.word from unnest(%s::bigint[], %s::text[]) as v(page, word) "
                f"join {Page._meta.db_table} p on p.id = v.page "
                f"join {Revision._meta.db_table} r on r.page_id = p.id and r.number = p.revision "
                "where position(convert_to(v.word, 'UTF8') in r.content) = 0 "
                "and r.codec not like 'utf-16%%'",
                [list(pages), list(words)],
            )
            self._lacking |= set(cursor.fetchall())

    def _page(self, page: int) -> Page:
        if page not in self._pages:
            self._pages[page] = Page.objects.select_related("site").get(pk=page)
        return self._pages[page]

    def naming(self, page: int) -> Naming:
        """How IDs on a page are named."""
        return naming_of(self._page(page))

    def path(self, page: int) -> str:
        """A page's path."""
        return self._page(page).path

    def title(self, page: int) -> str:
        """A page's title."""
        return self._page(page).title

    def ids(self, page: int) -> Sequence[str]:
        """The IDs of a page, in tree order."""
        if page not in self._ids:
            rows = Mark.objects.filter(page=page).order_by("number").values_list("value", flat=True)
            self._ids[page] = list(dict.fromkeys(rows))
        return self._ids[page]

    def sections(self, page: int) -> Sequence[SectionRow]:
        """The sections of a page."""
        if page not in self._sections:
            rows = Section.objects.filter(page=page).order_by("number")
            self._sections[page] = [SectionRow(*row) for row in rows.values_list(*COLUMNS[Section])]
        return self._sections[page]

    def having(self, id_: str) -> Sequence[int]:
        """The pages that have an ID, in the order of their paths."""
        if id_ not in self._having:
            rows = Mark.objects.with_value(self.site.pk, id_).filter(page__removed=None)
            pages = rows.order_by("page__path").values_list("page", flat=True)
            self._having[id_] = list(dict.fromkeys(pages))
        return self._having[id_]

    def with_class(self, page: int, word: str) -> int | None:
        """The first element of a page with a word among its classes. Few hops ask, so their
        pages are read."""
        if (page, word) in self._lacking:
            return None
        if page not in self._classes:
            if page not in self._texts:
                self._texts[page] = current(self._page(page))
            if word not in self._texts[page].text:  # which is told much faster
                return None
            self._classes[page] = classes_of(self._texts[page].source)
        return self._classes[page].get(word)

    @cached_property
    def _moves(self) -> dict[str, int]:
        rows = Move.objects.filter(site=self.site, page__removed=None, change__undone=None)
        return {
            self.site.key_of(old): page
            for old, page in rows.order_by("pk").values_list("old", "page")
        }

    def moved(self, key: str) -> int | None:
        """The page that had an address before."""
        return self._moves.get(key)

    def page(self, key: str) -> int | None:
        """The page with that key of an address."""
        if key not in self._at:
            rows = self.site.pages.filter(key=key)
            self._at[key] = rows.values_list("pk", flat=True).first()
        return self._at[key]

    @cached_property
    def _paths(self) -> guesses.Paths:
        return paths_of(self.site)

    def near(self, key: str) -> Sequence[int]:
        """Pages with an address that is very like one."""
        if key not in self._near:
            names = self._paths.near(key)
            pages = dict(self.site.pages.filter(key__in=names).values_list("key", "pk"))
            self._near[key] = [pages[name] for name in names if name in pages]
        return self._near[key]

    def times(self, page: int, fragment: str) -> int:
        """How often the words of a text directive stand on a page."""
        asked = text_directives.read(fragment)
        if asked is None:
            return 0
        words = text_directives.words_of(current(self._page(page)).source)
        return sum(1 for _ in words.found(asked))

    def arrivals(self, page: int) -> Collection[int]:
        """The elements of a page at which hops of the site end."""
        if self._arrivals is None:
            self._arrivals = defaultdict(set)
            keys = [one.key for one in self._pages.values()]
            rows = Link.objects.to_pages(self.site.pk, keys).exclude(end=None)
            for end_page, end in rows.values_list("end_page_id", "end").distinct().order_by():
                self._arrivals[end_page].add(end)
        return self._arrivals[page]

    def is_shared(self, page: int, number: int) -> bool:
        """Whether an element stands in a part that several pages have."""
        return len(shared_parts.copies(self._page(page), number)) > 1


def renew(site: Site, keys: Collection[int]) -> None:
    """Look for findings on pages, by primary key, anew. Within a transaction."""
    pages = Page.objects.filter(pk__in=set(keys)).select_related("site").order_by("pk")
    waiting: list[Page] = []
    for page in pages.iterator(_AT_ONCE):
        page.site = site
        waiting.append(page)
        if len(waiting) == _AT_ONCE:
            _renew(site, waiting)
            waiting = []
    if waiting:
        _renew(site, waiting)


def _renew(site: Site, pages: Sequence[Page]) -> None:
    asides = {(one.page_id, one.rule, one.key): one.pk for one in site.set_aside.all()}
    wanted = found_on(site, pages)
    there: dict[int, list[tuple[int, Row]]] = defaultdict(list)
    rows = Finding.objects.filter(page__in=pages).order_by()
    names = ("number", "rule", "cause", "words", "key", "told", "aside_id")
    for pk, page, *row in rows.values_list("pk", "page_id", *names):
        there[page].append((pk, tuple(row)))
    gone: list[int] = []
    made: list[tuple[int, Row]] = []
    for page in pages:
        left: dict[Row, list[Row]] = defaultdict(list)
        for one in wanted[page.pk]:
            row = _row(page.pk, one, asides)
            left[_hashable(row)].append(row)
        for pk, row in there[page.pk]:
            same = left[_hashable(row)]
            if same:
                same.pop()
            else:
                gone.append(pk)
        made += ((page.pk, row) for same in left.values() for row in same)
    if gone:
        Finding.objects.filter(pk__in=gone).delete()
    if made:
        _insert(site, made)


def out_of_date(site: Site) -> list[tuple[Page, str]]:
    """The pages whose findings are not what a fresh look gives, each with the rules."""
    pages = list(site.pages.select_related("site"))
    wrong = []
    wanted = found_on(site, pages)
    there: dict[int, list[Row]] = defaultdict(list)
    rows = Finding.objects.filter(site=site)
    names = ("page_id", "number", "rule", "cause", "words", "key", "told")
    for pk, *row in rows.values_list(*names):
        there[pk].append(tuple(row))
    for page in pages:
        fresh = [_row(page.pk, one, {})[:6] for one in wanted[page.pk]]
        off = [row for row in fresh if row not in there[page.pk]]
        off += [row for row in there[page.pk] if row not in fresh]
        if off:
            wrong.append((page, ", ".join(sorted({str(row[1]) for row in off}))))
    return wrong


def _hashable(row: Row) -> Row:
    number, rule, cause, words, key, told, *aside = row
    return number, rule, cause, words, key, json.dumps(told, sort_keys=True), *aside


def _row(page: int, found: Found, asides: Mapping[tuple[int | None, str, str], int]) -> Row:
    key = kept(found.key)[:_LONGEST]
    aside = asides.get((page, found.rule, key)) or asides.get((None, found.rule, ""))
    told = {name: kept(one) if isinstance(one, str) else one for name, one in found.told.items()}
    cause, words = kept(found.cause)[:_LONGEST], kept(found.words)[:_WORDS]
    return found.number, found.rule, cause, words, key, told, aside


def _insert(site: Site, made: Sequence[tuple[int, Row]]) -> None:
    names = "page_id, site_id, number, rule, cause, words, key, told, aside_id"
    with connection.cursor() as cursor:
        statement = f"copy {Finding._meta.db_table} ({names}) from stdin"
        with cursor.copy(statement) as copy:  # psycopg's own
            for page, (number, rule, cause, words, key, told, aside) in made:
                row = (page, site.pk, number, rule, cause, words, key, Jsonb(told), aside)
                copy.write_row(row)


def found_on(site: Site, pages: Sequence[Page]) -> dict[int, list[Found]]:
    """What the rules find on pages as the index has them, by primary key."""
    stored = StoredSite(site, pages)
    marks = _rows(Mark, pages, MarkRow)
    links = _rows(Link, pages, JudgedLink, more=_JUDGED)
    sections = _rows(Section, pages, SectionRow)
    traits = _rows(Trait, pages, TraitRow)
    menus = defaultdict(list)
    for page, number, items in Menu.objects.filter(page__in=pages).values_list(
        "page_id", "number", "items"
    ):
        told = item_rows.from_text(items)
        menus[page].append([(number + one.number, one.label) for one in told])
    off = _off(pages)
    broken = {
        link.end_page
        for some in links.values()
        for link in some
        if link.kind == BROKEN and link.end_page is not None
    }
    stored.at_hand(broken)
    stored.at_hand_words({
        (link.end_page, asked)
        for some in links.values()
        for link in some
        if link.why == NO_ID and link.end_page is not None and (asked := ends.asked_for(link))
    })  # fmt: skip
    return {
        page.pk: look.findings(
            PageRows(
                page=page.pk,
                path=page.path,
                key=page.key,
                title=page.title,
                # Around a body alone stands a frame, which says the language of all.
                language=page.language or (page.site.language if page.body_only else ""),
                base_href=page.base_href,
                lists=page.lists,
                ways_back=page.ways_back,
                screens=guessed_height(page.words) / LAPTOP.view,
                marks=marks[page.pk],
                links=links[page.pk],
                sections=sections[page.pk],
                traits=traits[page.pk],
                menus=menus[page.pk],
                landings=off[page.pk],
            ),
            stored,
        )
        for page in pages
    }


def _rows(
    model: type[Model], pages: Sequence[Page], row: Any, more: Sequence[str] = ()
) -> dict[int, list[Any]]:
    wanted = model._default_manager.filter(page__in=pages).order_by("page", "number")
    rows = wanted.values_list("page_id", *COLUMNS[model], *more)
    # There may be hundreds of thousands, of plain values: what Django looks for in each
    # takes as long as all else.
    with connection.cursor() as cursor:
        cursor.execute(*rows.query.sql_with_params())
        told = cursor.fetchall()
    found: dict[int, list[Any]] = defaultdict(list)
    for page, some in groupby(told, itemgetter(0)):
        found[page] = [row(*values[1:]) for values in some]
    return found


def _off(pages: Sequence[Page]) -> dict[int, dict[str, tuple[str, str]]]:
    """The landings of each page that aren't clear, the worst of the common widths."""
    found: dict[int, dict[str, tuple[str, str]]] = defaultdict(dict)
    order = landings.VERDICTS.index
    rows = Layout.objects.filter(page__in=pages, width__in=_COMMON).order_by("width")
    for page, off in rows.values_list("page_id", "off"):
        for id_, (verdict, says) in off.items():
            known = found[page].get(id_)
            if known is None or order(verdict) < order(known[0]):
                found[page][id_] = (verdict, says)
    return found


def set_aside_again(site: Site, rule: str) -> None:
    """Renew which findings of a rule are set aside, after an editor's word. Within a
    transaction."""
    Finding.objects.filter(site=site, rule=rule).update(aside=None)
    for one in SetAside.objects.filter(site=site, rule=rule).order_by("pk"):
        rows = Finding.objects.filter(site=site, rule=rule)
        if one.page_id is not None:
            rows = rows.filter(page=one.page_id, key=one.key)
        rows.filter(aside=None).update(aside=one)
