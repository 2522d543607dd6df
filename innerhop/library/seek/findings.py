"""The findings of a site by what is one thing to mend, with how many there are."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from django.db.models import Count, Min, QuerySet

from innerhop.core.findings.found import LEVELS, NOTE, Rule
from innerhop.core.findings.table import RULES
from innerhop.library.models import Finding, Page, Site
from innerhop.library.seek.page_names import called

NOTES = [name for name, rule in RULES.items() if rule.level == NOTE]
_ORDER = {name: at for at, name in enumerate(RULES)}


@dataclass(frozen=True)
class FindingGroup:
    """Findings of one rule with one cause. count: how many, on how many pages. first: one of
    them, whose words stand for all."""

    rule: Rule
    cause: str
    count: int
    pages: int
    first: Finding
    title: str
    why: str
    fix: str


def counted(site: Site) -> int:
    """How many findings there are, those for information and those set aside left out."""
    return open_on(site).exclude(rule__in=NOTES).count()


def open_on(site: Site) -> QuerySet[Finding]:
    """The findings of a site that nobody has set aside."""
    return Finding.objects.filter(site=site, aside=None)


def by_page(pages: Iterable[Page]) -> dict[int, int]:
    """How many findings each page has, as `counted` counts."""
    rows = Finding.objects.filter(page__in=pages, aside=None).exclude(rule__in=NOTES)
    return dict(rows.order_by().values_list("page").annotate(n=Count("pk")))


def by_level(rows: QuerySet[Finding]) -> dict[str, int]:
    """How many there are of each level."""
    found = dict.fromkeys(LEVELS, 0)
    for rule, count in rows.order_by().values_list("rule").annotate(n=Count("pk")):
        if rule in RULES:
            found[RULES[rule].level] += count
    return found


@dataclass(frozen=True)
class Groups:
    """Groups in order, worst first: `shown`, of `total`."""

    total: int
    shown: Sequence[FindingGroup]


def place_of(rows: QuerySet[Finding], levels: Sequence[str], finding: Finding) -> int:
    """Which group in order, from 0, a finding is in; 0 for one of another level."""
    found = [(rule, cause) for rule, cause, *_ in _counts(rows, levels)]
    return (
        found.index((finding.rule, finding.cause)) if (finding.rule, finding.cause) in found else 0
    )


def groups(rows: QuerySet[Finding], levels: Sequence[str], first: int, most: int) -> Groups:
    """The groups of findings of some levels, `most` of them from `first` on."""
    counts = _counts(rows, levels)
    part = counts[first : first + most]
    samples = Finding.objects.select_related("page__site").in_bulk([row[4] for row in part])
    titles = titles_of(samples.values())
    shown = [
        _group(RULES[rule], cause, (count, pages), samples[one], titles)
        for rule, cause, count, pages, one in part
    ]
    return Groups(len(counts), shown)


def _counts(rows: QuerySet[Finding], levels: Sequence[str]) -> list[tuple[str, str, int, int, int]]:
    """Rule, cause, how many, on how many pages, and one of them: worst first, then most."""
    names = [name for name, rule in RULES.items() if rule.level in levels]
    grouped = rows.filter(rule__in=names).order_by().values_list("rule", "cause")
    pages = Count("page", distinct=True)
    counts = list(grouped.annotate(n=Count("pk"), pages=pages, one=Min("pk")))
    level = {name: LEVELS.index(rule.level) for name, rule in RULES.items()}
    return sorted(counts, key=lambda row: (level[row[0]], -row[2], _ORDER[row[0]], row[1]))


def _group(
    rule: Rule, cause: str, counts: tuple[int, int], finding: Finding, titles: Mapping[int, str]
) -> FindingGroup:
    return FindingGroup(
        rule, cause, *counts, finding, said(rule.title, finding, titles),
        said(rule.why, finding, titles), fix_of(rule, finding, titles),
    )  # fmt: skip


def said(template: str, finding: Finding, titles: Mapping[int, str]) -> str:
    """A sentence of a finding's rule about it."""
    return RULES[finding.rule].says(
        template, finding.found, lambda page: titles.get(page, "a page")
    )


def fix_of(rule: Rule, finding: Finding, titles: Mapping[int, str]) -> str:
    """What the fix of a finding would do; "" where it has none."""
    if rule.fix is None or rule.fix.request(finding.found) is None:
        return ""
    return said(rule.fix.label, finding, titles)


def titles_of(rows: Iterable[Finding]) -> dict[int, str]:
    """What the pages that findings name are called."""
    keys = {one.told["on"] for one in rows if "on" in one.told}
    return called(Page.objects.filter(pk__in=keys))
