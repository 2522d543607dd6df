"""Copy sheets: following the steps by hand gives the page as it was made here."""

from __future__ import annotations

import re

import pytest

from innerhop.core import copy_steps, edits, style_lines
from innerhop.core.facts.page_facts import gather
from innerhop.core.plan import Plan, join_plans
from innerhop.core.planners import headings, hopping, markers, marking, page_styles, renaming
from innerhop.core.planners.selection import Point, Words
from innerhop.core.proof import proved
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source

UTF_8 = FileEncoding()
PAGE = (
    "<html><head><title>T</title></head><body><h1>Locks</h1><h2 id=old>Fees</h2>"
    "<p>See moorings and <a href='x#y' target=_blank>this</a>.</p>"
    "<label for=old>Pay</label><button type=button class=b>Go</button>"
    "<p class='fees big'>Another</p><p><b>Winter</b></p></body></html>"
)


def nth(source: Source, selector: str) -> int:
    return source.reading.matching(selector)[0]


def make(what: str, source: Source) -> Plan:
    facts, fees, this = gather(source), nth(source, "h2"), nth(source, "a")
    words = Words(Point(this - 1, 0, 4), Point(this - 1, 0, 12))
    return {
        "id": lambda: marking.plan_marks(source, facts, [(nth(source, "h1"), "locks")], UTF_8),
        "rename": lambda: renaming.plan_rename(source, facts, fees, "fees", UTF_8),
        "away": lambda: marking.plan_take_away(source, facts, fees),
        "marker": lambda: markers.plan_marker(source, fees, markers.BEFORE, "m", UTF_8),
        "words": lambda: hopping.plan_hop(source, words, {"href": "/m/#f"}, UTF_8),
        "href": lambda: renaming.plan_addresses(source, {this: "#z"}, UTF_8),
        "button": lambda: hopping.plan_element(
            source,
            nth(source, "button"),
            {"href": "https://x.example/", "target": "_blank", "rel": "noopener"},
            UTF_8,
        ),
        "tab": lambda: renaming.plan_links(source, {this: {"target": None}}, UTF_8),
        "heading": lambda: headings.plan_heading(
            source, facts, nth(source, "b"), 3, id_="winter", encoding=UTF_8
        ),
        "level": lambda: headings.plan_level(source, facts, fees, 3),
        "smooth": lambda: page_styles.plan_style(source, page_styles.SMOOTH),
    }[what]()


@pytest.mark.parametrize(
    ("what", "steps"),
    [
        ("id", [("id", "heading “Locks”", "locks", "")]),
        ("rename", [("id", "heading “Fees”", "fees", "old"),
                    ("markup", "form field “Pay”", "fees", "old")]),
        ("button", [("link", "link “Go”", "https://x.example/", "")]),
        ("away", [("away", "heading “Fees”", "", "old")]),
        ("marker", [("marker", "an empty marker", '<span id="m"></span>', "")]),
        ("words", [("link", "link “moorings”", "/m/#f", "")]),
        ("href", [("link", "link “this”", "#z", "x#y")]),
        ("tab", [("link", "link “this”", "x#y", "x#y")]),
        ("heading", [("heading", "heading “Winter”", "h3", "p"),
                     ("id", "heading “Winter”", "winter", "")]),
        ("level", [("heading", "heading “Fees”", "h3", "h2")]),
        ("smooth", [("style", "a line of style", f"<style>{page_styles.SMOOTH}</style>", "")]),
    ],
)  # fmt: skip
def test_each_act_is_a_step(what: str, steps: list[tuple[str, ...]]) -> None:
    old = Source(PAGE)
    made = make(what, old)
    found = copy_steps.steps(old, proved(old, made), made.edits)
    assert [(one.kind, one.what, one.enter, one.before) for one in found] == steps


def test_ids_come_before_the_links_that_need_them() -> None:
    old = Source(PAGE)
    made = join_plans(make(what, old) for what in ("words", "id", "marker", "away"))
    new = proved(old, made)
    found = copy_steps.steps(old, new, made.edits)
    assert [one.kind for one in found] == ["id", "marker", "link", "away"]
    assert found[1].note.startswith("Put it right before the heading “Fees”")
    assert len({one.key for one in found}) == 4
    back = copy_steps.steps(new, old, edits.invert(made.edits))
    assert [(one.kind, one.before) for one in back if one.kind == "away"] == [
        ("away", "locks"), ("away", "m"), ("away", "/m/#f"),
    ]  # fmt: skip


def test_two_steps_that_say_the_same_are_ticked_off_one_by_one() -> None:
    page = "<p>See <a href=x>this</a> and <a href=x>this</a>."
    old = Source(page)
    first = nth(old, "a")
    made = renaming.plan_addresses(old, {first: "#z", first + 1: "#z"}, UTF_8)
    found = copy_steps.steps(old, proved(old, made), made.edits)
    assert [one.nth for one in found] == [0, 1]
    assert len({one.key for one in found}) == 2


def test_nothing_done_is_no_step() -> None:
    assert copy_steps.steps(Source(PAGE), Source(PAGE), []) == []


@pytest.mark.parametrize(
    ("headers", "widths"),
    [
        ({390: 0, 820: 0, 1280: 0}, {}),
        ({390: 56, 820: 56, 1280: 56}, {200: 72, 2000: 72}),
        ({390: 50, 820: 80, 1280: 60}, {389: 66, 390: 96, 819: 96, 1279: 96, 1280: 76}),
        ({1280: 60}, {300: 76, 1500: 76}),
    ],
)
def test_room_for_the_header_at_every_width(
    headers: dict[int, int], widths: dict[int, int]
) -> None:
    """Between two measured widths the taller counts (common practice, no source)."""
    css = style_lines.room(headers)
    for width, room in widths.items():
        rules = re.findall(r"(?:min-width: (\d+)px\) \{ )?html \{ scroll-padding-top: (\d+)px", css)
        fitting = [int(px) for least, px in rules if not least or int(least) <= width]
        assert fitting[-1] == room
    assert bool(css) == bool(widths)
