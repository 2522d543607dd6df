"""Words that name a section and lead nowhere (common practice, no source)."""

from __future__ import annotations

from collections.abc import Collection

import pytest

from innerhop.check.reading import FilePage, Options
from innerhop.core.findings.offers import Led, Named, names, offers
from innerhop.core.planners.selection import texts_below

ENDS = [
    Named(2, 7, "Mooring overnight", "mooring-overnight"), Named(2, 9, "Water and pump-out", ""),
    Named(3, 4, "Locks", "locks"), Named(3, 5, "Up or on", ""), Named(3, 8, "Before you come", "b"),
    Named(3, 9, "Die Schleusen am Kanal", "s"), Named(3, 11, "On the water", "w"),
    Named(4, 1, "The old lock", "a"), Named(5, 1, "The old lock", "b"),
    Named(1, 4, "Paddle gear, explained", "paddle"),
]  # fmt: skip
RARE = names(ENDS)  # what a small site says once or twice


def offered(markup: str, led: Collection[Led] = (), rare: Collection[str] = RARE) -> list[str]:
    reading = FilePage("page.html", markup, Options("https://canal.example/"))
    found = offers(reading, 1, names(ENDS), led, rare)
    texts = {(number, child): text for number, child, text in texts_below(reading.source, 0, 0)}
    for one in found:
        start, end, text = one.words.start, one.words.end, one.words.text
        assert texts[start.number, start.child][start.offset : end.offset] == text
    return [one.words.text for one in found]


@pytest.mark.parametrize(
    ("markup", "found"),
    [
        ("<p>see mooring overnight, or not", ["mooring overnight"]),
        ("<p>Water and\npump-out, water &amp; much more", ["Water and\npump-out"]),
        ("<p>see <b>Mooring Overnight</b>", ["Mooring Overnight"]),
        ("<p>mooring overnight is free; mooring overnight", ["mooring overnight"]),
        (
            "<h2>A</h2><p>no mooring overnight here now<h2>B</h2><p>but mooring overnight is free",
            ["mooring overnight"] * 2,
        ),
        # alone in its block it is a label, and no part of a sentence
        ("<p>mooring overnight", []),
        ("<p>unmooring overnight, mooring overnights", []),
        ("<p>the locks; up or on; the old lock", []),
        ("<p>before you come on the water: die Schleusen am Kanal", ["die Schleusen am Kanal"]),
        ("<a href=#x>mooring overnight</a><h2>Mooring overnight</h2>", []),
        ("<p><code>mooring overnight</code>", []),
        ("<nav><p>mooring overnight</nav><script>mooring overnight</script>", []),
        ("<p>mooring <i>overnight</i>", []),
    ],
)
def test_what_is_offered(markup: str, found: list[str]) -> None:
    assert offered(markup) == found


def test_what_stands_around_is_cut_between_words() -> None:
    text = "<p>one two three four five six seven eight nine mooring overnight, and then on and on "
    reading = FilePage("page.html", text + "and on and on", Options("https://canal.example/"))
    (one,) = offers(reading, 1, names(ENDS), (), RARE)
    assert one.around == (
        "three four five six seven eight nine ",
        ", and then on and on and on and on",
    )


def test_nothing_is_offered_where_it_leads_already_or_names_itself() -> None:
    page = "<h1>x</h1><h2 id=paddle>Paddle gear, explained</h2><p>paddle gear explained"
    assert offered(page) == []  # the heading is element 4, and its own section
    assert offered("<h2>A</h2><p>mooring overnight", {(3, 2, 7)}) == []


@pytest.mark.parametrize(
    ("markup", "found"),
    [
        ("<p>there is no mooring overnight in winter", []),  # words like any others
        ("<p>there is more; see Mooring overnight below", ["Mooring overnight"]),
        ("<p>there is more; see mooring overnight below", []),
        ("<p>there is more in “Mooring overnight” below", ["Mooring overnight"]),
        ("<p>there is more in “Mooring overnight below", []),
        ("<p>there is more in Mooring overnight” below", []),
        ("<p>weiteres siehe auch Die Schleusen am Kanal dort", ["Die Schleusen am Kanal"]),
        ("<p>they know how Mooring overnight works here", []),  # a name of something else
        ("<p>see the section Mooring Overnight Committee for who decides", []),
    ],
)
def test_what_many_pages_say_is_a_mention_where_something_says_so(
    markup: str, found: list[str]
) -> None:
    assert offered(markup, rare=()) == found
