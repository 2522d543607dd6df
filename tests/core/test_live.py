"""What was planned, held against a page as it is there: entered as planned, in each way in which
that goes wrong (common practice, no source), and through what systems do to markup."""

from __future__ import annotations

import html
import re
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from innerhop.core.addresses import urls
from innerhop.core.copy_steps.step import AWAY_ITEM, MOVE_ITEM, Step
from innerhop.core.copy_steps.steps import steps
from innerhop.core.edits import Edit, apply
from innerhop.core.live.judging import PageThere, stations
from innerhop.core.live.station import DIFFERENTLY, NOT_YET, THERE, UNTOLD, LiveStation
from innerhop.core.source.tree import Source

ADDRESS = "https://canal.example/guides/locks/"
BASE = (
    "<!doctype html><html lang=en><head><title>Locks</title></head><body>"
    "<header><nav><a href=/>Home</a></nav></header><main><h1>Locks</h1>"
    "<p>See the flight, or <a href=/moorings/>moorings</a>.</p>"
    "<div class=block><h2>The flight</h2><p>Twelve locks in two miles.</p></div>"
    "<h2>Water and fuel</h2><p>At the basin, and at the top lock.</p></main></body></html>"
)
DONE = [
    ("<h2>The flight", '<h2 id="the-flight">The flight'),
    ("See the flight", 'See <a href="#the-flight">the flight</a>'),
    ('<a href=/moorings/', '<a href="/moorings/#fees"'),
]  # fmt: skip


def edits() -> list[Edit]:
    found = []
    for old, new in DONE:
        at = BASE.index(old)
        first = next(n for n in range(len(new)) if new[n] != old[n : n + 1])
        kept = 0
        while kept < len(old) - first and old[len(old) - 1 - kept] == new[len(new) - 1 - kept]:
            kept += 1
        end = len(old) - kept
        found.append(Edit(at + first, old[first:end], new[first : len(new) - kept]))
    return found


HERE = apply(BASE, edits())


def judged(there: str) -> list[LiveStation]:
    here = Source(HERE)
    page = PageThere(here, Source(there), ADDRESS, urls.page_key)
    return stations(page, steps(Source(BASE), here, edits()))


def states(there: str) -> list[str]:
    """Of the hop to the flight, the led link, and the ID, in the order of the page."""
    return [one.state for one in judged(there)]


def test_what_was_entered_and_what_was_not() -> None:
    assert states(HERE) == [THERE] * 3
    assert states(BASE) == [NOT_YET] * 3


def _with(*changes: tuple[str, str]) -> str:
    there = HERE
    for old, new in changes:
        assert old in there
        there = there.replace(old, new)
    return there


ID, HOP = 'id="the-flight"', 'href="#the-flight"'
LED = 'href="/moorings/#fees"'
WRONG = [
    ("the ID in the class", 2, (f" {ID}", ' class="the-flight"'), "into the class"),
    ("the ID with its hash", 2, (ID, 'id="#the-flight"'), "the # is no part of it"),
    ("the ID with a space", 2, (ID, 'id="the flight"'), "an ID has no spaces"),
    ("the ID with a capital", 2, (ID, 'id="The-flight"'), "capitals and hyphens count"),
    ("another ID", 2, (ID, 'id="block-7f"'), "has the ID “block-7f” there"),
    ("the block around", 2, (f"class=block><h2 {ID}", f"{ID} class=block><h2"), "block around it"),
    ("the heading beside it", 2, (f"<h2 {ID}>The flight", "<h2>The flight"), "“Water and fuel”"),
    ("the link without its hash", 0, (HOP, 'href="the-flight"'), "has no #"),
    ("the link with a capital", 0, (HOP, 'href="#The-Flight"'), "the ID is “the-flight”"),
    ("the link with two hashes", 0, (HOP, 'href="##the-flight"'), "the ID is “the-flight”"),
    ("another page's ID", 0, (HOP, 'href="/moorings/#the-flight"'), "of another page"),
    ("a new tab", 0, (HOP, f'{HOP} target="_blank"'), "opens a new tab"),
    ("other words", 1, (">moorings<", ">where to moor<"), "says “where to moor” there"),
]  # fmt: skip


@pytest.mark.parametrize(("name", "which", "change", "said"), WRONG, ids=[one[0] for one in WRONG])
def test_each_way_of_entering_it_otherwise_is_told(
    name: str, which: int, change: tuple[str, str], said: str
) -> None:
    more = [("<h2>Water", f"<h2 {ID}>Water")] if name == "the heading beside it" else []
    found = judged(_with(change, *more))
    assert (found[which].state, said in found[which].how) == (DIFFERENTLY, True), found[which]
    assert found[which].todo
    assert all(one.state == THERE for at, one in enumerate(found) if at != which)


NOISE = {
    "classes": lambda text: re.sub(r"<(h2|p|main)\b", r'<\1 class="wp x-1"', text),
    "wrappers": lambda text: text.replace("<p>", "<div><p>").replace("</p>", "</p></div>"),
    "spans": lambda text: re.sub(r"(<h2[^>]*>)(.*?)</h2>", r"\1<span>\2</span></h2>", text),
    "whole addresses": lambda text: text.replace('"/moor', '"https://canal.example/moor'),
    "no slash": lambda text: text.replace("/moorings/#", "/moorings#"),
    "page in front": lambda text: text.replace('"#the', f'"{ADDRESS}#the'),
    "line ends": lambda text: text.replace("><", ">\r\n  <").replace(" or ", " or\n"),
    "comments": lambda text: text.replace("<h2", "<!-- block --><h2"),
    "entities": lambda text: text.replace("Water and", "Water &#97;nd").replace("&amp;", "&#38;"),
    "attributes": lambda text: text.replace("<a href", '<a data-x=1 rel="noopener" href'),
    "a banner": lambda text: text.replace("<main>", "<aside><p>Ice on the cut!</aside><main>"),
    "quotes": lambda text: text.replace(ID, "id=the-flight"),
}  # fmt: skip


@given(st.lists(st.sampled_from(sorted(NOISE)), unique=True))
def test_what_systems_do_to_markup_changes_no_verdict(names: list[str]) -> None:
    there, left = HERE, BASE
    for name in names:
        there, left = NOISE[name](there), NOISE[name](left)
    assert states(there) == [THERE] * 3
    assert states(left) == [NOT_YET] * 3


def test_what_a_system_took_for_words_is_told() -> None:
    """Some systems escape what is pasted, so that readers see the tags."""
    link = '<a href="#the-flight">the flight</a>'
    there = HERE.replace(link, html.escape(link))
    found = judged(there)
    assert [one.state for one in found] == [DIFFERENTLY, THERE, THERE]
    assert found[0].how == "It was taken for words there, so readers see the markup itself."


@pytest.mark.parametrize("more", [200, 2_000])
def test_a_page_that_became_many_times_as_long_is_judged_the_same(more: int) -> None:
    added = "".join(f"<h3>Boat {n}</h3><p>It was lifted in week {n}.</p>" for n in range(more))
    assert states(HERE.replace("</main>", f"{added}</main>")) == [THERE] * 3


def menu(*items: str) -> str:
    rows = "".join(f"<li><a href=/{one}/>{one.capitalize()}</a></li>" for one in items)
    return f"<title>T</title><nav><ul class=bar>{rows}</ul></nav><main><h1>T</h1><p>Words</main>"


@pytest.mark.parametrize(
    ("there", "moved", "gone"),
    [
        (("home", "locks", "fees", "shop"), NOT_YET, NOT_YET),
        (("home", "fees", "locks", "shop"), THERE, NOT_YET),
        (("home", "fees", "locks"), THERE, THERE),
        (("home", "locks", "boats", "fees"), NOT_YET, THERE),
    ],
)
def test_items_of_menus_that_moved_or_go_are_told(
    there: tuple[str, ...], moved: str, gone: str
) -> None:
    here = Source(menu("home", "fees", "locks"))
    page = PageThere(here, Source(menu(*there)), ADDRESS, urls.page_key)
    (number,) = (one.number for one in here.of_tags("ul"))
    asked = [Step(MOVE_ITEM, "", "item “Fees”", "", number=number),
             Step(AWAY_ITEM, "", "item “Shop”", "", "/shop/", number=number)]  # fmt: skip
    assert [one.state for one in stations(page, asked)] == [moved, gone]


@pytest.mark.parametrize(
    ("there", "found"),
    [
        ("<p class=block>A few words</p>", [NOT_YET, NOT_YET]),
        ("<p id=block>A few words</p>", [THERE, THERE]),
        ('<p id=block class="wide">A few words</p>', [THERE, THERE]),
        ('<p id=block class="wide block">A few words</p>', [THERE, NOT_YET]),
    ],
)
def test_a_field_that_is_to_be_emptied(there: str, found: list[str]) -> None:
    base = "<p class=block>A few words</p>"
    moved = [Edit(2, " class=block", ""), Edit(2, "", ' id="block"')]
    here = Source(apply(base, moved))
    page = PageThere(here, Source(there), ADDRESS, urls.page_key)
    assert [one.state for one in stations(page, steps(Source(base), here, moved))] == found


STEPS = (
    "<!doctype html><head><title>T</title></head><body><main><h2 id=a>A</h2>"
    "<p>Few words <a href=/b/>b</a></p></main>"
)
LINE = "<style>a { b: c }</style>"
JUDGED: list[tuple[Step, str, str, str]] = [
    # a step, what is planned, what is there, how that stands
    (Step("marker", "", "", "m"), '<i id="m"></i>', '<b id="m"></b>', THERE),
    (Step("marker", "", "", "m"), '<i id="m"></i>', '<b id="n"></b>', NOT_YET),
    (Step("marker", "", "", "m"), '<a name="m"></a>', '<a name="m"></a>', THERE),
    (Step("no-id", "", "", "", "old"), "<h3>B</h3>", '<h3 id="old">B</h3>', NOT_YET),
    (Step("no-id", "", "", "", "old"), "<h3>B</h3>", '<h3 id="new">B</h3>', THERE),
    (Step("no-id", "", "", "", "old"), "<h3>B</h3>", "", THERE),
    (Step("heading", "", "", "h3"), "<h3>Bees</h3>", "<h3>Bees</h3>", THERE),
    (Step("heading", "", "", "h3"), "<h3>Bees</h3>", "<h4>Bees</h4>", DIFFERENTLY),
    (Step("heading", "", "", "h3"), "<h3>Bees</h3>", "<p>Bees</p>", NOT_YET),
    (Step("heading", "", "", "h3"), "<h3>Bees</h3>", "", UNTOLD),
    (Step("no-link", "", "", "", "/c/"), "<p>See c.", '<p>See <a href="/c/">c</a>.', NOT_YET),
    (Step("no-link", "", "", "", "/c/"), "<p>See c.", "<p>See c.", THERE),
    (Step("no-link", "", "", "", "/b/"), "<p>See b.", "<p>See b.", THERE),  # the page has one more
    (Step("away", "", "", "", "old"), "<p>x", '<p id="old">x', NOT_YET),
    (Step("away", "", "", "", "old"), "<p>x", "<p>x", THERE),
    (Step("away", "", "", "", "<p>Few words</p>"), "<i>x</i>", "<p>Few words</p>", NOT_YET),
    (Step("away", "", "", "", "<p>Few words</p>"), "<i>x</i>", "<i>x</i>", THERE),
    (Step("away", "", "", "", "<br>"), "<i>x</i>", "<br>", UNTOLD),
    (Step("style", "", "", LINE), "<i>x</i>", "<style>a{b:c;}</style>", THERE),
    (Step("style", "", "", LINE), "<i>x</i>", "<style>z{} a{b:c}</style>",
     THERE),
    (Step("style", "", "", LINE), "<i>x</i>", "<style>a{b:d}</style>", NOT_YET),
    (Step("markup", "", "", "<ul>"), "<ul><li><a href=#a>A</a></ul>",
     "<ul class=x><li><a href='#a'>A</a></ul>", THERE),
    (Step("markup", "", "", "<ul>"), "<ul><li><a href=#a>A</a></ul>",
     "<ul><li><a href=#b>A</a></ul>", DIFFERENTLY),
    (Step("markup", "", "", "<ul>"), "<ul><li><a href=#a>Aye</a><li>B</ul>",
     "<ul><li><a href=#a>Aye</a><li>C</ul>", DIFFERENTLY),
    (Step("markup", "", "", "wide hop"), '<table class="wide hop"><td>x</table>',
     '<table class="x hop wide"><td>x</table>', THERE),
    (Step("markup", "", "", "wide hop"), '<table class="wide hop"><td>x</table>',
     '<table class="hop"><td>x</table>', NOT_YET),
    (Step("link", "", "", "#a"), "<p>no link", "<p>no link", UNTOLD),
    (Step("link", "", "", "#a"), "<p><b><a href=#a>Up</a></b>", "<p><a href=#a>Up</a>", THERE),
    (Step("something-else", "", "", ""), "<p>x", "<p>x", UNTOLD),
]  # fmt: skip


@pytest.mark.parametrize(("step", "here", "there", "state"), JUDGED)
def test_each_kind_of_step_is_judged(step: Step, here: str, there: str, state: str) -> None:
    planned, found = (Source(STEPS.replace("</main>", f"{one}</main>")) for one in (here, there))
    number = next((one.number for one in planned.of_tags("p", "a")), 0) + 2  # the first put in
    page = PageThere(planned, found, ADDRESS, urls.page_key)
    [one] = stations(page, [replace(step, number=number)])
    assert (one.state, one.at > 0.3) == (state, True)
    assert bool(one.how) is (state == DIFFERENTLY)
