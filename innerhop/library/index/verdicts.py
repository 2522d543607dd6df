"""What becomes of the readers of each link, kept in its row: judged by the one rule of
`core.site.hops` whenever the link, or what it leads to, has changed."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from functools import cached_property
from typing import NamedTuple

from django.db.models import Count, F, OuterRef, Q, QuerySet, Subquery
from django.db.models.functions import Coalesce

from innerhop.core.addresses import text_directives
from innerhop.core.addresses.fragments import (
    Targets,
    encode,
    id_of,
    percent_decode,
    without_directive,
)
from innerhop.core.findings.found import Rule
from innerhop.core.findings.table import OF_MEANT_PAGES
from innerhop.core.site import hops
from innerhop.core.site.page_rows import LinkRow
from innerhop.library.index import findings, foresight, other_ids, store
from innerhop.library.index.foresight import Foreseen
from innerhop.library.index.rows import VERDICT, Row
from innerhop.library.index.store import Delta
from innerhop.library.index.texts import current
from innerhop.library.models import Finding, Link, Mark, Page, Site

_AT_ONCE = 20_000
_FEW = 20  # pages: of more, it is not asked one by one what they could have been meant for
_COLUMNS = dict(zip(VERDICT, ("text", "bigint", "bigint", "text", "boolean"), strict=True))


class StoredEnds:
    """What pages have for hops, asked of the index for all links of one batch at once."""

    def __init__(self, site: Site, links: Sequence[hops.HopRow]) -> None:
        self.site = site
        self.links = links
        keys = {link.key for link in links if link.key}
        rows = Page.objects.filter(site=site, key__in=keys).values_list("key", "pk")
        self._pages: dict[str, int] = dict(rows)
        self._words: dict[int, text_directives.PageWords] = {}

    def page(self, key: str) -> int | None:
        """The page of the site with that key."""
        return self._pages.get(key)

    @cached_property
    def _marks(self) -> tuple[dict[int, Targets[int]], dict[tuple[int, int], str]]:
        """What the fragments of these links find, and which of it is in shut parts."""
        asked: set[str] = set()
        pages: set[int] = set()
        for link in self.links:
            page = self._pages.get(link.key)
            if link.fragment is not None:
                plain = without_directive(link.fragment)
                asked |= {plain, percent_decode(plain)}
                pages |= {page} if page is not None else set()
            elif page is None and hops.could_lack_hash(link):
                asked.add(hops.missing_hash(link.key))
                pages.add(link.page_id)
        found: dict[int, list[tuple[str, str, int]]] = defaultdict(list)
        shut: dict[tuple[int, int], str] = {}
        marks = Mark.objects.with_values(self.site.pk, asked).filter(page__in=pages)
        rows = marks.order_by("page", "number")
        for pk, attribute, value, number, state in rows.values_list(
            "page_id", "attribute", "value", "number", "closed"
        ):
            found[pk].append((attribute, value, number))
            if state:
                shut[pk, number] = state
        return {pk: Targets.of(rows) for pk, rows in found.items()}, shut

    def targets(self, page: int) -> Targets[int]:
        """What the fragments of these links find on a page."""
        return self._marks[0].get(page) or Targets()

    def state(self, page: int, number: int) -> str:
        """Whether a mark stands in a shut part."""
        return self._marks[1].get((page, number), "")

    def words(self, page: int, fragment: str) -> int | None:
        """The element whose words a directive finds. Few hops are such, so their pages
        are read."""
        asked = text_directives.read(fragment)
        if asked is None:
            return None
        if page not in self._words:
            text = current(Page.objects.select_related("site").get(pk=page))
            self._words[page] = text_directives.words_of(text.source)
        return text_directives.find(self._words[page], asked)


def renew(site: Site, links: QuerySet[Link]) -> set[int]:
    """Judge these links, and keep what is new. Within a transaction. Returns the pages,
    by primary key, on which hops lead elsewhere than before, and those where they ended or
    end now."""
    rows = links.order_by("pk").values_list(*_Judged._fields)
    waiting: list[_Judged] = []
    touched: set[int] = set()
    for row in rows.iterator(_AT_ONCE):
        waiting.append(_Judged(*row))
        if len(waiting) == _AT_ONCE:
            touched |= _judge(site, waiting)
            waiting = []
    return touched | _judge(site, waiting)


class _Judged(NamedTuple):
    """A link as the rule needs it, with what was kept of it (`models.Link`). Whole models of
    a site's links would take several times as long to make."""

    pk: int
    page_id: int
    href: str
    region: str
    key: str
    fragment: str | None
    permalink: bool
    kind: str
    end_page_id: int | None
    end: int | None
    why: str
    opens: bool

    @classmethod
    def of_row(cls, page: Page, row: LinkRow) -> _Judged:
        """A link that is not written yet."""
        told = row.href, row.region, row.key, row.fragment, row.permalink
        return cls(0, page.pk, *told, *hops.NONE)


def _judge(site: Site, links: Sequence[_Judged]) -> set[int]:
    ends = StoredEnds(site, links)
    changed = []
    touched = set()
    for link in links:
        verdict = hops.judge(link, ends)
        kept = (link.kind, link.end_page_id, link.end, link.why, link.opens)
        if verdict != kept:
            changed.append((link.pk, *verdict))
            touched |= {link.page_id, link.end_page_id or 0, verdict.page or 0}
    store.set_values(Link, _COLUMNS, changed)
    return touched - {0}


def left_by(deltas: Sequence[Delta]) -> set[int]:
    """The pages, by primary key, at which links end that deltas are about to take away."""
    gone = [pk for delta in deltas for pk in delta.gone.get(Link, ())]
    rows = Link.objects.filter(pk__in=gone).exclude(end=None) if gone else Link.objects.none()
    return set(rows.values_list("end_page_id", flat=True))


def renew_after(
    site: Site,
    deltas: Sequence[Delta],
    left: Collection[int],
    told: Collection[int],
    foreseen: Mapping[int, Foreseen],
) -> None:
    """Judge what may lead elsewhere after these deltas were carried out: new links, and
    hops that look for marks which came or went; and renew the findings of all that it
    affects. left: what `left_by` gave. told: pages of which something else has changed.
    foreseen: what will be found on pages where nothing else comes to it. Within a
    transaction."""
    # Words that hops lead to, and what broken hops were likely meant for, may stand in a text
    # without being a row.
    asking = Q(key__in=[delta.page.key for delta in deltas])
    to_words = asking & Q(site=site, fragment__contains=":~:")
    told = {*told, *Link.objects.filter(to_words).values_list("page_id", flat=True)}
    pages = [delta.page for delta in deltas if not delta.is_empty]
    if not pages:
        changed = renew(site, Link.objects.filter(to_words))
        count_broken(changed)
        _look_anew(site, {*told, *changed, *_broken_on(site, asking)}, set(), foreseen)
        return
    touched = {delta.page.pk for delta in deltas if delta.made.get(Link)}
    values = {value for delta in deltas for value in delta.values}
    own = Q(page__in=touched, kind=hops.NO_HOP) & ~Q(key="")
    keys = [page.key for page in pages]
    to_them = Q(site=site, key__in=keys)
    coded = Q(fragment__contains="%")  # whatever is written in codes is looked at again
    asked = {*values, *map(encode, values)}
    if any(value.lower() == "top" for value in values):
        coded |= Q(fragment__iexact="top")
    affected = own | to_words | (to_them & (Q(fragment__in=asked) | coded))
    if values:
        affected |= Q(page__in=pages, fragment=None) & ~Q(href__contains="/") & ~Q(key="")
    changed = renew(site, Link.objects.filter(affected))
    own_keys = {page.pk for page in pages}
    count_broken(changed | own_keys)
    few = other_ids.fit(deltas)
    wholly = Q(key__in={delta.page.key for delta in deltas} - {delta.page.key for delta in few})
    starts = {*_broken_on(site, wholly | Q(fragment__in=asked)), *_asking_in_codes(site, values)}
    meant = _told_of(site, own_keys, OF_MEANT_PAGES) if values else ()
    anew = {*changed, *left, *told, *starts, *meant}
    of_marks = {delta.page.pk for delta in few} - anew - foreseen.keys()
    _look_anew(site, anew, own_keys - of_marks, foreseen)
    if of_marks:
        other_ids.renew_marks(site, of_marks)
    if few:
        other_ids.renew_hops(site, few, anew)


def _look_anew(
    site: Site, anew: Collection[int], own: Collection[int], foreseen: Mapping[int, Foreseen]
) -> None:
    """Renew the findings of pages, by primary key. own: those whose rows have changed.
    foreseen: what will be found on some of them; where only marks were looked at, nothing
    else may have come to it."""
    sure = {page: one for page, one in foreseen.items()
            if one.is_whole or (page in own and page not in anew)}  # fmt: skip
    left = foresight.renew(site, sure) if sure else ()
    findings.renew(site, {*({*anew, *own} - sure.keys()), *left})


def _told_of(site: Site, pages: Collection[int], rules: Iterable[Rule] = ()) -> set[int]:
    """The pages, by primary key, whose findings name some of these; of these rules, if any
    are named."""
    rows = Finding.objects.filter(site=site, told__page__in=list(pages))
    names = [rule.name for rule in rules]
    if names:
        rows = rows.filter(rule__in=names)
    starts = rows.values_list("page_id", flat=True).distinct().order_by()
    # In two, since each has an index of its own and both together none.
    return {*starts.filter(aside=None), *starts.exclude(aside=None)}


def _broken_on(site: Site, which: Q) -> Iterable[int]:
    """The pages, by primary key, on which these broken hops start."""
    rows = Link.objects.broken().filter(which, site=site)
    return rows.values_list("page_id", flat=True).distinct().order_by()


def _asking_in_codes(site: Site, values: Collection[str]) -> set[int]:
    """The pages, by primary key, with broken hops that ask for one of these values in codes."""
    if not values:
        return set()
    coded = Link.objects.broken().filter(site=site, fragment__contains="%")
    rows = coded.values_list("page_id", "fragment")
    return {page for page, fragment in rows if id_of(fragment) in values}


def insert_judged(site: Site, made: Sequence[tuple[Page, Row]]) -> set[int]:
    """Write new links of pages whose marks, and those of all pages they may lead to, are
    there already. Within a transaction. Returns the pages, by primary key, at which they
    end."""
    links = [_Judged.of_row(page, LinkRow._make(row)) for page, row in made]
    ends = StoredEnds(site, links)
    judged = [hops.judge(link, ends) for link in links]
    store.insert_links((page, row, one) for (page, row), one in zip(made, judged, strict=True))
    return {verdict.page for verdict in judged if verdict.page is not None}


def renew_all(
    site: Site,
    pages: Sequence[Page],
    keys: Iterable[str] = (),
    also: Collection[int] = (),
    *,
    are_judged: bool = False,
) -> None:
    """Judge all links of these pages, which are new or have another address, and all
    that lead to them or to other addresses of the site; and renew the findings of all that
    it affects. also: pages, by primary key, of which something else has changed. are_judged:
    whether the pages' own links were judged when they were written. Within a transaction."""
    wanted = {page.key for page in pages} | set(keys)
    own, to_them = Q(page__in=pages), Q(site=site, key__in=wanted)
    changed = renew(site, Link.objects.filter(to_them & ~own if are_judged else to_them | own))
    own_keys = {page.pk for page in pages}
    count_broken(changed | own_keys)
    findings.renew(site, {*changed, *own_keys, *_meaning(site, pages), *also})


_MANY_MARKS = 5_000  # to ask for each takes longer than to look at all broken hops


def _meaning(site: Site, pages: Sequence[Page]) -> set[int]:
    """The pages, by primary key, with broken hops that these pages may be meant for, now that
    they came or moved; and those whose findings name them."""
    broken = Link.objects.broken().filter(site=site)
    may_mean = Q(why=hops.NO_PAGE)
    told: set[int] = set()
    values: list[str] = []
    is_few = len(pages) <= _FEW
    if is_few:
        told = _told_of(site, [page.pk for page in pages])
        marks = Mark.objects.filter(page__in=pages).order_by()
        values = list(marks.values_list("value", flat=True).distinct()[: _MANY_MARKS + 1])
    if is_few and len(values) <= _MANY_MARKS:
        may_mean |= Q(fragment__in={*values, *map(encode, values)}) | Q(fragment__contains="%")
    else:
        may_mean |= Q(why=hops.NO_ID)
    starts = broken.filter(may_mean).values_list("page_id", flat=True)
    return {*starts.distinct().order_by(), *told}


def count_broken(pages: Collection[int]) -> None:
    """Keep how many hops of these pages, by primary key, are broken."""
    counted = Link.objects.broken().filter(page=OuterRef("pk")).order_by().values("page")
    now = Coalesce(Subquery(counted.annotate(n=Count("pk")).values("n")), 0)
    rows = Page.objects.filter(pk__in=pages).annotate(now=now).exclude(broken_count=F("now"))
    store.set_values(Page, {"broken_count": "bigint"}, list(rows.values_list("pk", "now")))
