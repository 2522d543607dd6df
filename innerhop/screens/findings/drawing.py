"""Findings pinned to strips of their pages, all drawn to one scale."""

from __future__ import annotations

import statistics
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from innerhop.core.findings.found import Rule
from innerhop.core.findings.table import RULES
from innerhop.core.widths import LAPTOP
from innerhop.library.models import Finding, Page
from innerhop.library.seek.page_heights import PageHeight

WIDTH = 308  # of the longest strip
_LEAST = 24
_OUTLIER = 5  # times the middle page: what is longer is drawn shorter
_FEWEST_APART = 6  # px between two ticks
_TARGET = 24.0  # px that can be pointed at


# The drawing that goes with a rule's help.
_KINDS = {
    "menu": ("menu-hash", "menu-label-twice", "base-leaves"),
    "landing": ("landing-covered", "landing-cut", "landing-low", "landing-shut", "marker-below",
                "spacers", "hidden-end"),
    "twice": ("twice", "twice-shared", "same-words", "words-twice"),
    "levels": ("level-skipped", "bold-line", "no-list", "no-way-back", "list-off",
               "entry-elsewhere", "unmarked", "unused-mark", "no-language"),
    "tab": ("new-tab-within", "new-tab-unsaid"),
}  # fmt: skip


def kind_of(rule: Rule) -> str:
    """Which drawing shows what a rule is about: a hop that goes astray, unless another does."""
    return next((kind for kind, names in _KINDS.items() if rule.name in names), "hop")


@dataclass(frozen=True)
class Pin:
    """Where findings stand along their strip: those too near to each other to be pointed at
    one by one are one target (WCAG 2.2, 2.5.8). url: of the first."""

    places: Sequence[float]
    words: str
    url: str

    @property
    def width(self) -> float:
        """How wide a target is that holds them all."""
        return max(_TARGET, self.places[-1] - self.places[0] + 10)

    @property
    def left(self) -> float:
        """Where it begins."""
        return (self.places[0] + self.places[-1] - self.width) / 2


@dataclass(frozen=True)
class FindingStrip:
    """A page lying down, with its pins. called: what it is called beside others. ticks: one a
    screen, or as many screens as leave room between them, as one path. is_shortened: whether
    it is longer than it is drawn."""

    page: Page
    called: str
    width: float
    ticks: str
    pins: Sequence[Pin]
    is_shortened: bool


def scale_of(heights: Iterable[PageHeight]) -> float:
    """Pixels of a strip for each of a page: the longest fills the width, outliers aside."""
    tall = [one.height for one in heights] or [1.0]
    return WIDTH / max(1.0, min(max(tall), _OUTLIER * statistics.median(tall)))


def strip(
    page: Page, called: str, long: PageHeight, rows: Sequence[Finding], scale: float
) -> FindingStrip:
    """The strip of a page with the findings on it. called: as in `Strip`."""
    width = min(WIDTH, max(_LEAST, long.height * scale))
    own = width / long.height if long.height else 1.0
    at = sorted(((round(long.top_of(row.number) * own, 1), row) for row in rows), key=_place)
    return FindingStrip(
        page, called, round(width, 1), _ticks(long.height, own), _pins(page, at),
        long.height * scale > WIDTH,
    )  # fmt: skip


def _place(placed: tuple[float, Finding]) -> float:
    return placed[0]


def _pins(page: Page, at: Sequence[tuple[float, Finding]]) -> list[Pin]:
    groups: list[list[tuple[float, Finding]]] = []
    for x, row in at:
        if groups and x - groups[-1][-1][0] < _TARGET:
            groups[-1].append((x, row))
        else:
            groups.append([(x, row)])
    return [
        Pin([x for x, _ in group], _said([row for _, row in group]), place_url(page, group[0][1]))
        for group in groups
    ]


def _said(rows: Sequence[Finding]) -> str:
    more = len(rows) - 1
    return f"{rows[0].words} and {more} more near it" if more else rows[0].words


def _ticks(height: float, scale: float) -> str:
    every = LAPTOP.view * scale
    if every <= 0:
        return ""
    step = every
    while step < _FEWEST_APART:
        step += every
    count = int(height * scale / step)
    return "".join(f"M{at * step:.1f} 13v4" for at in range(1, count + 1))


def place_url(page: Page, row: Finding) -> str:
    """The place on its page's screen, or what mends it there; both lead back to the finding."""
    desk = RULES[row.rule].desk if row.rule in RULES else ""
    kind = "hop-" if row.is_on_link else "n"
    hash_ = f"#{desk}" if desk else f"#{kind}{row.number}" if row.number else ""
    return f"{page.get_absolute_url()}?finding={row.pk}{hash_}"
