"""What is wrong on the site itself beside what is wrong here."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import NamedTuple

from django.db.models import QuerySet

from innerhop.core.findings.found import LEVELS, Rule
from innerhop.core.findings.table import RULES
from innerhop.library.models import Finding, FoundThere, Site

_SHOWN = 200  # places of a rule


class Beside(NamedTuple):
    """A rule with what it finds. there, here: how many places. mended: those that are mended
    here, and not there yet. new: those that are here alone."""

    rule: Rule
    there: int
    here: int
    mended: int
    new: int


_Key = tuple[int, str, str]  # a page, a rule, and what the place is known by


def _here(site: Site) -> set[_Key]:
    """What is found here of the pages that were seen there: set aside or not, since what was set
    aside there too is no mend."""
    rows = Finding.objects.filter(site=site, page__removed=None, page__seen__gone=False)
    found = rows.exclude(page__seen__content=b"").values_list("page", "rule", "key")
    return set(found)


def _there(site: Site) -> QuerySet[FoundThere]:
    return FoundThere.objects.filter(site=site, page__removed=None)


def by_rule(site: Site) -> list[Beside]:
    """What each rule finds, worst first. Notes, and what only a browser tells, are left out."""
    there = set(_there(site).values_list("page", "rule", "key"))
    here = {one for one in _here(site) if one[1] in RULES}
    both, alone, fresh = Counter[str](), Counter[str](), Counter[str]()
    at_site = Counter[str](rule for _, rule, _ in there)
    for one in there:
        (both if one in here else alone)[one[1]] += 1
    for one in here - there:
        fresh[one[1]] += 1
    found = [
        Beside(rule, at_site[name], both[name] + fresh[name], alone[name], fresh[name])
        for name, rule in RULES.items()
        if (at_site[name] or fresh[name]) and _is_compared(rule)
    ]
    return sorted(found, key=lambda one: (LEVELS.index(one.rule.level), -one.there))


def _is_compared(rule: Rule) -> bool:
    return rule.level in LEVELS[:-1] and not rule.needs_browser


def places(site: Site, rule: str, *, is_mended: bool) -> Sequence[FoundThere]:
    """Where a rule finds something there. is_mended: whether those are meant that are mended
    here."""
    rows = _there(site).filter(rule=rule).select_related("page")
    if not is_mended:
        return list(rows[:_SHOWN])
    here = _here(site)
    return [one for one in rows if (one.page_id, one.rule, one.key) not in here][:_SHOWN]
