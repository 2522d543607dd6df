"""From fragment to element, by HTML Standard #scrolling-to-a-fragment ("select the indicated
part", "find a potential indicated element") and in real Chromium."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from hypothesis import given
from hypothesis import strategies as st
from playwright.sync_api import Browser, Page

from innerhop.core.addresses import fragments, urls
from innerhop.core.addresses.fragments import Nowhere, Top
from innerhop.core.facts.page_facts import gather
from innerhop.core.source.tree import Source

TALL = '<p style="height:1500px">'
PAGE = (
    f"<!doctype html><meta charset=utf-8><body>{TALL}"
    '<h2 id="lock">1</h2><h2 id="lock">2</h2>'
    '<a name="weir">3</a><h2 id="weir">4</h2><a name="sluice">5</a><p name="pound">6</p>'
    '<h2 id="Überlauf">7</h2><h2 id="a b">8</h2><h2 id="100%25">9</h2><h2 id="100%">10</h2>'
    '<h2 id="c%20d">11</h2><h2 id="c d">12</h2><svg><g id="gate"/></svg>'
    f'<template><h2 id="hidden">13</h2></template><h2 id="#x">14</h2>{TALL}{TALL}'
)
TOPLESS = {"top": Top(), "TOP": Top(), "ToP": Top(), "t%6fp": Top(), "": Top(), ":~:other": Top()}
# fragment, and what is indicated: the ID or name of an element, the top, or nothing
TABLE: dict[str, object] = {
    "lock": "lock",  # the first of two in tree order
    "Lock": Nowhere(),  # IDs are case-sensitive
    "weir": "weir",  # an ID comes before a name, wherever it stands
    "sluice": "sluice",  # the name of an `a`
    "pound": Nowhere(),  # the name of anything else
    "%C3%9Cberlauf": "Überlauf",  # percent-decoded
    "Überlauf": "Überlauf",  # the URL parser encodes it on the way
    "a%20b": "a b",
    "100%25": "100%25",  # as written comes before decoded
    "c%20d": "c%20d",
    "%ZZ": Nowhere(),
    "gate": "gate",  # any namespace
    "hidden": Nowhere(),  # a template's content is in no tree
    "#x": "#x",  # a second hash is part of the fragment
    "lock:~:other": "lock",  # the directive is stripped
    **TOPLESS,
}


def ask(fragment: str, markup: str = PAGE) -> object:
    """What our own steps indicate, by ID or name."""
    facts = gather(Source(markup))
    found = urls.resolve(f"#{fragment}", "https://marrowby.example/")
    assert found is not None
    where = fragments.indicated(found.fragment or "", facts.targets())
    if isinstance(where, Top | Nowhere):
        return where
    return next(mark.value for mark in facts.marks if mark.number == where)


@pytest.mark.parametrize("fragment", TABLE)
def test_each_branch_of_the_standard(fragment: str) -> None:
    assert ask(fragment) == TABLE[fragment]


def test_an_element_called_top_comes_before_the_top() -> None:
    assert ask("top", '<p id="top">x') == "top"
    assert ask("Top", '<p id="top">x') == Top()


@pytest.fixture(scope="module")
def served(chromium: Browser) -> Iterator[Page]:
    """PAGE in Chromium, answered by the test itself."""
    context = chromium.new_context()
    page = context.new_page()
    page.route("**/*", lambda route: route.fulfill(body=PAGE, content_type="text/html"))
    yield page
    context.close()


@pytest.mark.parametrize("fragment", TABLE)
def test_the_same_table_in_chromium(served: Page, fragment: str) -> None:
    served.goto("http://marrowby.test/")
    served.evaluate("scrollTo(0, 700)")
    served.evaluate(
        "fragment => { const a = document.createElement('a');"
        " a.setAttribute('href', '#' + fragment); a.click() }",
        fragment,
    )
    served.wait_for_timeout(60)
    target = served.evaluate(
        "() => { const e = document.querySelector(':target');"
        " return e && (e.id || e.getAttribute('name')) }"
    )
    expected = TABLE[fragment]
    if isinstance(expected, str):
        assert target == expected
    else:
        assert target is None
    if isinstance(expected, Nowhere):
        assert served.evaluate("scrollY") == 700
    elif isinstance(expected, Top):
        assert served.evaluate("scrollY") == 0


IDS = st.text(
    st.characters(blacklist_categories=["Cs", "Cc"], blacklist_characters=" "), min_size=1
)


@given(IDS)
def test_what_we_write_arrives(id_: str) -> None:
    """Any valid ID, written as a fragment and read as a browser does, is found."""
    found = urls.resolve(f"#{fragments.encode(id_)}", "https://marrowby.example/x/")
    assert found is not None
    targets = fragments.Targets.of([("id", id_, 1), ("id", "top", 2)])
    assert fragments.indicated(found.fragment or "", targets) in (1, 2)
    assert id_ == "top" or fragments.indicated(found.fragment or "", targets) == 1
