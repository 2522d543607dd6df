"""What can be pointed at, and where a reader would land: CSSOM View, "scroll an
element into view" for the landing; the names of things are common practice."""

from __future__ import annotations

import pytest

from innerhop.core.facts import places
from innerhop.core.facts.places import Look
from innerhop.core.source.tree import Source

PAGE = Source(
    "<main><section class=band><h2>Fees</h2><p>Six pounds</p>"
    "<figure><img src=x><figcaption>The basin in May</figcaption></figure></section>"
    "<section><p>Words</p><ul><li>One<li>Two</ul><svg><title>t</title><g><path/></g></svg>"
)


def number(tag: str, which: int = 0) -> int:
    return [n for n, tag_ in enumerate(PAGE.tags) if tag_ == tag][which]


def under_a_bar(room: float = 0) -> Look:
    """A heading of 30 px where 76 px of the view's top are covered."""
    heading = number("h2")
    return Look(
        100, heading=heading, heading_top=100, heading_bottom=130,
        room=room, cover=76, covered_by=number("section"),
    )  # fmt: skip


def test_the_line_outward() -> None:
    line = places.line(PAGE, number("img"))
    kinds = ["picture", "figure", "section block", "main part"]
    assert [one.kind for one in line] == kinds
    assert line[0].words == "The basin in May"
    drawing = places.line(PAGE, number("path"))
    assert [one.tag for one in drawing] == ["svg", "section", "main"]


@pytest.mark.parametrize(
    ("tag", "which", "look", "message", "good"),
    [
        ("h2", 0, Look(100, heading=number("h2"), heading_top=100), "with this heading", True),
        (
            "section",
            0,
            Look(60, "rgb(238, 238, 238)", wide=True, heading=number("h2"), heading_top=100),
            "at the top of this light grey band, 40 px above the heading “Fees”.",
            True,
        ),
        (  # CSS Scroll Snap 1, "scroll-padding": it moves where a hop lands
            "h2",
            0,
            under_a_bar(),
            "don’t see all of the heading: the page’s bar, 76 px tall, stays",
            False,
        ),
        (
            "h2",
            0,
            under_a_bar(60),
            "don’t see the upper 16 px of the heading",
            False,
        ),
        (
            "h2",
            0,
            under_a_bar(92),
            "at the top of the view, 92 px below its edge.",
            True,
        ),
        (
            "section",
            0,
            Look(
                20,
                heading=number("h2"),
                heading_top=100,
                heading_bottom=130,
                cover=76,
                covered_by=0,
            ),
            "80 px above the heading",
            True,
        ),
        ("section", 0, Look(98, heading=number("h2"), heading_top=100), "right at its", True),
        ("section", 0, Look(0, heading=number("h2"), heading_top=400), "a lot to look past", False),
        (
            "p",
            0,
            Look(150, heading=number("h2"), heading_top=100, heading_bottom=130),
            "right below the heading “Fees”, which readers would not see",
            False,
        ),
        (
            "p",
            1,
            Look(950, heading=number("h2"), heading_top=100, heading_bottom=130),
            "“Fees” stands 820 px above, out of view",
            False,
        ),
        ("img", 0, Look(950, heading=number("h2"), heading_bottom=130), "820 px above", True),
        ("ul", 0, Look(10), "at the top of this list.", True),
        ("section", 1, Look(10, beside=True), "at the top of this column.", True),
    ],
)
def test_where_a_reader_lands(tag: str, which: int, look: Look, message: str, good: bool) -> None:
    spot = places.place(PAGE, number(tag, which))
    found = places.landing(PAGE, spot, look)
    assert message in found[0]
    assert found[1] == good


# CSS Color 4, named colours, as people would group them.
COLOURS = [
    ("rgb(255, 255, 255)", "white"),
    ("rgb(0, 0, 0)", "black"),
    ("rgb(128, 128, 128)", "grey"),
    ("rgb(220, 220, 220)", "light grey"),
    ("rgb(255, 0, 0)", "red"),
    ("rgb(139, 0, 0)", "dark red"),
    ("rgb(255, 165, 0)", "orange"),
    ("rgb(0, 128, 0)", "dark green"),
    ("rgb(173, 216, 230)", "light turquoise"),
    ("rgb(0, 0, 255)", "blue"),
    ("rgba(128, 0, 128, 0.9)", "dark purple"),
    ("rgb(255, 192, 203)", "pink"),
    ("picture", ""),
]


@pytest.mark.parametrize(("css", "name"), COLOURS)
def test_colours_as_people_name_them(css: str, name: str) -> None:
    assert places.colour(css) == name


@pytest.mark.parametrize(
    ("markup", "is_shut"),
    [
        ("<details><summary>Fees?</summary><p>None</details>", True),
        ("<details open><summary>Fees?</summary><p>None</details>", False),
    ],
)
def test_a_closed_title_is_said_to_be_closed(markup: str, is_shut: bool) -> None:
    """HTML Standard, "ancestor revealing algorithm": nothing is revealed for a summary."""
    source = Source(markup)
    for tag in ("details", "summary"):
        spot = places.place(source, next(source.of_tags(tag)).number)
        said, _ = places.landing(source, spot, places.Look(top=0))
        assert ("closed title" in said) == is_shut
