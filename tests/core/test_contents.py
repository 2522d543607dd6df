"""Contents lists: what is listed, how it nests, how lists are known by their shape, how
they differ from their page, and that bringing them up to date changes nothing else."""

from __future__ import annotations

import re
from collections.abc import Sequence
from itertools import pairwise

import markdown
import pytest
from hypothesis import given
from hypothesis import strategies as st
from markdown_it import MarkdownIt

from innerhop.core.contents import entries, in_step, lists
from innerhop.core.contents.entries import Branch, Possible, nested
from innerhop.core.contents.kinds import KINDS, Style, WantedEntry
from innerhop.core.contents.labels import labels_in
from innerhop.core.contents.lists import ContentsList
from innerhop.core.contents.settings import Settings
from innerhop.core.facts.page_facts import gather
from innerhop.core.facts.sections import sections
from innerhop.core.formats.pieces import NotWhole
from innerhop.core.planners import contents
from innerhop.core.proof import proved
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from tests.core.trees import Tree, read

UTF_8 = FileEncoding()


class Read:
    """A page with what could be listed on it, and its lists."""

    def __init__(self, text: str) -> None:
        self.source = Source(text)
        self.facts = gather(self.source)
        own = [range(one.number, one.last + 1) for one in self.source.having("data-hop-list")]
        found = sections(self.source, self.facts)
        self.possible = entries.possible(self.source, self.facts, found, own)
        self.lists = lists.find(self.source, self.facts, self.possible, _leads)

    @property
    def off(self) -> in_step.OutOfStep:
        (one,) = self.lists
        return in_step.difference(one, self.source, self.possible)


def _leads(href: str) -> str:
    return href[1:] if href.startswith("#") else ""


def page(listed: str, *titles: str, before: str = "") -> str:
    """A page with a list and sections, `id=title` or a title alone, levels by `=`s."""
    body = ""
    for title in titles:
        level = len(title) - len(title.lstrip("=")) or 2
        id_, _, words = title.lstrip("=").rpartition("|")
        mark = f' id="{id_}"' if id_ else ""
        body += f"<h{level}{mark}>{words}</h{level}>\n<p>Something about it.</p>\n"
    return f"<!doctype html><title>T</title><main>\n{before}<p>Hello.</p>\n{listed}\n{body}</main>"


# Nesting.


def _titles(branches: Sequence[Branch[str]]) -> list[object]:
    return [[one.entry, _titles(one.below)] for one in branches]


def _tokens(tokens: Sequence[dict[str, object]]) -> list[object]:
    return [[one["name"], _tokens(one["children"])] for one in tokens]  # type: ignore[arg-type]


@given(st.lists(st.integers(1, 6), min_size=1, max_size=25))
def test_nesting_is_that_of_a_markdown_library(levels: list[int]) -> None:
    """Python-Markdown's own contents (its `toc` extension) on the same headings."""
    text = "\n\n".join(f"{'#' * level} Part {at}" for at, level in enumerate(levels))
    other = markdown.Markdown(extensions=["toc"])
    other.convert(text)
    own = nested([(level, f"Part {at}") for at, level in enumerate(levels)])
    assert _titles(own) == _tokens(other.toc_tokens)


@given(st.lists(st.integers(1, 6), max_size=40))
def test_a_tree_of_entries_holds_each_once_in_order(levels: list[int]) -> None:
    entries_ = [(level, at) for at, level in enumerate(levels)]
    flat = entries.flat(nested(entries_))
    assert [entry for _, entry in flat] == list(range(len(levels)))
    for (depth, one), (deeper, other) in pairwise(flat):
        assert deeper <= depth + 1  # skipped levels are closed up
        assert (deeper > depth) == (levels[other] > levels[one])


# What is found.

OL = "<ol><li><a href=#a>One</a></li><li><a href=#b>Two</a></li><li><a href=#c>Three</a></li></ol>"
TITLES = ("a|One", "b|Two", "c|Three")


@pytest.mark.parametrize(
    ("listed", "kind"),
    [
        (OL, "numbered"),
        (OL.replace("ol>", "ul>"), "nested"),
        (f"<nav><h2>Contents</h2>{OL}</nav>", "numbered"),
        (f"<details><summary>Contents</summary>{OL}</details>", "folding"),
        ("<p><a href=#a>One</a> | <a href=#b>Two</a> | <a href=#c>Three</a></p>", "line"),
        ("<div>On this page: <a href=#a>One</a>, <a href=#b>Two</a>, <a href=#c>Three</a></div>",
         "line"),
        ("<p><a class=b href=#a>One</a> <a class=b href=#b>Two</a> <a class=b href=#c>Three</a>",
         "buttons"),
        # no lists: prose, links to other pages, two links, a list out of order from end to end
        ("<p>See <a href=#a>One</a> when you come, then <a href=#b>Two</a> if you stay for long,"
         " and last of all, when it rains, <a href=#c>Three</a>.</p>", None),
        ("<ul><li><a href=x#a>One</a><li><a href=x#b>Two</a><li><a href=x#c>Three</a></ul>", None),
        ("<ul><li><a href=#a>One</a><li><a href=#b>Two</a></ul>", None),
        ("<ul><li><a href=#c>C</a><li><a href=#b>B</a><li><a href=#a>A</a></ul>", None),
        (f"<header><nav>{OL}</nav></header>", None),
    ],
)  # fmt: skip
def test_lists_are_known_by_their_shape(listed: str, kind: str | None) -> None:
    """Common practice, no source."""
    if listed.startswith("<header"):
        text = page("", *TITLES).replace("<main>", f"{listed}<main>")
    else:
        text = page(listed, *TITLES)
    assert [one.settings.kind for one in Read(text).lists] == ([kind] if kind else [])


@pytest.mark.parametrize(
    ("body", "kinds", "usual"),
    [
        ("<h2>A</h2><p>x<h2>B</h2><p>x<h3>C</h3><p>x", ["h2", "h2", "h3"], ["h2"]),
        ("<h2>Q</h2>" + "<details><summary>Why?</summary>x</details>" * 4,
         ["h2", *["summary"] * 4], ["summary"]),
        ("<h2>Q</h2><p>x<h2>R</h2><dl>" + "<dt>What is it?<dd>x" * 6 + "</dl>",
         ["h2", "h2", *["dt"] * 6], ["dt"]),
        ("<h2>Q</h2>" + "<p><b>Question 7: Why?</b></p><p>So.</p>" * 3,
         ["h2", *["bold"] * 3], ["bold"]),
        ("<details><summary><h3>A</h3></summary>x</details>" * 2, ["h3", "h3"], ["h3"]),
        ("<p>Nothing here", [], []),
        ("<h2></h2><p>x<h2>B</h2>", ["h2"], ["h2"]),
        ("<table><tr><td><h2>A</h2><td><h2>B</h2></table>", ["h2", "h2"], ["h2"]),
    ],
)  # fmt: skip
def test_questions_are_found_whatever_they_are_made_of(
    body: str, kinds: list[str], usual: list[str]
) -> None:
    found = Read(f"<!doctype html><main><h1>T</h1>{body}</main>").possible
    assert [one.kind for one in found] == kinds
    assert entries.usual(found) == usual


# In step.


def _named(off: in_step.OutOfStep) -> dict[str, list[str]]:
    return {
        "added": [part.title for part in off.added],
        "gone": [entry.label for entry in off.gone],
        "relabelled": [f"{entry.label}>{part.title}" for entry, part in off.relabelled],
        "moved": [entry.label for entry in off.moved],
        "elsewhere": [f"{entry.label}>{part.title}" for entry, part in off.elsewhere],
    }


MADE = OL.replace("<ol>", "<nav data-hop-list=numbered data-hop-levels=h2><ol>") + "</nav>"


@pytest.mark.parametrize(
    ("listed", "titles", "off"),
    [
        (OL, TITLES, {}),
        (OL, (*TITLES, "Four"), {"added": ["Four"]}),
        (OL, ("a|One", "b|Two", "c|Three", "===d|Four"), {}),
        (MADE, ("a|One", "b|Two"), {"gone": ["Three"]}),
        (MADE, ("a|One", "b|Other words", "c|Three"), {"relabelled": ["Two>Other words"]}),
        (MADE.replace("<a href=#b", "<a data-hop-label=own href=#b"),
         ("a|One", "b|Other words", "c|Three"), {}),
        (OL.replace("Two", "Two, in short"), ("a|One", "b|Two words", "c|Three"), {}),
        (OL, ("b|Two", "a|One", "c|Three"), {"moved": ["One"]}),
        (MADE.replace("data-hop-levels", "data-hop-order=own data-hop-levels"),
         ("b|Two", "a|One", "c|Three"), {}),
        (MADE.replace("#b", "#c"), TITLES, {"elsewhere": ["Two>Two"]}),
        (MADE.replace("#b", "#gone"), TITLES, {"elsewhere": ["Two>Two"]}),
        (MADE.replace("data-hop-levels", "data-hop-left-out=four data-hop-levels"),
         (*TITLES, "Four"), {}),
        (MADE.replace("data-hop-levels", "data-hop-scope=chosen data-hop-levels"),
         (*TITLES, "Four"), {}),
        # numbers before the words are the list's own
        (OL.replace("Two", "2. Two"), TITLES, {}),
    ],
)  # fmt: skip
def test_how_a_list_differs_from_its_page(
    listed: str, titles: Sequence[str], off: dict[str, list[str]]
) -> None:
    assert {name: found for name, found in _named(Read(page(listed, *titles)).off).items() if found
            } == off  # fmt: skip


def updated(before: Read) -> str:
    (one,) = before.lists
    lines = in_step.up_to_date(one, before.source, before.possible)
    assert lines is not None
    wanted = [
        WantedEntry(f"#{part.key}" if part else entry.href, label, part.level if part else 2,
               bool(entry and entry.own), entry.number if entry else None)
        for part, entry, label in lines
    ]  # fmt: skip
    return proved(before.source, contents.plan_entries(before.source, one, wanted, UTF_8)).text


@pytest.mark.parametrize(
    ("listed", "titles", "after"),
    [
        # a new entry is written as its neighbours are
        ('<ul class="t">\n  <li class="e"><a class=l href="#a">One</a></li>\n'
         '  <li class="e" id=own><a class=l href="#b" title=x>Two</a></li>\n'
         '  <li class="e"><a class=l href="#c">Three</a></li>\n</ul>',
         ("a|One", "n|New", *TITLES[1:]),
         '<ul class="t">\n  <li class="e"><a class=l href="#a">One</a></li>\n'
         '  <li class="e"><a class="l" href="#n">New</a></li>\n'
         '  <li class="e" id=own><a class=l href="#b" title=x>Two</a></li>\n'
         '  <li class="e"><a class=l href="#c">Three</a></li>\n</ul>'),
        # in what stands around its link, too
        ("<ul><li><p><i><a href='#a'>One</a></i></p></li>"
         "<li><p><i><a href='#b'>Two</a></i></p></li>"
         "<li><p><i><a href='#c'>Three</a></i></p></li></ul>", (*TITLES, "n|New"),
         "<ul><li><p><i><a href='#a'>One</a></i></p></li>"
         "<li><p><i><a href='#b'>Two</a></i></p></li>"
         "<li><p><i><a href='#c'>Three</a></i></p></li>"
         '<li><p><i><a href="#n">New</a></i></p></li></ul>'),
        # what stands between two links stands between all
        ("<p>Here: <a href='#a'>One</a> &middot; <a href='#b'>Two</a> &middot; "
         "<a href='#c'>Three</a>.</p>",
         ("n|New", *TITLES),
         "<p>Here: <a href=\"#n\">New</a> &middot; <a href='#a'>One</a> &middot; "
         "<a href='#b'>Two</a> &middot; <a href='#c'>Three</a>.</p>"),
        # what leads to nothing goes, what is out of order moves
        (OL.replace("<ol>", "<nav data-hop-list=numbered data-hop-levels=h2><ol>") + "</nav>",
         ("c|Three", "a|One"),
         "<nav data-hop-list=numbered data-hop-levels=h2><ol><li><a href=#c>Three</a></li>"
         "<li><a href=#a>One</a></li></ol></nav>"),
    ],
)  # fmt: skip
def test_a_list_brought_up_to_date_keeps_its_look(
    listed: str, titles: Sequence[str], after: str
) -> None:
    text = updated(Read(page(listed, *titles)))
    assert text == page(after, *titles)
    assert not Read(text).off.count


@st.composite
def _pages(draw: st.DrawFn) -> tuple[str, str]:
    """A page with a list of all its sections, and the page as somebody changed it since."""
    words = ["Locks", "Fees & charges", "<b>Boats</b>", "Winter", "Tunnel", "Bridges", "Help"]
    count = draw(st.integers(3, 7))
    levels = draw(st.lists(st.integers(2, 4), min_size=count, max_size=count))
    parts = [("=" * level, f"s{at}", words[at]) for at, level in enumerate(levels)]
    before = [f"{level}{id_}|{title}" for level, id_, title in parts]
    order = draw(st.permutations(before))
    gone = draw(st.integers(0, count - 2))
    more = draw(st.lists(st.sampled_from(["==New", "===n1|Newer"]), max_size=2, unique=True))
    return page("", *before), page("", *order[gone:], *more)


@given(_pages(), st.sampled_from(sorted(KINDS)))
def test_made_lists_follow_whatever_becomes_of_the_page(pages: tuple[str, str], kind: str) -> None:
    """Made of any headings, of any kind; then the page changes; then it is in step again,
    the page is as it was but for the list, and each entry leads where its words say."""
    old, changed = pages
    first = Read(old)
    levels = tuple(sorted({one.kind for one in first.possible}))
    wanted = [WantedEntry(f"#{one.mark}", one.title, one.level) for one in first.possible]
    style = Style(Settings(kind, levels), title="Contents")
    at = contents.usual_place(first.source, first.possible[0].number)
    plan = contents.plan_new(first.source, at, "before", wanted, style=style, encoding=UTF_8)
    made = proved(first.source, plan).text
    assert not Read(made).off.count
    assert re.sub(r"<nav.*?</nav>\n", "", made, flags=re.DOTALL) == old

    (markup,) = re.findall(r"<nav.*?</nav>\n", made, flags=re.DOTALL)
    later = Read(changed.replace("<h", f"{markup}<h", 1))
    if not later.off.count:
        return
    after = updated(later)
    assert re.sub(r"<nav.*?</nav>\n", "", after, flags=re.DOTALL) == changed
    (one,) = Read(after).lists
    titles = {part.key: part.title for part in later.possible}
    assert [titles.get(entry.to or entry.href[1:]) for entry in one.entries] == [
        entry.label for entry in one.entries
    ]


def test_a_nested_list_read_by_another_parser_nests_as_the_headings_do() -> None:
    text = page("", "==a|A", "====b|B", "===c|C", "==d|D", "======e|E")
    first = Read(text)
    wanted = [WantedEntry(f"#{one.mark}", one.title, one.level) for one in first.possible]
    at = first.possible[0].number
    plan = contents.plan_new(
        first.source, at, "before", wanted, style=Style(Settings("nested")), encoding=UTF_8
    )
    tree = read(proved(first.source, plan).text)
    (nav,) = [one for one in tree.below() if one.tag == "nav"]
    assert _outline(nav) == [["A", [["B", []], ["C", []]]], ["D", [["E", []]]]]


def _outline(tree: Tree) -> list[object]:
    found: list[object] = []
    for one in tree.children:
        if isinstance(one, Tree) and one.tag == "li":
            link = next(child for child in one.below() if child.tag == "a")
            found.append([link.text, _outline(one)])
        elif isinstance(one, Tree):
            found += _outline(one)
    return found


def one_of(listed: str) -> tuple[Source, ContentsList, list[Possible]]:
    found = Read(page(listed, *TITLES))
    return found.source, found.lists[0], found.possible


def test_a_list_whose_entries_have_no_end_tags_keeps_to_that() -> None:
    """https://html.spec.whatwg.org/multipage/syntax.html#optional-tags, "li"."""
    open_ended = "<ol><li><a href=#a>One</a>\n<li><a href=#b>Two</a>\n<li><a href=#c>Three</a></ol>"
    source, one, possible = one_of(open_ended)
    there = [entry.number for entry in one.entries]
    wanted = [
        WantedEntry(f"#{part.mark}", part.title, 2, link=link)
        for part, link in zip(possible, there, strict=False)
    ][:2]
    text = proved(source, contents.plan_entries(source, one, wanted, UTF_8)).text
    assert "<ol><li><a href=#a>One</a>\n<li><a href=#b>Two</a>\n</ol>" in text


def test_a_list_whose_end_is_not_written_is_left_alone() -> None:
    source, one, possible = one_of("<div><ul><li><a href=#a>One</a><li><a href=#b>Two</a>"
                                   "<li><a href=#c>Three</a></div>")  # fmt: skip
    wanted = [WantedEntry(f"#{part.mark}", part.title, 2) for part in possible]
    with pytest.raises(NotWhole, match="make a new one in its place"):
        contents.plan_entries(source, one, wanted, UTF_8)


def test_a_list_gets_another_kind_and_goes() -> None:
    source, one, possible = one_of(f"<nav>{OL}</nav>")
    wanted = [WantedEntry(f"#{part.mark}", part.title, 2) for part in possible]
    style = Style(Settings("buttons", ("h2",)), look={"class": "button"})
    text = proved(source, contents.plan_in_place(source, one, wanted, style, UTF_8)).text
    assert '<p><a class="button" href="#a">One</a> <a class="button" href="#b">Two</a>' in text
    again = Read(text)
    gone = proved(again.source, contents.plan_removal(again.source, again.lists[0])).text
    assert gone == page("", *TITLES).replace("</p>\n\n", "</p>\n", 1)


# CommonMark 0.31.2, section 4.2 (ATX headings), examples 62, 66, 68, 71, 73, 76; and 4.3
# (setext headings), examples 80, 81, 83 (https://spec.commonmark.org/0.31.2/).
_COMMONMARK = (
    "# foo\n## foo\n### foo\n#### foo\n##### foo\n###### foo",
    "# foo *bar* \\*baz\\*",
    " ### foo\n  ## foo\n   # foo",
    "## foo ##\n  ###   bar    ###",
    "### foo ###     ",
    "# foo#",
    "Foo *bar*\n=========\n\nFoo *bar*\n---------",
    "Foo *bar\nbaz*\n====",
    "  Foo\n---\n\n   Foo\n-----",
)


@pytest.mark.parametrize("text", _COMMONMARK)
def test_headings_are_those_that_a_commonmark_reader_sees(text: str) -> None:
    """markdown-it-py's tokens for the examples, against what we read from its HTML."""
    reader = MarkdownIt("commonmark")
    tokens = reader.parse(text)
    wanted = [
        (token.tag, "".join(
            one.content if one.type == "text" else " " for one in tokens[at + 1].children or ()
            if one.type in ("text", "softbreak")
        ))
        for at, token in enumerate(tokens) if token.type == "heading_open"
    ]  # fmt: skip
    found = Read(f"<!doctype html><main><h1>One</h1><h1>Two</h1>{reader.render(text)}</main>")
    assert [(one.kind, one.title) for one in found.possible[2:]] == wanted


def test_made_parts_are_called_in_the_pages_language() -> None:
    assert labels_in("de-AT").on_this_page == "Auf dieser Seite"
    assert labels_in("tlh") == labels_in("en")
    assert len({labels_in(one).sign for one in ("en", "fr", "cy", "pl")}) == 4


BELOW = (
    '<nav data-hop-list=nested data-hop-levels="h2 h3"><ul><li><a href=#a>One</a>'
    "<ul><li><a href=#b>Two</a></li></ul></li><li><a href=#c>Three</a></li></ul></nav>"
)


@pytest.mark.parametrize(
    ("titles", "off"),
    [
        (("==a|One", "===b|Two", "==c|Three"), []),
        (("==a|One", "==b|Two", "==c|Three"), ["Two"]),
        (("==a|One", "===b|Two", "===c|Three"), ["Three"]),
        (("===a|One", "====b|Two", "===c|Three"), []),
    ],
)
def test_a_heading_whose_level_changed_puts_its_list_out_of_step(
    titles: tuple[str, ...], off: list[str]
) -> None:
    """HTML Standard, "headings and outlines": the nesting is that of the levels."""
    listed = Read(page(BELOW.replace("h3", "h3 h4"), *titles))
    assert [one.label for one in listed.off.relevelled] == off
    assert listed.off.count == len(off)
    lines = in_step.up_to_date(listed.lists[0], listed.source, listed.possible)
    assert (lines is None) == (not off)
    if lines:
        assert [label for _, _, label in lines] == ["One", "Two", "Three"]


STYLE = Style(Settings("nested", ("h2",)), title="On this page", title_level=2, id="list")


def _put(text: str, tag: str, side: str = "before", entries: int = 3) -> str:
    """A list put before or after the first element of a kind."""
    found = Read(text)
    wanted = [WantedEntry(f"#{one.mark}", one.title, 2) for one in found.possible[:entries]]
    number = next(found.source.of_tags(tag)).number
    plan = contents.plan_new(found.source, number, side, wanted, style=STYLE, encoding=UTF_8)
    return proved(found.source, plan).text


@pytest.mark.parametrize(("side", "before"), [("before", "<main>\n"), ("after", "Hello.</p>\n")])
def test_a_new_list_stands_in_lines_of_its_own(side: str, before: str) -> None:
    text = _put(page("", *TITLES), "p", side)
    at = text.index("<nav")
    assert text[:at].endswith(before)
    assert text[text.index("</nav>") + 6 :].startswith("\n")
    [one] = Read(text).lists
    assert (one.made, one.id, one.title, len(one.entries)) == (True, "list", "On this page", 3)


@pytest.mark.parametrize(
    ("text", "tag", "entries", "message"),
    [
        (page("", *TITLES), "p", 0, "at least one entry"),
        (page("<p><b>bold</b></p>", *TITLES), "b", 3, "whole block only"),
        (page("<a href=/x/><div>boxed</div></a>", *TITLES), "div", 3, "inside a paragraph or a"),
    ],
)
def test_where_no_list_can_stand_is_said(text: str, tag: str, entries: int, message: str) -> None:
    with pytest.raises(contents.CannotList, match=message):
        _put(text, tag, entries=entries)


@pytest.mark.parametrize(
    ("body", "place"),
    [
        ("<main><p>Intro</p><h2>A</h2>", "h2"),
        ("<main><p>Intro</p><section><h2>A</h2>x</section>", "section"),
        ("<main><p>Intro</p><section><div><h2>A</h2></div></section>", "section"),
        ("<main><p>Intro</p><section>x<h2>A</h2></section>", "h2"),
        ("<main><ul><li><h2>A</h2></ul>", "li"),
        ("<main><h2>A</h2>", "h2"),
        ("<article><div><h2>A</h2></div>", "div"),
    ],
)
def test_a_list_goes_where_the_first_section_begins(body: str, place: str) -> None:
    source = Source(f"<!doctype html><title>T</title><body>{body}")
    [heading] = source.of_tags("h2")
    assert source.tags[contents.usual_place(source, heading.number)] == place


def test_settings_are_written_and_nothing_else() -> None:
    source, one, _ = one_of(f"<nav>{OL}</nav>")
    own = Settings("nested", ("h2", "h3"), frozenset({"b", "a"}), "chosen", own_order=True)
    text = proved(source, contents.plan_settings(source, one, own, "list", UTF_8)).text
    tag = text[text.index("<nav") :].partition(">")[0]
    assert f"{tag}>{OL}</nav>" in text
    again = Read(text)
    [made] = again.lists
    assert (made.settings, made.id) == (own, "list")
    assert not contents.plan_settings(again.source, made, own, "other", UTF_8).edits
    plain = Settings("nested", ("h2",))
    less = proved(again.source, contents.plan_settings(again.source, made, plain, "", UTF_8)).text
    assert Read(less).lists[0].settings == plain


def test_a_list_is_never_emptied() -> None:
    source, one, _ = one_of(f"<nav>{OL}</nav>")
    with pytest.raises(contents.CannotList, match="Remove it instead"):
        contents.plan_entries(source, one, [], UTF_8)
    with pytest.raises(contents.CannotList, match="at least one entry"):
        contents.plan_in_place(source, one, [], STYLE, UTF_8)


@pytest.mark.parametrize(
    ("listed", "kind", "scope"),
    [
        (OL, "numbered", "page"),
        (OL.replace("ol>", "ul>"), "nested", "page"),
        (f"<details><summary>Contents</summary>{OL}</details>", "folding", "page"),
        ("<p><a href=#a>One</a> | <a href=#b>Two</a> | <a href=#c>Three</a></p>", "line", "page"),
        ("<p><a class=b href=#a>One</a> <a class=b href=#b>Two</a> <a class=b href=#c>Three</a>",
         "buttons", "page"),
    ],
)  # fmt: skip
def test_what_kind_a_list_without_settings_is(listed: str, kind: str, scope: str) -> None:
    [one] = Read(page(listed, *TITLES)).lists
    assert (one.settings.kind, one.settings.scope) == (kind, scope)


def test_a_list_of_one_section_is_known_as_that() -> None:
    titles = ("a|Ay", "===b|Bee", "===c|Sea", "===d|Dee", "z|Zed", "===y|Why", "===x|Ex")
    titles += tuple(f"===n{at}|En {at}" for at in range(6))
    listed = "<ul><li><a href=#b>Bee</a><li><a href=#c>Sea</a><li><a href=#d>Dee</a></ul>"
    assert Read(page(listed, *titles)).lists[0].settings.scope == "a"
    some = listed.replace("#d>Dee", "#y>Why")
    assert Read(page(some, *titles)).lists[0].settings.scope == "chosen"


@pytest.mark.parametrize(
    ("scope", "titles"),
    [
        ("page", ["Ay", "Bee", "Sea", "Zed", "Why"]),
        ("a", ["Bee", "Sea"]),
        ("z", ["Why"]),
        ("b", []),
        ("gone", ["Ay", "Bee", "Sea", "Zed", "Why"]),
    ],
)
def test_what_a_list_of_a_section_could_hold(scope: str, titles: list[str]) -> None:
    found = Read(page("", "a|Ay", "===b|Bee", "===c|Sea", "z|Zed", "===y|Why"))
    assert [one.title for one in lists.of_scope(found.possible, scope)] == titles


CALLED = "<ul><li><a href=#a>One</a><li><a href=#b>Two</a><li><a href=#c>Three</a></ul>"


@pytest.mark.parametrize(
    ("listed", "is_called"),
    [
        (f"<h2>Contents</h2>{CALLED}", True),
        (f"<p>On this page:</p>{CALLED}", True),
        (f"<h2>Our boats</h2>{CALLED}", False),
        (f"<div class=toc>{CALLED}</div>", True),
        (f"<div id=table-of-contents><div>{CALLED}</div></div>", True),
        (f"<nav aria-label='Table of contents'>{CALLED}</nav>", True),
        (f"<nav aria-label=Main>{CALLED}</nav>", False),
        (CALLED, False),
    ],
)
def test_a_list_may_say_that_it_is_of_contents(listed: str, is_called: bool) -> None:
    source = Source(f"<!doctype html><title>T</title><body><aside>{listed}</aside><main><p>x")
    [body] = source.of_tags("ul")
    assert lists.is_called_contents(source, gather(source), body.number) is is_called


def test_words_of_an_entrys_own_are_marked_as_such_and_no_longer() -> None:
    source, one, _ = one_of(f"<nav>{OL}</nav>")
    labels = ["One", "In short", "Three"]
    wanted = [WantedEntry(entry.href, label, 2, label == "In short", entry.number)
              for entry, label in zip(one.entries, labels, strict=True)]  # fmt: skip
    text = proved(source, contents.plan_entries(source, one, wanted, UTF_8)).text
    assert text.count("data-hop-label") == 1
    assert '<a data-hop-label="own" href=#b>In short</a>' in text
    again = Read(text)
    back = [WantedEntry(old.href, old.label, 2, False, now.number)
            for old, now in zip(one.entries, again.lists[0].entries, strict=True)]  # fmt: skip
    plan = contents.plan_entries(again.source, again.lists[0], back, UTF_8)
    assert proved(again.source, plan).text == source.text
