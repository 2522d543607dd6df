"""What visitors get beside a page's own markup, read again by another parser (html5lib)."""

from __future__ import annotations

from dataclasses import replace

import pytest

from innerhop.core.contents.entries import Possible
from innerhop.core.contents.settings import Settings
from innerhop.core.planners import moved_lines, visitor_parts
from innerhop.core.planners.page_styles import CannotStyle
from innerhop.core.planners.visitor_parts import Parts
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from tests.core.planned import after, first
from tests.core.trees import Tree, read

UTF_8 = FileEncoding()
PAGE = """<!doctype html>
<html lang="en">
<head>
  <title>Locks</title>
</head>
<body>
  <main>
    <h2 id="one">One</h2>
    <h2 id="two">Two <a href="#two">¶</a></h2>
    <h3 id="three">Three</h3>
  </main>
</body>
</html>
"""
EVERY = Parts(lit=True, focus=True, replaces=True, snap=True, moved=(("a", "#b"), ("c", "/d/#e")))


def _with(parts: Parts, text: str = PAGE) -> str:
    source = Source(text)
    return after(source, visitor_parts.plan_files(source, parts, UTF_8))


def _all(text: str, tag: str) -> list[Tree]:
    return [one for one in read(text).below() if one.tag == tag]


@pytest.mark.parametrize(
    ("parts", "options"),
    [
        (Parts(lit=True), {}),
        (Parts(focus=True), {"data-hop-focus": ""}),
        (Parts(replaces=True), {"data-hop-history": "replace"}),
        (Parts(snap=True), {"data-hop-snap": ""}),
        (Parts(moved=(("a", "#b"), ("c", "/d/"))),
         {"data-hop-moved": "a #b c /d/", "data-hop-unlit": ""}),
        (Parts(lit=True, moved=(("a", "#b"),)), {"data-hop-moved": "a #b"}),
    ],
)  # fmt: skip
def test_the_head_links_the_two_files_with_what_is_chosen(
    parts: Parts, options: dict[str, str]
) -> None:
    text = _with(parts)
    [link], [script] = _all(text, "link"), _all(text, "script")
    assert link.attrs == {"rel": "stylesheet", "href": "/hops/hops.css"}
    assert script.attrs == {"src": "/hops/hops.js", "defer": "", **options}
    assert "\n  <title>Locks</title>\n  <link" in text  # in a line of its own, indented as these
    head = next(one for one in read(text).below() if one.tag == "head")
    assert {"link", "script"} <= {one.tag for one in head.children if isinstance(one, Tree)}


@pytest.mark.parametrize(
    "parts",
    [
        Parts(lit=True),
        EVERY,
        replace(EVERY, lit=False),
        replace(EVERY, focus=False),
        Parts(lit=True, replaces=True),
    ],
)
def test_what_is_written_is_read_again_changed_and_taken_out(parts: Parts) -> None:
    text = _with(parts)
    # Lists light up with the script, unless it leads readers on alone.
    lit = parts.lit or not parts.moved
    assert visitor_parts.read(Source(text)) == replace(parts, lit=lit)
    assert _with(replace(parts, lit=lit), text) == text  # nothing to change
    other = replace(parts, focus=not parts.focus, moved=())
    changed = _with(other, text)
    assert visitor_parts.read(Source(changed)).focus is other.focus
    assert visitor_parts.read(Source(changed)).moved == ()
    assert len(_all(changed, "script")) == len(_all(changed, "link")) == 1
    assert _with(Parts(), text) == PAGE


@pytest.mark.parametrize(
    ("markup", "expected"),
    [
        ("<script src=/hops/hops.js></script>", Parts(lit=True)),
        ("<script src=../hops/hops.js?v=2></script>", Parts(lit=True)),
        ("<script src=hops/hops.js data-hop-unlit></script>", Parts()),
        ("<script src=/myhops/hops.js></script>", Parts()),
        ("<script src=/hops/hops.js.map></script>", Parts()),
        ("<script src=/hops/hops.js data-hop-history=push></script>", Parts(lit=True)),
        ("<p data-hop-up=2><a href=#>Up</a>", Parts(up=2)),
        ("<p data-hop-up=999><a href=#>Up</a>", Parts(up=999)),
        ("<p data-hop-up=1000><a href=#>Up</a>", Parts()),
        ("<p data-hop-up=²><a href=#>Up</a>", Parts()),
        ("<p data-hop-up=-1><a href=#>Up</a>", Parts()),
        ("<nav data-hop-points></nav>", Parts(points=True)),
        ("<h2 id=a>A <a href=#a data-hop-sign>#</a></h2>", Parts(signs=True)),
        ("<h2 id=a>A <a href=#a data-hop-sign=always>#</a></h2>", Parts(signs=True, always=True)),
    ],
)
def test_what_a_page_gives_its_visitors_is_read_off_it(markup: str, expected: Parts) -> None:
    assert visitor_parts.read(Source(f"<!doctype html><title>x</title>{markup}")) == expected


def test_only_what_needs_the_files_links_them() -> None:
    assert not Parts(always=True).needs_files
    for name in ("lit", "focus", "replaces", "snap", "points", "signs"):
        assert replace(Parts(), **{name: True}).needs_files
    assert Parts(up=1).needs_files
    assert Parts(moved=(("a", "#b"),)).needs_files
    assert _with(Parts(always=True)) == PAGE


def test_a_text_without_a_head_names_the_two_lines_for_the_template() -> None:
    with pytest.raises(CannotStyle, match=r'<script src="/hops/hops\.js" defer'):
        _with(Parts(lit=True), "<p>A post.</p>")
    assert _with(Parts(), "<p>A post.</p>") == "<p>A post.</p>"


def test_who_is_led_on_is_told_one_by_one() -> None:
    text = PAGE
    for changed in ({"old": "#new"}, {"older": "/there/#new"}, {"old": None}):
        source = Source(text)
        text = after(source, visitor_parts.plan_leading(source, changed, UTF_8, str))
    assert visitor_parts.read(Source(text)).moved == (("older", "/there/#new"),)
    source = Source(text)
    assert after(source, visitor_parts.plan_leading(source, {"older": None}, UTF_8, str)) == PAGE


LINK = {"href": "#top", "class": "back"}


def test_a_way_back_that_stays_in_view_comes_changes_and_goes() -> None:
    source = Source(PAGE)
    text = after(source, visitor_parts.plan_up(source, 2, "Back to top", LINK, UTF_8))
    [made] = [one for one in read(text).below() if "data-hop-up" in one.attrs]
    assert made.attrs == {"data-hop-up": "2"}
    [link] = [one for one in made.children if isinstance(one, Tree)]
    assert (link.attrs, link.text) == (LINK, "Back to top")
    assert '  </main>\n  <p data-hop-up="2">' in text
    again = after(Source(text), visitor_parts.plan_up(Source(text), 3, "Up", LINK, UTF_8))
    assert visitor_parts.read(Source(again)).up == 3
    assert again.count("data-hop-up") == 1
    assert after(Source(again), visitor_parts.plan_up(Source(again), 0, "", {}, UTF_8)) == PAGE


@pytest.mark.parametrize(
    "text", ["<p>A post.</p>", "<!doctype html><title>x</title><body><main><p>Open"]
)
def test_where_the_bodys_end_is_not_written_nothing_is_put_at_it(text: str) -> None:
    source = Source(text)
    with pytest.raises(CannotStyle, match="is not written"):
        visitor_parts.plan_up(source, 1, "Up", LINK, UTF_8)


def test_points_are_a_list_at_the_end_of_the_page() -> None:
    source = Source(PAGE)
    entries, own = [("#one", "One"), ("#two", "Two & more")], Settings("points", ("h2",))
    plan = visitor_parts.plan_points(
        source, entries, own=own, called={"aria-label": "Sections"}, language="de", encoding=UTF_8
    )
    text = after(source, plan)
    [points] = _all(text, "nav")
    assert points.attrs == {
        "data-hop-points": "", "aria-label": "Sections", "data-hop-list": "points",
        "data-hop-levels": "h2",
    }  # fmt: skip
    assert [one.attrs for one in points.below() if one.tag == "ol"] == [{"lang": "de"}]
    told = [(one.attrs["href"], one.text) for one in points.below() if one.tag == "a"]
    assert told == entries
    gone = visitor_parts.plan_points(
        Source(text), [], own=own, called={}, language="", encoding=UTF_8
    )
    assert after(Source(text), gone) == PAGE


HEADINGS = [
    Possible(1, "h2", "One", "one"), Possible(1, "h2", "Two", "two"),
    Possible(1, "h3", "Three", "three"), Possible(1, "summary", "Four", "four"),
]  # fmt: skip


def _signed(text: str, *marks: str, always: bool = False) -> str:
    """The text with signs at the headings that have these marks, and no others."""
    source = Source(text)
    numbers = {one.attr("id"): one.number for one in source.having("id")}
    wanted = [replace(one, number=numbers[one.mark]) for one in HEADINGS if one.mark in marks]
    hrefs = {numbers[mark]: f"#{mark}" for mark in marks}
    plan = visitor_parts.plan_signs(
        source, wanted, hrefs, always=always, called={"aria-label": "Link"}, encoding=UTF_8
    )
    return after(source, plan)


def test_signs_go_into_headings_that_have_none_of_their_own() -> None:
    text = _signed(PAGE, "one", "two", "three")
    signs = [one for one in _all(text, "a") if "data-hop-sign" in one.attrs]
    assert [one.attrs["href"] for one in signs] == ["#one", "#three"]  # Two has the site's own
    assert 'One <a href="#one" data-hop-sign="" aria-label="Link">#</a></h2>' in text
    assert _signed(text, "one", "two", "three") == text
    assert _signed(text, "one") == _signed(PAGE, "one")  # those of other headings go
    assert _signed(text) == PAGE
    always = _signed(text, "one", "two", "three", always=True)
    assert always.count('data-hop-sign="always"') == 2


def test_a_part_that_opens_gets_no_sign() -> None:
    text = PAGE.replace("</main>", '<details><summary id="four">Four</summary>x</details></main>')
    assert _signed(text, "four") == text


@pytest.mark.parametrize(
    ("body", "tag", "expected"),
    [
        ("<main>\n  <h2>Now</h2>\n</main>", "h2",
         '<main>\n  <p id="old" data-hop-moved="">This moved to <a href="/b/#now">Now</a></p>'
         "\n  <h2>Now</h2>"),
        # in words, and in what holds words alone, no paragraph can stand
        ("<main><p>Of <b>this</b>.</p></main>", "b", '<main><p id="old"'),
        ("<main><h2>A <span>b</span></h2></main>", "span", '<main><p id="old"'),
        ("<main><ul><li>A</li></ul></main>", "li", '<main><p id="old"'),
        ("<main><table><tr><td>A</table></main>", "td", '<main><p id="old"'),
        ("<main><ul><li><div>A</div></li></ul></main>", "div", '<main><ul><li><p id="old"'),
        ("<main><details><summary>A</summary>b</details></main>", "summary",
         '<main><p id="old"'),
    ],
)  # fmt: skip
def test_a_line_says_where_a_part_is_now(body: str, tag: str, expected: str) -> None:
    source = Source(f"<!doctype html><html lang=en><head><title>x</title></head><body>{body}")
    plan = moved_lines.plan_line(
        source, first(source, tag), "old", ("/b/#now", "Now"), language="en", encoding=UTF_8
    )
    assert expected in after(source, plan)


def test_a_line_in_another_language_than_the_pages_says_so() -> None:
    source = Source("<!doctype html><title>x</title><main><h2>Jetzt</h2></main>")
    words = {}
    for language in ("de", "xx"):
        plan = moved_lines.plan_line(
            source, first(source, "h2"), "alt", ("#jetzt", "Jetzt"), language=language,
            encoding=UTF_8,
        )  # fmt: skip
        [line] = _all(after(source, plan), "p")
        words[language] = (line.attrs.get("lang"), line.text)
    assert words["xx"] == ("en", "This moved to Jetzt")
    assert words["de"][0] is None
    assert words["de"][1] != "This moved to Jetzt"
