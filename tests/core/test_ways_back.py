"""Ways back: where sections end, what is taken for a way back, and that putting them in and
taking them out again changes nothing else."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from innerhop.core.contents import ways_back
from innerhop.core.facts.page_facts import gather
from innerhop.core.planners import markers
from innerhop.core.planners import ways_back as planner
from innerhop.core.proof import proved
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from tests.core.test_contents import OL, Read, page
from tests.core.trees import read

UTF_8 = FileEncoding()
NEW = planner.NewWay("Back to top", "#top", ways_back.SECTIONS, {})


def found(text: str) -> list[tuple[str, str]]:
    before = Read(text)
    ways = ways_back.find(before.source, before.facts, before.lists, lambda h: h.lstrip("#"))
    return [(one.words, one.to) for one in ways]


@pytest.mark.parametrize(
    ("link", "ways"),
    [
        ("<a href=#top>Up</a>", [("Up", "")]),
        ("<a href=#TOP>Up</a>", [("Up", "")]),  # in any case of letters
        ("<a href='#'>Up</a>", [("Up", "")]),
        ("<a href=#name>Up</a>", [("Up", "")]),  # what stands at the page's own heading
        ("<a href=#list>Contents</a>", [("Contents", "list")]),
        ("<a href=#b>Two</a>", []),
        ("<a href=other#top>Up</a>", []),
        ("<nav role=navigation></nav>", []),
    ],
)
def test_ways_back_are_known_by_where_they_lead(link: str, ways: list[tuple[str, str]]) -> None:
    """HTML Standard, "select the indicated part": an empty fragment, and `top`, are the top
    of the document. What counts as a way back is common practice, no source."""
    listed = OL.replace("<ol>", "<ol id=list>")
    text = page(listed, "a|One", "b|Two", "c|Three", before="<h1 id=name>Name</h1>")
    leads = text.replace("</main>", f"<p>{link}</p></main>")
    assert found(leads) == ways
    assert found(leads.replace("</main>", "</main><footer>" + link + "</footer>")) == ways


@pytest.mark.parametrize(
    ("body", "where"),
    [
        # sections of their own hold them at their end
        ("<section><h2>A</h2><p>x</p></section><section><h2>B</h2><p>y</p></section>",
         "<section><h2>A</h2><p>x</p>*</section><section><h2>B</h2><p>y</p>*</section>"),
        # else before the next heading, and at the end of all
        ("<h2>A</h2><p>x</p><h2>B</h2><p>y</p>", "<h2>A</h2><p>x</p>*<h2>B</h2><p>y</p>*"),
        # whatever is around the heading alone is part of it
        ("<div><h2>A</h2></div><p>x</p><div><h2>B</h2></div><p>y</p>",
         "<div><h2>A</h2></div><p>x</p>*<div><h2>B</h2></div><p>y</p>*"),
        # a marker right above the next heading is that one's, and stays there
        ('<h2>A</h2><p>x</p><a id="b"></a>\n<h2>B</h2><p>y</p>',
         '<h2>A</h2><p>x</p>*<a id="b"></a>\n<h2>B</h2><p>y</p>*'),
        # nothing to go back from
        ('<h2>A</h2><a id="b"></a><h2>B</h2><p>y</p>',
         '<h2>A</h2><a id="b"></a><h2>B</h2><p>y</p>*'),
        # a deeper section ends no section
        ("<h2>A</h2><h3>C</h3><p>x</p><h2>B</h2><p>y</p>",
         "<h2>A</h2><h3>C</h3><p>x</p>*<h2>B</h2><p>y</p>*"),
    ],
)  # fmt: skip
def test_they_stand_where_sections_end(body: str, where: str) -> None:
    text = f"<!doctype html><main>{body}</main>"
    source = Source(text)
    starts = [one.number for one in source.of_tags("h2")]
    written = '<p><a href="#top" data-hop-back="sections">Back to top</a></p>'
    for place in reversed(planner.ends_of(source, starts, starts)):
        source = proved(source, planner.plan_put(source, place, NEW, UTF_8))
    assert source.text == f"<!doctype html><main>{where.replace('*', written)}</main>"


_PIECES = ("<h2>A</h2>", "<h3>B</h3>", "<p>x</p>", "<p>y", "<ul><li>z</ul>", "\r\n  ",
           "<div><p>d</p></div>")  # fmt: skip


@given(st.lists(st.sampled_from(_PIECES), min_size=1, max_size=14))
def test_put_in_and_taken_out_again_the_page_is_the_same(pieces: list[str]) -> None:
    text = f"<!doctype html><main><h1>T</h1>{''.join(pieces)}</main>"
    source = Source(text)
    starts = [one.number for one in source.of_tags("h2")]
    places = [
        one for one in planner.ends_of(source, starts, starts) if planner.is_certain(source, one)
    ]
    after = source
    for place in reversed(places):
        after = proved(after, planner.plan_put(after, place, NEW, UTF_8))
    ways = ways_back.find(after, gather(after), [], lambda href: href.lstrip("#"))
    assert len(ways) == len(places)
    assert all(one.place == ways_back.SECTIONS for one in ways)
    if ways:
        reworded = proved(after, planner.plan_reworded(after, ways, "Up", "#", UTF_8))
        links = [one for one in read(reworded.text).below() if one.tag == "a"]
        assert [(one.text, one.attrs["href"]) for one in links] == [("Up", "#")] * len(ways)
    assert proved(after, planner.plan_out(after, ways)).text == text


def test_each_language_has_words_for_it() -> None:
    assert ways_back.words_in("de-AT") == "Nach oben"
    assert ways_back.words_in("xx") == ways_back.words_in("en")


LINES = "<main>\n  <h2>A</h2>\n  <p>x</p>\n  <h2>B</h2>\n  <div>\n    <p>y</p>\n  </div>\n</main>"


@pytest.mark.parametrize(
    ("tag", "side", "expected"),
    [
        ("div", markers.BEFORE, "B</h2>\n  *\n  <div>"),
        ("p", markers.AFTER, "x</p>\n  *\n  <h2>B"),
        ("div", planner.INSIDE_END, "y</p>\n    *\n  </div>"),
        ("div", markers.AFTER, "</div>\n  *\n</main>"),
    ],
)
def test_a_way_back_has_a_line_of_its_own(tag: str, side: str, expected: str) -> None:
    source = Source(f"<!doctype html><title>T</title>{LINES}")
    number = next(source.of_tags(tag)).number
    plan = planner.plan_put(source, planner.WayPlace(number, side), NEW, UTF_8)
    way = '<p><a href="#top" data-hop-back="sections">Back to top</a></p>'
    text = proved(source, plan).text
    assert expected.replace("*", way) in text
    again = Source(text)
    [made] = again.having("data-hop-back")
    [there] = ways_back.find(again, gather(again), [], lambda href: href.lstrip("#"))
    assert there.whole == again.parent(made.number)
    assert proved(again, planner.plan_out(again, [there])).text == source.text
