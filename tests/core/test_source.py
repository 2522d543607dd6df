"""Reading: every place that `Source` names holds what it says it holds."""

from __future__ import annotations

import re
import time

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from innerhop.core.facts import page_facts
from innerhop.core.facts.page_facts import gather
from innerhop.core.facts.sections import page_heading, sections, sections_and_words
from innerhop.core.planners.selection import texts_below
from innerhop.core.source.tree import Source
from tests.core import trees


@settings(max_examples=150)
@given(trees.markup())
def test_every_place_holds_what_it_says(text: str) -> None:
    source = Source(text)
    for element in source.elements:
        number = element.number
        tag = source.start_tag(number)
        if tag is None:
            continue
        assert source.original(tag).lower().startswith(f"<{element.tag}")
        after = source.after_tag_name(number)
        assert after is None or after == tag.start + 1 + len(element.tag)
        for name, value in element.attributes.items():
            span = source.attribute(number, name)
            assert span is not None
            assert source.original(span).lower().startswith(name)
            assert value == "" or value in source.original(span)


@settings(max_examples=150)
@given(trees.markup())
def test_text_runs_spell_their_nodes(text: str) -> None:
    source = Source(text)
    for number, child, data in texts_below(source, 0, 0):
        run = source.text_run(number, child)
        if run is None or not data:
            continue
        assert run.data == data
        for index, character in enumerate(data):
            here = text[run.start_place(index) : run.end_place(index + 1)]
            assert here[0] in (character, "&", "\r")


# html5lib 1.1 makes a link that stands in a table, and not in a cell of it, again once too often
# in what follows a second table; Chromium doesn't (see below).
_LINK_IN_TABLE = re.compile(r"<table>(?:(?!<td>).)*<a\b", re.DOTALL | re.IGNORECASE)


@settings(max_examples=100)
@given(trees.markup())
def test_another_parser_finds_the_same_headings_ids_and_links(text: str) -> None:
    """html5lib as the second opinion on HTML Standard 13.2."""
    assume(not _LINK_IN_TABLE.search(text))
    facts = gather(Source(text))
    elements = list(trees.read(text).below())
    headings = [one for one in elements if one.tag in ("h2", "h3")]
    assert [one.level for one in facts.headings] == [int(one.tag[1]) for one in headings]
    ids = [one.attrs["id"] for one in elements if one.attrs.get("id")]
    assert [one.value for one in facts.marks if one.attribute == "id"] == ids
    hrefs = [one.attrs["href"] for one in elements if one.tag == "a" and "href" in one.attrs]
    assert [one.href for one in facts.links] == hrefs


def test_a_link_in_a_table_is_made_again_as_chromium_makes_it() -> None:
    """Chromium 156: two links, one before the tables and one in the first heading."""
    text = "<body><table><a href='#one'><table><h2> <h2>The end</h2><p>Last words"
    assert [one.href for one in gather(Source(text)).links] == ["#one", "#one"]


REAL_LIFE = """<!DOCTYPE HTML>\r
<HTML LANG=de><HEAD><TITLE>Seite</TITLE><BASE HREF=/alt/></HEAD>\r
<BODY><HEADER><H2 ID=kopf>Kopf</H2><NAV><A HREF=#a>A</A></NAV></HEADER>\r
<MAIN><H1>Titel</H1>\r
<NAV><A HREF="#a">in the page</A></NAV>
<H2><A NAME=a></A>Eins &amp; zwei</H2><P>one two three<H4>Tief</H4><P>four
<SECTION ID=sec><H2>Drei</H2><P>five six</SECTION>
<SPAN ID=davor></SPAN><H2>Vier</H2><!-- <H2 ID=no> -->
<SVG><TITLE>not the page's</TITLE><G ID=g /></SVG>
<H2><IMG ALT="ein Bild" SRC=x></H2>
<TEMPLATE><H2 ID=not>x</H2><A HREF=#not>x</A></TEMPLATE></MAIN>
<FOOTER><A HREF=#kopf>up</A></FOOTER>"""


def test_facts_of_a_page_from_real_life() -> None:
    facts = gather(Source(REAL_LIFE))
    assert (facts.title, facts.language, facts.base_href) == ("Seite", "de", "/alt/")
    assert [(m.attribute, m.value) for m in facts.marks] == [
        ("id", "kopf"), ("name", "a"), ("id", "sec"), ("id", "davor"), ("id", "g")
    ]  # fmt: skip
    assert [(one.text, one.region) for one in facts.links] == [
        ("A", "nav"), ("in the page", ""), ("up", "footer")
    ]  # fmt: skip


def test_sections_nest_by_level_and_know_their_marks() -> None:
    source = Source(REAL_LIFE)
    found = sections(source, gather(source))
    assert [(one.title, one.depth, one.mark, one.words) for one in found] == [
        ("Eins & zwei", 0, "a", 6),
        ("Tief", 1, "", 2),  # the skipped rank is closed up
        ("Drei", 0, "sec", 3),
        ("Vier", 0, "davor", 1),
        ("ein Bild", 0, "", 0),
    ]


def test_words_behind_what_is_not_shown_still_count() -> None:
    source = Source("<h2>One</h2><p>two<script>let three;</script> four<footer>five</footer>six")
    assert [one.words for one in sections(source, gather(source))] == [4]


def test_only_a_single_first_h1_names_the_page() -> None:
    named = gather(Source("<h1>A</h1><h2>B</h2>")).headings
    assert page_heading(named) == named[0]
    assert page_heading(gather(Source("<h1>A</h1><h1>B</h1>")).headings) is None
    assert page_heading(gather(Source("<h2>A</h2><h1>B</h1>")).headings) is None


@pytest.mark.parametrize("depth", [400, 20_000])
def test_deep_nesting_is_no_trouble(depth: int) -> None:
    facts = gather(Source("<div>" * depth + "<h2 id=deep>x</h2>"))
    assert [mark.value for mark in facts.marks] == ["deep"]


XHTML = [
    "<table><colgroup><col></col><col></col></colgroup><tr><td>a</table>",
    "<table><colgroup><col/><col/></colgroup><tbody><tr><td>a</td></tr></tbody></table>",
    "<table>\r\n<col width=1></COL \n><col></col>\r\n<tr><td id=x>a</table><p id=y>b",
    "<p>a</col>b<br></br>c</p><script>'</col>'</script><!-- </col> --><p title='</col>'>d",
    "<p/><a name=x/>b<hr></hr><img></img><ul><li/>c</ul>",
    "<dl><dt/>a<dd/>b</dl><table><tr/><td/>c</table>",
]


@pytest.mark.parametrize("markup", XHTML)
def test_pages_in_the_manner_of_xhtml(markup: str) -> None:
    """HTML Standard, "in column group" and "in body": end tags that are ignored, as html5lib
    has it too. tests/browser compares the same pages with Chromium."""
    text = f"<!DOCTYPE html>\r\n<html><head><title>t</title></head><body>{markup}"
    source = Source(text)
    other = [one for one in trees.read(text).below() if one.tag != "comment"]
    assert source.tags == [one.tag for one in other]
    for element, theirs in zip(source.elements, other, strict=True):
        assert element.attributes == theirs.attrs
        span = source.start_tag(element.number)
        if span is not None:
            assert source.original(span).lower().startswith(f"<{element.tag}")
            assert source.element_at(span.start) == element.number


def test_reading_takes_time_in_proportion_however_deep_elements_stand() -> None:
    """Each marker's text was asked for before its children: twice the depth, four times
    the time."""

    def seconds(depth: int) -> float:
        text = "".join(f"<div id=d{at}><h2>x" for at in range(depth)) + "<p>words"
        begin = time.process_time()
        facts = gather(Source(text))
        assert len(facts.marks) == depth
        return time.process_time() - begin

    few = min(seconds(1_000) for _ in range(3))
    assert seconds(8_000) < few * 8 * 4  # a machine may be busy; quadratic would be 64


def test_permalinks_are_no_words_of_their_headings_and_no_hops() -> None:
    text = (
        "<section id=fees><h2>Fees<a class=headerlink href='#fees'>¶</a></h2></section>"
        "<section id=keys><span id=old></span><h2>Keys<a href='#keys'>#</a></h2></section>"
        "<h2 id=b><a href='#b'>Boats</a></h2><h3 id=c>See <a href='#b'>boats</a></h3>"
    )
    facts = gather(Source(text))
    assert [one.text for one in facts.headings] == ["Fees", "Keys", "Boats", "See boats"]
    assert [one.permalink for one in facts.links] == [True, True, True, False]


@pytest.mark.parametrize(
    ("markup", "region"),
    [
        ("<div role=navigation><h2>x</h2></div>", "nav"),
        ("<div role=Banner><h2>x</h2></div>", "header"),
        ("<div role=contentinfo><h2>x</h2></div>", "footer"),
        ("<div role=complementary><h2>x</h2></div>", "aside"),
        ("<div role=main><nav><h2>x</h2></nav></div>", ""),
        ("<div role=note><h2>x</h2></div>", ""),
    ],
)
def test_landmark_roles_make_the_frame(markup: str, region: str) -> None:
    """WAI-ARIA 1.2, landmark roles."""
    facts = gather(Source(f"<body>{markup}"))
    assert [one.region for one in facts.headings] == [region]


def test_characters_that_pages_rarely_have_are_words_like_others() -> None:
    """Control characters stand in pages as references (HTML Standard, "numeric character
    reference end state": a parse error that keeps them)."""
    page = "<h1>One</h1><h2>A &#1; b</h2><script>&#2;\x03</script><p>c &#3; d</p><h2>&#1;&#2;</h2>"
    source = Source(page)
    found, words = sections_and_words(source, page_facts.gather(source))
    assert ([one.words for one in found], words) == ([6, 1], 8)


def test_words_of_scripts_in_the_frame_count_nowhere() -> None:
    """HTML Standard, "the script element": it renders nothing, wherever it stands."""
    frame = "<header>Canal trust <script>var a = 1, b = 2</script> home</header>"
    page = f"{frame}<main><h2>Fees</h2>two words<style>p {{ top: 0 }}</style> more</main>{frame}"
    source = Source(f"<title>Not shown here</title>{page}")
    found, words = sections_and_words(source, gather(source))
    assert [one.words for one in found] == [4]
    assert words == 4 + 2 * 3


@given(st.lists(st.text(alphabet="ab |\t\n\xa0\u2003\u2028\x1c\x85é", max_size=8), max_size=6))
def test_links_say_their_words_in_one_line(texts: list[str]) -> None:
    """Closed up at once or one by one: white space as Python's `str.split` has it."""
    source = Source("".join(f"<a href=#x>{text}</a>." for text in texts))
    said = [source.text_of(link.number) for link in gather(source).links]
    assert [one.text for one in gather(source).links] == [" ".join(one.split()) for one in said]


@given(st.recursive(st.just("x"), lambda inner: st.lists(inner, max_size=3).map(
    lambda parts: f"<div>{''.join(parts)}</div>"), max_leaves=30))  # fmt: skip
def test_what_is_last_inside_is_the_same_however_many_ask(markup: str) -> None:
    source, table = Source(markup), Source(markup).lasts
    for _ in range(3):  # first counted, then looked up
        assert [source.last_inside(number) for number in range(len(source))] == table
