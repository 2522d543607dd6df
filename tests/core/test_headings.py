"""A line made a heading: what another parser reads has the same words, one
heading more, and everything else where it was."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from innerhop.core.facts.page_facts import Heading, gather
from innerhop.core.planners import headings
from innerhop.core.planners.marking import CannotMark
from innerhop.core.refusals import Refusal
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from tests.core import trees
from tests.core.planned import after as after_plan

UTF_8 = FileEncoding()


def turned(text: str, tag: str, id_: str = "new") -> str:
    """The page with the first element of a kind made a heading of level 3."""
    source = Source(text)
    number = next(n for n, tag_ in enumerate(source.tags) if tag_ == tag)
    made = headings.plan_heading(source, gather(source), number, 3, id_=id_, encoding=UTF_8)
    return after_plan(source, made)


@pytest.mark.parametrize(
    ("before", "tag", "after"),
    [
        ("<p class=c>Fees</p>", "p", '<h3 id="new" class=c>Fees</h3>'),
        ("<P>Fees\n<p>a", "p", '<h3 id="new">Fees\n</h3><p>a'),
        ("<p><strong>Fees</strong></p>", "p", '<h3 id="new">Fees</h3>'),
        ("<p><b>Fees</b></p>", "b", '<h3 id="new">Fees</h3>'),
        ("<p class=c><b>Fees</b><br>\nSix pounds</p>", "p",
         '<h3 id="new">Fees</h3><p class=c>\nSix pounds</p>'),
        ("<div>a<b>Fees</b><br>Six</div>", "b", 'a<h3 id="new">Fees</h3>Six'),
        ("<p id=old>Fees</p>", "p", "<h3 id=old>Fees</h3>"),
        ("<details><summary>Fees</summary>Six</details>", "summary",
         '<details><summary><h3 id="new">Fees</h3></summary>Six</details>'),
        ("<p>Press <kbd>Esc</kbd> <del>now</del><ins>then</ins></p>", "p",
         '<h3 id="new">Press <kbd>Esc</kbd> <del>now</del><ins>then</ins></h3>'),
    ],
)  # fmt: skip
def test_lines_made_headings(before: str, tag: str, after: str) -> None:
    assert after in turned(before, tag)


@pytest.mark.parametrize(
    ("text", "tag", "message"),
    [
        ("<p>One <b>two</b> three", "b", "sentence"),
        ("<p> </p>", "p", "no words"),
        ("<div><p>a<p>b</div>", "div", "Only a paragraph"),
        ("<p id=x><b>a</b><br>b</p>", "b", "has an ID"),
        ("<ul><li>a</ul>", "ul", "Only a paragraph"),
    ],
)
def test_what_is_no_line_of_its_own_is_said(text: str, tag: str, message: str) -> None:
    with pytest.raises(CannotMark, match=message):
        turned(text, tag)


@settings(max_examples=200)
@given(trees.markup(), st.data())
def test_another_parser_sees_the_same_words_and_a_heading_more(
    text: str, data: st.DataObject
) -> None:
    source = Source(text)
    lines = [n for n, tag_ in enumerate(source.tags) if tag_ in ("p", "b", "div")]
    if not lines:
        return
    try:
        made = headings.plan_heading(
            source,
            gather(source),
            data.draw(st.sampled_from(lines)),
            4,
            id_="new",
            encoding=UTF_8,
            keeps_look=data.draw(st.booleans()),
        )
        grown = after_plan(source, made)
    except Refusal as problem:
        assert str(problem)
        return
    old, new = trees.read(text), trees.read(grown)
    assert new.text == old.text
    assert [one.attrs["id"] for one in new.below() if one.tag == "h4"] in (["new"], ["one"])
    assert attributes(new) == attributes(old)


def attributes(tree: trees.Tree) -> list[str]:
    """All attributes of the page, but for the new ID and the look that is kept."""
    rows = (
        {k: v for k, v in one.attrs.items() if v != "new" and "inherit" not in v}
        for one in tree.below()
    )
    return sorted(str(sorted(row.items())) for row in rows if row)


@pytest.mark.parametrize(
    ("text", "levels"),
    [
        ("<h1>a</h1><p>b", [2]),
        ("<h1>a</h1><h2>b</h2><p>c", [3, 2]),
        ("<h1>a</h1><h2>b</h2><h3>c</h3><p>d", [4, 2, 3]),
        ("<h6>a</h6><p>b", [6, 2, 3, 4, 5]),
        ("<p>a", [2]),
        ("<header><h4>a</h4></header><p>b", [2]),  # the frame's headings don't count
    ],
)
def test_levels_that_skip_none(text: str, levels: list[int]) -> None:
    source = Source(text)
    number = next(n for n, tag_ in enumerate(source.tags) if tag_ == "p")
    assert headings.fitting_levels(gather(source).headings, number) == levels


def test_another_level_changes_the_two_tags() -> None:
    text = "<h2 class=c>a <i>b</i></h2 ><h3>c"
    source = Source(text)
    facts = gather(source)
    number = facts.headings[0].number
    assert headings.fitting_levels(facts.headings, number) == [2]
    made = headings.plan_level(source, facts, number, 4)
    assert after_plan(source, made) == "<h4 class=c>a <i>b</i></h4 ><h3>c"
    with pytest.raises(CannotMark, match="from 1 to 6"):
        headings.plan_level(source, facts, number, 7)


@given(st.lists(st.integers(1, 6), max_size=12))
def test_no_level_is_skipped_where_gaps_are_closed(levels: list[int]) -> None:
    """WCAG technique G141; that what stands beside each other stays so is practice."""
    rows = [Heading(at, level, "x", "") for at, level in enumerate(levels)]
    changed = headings.closed_up(rows)
    now = [changed.get(at, level) for at, level in enumerate(levels)]
    assert all(old != changed[at] for at, old in enumerate(levels) if at in changed)
    for at, level in enumerate(levels):
        for other in range(at):
            between = levels[other + 1 : at]
            if levels[other] == level and all(one > level for one in between):
                assert now[other] == now[at]  # beside each other
            if levels[other] < level and all(one >= level for one in between):
                assert now[at] == min(level, now[other] + 1)  # right below
    assert not headings.closed_up([Heading(at, one, "x", "") for at, one in enumerate(now)])
