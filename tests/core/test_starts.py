"""Where a hop can start besides words: parts of the page, and new links beside them.
Each case is the whole text afterwards, so that nothing else can have changed."""

from __future__ import annotations

import pytest
from hypothesis import given

from innerhop.core.planners import hopping, links_beside, markers
from innerhop.core.planners.markers import AFTER, BEFORE, CannotMark
from innerhop.core.planners.wrapping import CannotLink
from innerhop.core.refusals import Refusal
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from tests.core import trees
from tests.core.planned import after as after_plan

UTF_8 = FileEncoding()
VALUES = {"href": "#x"}


def number(source: Source, selector: str) -> int:
    found = source.reading.matching(selector)
    return found[0]


def linked(text: str, selector: str) -> str:
    source = Source(text)
    made = hopping.plan_element(source, number(source, selector), VALUES, UTF_8)
    return after_plan(source, made)


@pytest.mark.parametrize(
    ("text", "selector", "after"),
    [
        ("<p><img alt=a></p>", "img", '<p><a href="#x"><img alt=a></a></p>'),
        ("<figure><svg><path/></svg></figure>", "svg",
         '<figure><a href="#x"><svg><path/></svg></a></figure>'),
        ("<div class=card><h2>A</h2><p>b</div>", "div",
         '<a href="#x"><div class=card><h2>A</h2><p>b</div></a>'),
        ("<ul><li> One <b>two</b> </li></ul>", "li",
         '<ul><li> <a href="#x">One <b>two</b></a> </li></ul>'),
        ("<h2 id=a>Title</h2>", "h2", '<h2 id=a><a href="#x">Title</a></h2>'),
        ("<table><tr><td>Cell<td>x</table>", "td",
         '<table><tr><td><a href="#x">Cell</a><td>x</table>'),
        ("<p><a id=old class=btn>Go</a></p>", "a",
         '<p><a href="#x" id=old class=btn>Go</a></p>'),
        ("<BUTTON type=button class='b'>Go</BUTTON>", "button",
         "<a href=\"#x\" class='b'>Go</a>"),
        ("<button disabled><i class=icon></i> Go</button>", "button",
         '<a href="#x"><i class=icon></i> Go</a>'),
    ],
)  # fmt: skip
def test_a_part_is_linked(text: str, selector: str, after: str) -> None:
    assert linked(text, selector) == after


@pytest.mark.parametrize(
    ("text", "selector", "why"),
    [
        ("<p><a href=y>a</a></p>", "a", "a link already"),
        ("<a href=y><img alt=b></a>", "img", "inside a link"),
        ("<button><span>b</span></button>", "span", "inside a link or a button"),
        ("<div>a <a href=y>b</a></div>", "div", "clicked by itself"),
        ("<ul><li>a</ul>", "ul", "one of its entries"),
        ("<details><summary>a</summary>b</details>", "summary", "meaning of its own"),
        ("<video controls></video>", "video", "for clicking itself"),
        ("<p><span id=m></span>a", "span", "Nobody sees an empty marker"),
        ("<p class=x title=y></p>", "p", "nothing in this part"),
    ],
)
def test_what_can_t_be_a_start_says_why(text: str, selector: str, why: str) -> None:
    with pytest.raises(CannotLink, match=why):
        linked(text, selector)


def put(text: str, selector: str, side: str, words: str = "New", like: str = "") -> str:
    source = Source(text)
    model = number(source, like) if like else None
    new = links_beside.NewLink(words, VALUES, model)
    made = links_beside.plan_beside(source, number(source, selector), side, new, UTF_8)
    return after_plan(source, made)


@pytest.mark.parametrize(
    ("text", "selector", "side", "like", "after"),
    [
        ("<p>a</p>", "p", AFTER, "", '<p>a</p><p><a href="#x">New</a></p>'),
        ("<div>\r\n  <p>a</p></div>", "p", BEFORE, "",
         '<div>\r\n  <p><a href="#x">New</a></p>\r\n  <p>a</p></div>'),
        ("<ul>\n<li>a\n<li>b</li>\n</ul>", "li:last-child", AFTER, "",
         '<ul>\n<li>a\n<li>b</li>\n<li><a href="#x">New</a></li>\n</ul>'),
        ("<p><a class='btn big' id=a href=y>Old</a></p>", "a", AFTER, "a",
         "<p><a class='btn big' id=a href=y>Old</a> "
         '<a class="btn big" href="#x">New</a></p>'),
        ("<p><a class=btn href=y><svg id=i><path/></svg> Old </a></p>", "a", BEFORE, "a",
         '<p><a class="btn" href="#x"><svg><path/></svg> New </a> '
         "<a class=btn href=y><svg id=i><path/></svg> Old </a></p>"),
        ("<p><button class=b>x</button></p>", "button", AFTER, "button",
         '<p><button class=b>x</button> <a class="b" href="#x">New</a></p>'),
    ],
)  # fmt: skip
def test_a_new_link_is_put_beside(
    text: str, selector: str, side: str, like: str, after: str
) -> None:
    assert put(text, selector, side, like=like) == after


def test_a_copied_link_keeps_all_its_words_and_copies_no_id() -> None:
    """Words that look like an attribute are words."""
    text = "<p><a class=b href=y><i id=k class=icon></i>Old id=3</a></p>"
    found = put(text, "a", AFTER, words="Your pass id=7 here", like="a")
    assert '<a class="b" href="#x"><i class=icon></i>Your pass id=7 here</a>' in found


def test_what_is_typed_is_text_and_nothing_else() -> None:
    found = put("<p>a</p>", "p", AFTER, "  <b>Fees & dues</b>\n ")
    assert "&lt;b&gt;Fees &amp; dues&lt;/b&gt;</a>" in found
    with pytest.raises(CannotLink, match="Give the words"):
        put("<p>a</p>", "p", AFTER, " \n ")


def test_where_no_link_can_be_put() -> None:
    with pytest.raises(CannotLink, match="inside a link"):
        put("<p><a href=y><b>c</b></a></p>", "b", AFTER)
    with pytest.raises(CannotMark, match="parts of a table"):
        put("<table><tr><td>a</table>", "tr", AFTER)


def test_the_looks_of_a_page_are_its_classes() -> None:
    text = (
        "<a class='b a' href=x>1</a><a class='a b' href=y>2</a><button class=c>3</button><a>4</a>"
    )
    source = Source(text)
    assert [source.element(n).text for n in links_beside.looks(source)] == ["1", "3"]


@given(text=trees.markup())
def test_whatever_the_markup_a_link_is_all_there_is_more(text: str) -> None:
    """The planners prove it themselves (core.sameness); here it is asked of all parts."""
    source = Source(text)
    before = len(source)
    for at in range(min(before, 12)):
        for plan in (
            lambda at=at: hopping.plan_element(source, at, VALUES, UTF_8),
            lambda at=at: links_beside.plan_beside(
                source, at, markers.BEFORE, links_beside.NewLink("New", VALUES), UTF_8
            ),
        ):
            try:
                grown = Source(after_plan(source, plan()))
            except Refusal:
                continue
            links = grown.reading.matching('a[href="#x"]')
            assert len(list(links)) == 1
            assert before <= len(grown) <= before + 2
