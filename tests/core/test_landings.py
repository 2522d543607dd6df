"""Where the view ends up, worked out by hand from the standards' own formulas. That Chromium
stops there too is held in tests/browser/test_landings.py.

CSSOM View, "scroll an element into view"; CSS Scroll Snap 1, scroll-padding, scroll-margin and
snap strictness; CSS Positioned Layout 3, "sticky positioning". What counts as a gap (72 px) and
as harmless (4 px) is practice.
"""

from __future__ import annotations

import pytest

from innerhop.core import landings
from innerhop.core.landings import (
    CLEAR,
    COVERED,
    CUT,
    GAP,
    MANDATORY,
    NOWHERE,
    PROXIMITY,
    SHORT,
    SHUT,
    Box,
    Cover,
    Landing,
    Target,
    View,
    landing,
)

BAR = Cover(fixed=True, top=0, height=64)
NOTICE = Cover(fixed=True, top=64, height=30)


def view(**more: object) -> View:
    return View(1280, 800, 5000)._replace(**more)


def target(top: float = 1000, **more: object) -> Target:
    """A heading whose first line, 30 px tall, begins where it does."""
    return Target(top, 0, top, 30)._replace(**more)


@pytest.mark.parametrize(
    ("one", "two", "y"),
    [
        # y = top − scroll-margin-top − scroll-padding-top …
        (view(), target(), 1000),
        (view(padding=64), target(), 936),
        (view(padding=64), target(margin=16), 920),
        # … held between 0 and the page's height less the view's
        (view(), target(top=10, margin=40), 0),
        (view(), target(top=4900), 4200),
        (view(page=600), target(top=300), 0),
        # a box scrolls first, as far as what it holds lets it, and the page by the rest
        (view(), target(boxes=[Box(top=600, height=200, inside=900)]), 600),
        (view(), target(boxes=[Box(top=600, height=200, inside=900, padding=50)]), 650),
        (view(), target(boxes=[Box(top=600, height=200, inside=300)]), 900),
        (view(), target(boxes=[Box(top=900, height=400, inside=300)]), 1000),
        (view(), target(top=1200, boxes=[Box(1000, 100, 250), Box(600, 300, 900)]), 600),
        # a snapping page stops at its places: always, or where one is near
        (view(snap=MANDATORY, snaps=[0, 800, 1600]), target(), 800),
        (view(snap=MANDATORY, snaps=[0, 8000]), target(top=4900), 4200),
        (view(snap=PROXIMITY, snaps=[0, 800, 1600]), target(), 800),
        (view(snap=PROXIMITY, snaps=[0, 1600]), target(), 1000),
        (view(snap="", snaps=[800]), target(), 1000),
        (view(snap=MANDATORY), target(), 1000),
    ],
)
def test_how_far_the_page_is_scrolled(one: View, two: Target, y: float) -> None:
    assert landings.scrolled_to(one, two)[0] == y == landing(one, two).y


@pytest.mark.parametrize(
    ("cover", "y", "bottom"),
    [
        (BAR, 0, 64),
        (BAR, 3000, 64),
        (Cover(False, 0, 64, natural=200), 0, 264),  # it hasn't come to its place yet
        (Cover(False, 0, 64, natural=200), 500, 64),  # it sticks
        (Cover(False, 10, 64, natural=200, limit=1000), 500, 74),
        (Cover(False, 0, 64, natural=200, limit=1000), 960, 40),  # its box ends: it goes along
        (Cover(False, 0, 64, natural=200, limit=1000), 1200, -200),
    ],
)
def test_where_what_stays_in_view_ends(cover: Cover, y: float, bottom: float) -> None:
    assert cover.bottom_at(y) == bottom


@pytest.mark.parametrize(
    ("covers", "edge"),
    [
        ([], 0),
        ([BAR], 64),
        ([NOTICE, BAR], 94),  # one below the other
        ([BAR, Cover(True, 10, 20)], 64),  # one on the other
        ([BAR, Cover(True, 65, 30)], 95),  # a hair apart is stacked still
        ([BAR, Cover(True, 70, 30)], 64),  # readers see what is between
        ([Cover(True, 5, 40)], 0),
    ],
)
def test_several_that_stay_cover_together(covers: list[Cover], edge: float) -> None:
    assert landings.covered_to(covers, 0) == edge


def _told(found: Landing) -> tuple[str, int]:
    return found.verdict, found.by


@pytest.mark.parametrize(
    ("one", "two", "told"),
    [
        (view(), target(), (CLEAR, 0)),
        # as much of its first line as the bar hides
        (view(covers=[BAR]), target(), (COVERED, 30)),
        (view(covers=[BAR], padding=44), target(), (COVERED, 20)),
        (view(covers=[BAR], padding=60), target(), (CLEAR, 0)),  # 4 px do no harm
        (view(covers=[BAR], padding=59), target(), (COVERED, 5)),
        (view(covers=[BAR], padding=64), target(), (CLEAR, 0)),
        # space above what is seen first
        (view(), target(content=1072), (CLEAR, 0)),
        (view(), target(content=1073), (GAP, 73)),
        (view(covers=[BAR]), target(content=1136), (CLEAR, 0)),
        (view(covers=[BAR]), target(content=1140), (GAP, 76)),
        (view(), target(top=0, content=300), (CLEAR, 0)),  # a page's own beginning
        # a marker below its heading cuts it off; one inside it doesn't
        (view(), target(heading=1000), (CUT, 0)),
        (view(covers=[BAR]), target(heading=1000), (CUT, 64)),
        (view(covers=[BAR], padding=90), target(heading=1000), (CLEAR, 0)),
        (view(), target(content=1100, heading=1004), (CUT, -4)),
        (view(), target(content=1100, heading=1005), (CLEAR, 0)),
        (view(), target(content=1200, heading=1050), (CLEAR, 0)),  # the heading is seen first
        (view(), target(content=1200, heading=1103), (GAP, 73)),
        # the page ends first
        (view(), target(top=4900), (SHORT, 700)),
        (view(covers=[BAR]), target(top=4900), (SHORT, 636)),
        (view(), target(top=4201), (CLEAR, 0)),
        (view(), target(top=4202), (SHORT, 2)),
        (view(), target(top=4200), (CLEAR, 0)),
        # what stays at the bottom hides what can't come up past it
        (view(foot=100), target(), (CLEAR, 0)),
        (view(foot=100), target(top=4900), (COVERED, 30)),
        (view(foot=100), target(top=4880), (COVERED, 10)),
        (view(foot=100), target(top=4874), (SHORT, 674)),
        (None, None, (NOWHERE, 0)),
    ],
)
def test_what_readers_see_first(
    one: View | None, two: Target | None, told: tuple[str, int]
) -> None:
    assert _told(landing(one or view(), two)) == told


def test_what_else_is_told_of_a_landing() -> None:
    found = landing(view(covers=[BAR], foot=50), target(content=1020))
    assert found == Landing(1000, 20, 64, COVERED, 30, False, 50, False)
    below = landing(view(foot=100), target(top=4900))
    assert (below.seen, below.foot, below.below) == (700, 100, True)
    assert landing(view(), None) == Landing(0, 0, 0, NOWHERE)
    shut = landing(view(covers=[BAR]), target(content=1010), SHUT)
    assert shut == Landing(1000, 10, 64, SHUT)
    boxed = landing(view(), target(boxes=[Box(top=600, height=200, inside=900)]))
    assert boxed.seen == 0  # the box was scrolled by 400, and the page by 600


@pytest.mark.parametrize(("late", "moves"), [([], False), ([999], True), ([1000, 2000], False)])
def test_pictures_above_that_load_late_move_it(late: list[float], moves: bool) -> None:
    assert landing(view(late=late), target()).moves is moves


@pytest.mark.parametrize(
    ("found", "words"),
    [
        (Landing(0, 0, 0, CLEAR), "clear"),
        (Landing(0, 0, 0, COVERED, 12), "covered by 12 px"),
        (Landing(0, 0, 0, COVERED, 12, below=True), "covered by 12 px, from below"),
        (Landing(0, 0, 0, GAP, 80, moves=True),
         "80 px of empty space, until pictures above have loaded"),
        (Landing(0, 0, 0, SHORT, 300), "page ends: 300 px down"),
    ],
)  # fmt: skip
def test_a_landing_in_words(found: Landing, words: str) -> None:
    assert landings.says(found) == words


def test_the_worst_of_several_stands_first_in_the_list_of_verdicts() -> None:
    every = [Landing(0, 0, 0, one) for one in reversed(landings.VERDICTS)]
    assert [landings.worst(every[:at]) for at in range(1, 8)] == list(reversed(landings.VERDICTS))
    assert landings.worst([]) == ""


def test_marked_where_readers_see_it_it_is_clear() -> None:
    """The mend that moves a mark: up to its heading, or down to its first line."""
    cut, gap = target(content=1100, heading=1002), target(content=1200)
    assert landings.at_content(cut) == Target(972, 0, 972, 30)
    assert landings.at_content(gap) == Target(1200, 0, 1200, 30)
    for one in (cut, gap):
        assert landing(view(), one).verdict in (CUT, GAP)
        assert landing(view(), landings.at_content(one)).verdict == CLEAR
