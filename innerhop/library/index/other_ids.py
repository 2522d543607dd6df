"""Findings of pages of which IDs came or went while all else of them stayed, and of the broken
hops to them: asked for anew are the rules that look at marks, and the hops that may have been
meant otherwise. A page may have thousands of others.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Sequence

from innerhop.core.facts.sections import Section as SectionRow
from innerhop.core.findings import look, other_ids
from innerhop.core.findings.found import MARKS, SECTIONS, JudgedLink
from innerhop.core.findings.table import BROKEN_HOPS
from innerhop.core.site import guesses
from innerhop.library.index import findings
from innerhop.library.index.store import Delta
from innerhop.library.index.texts import naming_of
from innerhop.library.models import Finding, Link, Mark, Page, Region, Section, Site

# Where rows of these alone are others, all rules but these have nothing new to say.
TOLD_OF_MARKS = frozenset({Mark, Section, Region})
OF_MARKS = look.as_written((MARKS, SECTIONS))
_FEW = 20  # pages
_OF_HOPS = [rule.name for rule in BROKEN_HOPS]


def fit(deltas: Sequence[Delta]) -> list[Delta]:
    """Those of these changes that can be told so; of a few, since each is asked about."""
    return [] if len(deltas) > _FEW else [one for one in deltas if _is_fit(one)]


def _is_fit(delta: Delta) -> bool:
    touched = {model for rows in (delta.gone, delta.made) for model, some in rows.items() if some}
    # With a base address, whether hops stay on the page depends on its own IDs too.
    is_so = delta.ids_alone and touched <= TOLD_OF_MARKS and delta.page.base_href is None
    if not is_so or not 0 < len(delta.values) <= other_ids.MOST:
        return False
    # With very many, what is a letter off is not looked for (`guesses`).
    marks = Mark.objects.filter(page=delta.page).count()
    return marks < guesses.MOST_IDS - other_ids.MOST


def renew_marks(site: Site, pages: Collection[int]) -> None:
    """What the rules say that look at marks, on pages, by primary key. Within a transaction."""
    rows = list(Page.objects.filter(pk__in=pages).order_by("pk"))
    for page in rows:
        page.site = site
    told = findings.found_on(site, rows, OF_MARKS)
    names = [rule.name for rule in OF_MARKS]
    findings.keep(site, told, Finding.objects.filter(page__in=told, rule__in=names))


def renew_hops(site: Site, deltas: Sequence[Delta], but: Collection[int]) -> None:
    """What is said of the broken hops to the pages of these changes, where it may be something
    else now. but: pages, by primary key, that are looked at as a whole. Within a transaction."""
    hops: dict[int, list[JudgedLink]] = defaultdict(list)
    for delta in deltas:
        for page, link in _concerned(site, delta):
            if page not in but:
                hops[page].append(link)
    if not hops:
        return
    told = findings.of_hops(site, list(Page.objects.filter(pk__in=hops.keys())), hops)
    numbers = {page: {link.number for link in links} for page, links in hops.items()}
    rows = Finding.objects.filter(page__in=numbers, rule__in=_OF_HOPS)
    own = [pk for pk, page, number in rows.values_list("pk", "page_id", "number")
           if number in numbers[page]]  # fmt: skip
    findings.keep(site, told, Finding.objects.filter(pk__in=own))


def _concerned(site: Site, delta: Delta) -> list[tuple[int, JudgedLink]]:
    """The broken hops to a page of which something else may be told, each with its page."""
    made = [SectionRow(*row) for row in delta.made.get(Section, ())]
    news = other_ids.OtherIds(delta.values, made, naming_of(delta.page))
    broken = Link.objects.broken().filter(site=site, key=delta.page.key)
    rows = broken.order_by("page", "number").values_list("page_id", *findings.OF_LINKS)
    links = [(page, JudgedLink(*row)) for page, *row in rows]
    return [(page, link) for page, link in links if news.may_concern(link)]
