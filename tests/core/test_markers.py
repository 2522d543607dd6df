"""Empty markers, and marks moved and taken away: what another parser reads
afterwards is the old tree plus what was asked for."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from playwright.sync_api import Browser, Page

from innerhop.core.facts.page_facts import gather
from innerhop.core.findings import traits
from innerhop.core.planners import markers, marking
from innerhop.core.planners.markers import AFTER, BEFORE, INSIDE, ON, CannotMark
from innerhop.core.refusals import Refusal
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from tests.core import trees
from tests.core.planned import after as after_plan

UTF_8 = FileEncoding()


def first(source: Source, tag: str) -> int:
    return next(number for number, tag_ in enumerate(source.tags) if tag_ == tag)


def put(text: str, tag: str, side: str) -> str:
    """The page with a marker beside its first element of a kind."""
    source = Source(text)
    return after_plan(source, markers.plan_marker(source, first(source, tag), side, "new", UTF_8))


@settings(max_examples=200)
@given(trees.markup(), st.data())
def test_another_parser_sees_the_old_tree_and_an_empty_span(text: str, data: st.DataObject) -> None:
    source = Source(text)
    number = data.draw(st.integers(0, len(source) - 1))
    side = data.draw(st.sampled_from([BEFORE, AFTER, INSIDE]))
    try:
        made = markers.plan_marker(source, number, side, "new-one", UTF_8)
        grown = after_plan(source, made)
    except Refusal as problem:
        assert str(problem)
        return
    new = trees.read(grown)
    marker = next(one for one in new.below() if one.attrs.get("id") == "new-one")
    assert (marker.tag, marker.children) == ("span", [])
    assert new.unwrapped(marker) == trees.read(text)


M = '<span id="new"></span>'


@pytest.mark.parametrize(
    ("before", "tag", "side", "after"),
    [
        ("<p>a</p><h2>b</h2>", "h2", BEFORE, f"<p>a</p>{M}<h2>b</h2>"),
        ("<p>a</p><h2>b</h2>", "p", AFTER, f"<p>a</p>{M}<h2>b</h2>"),
        ("<ul><li>a</ul>", "li", INSIDE, f"<ul><li>{M}a</ul>"),
        ("<p>a<img src=x>", "img", AFTER, f"<p>a<img src=x>{M}"),
        ("<table><tr><td>a</table>", "table", BEFORE, f"{M}<table><tr><td>a</table>"),
    ],
)
def test_where_a_marker_stands(before: str, tag: str, side: str, after: str) -> None:
    assert put(before, tag, side) == after


@pytest.mark.parametrize(
    ("text", "tag", "side", "message"),
    [
        ("<ul><li>a</ul>", "li", BEFORE, "entries of a list"),
        ("<table><tr><td>a</table>", "tr", BEFORE, "parts of a table"),
        ("<p>a<p>b", "p", AFTER, "not written"),
        ("<p>a<img src=x>", "img", INSIDE, "before it"),
        ("<p>a", "html", BEFORE, "outside|Outside"),
        ("<template><p>a</p></template>", "p", BEFORE, "can't|don't|Outside"),
    ],
)
def test_where_none_can_stand_is_said(text: str, tag: str, side: str, message: str) -> None:
    with pytest.raises(CannotMark, match=message):
        put(text, tag, side)


@pytest.mark.parametrize(
    ("text", "tag", "side", "heading"),
    [
        ("<h2>Fees</h2><p>a", "h2", AFTER, "Fees"),
        ("<h2>Fees</h2>\n<p>a", "p", BEFORE, "Fees"),
        ("<h2>Fees</h2><div><p>a</div>", "p", INSIDE, "Fees"),
        ("<header><h2>Fees</h2></header><a id=x></a><p>a", "p", BEFORE, "Fees"),
        ("<h2>Fees</h2><p>a", "h2", BEFORE, None),
        ("<h1>Boats</h1><h2>Fees</h2>", "h2", BEFORE, None),  # a heading comes next
        ("<h2>Fees</h2>Some words<p>a", "p", BEFORE, None),
        ("<p>a", "p", BEFORE, None),
    ],
)
def test_a_heading_that_would_be_cut_off(
    text: str, tag: str, side: str, heading: str | None
) -> None:
    source = Source(text)
    found = markers.heading_above(source, first(source, tag), side)
    assert (None if found is None else source.text_of(found)) == heading


@pytest.mark.parametrize(
    ("markup", "empty"),
    [
        ("<span id=x></span>", True),
        ("<a id=x> </a>", True),
        ("<a name=x></a>", True),
        ("<div class=anchor id=x></div>", True),
        ("<a id=x href=#y></a>", False),
        ("<span id=x>a</span>", False),
        ("<span id=x><img src=y></span>", False),
        ("<span id=x style='height:9em'></span>", False),
        ("<hr id=x>", False),
    ],
)
def test_what_is_an_empty_marker(markup: str, empty: bool) -> None:
    assert [mark.empty for mark in gather(Source(markup)).marks] == [empty]


@pytest.mark.parametrize(
    ("before", "to", "side", "after"),
    [
        ("<h2 id=x>a</h2><p>b</p>", "p", ON, '<h2>a</h2><p id="x">b</p>'),
        ("<i id=x></i><h2>a</h2><p>b</p>", "p", BEFORE, '<h2>a</h2><span id="x"></span><p>b</p>'),
        ("<p>b</p><h2>a</h2><i id=x></i>", "h2", ON, '<p>b</p><h2 id="x">a</h2>'),
        ("<i id=x></i><p>b</p>", "p", BEFORE, '<span id="x"></span><p>b</p>'),
        ("<a name=x>c</a><p>b</p>", "p", ON, '<a>c</a><p id="x">b</p>'),
    ],
)
def test_moves(before: str, to: str, side: str, after: str) -> None:
    source = Source(before)
    facts = gather(source)
    made = marking.plan_move(
        source, facts, facts.marks[0].number, first(source, to), side=side, encoding=UTF_8
    )
    assert after_plan(source, made) == after


@pytest.mark.parametrize(
    ("before", "after"),
    [
        ("<h2 class=c id='x' title=t>a", "<h2 class=c title=t>a"),
        ("<h2\r\n id=x>a", "<h2\r\n>a"),
        ("<p>a</p> <span id=x></span> <p>b</p>", "<p>a</p>  <p>b</p>"),
        ("<a id=x href=#y>c</a>", "<a href=#y>c</a>"),
        ("<a id=x name=x>c</a>", "<a>c</a>"),  # hops would still arrive by the name
        ("<a id=x name=y>c</a>", "<a name=y>c</a>"),
    ],
)
def test_taken_away(before: str, after: str) -> None:
    source = Source(before)
    facts = gather(source)
    made = marking.plan_take_away(source, facts, facts.marks[0].number)
    assert after_plan(source, made) == after


@pytest.mark.parametrize(
    ("before", "keep", "after"),
    [
        ("<h2 class=fees>a", False, '<h2 id="fees">a'),
        ("<h2 class='big fees  x'>a", False, "<h2 id=\"fees\" class='big x'>a"),
        ("<h2 class=fees>a", True, '<h2 id="fees" class=fees>a'),
    ],
)
def test_an_id_in_the_class(before: str, keep: bool, after: str) -> None:
    source = Source(before)
    numbers = marking.with_class(source, "fees")
    assert len(numbers) == 1
    made = marking.plan_from_class(
        source, gather(source), numbers[0], "fees", keep=keep, encoding=UTF_8
    )
    assert after_plan(source, made) == after


LAID_OUT = (
    "<!doctype html><meta charset=utf-8><style>p,h2,ul{margin:20px 0}section{padding:1px}</style>"
    "<body><h2>One</h2><p>a<p>b<h2>Two</h2><ul><li>c<li>d</ul><section><h2>Three</h2><p>e"
    "</section><table><tr><td>f</table><figure><img alt=g width=40 height=30></figure><p>end"
)


@pytest.fixture(scope="module")
def tab(chromium: Browser) -> Iterator[Page]:
    page = chromium.new_page(viewport={"width": 700, "height": 500})
    yield page
    page.close()


def places(tab: Page, text: str) -> list[list[float]]:
    """Where everything but markers stands, as Chromium lays it out."""
    tab.set_content(text)
    found: list[list[float]] = tab.evaluate(
        "[...document.body.querySelectorAll('*')].filter(e => e.id !== 'new').map(e => {"
        " const r = e.getBoundingClientRect(); return [r.x, r.y, r.width, r.height] })"
    )
    return found


@pytest.mark.parametrize("side", [BEFORE, AFTER, INSIDE])
def test_a_marker_moves_nothing_on_the_page(tab: Page, side: str) -> None:
    """CSS 2.2, 9.4.2, as Chromium carries it out: margins still collapse."""
    source = Source(LAID_OUT)
    before = places(tab, LAID_OUT)
    tried = 0
    for number in range(first(source, "h2"), len(source)):
        try:
            made = markers.plan_marker(source, number, side, "new", UTF_8)
        except Refusal:
            continue
        tried += 1
        assert places(tab, after_plan(source, made)) == before, source.tags[number]
    assert tried >= 5


def test_markers_in_a_row_below_a_heading_are_all_below_it() -> None:
    """Each goes up with its mend: of three in a row the second would else be left behind."""
    source = Source(
        "<h2>Quoting</h2><span id=a></span>\n<a name=b></a> <span id=c></span><p>Words</p>"
        "<span id=d></span><h2>Next</h2><a id=e></a> loose <a id=f></a>"
    )
    found = [one.number for one in traits._below_headings(source)]
    assert [source.attr(one, "id") or source.attr(one, "name") for one in found] == [
        "a", "b", "c", "e",
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("text", "tag", "after"),
    [
        ("<h2>A</h2>", "h2", '<span id="m"></span><h2>A</h2>'),
        # before it nothing can stand: in it, or in the first part of it that can hold one
        ("<ul><li>A</ul>", "li", '<ul><li><span id="m"></span>A</ul>'),
        ("<table><tr><td>A</table>", "tr", '<table><tr><td><span id="m"></span>A</table>'),
        ("<dl><dt>A</dl>", "dt", '<dl><dt><span id="m"></span>A</dl>'),
        ("<ul><li><p>A</ul>", "ul", '<span id="m"></span><ul><li><p>A</ul>'),
    ],
)
def test_an_id_that_is_left_stands_as_near_as_it_can(text: str, tag: str, after: str) -> None:
    source = Source(text)
    assert after_plan(source, markers.left_marker(source, first(source, tag), "m", UTF_8)) == after


def test_where_nothing_can_stand_an_id_can_t_be_left() -> None:
    source = Source("<select><optgroup label=x></select>")
    with pytest.raises(CannotMark, match="Let the hops to it lead elsewhere"):
        markers.left_marker(source, first(source, "optgroup"), "m", UTF_8)


def test_a_marker_is_taken_out_whole() -> None:
    source = Source('<p>a<span id="m"></span>b<a name=n>')
    assert after_plan(source, markers.removal(source, first(source, "span"))) == "<p>ab<a name=n>"
    with pytest.raises(CannotMark, match="not written"):
        markers.removal(source, first(source, "a"))
