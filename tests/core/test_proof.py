"""The proof before a change is saved must be able to fail: each of these plans does
more, or other, than it claims."""

from __future__ import annotations

import json

import pytest

from innerhop.core.edits import Edit, EditsClash
from innerhop.core.plan import (
    Claim,
    Filling,
    NewElement,
    Part,
    Plan,
    Takes,
    from_data,
    join_plans,
)
from innerhop.core.proof import NotProved, proved
from innerhop.core.source.tree import Source

PAGE = "<!doctype html><title>t</title><body><h2 class=a>Head</h2><p>one two <b>three</b></p>"
H2, P, B = 4, 5, 6


def edit(old: str, new: str) -> Edit:
    assert old in PAGE
    return Edit(PAGE.index(old), old, new)


def holds(plan: Plan) -> bool:
    again = from_data(json.loads(json.dumps(plan.as_data())))
    try:
        proved(Source(PAGE), again)
    except NotProved:
        return False
    return True


@pytest.mark.parametrize(
    ("old", "new", "same"),
    [
        ("<h2 ", '<h2 id="x" ', True),
        ("<h2 ", '<h2 id="y" ', False),  # another ID
        ("<h2 class=a", '<h2 id="x" class=b', False),  # and a class
        ("<h2 class=a", '<h2 id="x"', False),  # a class less
        ("<h2 class=a>Head", '<h2 id="x" class=a>Heads', False),  # other words
        ("<h2 class=a>Head</h2>", '<h2 id="x" class=a>Head</h2><hr>', False),  # an element more
        ("<h2 class=a>Head</h2>", '<h2 id="x" class=a>Head</h2><!-- a -->', False),  # a comment
        ("<p>", '<p id="x">', False),  # on another element
    ],
)
def test_attributes(old: str, new: str, same: bool) -> None:
    assert holds(Plan([edit(old, new)], Claim({H2: {"id": "x"}}))) == same


def test_an_attribute_that_is_to_go() -> None:
    assert holds(Plan([edit(" class=a", "")], Claim({H2: {"class": None}})))
    assert not holds(Plan([], Claim({H2: {"class": None}})))
    assert not holds(Plan([edit(" class=a", "")]))


@pytest.mark.parametrize(
    ("old", "new", "same"),
    [
        ("two <b>three</b>", "<a href=x>two <b>three</b></a>", True),
        ("two", "<a href=x>two</a>", True),
        ("two", "<a href=y>two</a>", False),  # another address
        ("two", "<i href=x>two</i>", False),  # another element
        ("two", "<a href=x>to</a>", False),  # other words
        ("two <b>", "<a href=x>two <i>", False),
        ("two <b>three</b>", "<a href=x>two <b class=c>three</b></a>", False),  # an attribute
        ("two", "<a href=x>two</a><a href=y></a>", False),  # two links
    ],
)
def test_an_element_around_what_is_there(old: str, new: str, same: bool) -> None:
    claim = Claim(new=[NewElement(0, 0, "a", {"href": "x"})])
    assert holds(Plan([edit(old, new)], claim)) == same


@pytest.mark.parametrize(
    ("new", "same"),
    [
        ("</h2> <p class=x>New <i>one</i></p>", True),
        ("</h2>  <p class=x>New <i>one</i></p>", False),  # another space
        ("</h2> <p class=x>New <i>two</i></p>", False),  # other words inside
        ("</h2> <p class=x>Old <i>one</i></p>", False),  # other words of its own
        ("</h2> <p class=x>New <b>one</b></p>", False),  # another element inside
        ("</h2> <p class=x>New <i id=y>one</i></p>", False),  # an attribute inside
        ("</h2> <p class=x>New <i>one</i><i></i></p>", False),  # an element more inside
        ("</h2> <p class=x>New <i>one</i></p>and", False),  # words behind it
    ],
)
def test_an_element_that_brings_its_content(new: str, same: bool) -> None:
    made = NewElement(0, 6, "p", {"class": "x"}, "New ", [Part("i", {}, "one", 1)], before=" ")
    assert holds(Plan([edit("</h2>", new)], Claim(new=[made]))) == same


@pytest.mark.parametrize(
    ("old", "new", "same"),
    [
        ("</title>", "</title><style>a{}</style>", True),
        ("</title>", "</title><style>b{}</style>", False),
        ("</title>", "</title><style>a{}</style><meta>", False),
        ("one two</title>", "", False),
    ],
)
def test_a_style(old: str, new: str, same: bool) -> None:
    if old not in PAGE:
        old, new = "one two", "<style>a{}</style>one"  # words are gone
    offset = new.index("<style>")
    claim = Claim(new=[NewElement(0, offset, "style", {}, "a{}")])
    assert holds(Plan([edit(old, new)], claim)) == same


@pytest.mark.parametrize(
    ("old", "new", "same"),
    [
        ("<h2 class=a>Head</h2>", "<h3 class=a>Head</h3>", True),
        ("<h2 class=a>Head</h2>", "<h4 class=a>Head</h4>", False),
        ("<h2 class=a>Head</h2>", "<h3>Head</h3>", False),  # its class is gone
        ("<h2 class=a>Head</h2><p>one", "<h3 class=a>Head</h3>one<p>", False),  # words moved
    ],
)
def test_tags(old: str, new: str, same: bool) -> None:
    assert holds(Plan([edit(old, new)], Claim(tags={H2: "h3"}))) == same


def test_an_element_that_is_to_go_leaves_what_it_holds() -> None:
    assert holds(Plan([edit("<b>three</b>", "three")], Claim(gone=[B])))
    assert not holds(Plan([edit("<b>three</b>", "")], Claim(gone=[B])))
    assert not holds(Plan([edit("<b>three</b>", "three")]))


@pytest.mark.parametrize("name", ["rel", "headers", "class", "accept-charset"])
def test_attributes_that_are_lists_of_words_are_compared_as_written(name: str) -> None:
    old = Source("<p><a>x</a>")
    a = old.tags.index("a")
    plan = Plan([Edit(5, "", f' {name}="one two"')], Claim({a: {name: "one two"}}))
    assert proved(old, plan).attributes(a) == {name: "one two"}
    with pytest.raises(NotProved):
        proved(old, Plan(plan.edits, Claim({a: {name: "one  two"}})))


def test_joined_plans_are_proved_as_one() -> None:
    mark = Plan([edit("<h2 ", '<h2 id="x" ')], Claim({H2: {"id": "x"}}))
    link = Plan(
        [edit("two", "<a href=x>two"), Edit(PAGE.index(" <b>"), "", "</a>")],
        Claim(new=[NewElement(0, 0, "a", {"href": "x"})]),
    )
    both = join_plans([mark, link])
    assert proved(Source(PAGE), both).text.count("<a href=x>two</a>") == 1
    assert not holds(Plan(both.edits, mark.claim))
    assert not holds(Plan(both.edits, link.claim))
    with pytest.raises(EditsClash):
        join_plans([mark, Plan([], Claim({H2: {"id": "y"}}))])


LIST = Filling("", [Part("b", {}, "three", 1), Part("i", {}, "", 1)])


@pytest.mark.parametrize(
    ("edits", "claim", "same"),
    [
        ([("one two <b>three</b>", "<b>three</b><i></i>")], Claim(filled={P: LIST}), True),
        # with what stands before it moved, too
        ([("<h2", "<hr><h2"), ("one two <b>three</b>", "<b>three</b><i></i>")],
         Claim(new=[NewElement(0, 0, "hr", {}, "")], filled={P: LIST}), True),
        ([("one two <b>three</b>", "<b>three</b>")], Claim(filled={P: LIST}), False),
        ([("one two <b>three</b>", "<b>three</b><i>!</i>")], Claim(filled={P: LIST}), False),
        ([("one two <b>three</b>", "one <b>three</b><i></i>")], Claim(filled={P: LIST}), False),
        ([("<p>one two <b>three</b>", "<p id=x><b>three</b><i></i>")],
         Claim(filled={P: LIST}), False),
        ([("Head", ""), ("one two <b>three</b>", "<b>three</b><i></i>")],
         Claim(filled={P: LIST}), False),
        ([("<b>three</b>", "")], Claim(removed={B: ("", "")}), True),
        ([(" <b>three</b>", "")], Claim(removed={B: (" ", "")}), True),
        ([("two <b>three</b>", "")], Claim(removed={B: (" ", "")}), False),
        ([("<b>three</b>", "three")], Claim(removed={B: ("", "")}), False),
        ([], Claim(removed={B: ("", "")}), False),
    ],
)  # fmt: skip
def test_what_is_filled_anew_or_removed(
    edits: list[tuple[str, str]], claim: Claim, same: bool
) -> None:
    plan = Plan([edit(old, new) for old, new in edits], claim)
    assert holds(plan.taking([Takes("one two three")])) == same
