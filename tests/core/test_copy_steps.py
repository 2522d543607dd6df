"""Copy sheets: following the steps by hand gives the page as it was made here."""

from __future__ import annotations

import re

import html5lib
import pytest

from innerhop.core import edits, style_lines
from innerhop.core.copy_steps import steps as copy_steps
from innerhop.core.facts.page_facts import gather
from innerhop.core.formats import html
from innerhop.core.plan import Plan, join_plans
from innerhop.core.planners import (
    headings,
    hopping,
    links_beside,
    markers,
    marking,
    page_styles,
    renaming,
)
from innerhop.core.planners.selection import Point, Words
from innerhop.core.proof import proved
from innerhop.core.source.elements import Element
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from tests.core.follower import Follower, plain
from tests.core.trees import read

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
        "tab": lambda: html.give(source, {this: {"target": None}}, UTF_8),
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
        ("button", [("link", "button “Go”", "https://x.example/", "")]),
        ("away", [("no-id", "heading “Fees”", "", "old")]),
        ("marker", [("marker", "an empty marker", '<span id="m"></span>', "")]),
        ("words", [("link", "words “moorings”", "/m/#f", "")]),
        ("href", [("link", "link “this”", "#z", "x#y")]),
        ("tab", [("link", "link “this”", "x#y", "x#y")]),
        ("heading", [("heading", "paragraph “Winter”", "h3", "p"),
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


GONE = ("no-id", "no-link", "away")


def test_steps_go_down_the_page() -> None:
    old = Source(PAGE)
    made = join_plans(make(what, old) for what in ("words", "smooth", "id", "marker", "away"))
    new = proved(old, made)
    found = copy_steps.steps(old, new, made.edits)
    assert [one.kind for one in found] == ["style", "id", "marker", "no-id", "link"]
    assert found[2].at == "right before the heading “Fees”"
    assert (found[4].section, found[4].at) == (
        "Fees", "in the paragraph “See moorings and this.”, after “See”",
    )  # fmt: skip
    assert len({one.key for one in found}) == 5
    back = copy_steps.steps(new, old, edits.invert(made.edits))
    gone = [one.before for one in back if one.kind in GONE and one.what != "a line of style"]
    assert gone == ["locks", "m", "/m/#f"]


ALIKE = (
    "<!doctype html><head><title>T</title></head><body><header><a href=/>Home</a></header><main>"
    "<h1>Hire</h1><p>See the fees, then the fees again.</p><p>See the fees, then the fees again."
    "</p><p><img src=a alt=Boat> <a href=x>Book</a> or <a href=x>Book</a></p>"
    "<h2>Fees</h2><p>Pay early.</p><p><strong>Question 7: What if I pay late?</strong></p>"
    "<p>You pay more. <a href=x>Book</a></p><ul><li>One</li><li>Two</li></ul>"
    "<p><b>Plain</b></p><p>The end</p></main>"
    "<footer><a href=x>Book</a> <button type=button>Call us</button></footer></body>"
)


def _deeds(source: Source) -> dict[str, Plan]:
    facts = gather(source)
    paragraphs = [one.number for one in source.of_tags("p")]
    links = [one.number for one in source.of_tags("a")]
    second = Words(Point(paragraphs[1], 0, 23), Point(paragraphs[1], 0, 27))
    start = Words(Point(paragraphs[0], 0, 0), Point(paragraphs[0], 0, 7))
    question = nth(source, "strong") - 1
    new = links_beside.NewLink("Pay now", {"href": "#pay"})
    return {
        "words that stand there four times": hopping.plan_hop(
            source, second, {"href": "#fees"}, UTF_8
        ),
        "words at a beginning": hopping.plan_hop(source, start, {"href": "#fees"}, UTF_8),
        "one of two links alike": html.give(
            source, {links[2]: {"href": "#b", "target": "_blank", "rel": "noopener"}}, UTF_8
        ),
        "the link in the footer": renaming.plan_addresses(source, {links[4]: "#c"}, UTF_8),
        "a picture": hopping.plan_element(source, nth(source, "img"), {"href": "#d"}, UTF_8),
        "a button": hopping.plan_element(
            source, nth(source, "button"), {"href": "#e", "style": "color: red"}, UTF_8
        ),
        "a question's ID": marking.plan_marks(source, facts, [(question, "late")], UTF_8),
        "a link below a question": renaming.plan_addresses(source, {links[3]: "#f"}, UTF_8),
        "a heading of a line": headings.plan_heading(
            source, facts, nth(source, "b") - 1, 3, id_="plain", encoding=UTF_8
        ),
        "a link at a section's end": links_beside.plan_beside(
            source, nth(source, "ul"), "after", new, UTF_8
        ),
        "an entry of a list": links_beside.plan_beside(
            source, nth(source, "li") + 1, "before", new, UTF_8
        ),
        "a marker": markers.plan_marker(source, paragraphs[3], markers.BEFORE, "m", UTF_8),
        "a line of style": page_styles.plan_style(source, page_styles.SMOOTH),
    }


@pytest.mark.parametrize("what", ["each", "all", "back"])
def test_whoever_follows_the_sheet_on_an_untouched_page_gets_the_same_tree(what: str) -> None:
    """html5lib's trees are compared, white space aside."""
    old = Source(ALIKE)
    deeds = _deeds(old)
    if what == "back":  # nobody can make a heading a plain line here, or a link a button
        del deeds["a heading of a line"], deeds["a button"]
    parts = [[one] for one in deeds.values()] if what == "each" else [list(deeds.values())]
    for plans in parts:
        made = join_plans(plans)
        new = proved(old, made)
        done = made.edits
        here, there = old, new
        if what == "back":
            here, there, done = new, old, edits.invert(made.edits)
        hand = Follower(here.text)
        for step in copy_steps.steps(here, there, done):
            hand.follow(step)
            if step.markup:
                assert pasted(step.markup) == opened(there.element(step.number))
        assert plain(hand.root) == plain(read(there.text))


def opened(element: Element) -> tuple[str, dict[str, str]]:
    return element.tag, element.attributes


def pasted(markup: str) -> tuple[str, dict[str, str]]:
    """The outermost tag of markup beside a step, as html5lib reads it."""
    (first, *_) = html5lib.parseFragment(markup, namespaceHTMLElements=False)
    return first.tag, dict(first.attrib)


@pytest.mark.parametrize(
    ("what", "markup"),
    [
        ("id", '<h1 id="locks">Locks</h1>'),
        ("words", '<a href="/m/#f">moorings</a>'),
        ("heading", '<h3 id="winter">Winter</h3>'),
        ("smooth", ""),
    ],
)
def test_each_step_has_its_part_as_markup(what: str, markup: str) -> None:
    """For systems with neither a field for an ID nor a way to link at that place."""
    old = Source(PAGE)
    made = make(what, old)
    assert copy_steps.steps(old, proved(old, made), made.edits)[-1].markup == markup


def test_two_steps_that_say_the_same_are_ticked_off_one_by_one() -> None:
    page = "<p>See <a href=x>this</a> and <a href=x>this</a>."
    old = Source(page)
    first = nth(old, "a")
    made = renaming.plan_addresses(old, {first: "#z", first + 1: "#z"}, UTF_8)
    found = copy_steps.steps(old, proved(old, made), made.edits)
    assert [one.what for one in found] == ["link “this” (1st of 2)", "link “this” (2nd of 2)"]
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


@pytest.mark.parametrize(
    "line",
    [
        "<p><b>Going down</b></p>",
        "<div class=cap>Going down</div>",
        "<p class=c><b>Going down</b></p>",
    ],
)
def test_a_heading_that_looks_as_before_is_made_by_hand(line: str) -> None:
    old = Source(f"<h1>Locks</h1><p>First.</p>{line}<p>Then.</p>")
    number = next(one.number for one in old.of_tags("p", "div") if "Going" in one.text)
    plan = headings.plan_heading(
        old, gather(old), number, 2, id_="down", encoding=UTF_8, keeps_look=True
    )
    new = proved(old, plan)
    hand = Follower(old.text)
    for step in copy_steps.steps(old, new, plan.edits):
        hand.follow(step)
    assert plain(hand.root) == plain(read(new.text))
