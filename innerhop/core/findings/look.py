"""All that is found on a page."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import replace

from innerhop.core.findings.found import Found, PageRows, SiteView, link_words
from innerhop.core.findings.table import BROKEN_HOPS, OTHERS
from innerhop.core.site.hops import BROKEN


def findings(page: PageRows, site: SiteView) -> list[Found]:
    """What the rules find on a page, in tree order. Two places that are known by the same
    words are told apart by their order."""
    found = [*_broken(page, site)]
    for rule in OTHERS:
        if rule.find is not None:
            found += rule.find(page, site)
    found.sort(key=lambda one: (one.number, one.rule))
    seen: Counter[tuple[str, str]] = Counter()
    told_apart = []
    for one in found:
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
