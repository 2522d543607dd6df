"""Renaming touches the ID, what else on the page points at it, and the fragment
of each link, and nothing else."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from innerhop.core import edits
from innerhop.core.addresses import fragments
from innerhop.core.facts.page_facts import gather
from innerhop.core.planners import renaming
from innerhop.core.refusals import Refusal
from innerhop.core.source import markup
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from tests.core import trees
from tests.core.planned import after as after_plan

UTF_8 = FileEncoding()


def renamed(text: str, new: str) -> str:
    """The page with its first mark renamed."""
    source = Source(text)
    facts = gather(source)
    return after_plan(
        source, renaming.plan_rename(source, facts, facts.marks[0].number, new, UTF_8)
    )


@pytest.mark.parametrize(
    ("before", "after"),
    [
        ("<h2 ID = 'old' class=c>a", "<h2 ID = 'new' class=c>a"),
        ("<h2 id=old>a", "<h2 id=new>a"),
        ("<a name=old></a>", "<a name=new></a>"),
        ("<a id=old name=old>x</a>", "<a id=new name=new>x</a>"),
        # What HTML and WAI-ARIA let refer to an ID goes along.
        ("<input id=old><label for=old>a</label>", "<input id=new><label for=new>a</label>"),
        (
            "<h2 id=old>a</h2><p aria-labelledby='x  old'>",
            "<h2 id=new>a</h2><p aria-labelledby='x  new'>",
        ),
        ("<h2 id=old>a</h2><p title=old>old</p>", "<h2 id=new>a</h2><p title=old>old</p>"),
    ],
)
def test_the_page_itself(before: str, after: str) -> None:
    assert renamed(before, "new") == after


@pytest.mark.parametrize(
    ("before", "id_", "after"),
    [
        ("<a href='#old'>", "new", "<a href='#new'>"),
        ('<a href = "/p/?a=1&amp;b=2#old" >', "new", '<a href = "/p/?a=1&amp;b=2#new" >'),
        ("<a href=#old>", "new", "<a href=#new>"),
        ("<a href=#old>", "it's", '<a href="#it\'s">'),
        ("<a href='#old'>", "it's", "<a href='#it&#39;s'>"),
        ("<a href='&#35;old'>", "new", "<a href='#new'>"),
        ("<a href='#old:~:text=Fees'>", "new", "<a href='#new:~:text=Fees'>"),
        ("<a href='#%6fld'>", "ü b", "<a href='#%C3%BC%20b'>"),
        ("<a href='\t#old\n'>", "new", "<a href='\t#new'>"),
        ("<a href='#old'>", "a&amp", "<a href='#a&amp;amp'>"),
        ("<area href='x.html#old'>", "new", "<area href='x.html#new'>"),
    ],
)  # fmt: skip
def test_links_follow_by_the_characters_of_the_fragment(before: str, id_: str, after: str) -> None:
    source = Source(before)
    number = gather(source).links[0].number
    assert after_plan(source, renaming.plan_follow(source, {number: id_}, UTF_8)) == after


@settings(max_examples=150)
@given(trees.markup(), st.sampled_from(["plain", "ü", "it's", 'a"b', "a&b", "x`y", "日本"]))
def test_another_parser_sees_the_new_addresses_and_nothing_else(text: str, new: str) -> None:
    source = Source(text)
    links = [one for one in gather(source).links if "#" in one.href]
    try:
        made = renaming.plan_follow(source, {one.number: new for one in links}, UTF_8)
        grown = after_plan(source, made)
    except Refusal as problem:
        assert str(problem)
        return
    was, now = trees.read(text), trees.read(grown)
    for one in was.below():
        href = one.attrs.get("href", "")
        if one.tag == "a" and "#" in href:
            one.attrs["href"] = f"{href.partition('#')[0]}#{fragments.encode(new)}"
    assert now == was


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("#fees { color: red }", True),
        ("document.getElementById('fees')", True),
        ("#fees-2 { }", False),
        ("/* fees */", False),
    ],
)
def test_styles_and_scripts_that_name_it(text: str, found: bool) -> None:
    assert renaming.mentions(text, "fees") == found


@given(st.text(st.characters(blacklist_categories=["Cs", "Cc"]), max_size=20))
def test_a_new_value_between_old_quotes_is_read_back(value: str) -> None:
    for old in ("a='x'", 'a = "x"', "a=x", "a"):
        text = f"<p {old}>"
        edit = markup.new_value(3, old, "a", value, UTF_8)
        element = next(Source(edits.apply(text, [edit])).of_tags("p"))
        assert element.attr("a") == value


@pytest.mark.parametrize(
    ("markup", "takes"),
    [
        ("<img src=a.png>", True),
        ("<link rel=stylesheet href=../a.css>", True),
        ("<script src=a.js></script>", True),
        ("<img src=/a.png><link href=https://b.example/a.css><script></script>", False),
        ("<a href=b.html>b</a><img>", False),
    ],
)
def test_a_page_takes_files_by_its_own_place(markup: str, takes: bool) -> None:
    assert renaming.takes_relative_files(Source(markup)) is takes
