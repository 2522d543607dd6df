"""Findings, kept as rows: renewed for the pages that a change can affect, and no others."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from functools import partial
from itertools import groupby
from operator import itemgetter
from typing import Any

from django.db import connection, transaction
from django.db.models import QuerySet
from psycopg.types.json import Jsonb

from innerhop.core import landings
from innerhop.core.facts.lengths import guessed_height
from innerhop.core.facts.sections import Section as SectionRow
from innerhop.core.findings import ends, look
from innerhop.core.findings.found import Found, JudgedLink, PageRows, Rule
from innerhop.core.findings.traits import Trait as TraitRow
from innerhop.core.site.hops import BROKEN, NO_ID
from innerhop.core.site.page_rows import MarkRow
from innerhop.core.widths import ALL, LAPTOP
from innerhop.library.index.rows import COLUMNS, VERDICT, MenuRow, Row, kept
from innerhop.library.index.stored_site import StoredSite
from innerhop.library.models import (
    Finding,
    Layout,
    Link,
    Mark,
    Menu,
    Page,
    Section,
    SetAside,
    Site,
    Trait,
)

_AT_ONCE = 200  # pages whose rows are held
_LONGEST = 300
_WORDS = 200
_COMMON = [one.width for one in ALL]
OF_LINKS = (*COLUMNS[Link], *VERDICT)  # the columns of a `JudgedLink`


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
    found = found_on(site, pages)
    keep(site, found, Finding.objects.filter(page__in=pages))


def renew_rule(site: Site, rule: Rule) -> Iterator[int]:
    """Look for what one rule finds on all pages of a site, some at a time; yields how many
    are done. Each part is written for itself, so that it can be gone on with."""
    keys = list(site.pages.order_by("pk").values_list("pk", flat=True))
    for at in range(0, len(keys), _AT_ONCE):
        yield at
        with transaction.atomic():
            rows = site.pages.filter(pk__in=keys[at : at + _AT_ONCE]).order_by("pk")
            pages = list(rows.select_for_update(no_key=True))
            for page in pages:
                page.site = site
            found = found_on(site, pages, [rule])
            keep(site, found, Finding.objects.filter(page__in=pages, rule=rule.name))
    yield len(keys)


def keep(site: Site, by_page: Mapping[int, Sequence[Found]], rows: QuerySet[Finding]) -> None:
    """Make these rows say what was found on pages, by primary key. Within a transaction."""
    asides = {(one.page_id, one.rule, one.key): one.pk for one in site.set_aside.all()}
    there: dict[int, list[tuple[int, Row]]] = defaultdict(list)
    names = ("number", "rule", "cause", "words", "key", "told", "aside_id")
    for pk, page, *row in rows.order_by().values_list("pk", "page_id", *names):
        there[page].append((pk, tuple(row)))
    gone: list[int] = []
    made: list[tuple[int, Row]] = []
    for page, wanted in by_page.items():
        left: dict[Row, list[Row]] = defaultdict(list)
        for one in wanted:
            row = _row(page, one, asides)
            left[_hashable(row)].append(row)
        for pk, row in there[page]:
            same = left[_hashable(row)]
            if same:
                same.pop()
            else:
                gone.append(pk)
        made += ((page, row) for same in left.values() for row in same)
    if gone:
        Finding.objects.filter(pk__in=gone).delete()
    if made:
        _insert(site, made)


def out_of_date(site: Site) -> Iterator[tuple[Page, str]]:
    """The pages whose findings are not what a fresh look gives, each with the rules."""
    keys = list(site.pages.order_by("pk").values_list("pk", flat=True))
    for at in range(0, len(keys), _AT_ONCE):
        pages = site.pages.filter(pk__in=keys[at : at + _AT_ONCE]).select_related("site")
        yield from _out_of_date(site, list(pages))


def _out_of_date(site: Site, pages: Sequence[Page]) -> Iterator[tuple[Page, str]]:
    wanted = found_on(site, pages)
    there: dict[int, list[Row]] = defaultdict(list)
    rows = Finding.objects.filter(page__in=pages)
    names = ("page_id", "number", "rule", "cause", "words", "key", "told")
    for pk, *row in rows.values_list(*names):
        there[pk].append(tuple(row))
    for page in pages:
        fresh = [_row(page.pk, one, {})[:6] for one in wanted[page.pk]]
        off = [row for row in fresh if row not in there[page.pk]]
        off += [row for row in there[page.pk] if row not in fresh]
        if off:
            yield page, ", ".join(sorted({str(row[1]) for row in off}))


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


def found_on(
    site: Site, pages: Sequence[Page], rules: Sequence[Rule] | None = None
) -> dict[int, list[Found]]:
    """What the rules find on pages as the index has them, by primary key. rules: only these,
    which look at pages as a whole."""
    stored = StoredSite(site, pages)
    marks = rows_of(Mark.objects.all(), pages, MarkRow)
    links = rows_of(Link.objects.all(), pages, JudgedLink, more=VERDICT)
    sections = rows_of(Section.objects.all(), pages, SectionRow)
    traits = rows_of(Trait.objects.all(), pages, TraitRow)
    menus = rows_of(Menu.objects.all(), pages, MenuRow)
    off = landings_of(pages)
    if rules is None:  # rules of whole pages do not ask what broken hops meant
        _at_hand(stored, links)
    return {
        page.pk: (partial(look.findings_of, rules) if rules is not None else look.findings)(
            as_seen(
                page,
                marks=marks[page.pk],
                links=links[page.pk],
                sections=sections[page.pk],
                traits=traits[page.pk],
                menus=[one.labels for one in menus[page.pk]],
                landings=off[page.pk],
            ),
            stored,
        )
        for page in pages
    }


def of_hops(
    site: Site, pages: Sequence[Page], links: Mapping[int, Sequence[JudgedLink]]
) -> dict[int, list[Found]]:
    """What is found of some broken hops of pages, by primary key; all of those that say the
    same on a page, since these are told apart by their order."""
    stored = StoredSite(site, pages)
    _at_hand(stored, links)
    return {page.pk: look.of_hops(as_seen(page, links=links[page.pk]), stored) for page in pages}


def of_ends(stored: StoredSite, pages: Sequence[Page]) -> dict[int, list[Found]]:
    """The same for the rules that ask where links lead."""
    links = rows_of(Link.objects.that_ends_tell_of(pages), pages, JudgedLink, more=VERDICT)
    _at_hand(stored, links)
    return {page.pk: look.of_ends(as_seen(page, links=links[page.pk]), stored) for page in pages}


def _at_hand(stored: StoredSite, links: Mapping[int, Sequence[JudgedLink]]) -> None:
    """Ask at once for what rules will want to know for broken hops."""
    broken = [link for some in links.values() for link in some if link.kind == BROKEN]
    stored.at_hand({link.end_page for link in broken if link.end_page is not None})
    to_no_id = [link for link in broken if link.why == NO_ID and link.end_page is not None]
    asked = {(link.end_page, ends.asked_for(link)) for link in to_no_id}
    stored.at_hand_having({id_ for _, id_ in asked})
    stored.at_hand_words({(page, id_) for page, id_ in asked if id_ and page is not None})


def as_seen(page: Page, **rows: Any) -> PageRows:
    """A page as rules see it, with the rows that are given."""
    return PageRows(
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
        **rows,
    )


def rows_of(
    kept: QuerySet[Any], pages: Sequence[Page], row: Any, more: Sequence[str] = ()
) -> dict[int, list[Any]]:
    """Those rows that are of these pages, by primary key, in tree order. row: what makes one
    of its columns and of `more` of them."""
    found: dict[int, list[Any]] = defaultdict(list)
    if not pages:
        return found
    wanted = kept.filter(page__in=pages).order_by("page", "number")
    rows = wanted.values_list("page_id", *COLUMNS[kept.model], *more)
    # There may be hundreds of thousands, of plain values: what Django looks for in each
    # takes as long as all else.
    with connection.cursor() as cursor:
        cursor.execute(*rows.query.sql_with_params())
        told = cursor.fetchall()
    for page, some in groupby(told, itemgetter(0)):
        found[page] = [row(*values[1:]) for values in some]
    return found


def landings_of(pages: Iterable[Page]) -> dict[int, dict[str, tuple[str, str]]]:
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
