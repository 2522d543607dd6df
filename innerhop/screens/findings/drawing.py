"""Findings pinned to strips of their pages, all drawn to one scale."""

from __future__ import annotations

import statistics
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from innerhop.core.findings.found import Rule
from innerhop.core.widths import LAPTOP
from innerhop.library.models import Finding, Page
from innerhop.library.seek.page_heights import PageHeight

WIDTH = 308  # of the longest strip
_LEAST = 24
_OUTLIER = 5  # times the middle page: what is longer is drawn shorter
_FEWEST_APART = 6  # px between two ticks


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
    """Where a finding stands along its strip."""

    x: float
    key: int
    words: str
    url: str

    @property
    def left(self) -> float:
        """Where what can be pointed at begins."""
        return self.x - 5


@dataclass(frozen=True)
class Strip:
    """A page lying down, with its pins. ticks: one a screen, or as many screens as leave room
    between them, as one path. is_shortened: whether it is longer than it is drawn."""

    page: Page
    width: float
    ticks: str
    pins: Sequence[Pin]
    is_shortened: bool


def scale_of(heights: Iterable[PageHeight]) -> float:
    """Pixels of a strip for each of a page: the longest fills the width, outliers aside."""
    tall = [one.height for one in heights] or [1.0]
    return WIDTH / max(1.0, min(max(tall), _OUTLIER * statistics.median(tall)))


def strip(page: Page, long: PageHeight, rows: Sequence[Finding], scale: float) -> Strip:
    """The strip of a page with the findings on it."""
    width = min(WIDTH, max(_LEAST, long.height * scale))
    own = width / long.height if long.height else 1.0
    pins = [
        Pin(round(long.top_of(row.number) * own, 1), row.pk, row.words, place_url(page, row))
        for row in rows
    ]
    return Strip(page, round(width, 1), _ticks(long.height, own), pins, long.height * scale > WIDTH)


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
    """The place on its page's screen, which leads back to the finding."""
    kind = "hop-" if row.is_on_link else "n"
    hash_ = f"#{kind}{row.number}" if row.number else ""
    return f"{page.get_absolute_url()}?finding={row.pk}{hash_}"
