"""All that is found on a page."""

from __future__ import annotations

from collections import Counter
from collections.abc import Container, Iterable, Iterator
from dataclasses import replace
from itertools import islice

from innerhop.core.findings.found import ENDS, Found, PageRows, Rule, SiteView, link_words
from innerhop.core.findings.table import BROKEN_HOPS, OTHERS
from innerhop.core.site.hops import BROKEN


def findings(page: PageRows, site: SiteView) -> list[Found]:
    """What the rules find on a page, in tree order. Two places that are known by the same
    words are told apart by their order."""
    return _told_apart([*_broken(page, site), *_others(page, site, OTHERS)])


def findings_of(rules: Iterable[Rule], page: PageRows, site: SiteView) -> list[Found]:
    """What some of the rules find by looking at a page as a whole. page: with the rows that
    these rules read."""
    return _told_apart([*_others(page, site, rules)])


def of_hops(page: PageRows, site: SiteView) -> list[Found]:
    """What is found of broken hops alone. page: with those links that are to be looked at."""
    return _told_apart([*_broken(page, site)])


def as_written(rows: Container[str]) -> list[Rule]:
    """The rules that read one of these rows of a page, and need not know where its links
    lead."""
    return [rule for rule in OTHERS
            if ENDS not in rule.reads and any(one in rows for one in rule.reads)]  # fmt: skip


def of_ends(page: PageRows, site: SiteView) -> list[Found]:
    """What all other rules find. page: of its links, those that are broken, those with a
    scheme or a directive in their address, and one of each kind of hop will do."""
    return _told_apart([*_broken(page, site), *_others(page, site, _OF_ENDS)])


_OF_ENDS = [rule for rule in OTHERS if ENDS in rule.reads]


def _others(page: PageRows, site: SiteView, rules: Iterable[Rule]) -> Iterator[Found]:
    for rule in rules:
        if rule.find is not None and (not rule.on_asking or rule.name in site.asked):
            yield from _at_most(rule.find(page, site))


# Of one rule on one page. Nobody goes through more of them one by one; when these are mended,
# the next are told.
MOST = 5_000


def _at_most(all_of_it: Iterable[Found]) -> Iterator[Found]:
    found = iter(all_of_it)
    yield from islice(found, MOST - 1)
    last = next(found, None)
    if last is not None:
        is_more = next(found, None) is not None
        yield replace(last, words=f"{last.words} and more") if is_more else last


def _told_apart(places: list[Found]) -> list[Found]:
    places.sort(key=lambda one: (one.number, one.rule))
    seen: Counter[tuple[str, str]] = Counter()
    told_apart = []
    for one in places:
        seen[one.rule, one.key] += 1
        nth = seen[one.rule, one.key]
        told_apart.append(replace(one, key=f"{one.key} {nth}") if nth > 1 else one)
    return told_apart


def _broken(page: PageRows, site: SiteView) -> Iterator[Found]:
    for link in page.links:
        if link.kind != BROKEN:
            continue
        for rule in BROKEN_HOPS:
            told = rule.recognise(link, page, site) if rule.recognise else None
            if told is not None:
                yield rule.at(link.number, link_words(link), key=f"{link.href} {link.text}", **told)
                break
