"""What was found, as rows that every format writes."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from concurrent.futures import Executor
from dataclasses import dataclass

from innerhop.check.cache import LineAndColumn
from innerhop.check.reading import FileSite, each, places
from innerhop.core.findings.found import NOTE, Found, Rule
from innerhop.core.findings.table import RULES


@dataclass(frozen=True, slots=True)
class Line:
    """A finding at its place. page: of the site, by its place in the list."""

    file: str
    page: int
    place: LineAndColumn
    rule: Rule
    found: Found
    titles: Callable[[int], str]

    @property
    def title(self) -> str:
        """What is wrong, in a few words."""
        return self.rule.says(self.rule.title, self.found, self.titles)

    @property
    def why(self) -> str:
        """Why it matters, in one sentence."""
        return self.rule.says(self.rule.why, self.found, self.titles)

    @property
    def fix(self) -> str:
        """What its fix would do; "" where nothing is mended by itself."""
        if self.rule.fix is None or self.rule.fix.request(self.found) is None:
            return ""
        return self.rule.says(self.rule.fix.label, self.found, self.titles)


@dataclass(frozen=True)
class Report:
    """All lines, by file and place. pages: how many were looked at."""

    lines: Sequence[Line]
    pages: int
    skipped: Sequence[tuple[str, str]]


Excepted = Sequence[tuple[str, str, str]]  # a rule, a file and a key; "" for any


def of_site(
    site: FileSite, rules: Sequence[str], excepted: Excepted, pool: Executor | None
) -> Report:
    """What is found on a site. rules: the names of those that count."""
    wanted = set(rules)
    by_page: list[tuple[int, list[Found]]] = []
    for page, all_of_it in enumerate(_all(site)):
        name = site.files[page].name
        found = [
            one for one in all_of_it
            if one.rule in wanted and not _is_excepted(one, name, excepted)
        ]  # fmt: skip
        if found:
            by_page.append((page, found))
    lines = []
    for (page, some), where in zip(by_page, _places(site, by_page, pool), strict=True):
        name = site.files[page].name
        rows = [
            Line(name, page, where[one.number], RULES[one.rule], one, site.whole.title)
            for one in some
        ]
        lines += sorted(rows, key=lambda one: (one.place, one.rule.name))
    return Report(lines, len(site.files), site.skipped)


def _all(site: FileSite) -> Sequence[Sequence[Found]]:
    """What is found on each page. On a site of which nothing has changed, what was known."""
    names = [one.name for one in site.files]
    found = site.cache.findings(names)
    if found is None:
        found = [list(site.whole.findings(page)) for page in range(len(names))]
        site.cache.put_findings(names, found)
    return found


def _places(
    site: FileSite, by_page: Sequence[tuple[int, list[Found]]], pool: Executor | None
) -> Iterator[Mapping[int, LineAndColumn]]:
    """Where what was found on each page stands. What is known isn't looked for."""
    asked = [(site.files[page], sorted({one.number for one in some})) for page, some in by_page]
    unknown = [one for one in asked if site.cache.places(*one) is None]
    for (file, _), where in zip(unknown, each(pool, places, unknown), strict=True):
        site.cache.put_places(file, where)
    for file, numbers in asked:
        yield site.cache.places(file, numbers) or {}


def _is_excepted(found: Found, file: str, excepted: Excepted) -> bool:
    return any(
        rule == found.rule and name in ("", file) and key in ("", found.key)
        for rule, name, key in excepted
    )


def all_rules(with_notes: bool = False) -> list[str]:
    """The rules that files alone can be held against."""
    return [
        name for name, rule in RULES.items()
        if not rule.needs_browser and (with_notes or rule.level != NOTE)
    ]  # fmt: skip
