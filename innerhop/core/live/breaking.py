"""What led somewhere on the site at one look and nowhere at the next, and why (practice)."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator, Mapping, Set
from functools import cached_property
from typing import NamedTuple

from innerhop.core.addresses.fragments import id_of
from innerhop.core.facts.words import words
from innerhop.core.findings.found import Found, JudgedLink
from innerhop.core.findings.table import RULES
from innerhop.core.findings.whole_site import WholeSite
from innerhop.core.live.ids import IdsThere
from innerhop.core.merge.matching import Match, matched
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.tree import Source


class BreakCause(NamedTuple):
    """Why a hop broke. why: in a sentence. todo: what to do about it on the site. enter: what to
    type there, "" for nothing."""

    why: str
    todo: str = ""
    enter: str = ""


class Before(NamedTuple):
    """What was there at the look before. page: the text of a page, by its key in the site, None
    where it wasn't seen. broken: whether a hop led nowhere already, by page and key."""

    page: Callable[[str], Source | None]
    is_broken: Callable[[str, Found], bool]


def broken_hops(
    site: WholeSite, page: int, findings: Iterable[Found]
) -> Iterator[tuple[Found, JudgedLink]]:
    """The hops of a page that lead nowhere, each with what is found of it. findings: all
    of the page."""
    for one in findings:
        rule = RULES.get(one.rule)
        if rule is not None and rule.recognise is not None:
            yield one, site.link(page, one.number)


class Breaking:
    """A site as it is there, beside what it was at the look before."""

    def __init__(self, site: WholeSite, before: Before) -> None:
        self.site, self.before = site, before
        self._ends: dict[str, _End | None] = {}

    def of(self, page: int, findings: Iterable[Found]) -> dict[str, BreakCause]:
        """By its key, why a hop of a page leads nowhere that led somewhere at the look before.
        Of pages that weren't seen before nobody knows, so none of theirs is told. findings: all of
        the page now."""
        broken = [(one, link) for one, link in broken_hops(self.site, page, findings)
                  if not self.before.is_broken(self.site.pages[page].key, one)]  # fmt: skip
        was = self.before.page(self.site.pages[page].key) if broken else None
        if was is None:
            return {}
        hrefs: dict[str, set[str]] = defaultdict(set)
        for one in was.of_tags("a", "area"):
            hrefs[words(was, one.number)].add(one.attr("href") or "")
        return {one.key: self._cause(link, hrefs) for one, link in broken}

    def _cause(self, link: JudgedLink, hrefs: Mapping[str, Set[str]]) -> BreakCause:
        """hrefs: the addresses of the page's links before, by their words."""
        if not any(link.href in one for one in hrefs.values()):
            same = hrefs.get(link.text, set())
            if len(same) != 1:  # of several with these words nobody knows which it was
                what = "Its address" if same else "It"
                return BreakCause(
                    f"{what} is new there, and what it asks for is nowhere.", _CORRECT
                )
            (old,) = same
            return BreakCause(
                f"Its address was “{old}” before, and somebody changed it.", _BACK, old
            )
        if self.site.page(link.key) is None:
            return BreakCause("The page that it leads to is not there any more.", _NO_PAGE)
        end = self._end(link.key)
        if end is None or link.fragment is None:
            return BreakCause("What it asks for is nowhere.", _CORRECT)
        return _of_end(id_of(link.fragment), end)

    def _end(self, key: str) -> _End | None:
        if key not in self._ends:
            was, page = self.before.page(key), self.site.page(key)
            self._ends[key] = (
                None if was is None or page is None else _End(was, self.site.source(page))
            )
        return self._ends[key]


class _End:
    """A page that hops lead to, as it was and as it is."""

    def __init__(self, was: Source, now: Source) -> None:
        self.was, self.now = was, now
        self.ids_were, self.ids_are = IdsThere(was), IdsThere(now)

    @cached_property
    def match(self) -> Match:
        """Which element is which."""
        return matched(self.was, self.now)


def _of_end(id_: str, end: _End) -> BreakCause:
    """Why an ID that a page had is none that a hop finds."""
    was, now = end.was, end.now
    number = end.ids_were.number(id_)
    if number is None:
        return BreakCause("What it asks for is nowhere.", _CORRECT)
    if end.ids_are.number(id_) is not None:
        return BreakCause("What it leads to is hidden from readers now.", _HIDDEN)
    there = end.match.to[number]
    called = words(was, number)[:60]
    if there is None:
        part = f"“{called}”, where it led," if called else "The part where it led"
        return BreakCause(f"{part} is not there any more.", _CORRECT)
    other = now.attr(there, "id") or ""
    if other:
        at = "the same heading" if now.tags[there] in LEVELS else "the same part"
        why = f"Somebody renamed it: “{other}” stands at {at}."
        todo = f"Give that part its ID back, in place of “{other}”, or lead the hop to #{other}."
        return BreakCause(why, todo, id_)
    return BreakCause(f"The ID was taken off “{called}”.", "Give that part its ID back.", id_)


_CORRECT = "Lead the hop to what is there, or take it out."
_BACK = "Give the link its address back, or one of what is there."
_HIDDEN = "Show that part, or lead the hop elsewhere."
_NO_PAGE = "Lead the hop to another page, or have that one back."
