"""Hops put an `a` around the words and change nothing else; what can't be linked
gets a reason and the nearest words that can."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from innerhop.core import edits
from innerhop.core.facts.page_facts import gather
from innerhop.core.planners import hopping, marking
from innerhop.core.planners.selection import Point, Words, text_of, texts_below
from innerhop.core.planners.wrapping import CannotLink
from innerhop.core.refusals import Refusal
from innerhop.core.source.file_encoding import FileEncoding, decode, encode
from innerhop.core.source.tree import Source
from tests.core import trees
from tests.core.planned import after as after_plan

UTF_8 = FileEncoding()


def select(source: Source, first: str, last: str = "") -> Words:
    """From where `first` begins to where `last` ends."""
    texts = texts_below(source, 0, 0)
    start = next(Point(n, child, data.index(first)) for n, child, data in texts if first in data)
    end = next(
        Point(n, child, data.index(last or first) + len(last or first))
        for n, child, data in texts
        if (last or first) in data
    )
    return Words(start, end)


def link(text: str, first: str, last: str = "") -> str:
    source = Source(text)
    made = hopping.plan_hop(source, select(source, first, last), {"href": "#x"}, UTF_8)
    return after_plan(source, made)


@pytest.mark.parametrize(
    ("text", "first", "last", "after"),
    [
        ("<p>See moorings.", "moorings", "", '<p>See <a href="#x">moorings</a>.'),
        ("<p>a &amp; b</p>", "& b", "", '<p>a <a href="#x">&amp; b</a></p>'),
        ("<p>caf&eacute s</p>", "café", "", '<p><a href="#x">caf&eacute</a> s</p>'),
        ("<p>one\r\ntwo three", "one\ntwo", "", '<p><a href="#x">one\r\ntwo</a> three'),
        ("<p>  spaced  ", "  spaced  ", "", '<p>  <a href="#x">spaced</a>  '),
        ("<p>a <b>c</b> d", "a", "d", '<p><a href="#x">a <b>c</b> d</a>'),
        ("<p>a <b>c</b> d", "c", "d", '<p>a <a href="#x"><b>c</b> d</a>'),
        ("<p><b>bold</b>", "ol", "", '<p><b>b<a href="#x">ol</a>d</b>'),
        ("<p>a<br>b <img alt=x> c", "b", "c", '<p>a<br><a href="#x">b <img alt=x> c</a>'),
        ("<p>a<!-- x -->b c", "b", "", '<p>a<!-- x --><a href="#x">b</a> c'),
        ("<pre>\nfirst</pre>", "first", "", '<pre>\n<a href="#x">first</a></pre>'),
        ("<ul><li>one<li>two", "two", "", '<ul><li>one<li><a href="#x">two</a>'),
        ("<p>a</i>b", "ab", "", '<p><a href="#x">a</i>b</a>'),
        ("<p>🚤 boat", "boat", "", '<p>🚤 <a href="#x">boat</a>'),
    ],
)
def test_only_the_two_tags_are_added(text: str, first: str, last: str, after: str) -> None:
    assert link(text, first, last) == after


@pytest.mark.parametrize(
    ("text", "first", "last", "message", "nearest"),
    [
        ("<p>See <a href=/m>moorings here</a> now", "moorings", "", "to /m", "now"),
        ("<p>See <a href=/m>moorings</a> now", "See", "moorings", "inside a link", "See"),
        ("<p>one two<p>three", "two", "three", "one block", "two"),
        ("<h2>Head</h2><ul><li>x", "Head", "x", "one block", "Head"),
        ("<p>See <b>the flight</b> now", "flight", "now", "set apart", "the flight now"),
        ("<p>go <button>Press me</button> now", "Press", "", "button", "now"),
        ("<p>a <label><input> b</label> c", "a", "c", "form", "a"),
        ("<p>a <input> c", "a", "c", "something to click", "a"),
        ("<title>Old title</title><p>x", "title", "", "page's title", None),
        ("<a name=old>never closed<p>words", "words", "", "anchor", None),
        ("<p>a   b", "   ", "", "No words", None),
    ],
)
def test_what_can_t_be_linked(
    text: str, first: str, last: str, message: str, nearest: str | None
) -> None:
    with pytest.raises(CannotLink, match=message) as caught:
        link(text, first, last)
    assert (caught.value.nearest.text if caught.value.nearest else None) == nearest
    if caught.value.nearest:  # and it really can be linked
        source = Source(text)
        assert hopping.plan_hop(source, caught.value.nearest, {"href": "#x"}, UTF_8)


@st.composite
def some_words(draw: st.DrawFn, text: str) -> Words:
    """Any two places in any text nodes of the page, in order."""
    texts = [one for one in texts_below(Source(text), 0, 0) if one[2]]
    first = draw(st.integers(0, len(texts) - 1))
    last = draw(st.integers(first, min(first + 3, len(texts) - 1)))
    begin = draw(st.integers(0, len(texts[first][2])))
    end = draw(st.integers(begin if first == last else 0, len(texts[last][2])))
    return Words(Point(*texts[first][:2], begin), Point(*texts[last][:2], end))


def test_letters_behind_a_reference_without_its_semicolon_are_letters() -> None:
    """https://html.spec.whatwg.org/multipage/parsing.html#named-character-reference-state"""
    source = Source("<p>a&eacutesome words, &ampx")
    number = next(one.number for one in source.of_tags("p"))
    words = Words(Point(number, 0, 1), Point(number, 0, 2))
    grown = after_plan(source, hopping.plan_hop(source, words, {"href": "#x"}, UTF_8))
    assert grown == '<p>a<a href="#x">&eacute</a>some words, &ampx'


def test_a_text_behind_a_comment_is_not_taken_for_one_before_it() -> None:
    source = Source("<p>&amp;</b><!-- x -->&amp; more")
    number = next(one.number for one in source.of_tags("p"))
    words = Words(Point(number, 0, 0), Point(number, 2, 1))
    grown = after_plan(source, hopping.plan_hop(source, words, {"href": "#x"}, UTF_8))
    assert grown == '<p><a href="#x">&amp;</b><!-- x -->&amp;</a> more'


def test_a_link_that_would_go_on_beyond_its_words_is_refused() -> None:
    """https://html.spec.whatwg.org/multipage/parsing.html#foster-parent: what is put before
    a table takes no end tag from inside of it."""
    source = Source("<body>&amp;<table><br>&amp;<h2>The end</h2>")
    words = Words(Point(2, 0, 0), Point(2, 2, 1))
    with pytest.raises(Refusal, match="too broken to change it safely"):
        after_plan(source, hopping.plan_hop(source, words, {"href": "#x"}, UTF_8))


@settings(max_examples=300)
@given(st.data(), trees.markup())
def test_another_parser_sees_the_old_tree_and_one_link(data: st.DataObject, text: str) -> None:
    words = data.draw(some_words(text))
    source = Source(text)
    try:
        grown = after_plan(source, hopping.plan_hop(source, words, {"href": "#new-hop"}, UTF_8))
    except Refusal as problem:
        assert problem.message
        return
    linked = trees.read(grown)
    found = [one for one in linked.below() if one.attrs.get("href") == "#new-hop"]
    assert len(found) == 1
    assert " ".join(found[0].text.split()) == text_of(source, words)
    assert linked.unwrapped(found[0]) == trees.read(text)


@settings(max_examples=60)
@given(st.data(), trees.markup(), st.sampled_from(["utf-8", "utf-16-le", "cp1252"]))
def test_any_series_undone_gives_the_original_bytes(
    data: st.DataObject, text: str, codec: str
) -> None:
    mark = b"\xff\xfe" if codec == "utf-16-le" else b""
    original = mark + text.encode(codec, "xmlcharrefreplace")
    now, encoding = decode(original)
    done: list[list[edits.Edit]] = []
    for number in range(data.draw(st.integers(1, 5))):
        source = Source(now)
        facts = gather(source)
        try:
            if data.draw(st.booleans()):
                heading = data.draw(st.sampled_from(facts.headings))
                made = marking.plan_marks(source, facts, [(heading.number, f"é{number}")], encoding)
            else:
                words = data.draw(some_words(now))
                made = hopping.plan_hop(source, words, {"href": f"#é{number}"}, encoding)
        except Refusal:
            continue
        try:
            now = after_plan(source, made)
        except Refusal:
            continue
        done.append(list(made.edits))
        assert decode(encode(now, encoding))[0] == now
    for made in reversed(done):
        now = edits.apply(now, edits.invert(made))
    assert encode(now, encoding) == original
