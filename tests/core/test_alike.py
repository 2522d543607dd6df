"""The same words found all over a page; and what makes a link look like a button."""

from __future__ import annotations

import pytest

from innerhop.core.facts.page_facts import gather
from innerhop.core.facts.sections import sections
from innerhop.core.planners import alike, looks
from innerhop.core.source.tree import Source

PAGE = """<!doctype html><title>Ice</title><main><h1>Ice</h1>
<p>Stop planks hold. Ask for stop
planks, not stop planking. <code>stop planks</code> <b>stop</b> planks. <a href=#p>stop planks</a>
<h2>Frost</h2><p>Our stop planks, and stop planks.
<h2 id=p>Stop planks</h2><p>All about STOP PLANKS.</main>"""


def _found(words: str) -> list[str]:
    source = Source(PAGE)
    return [one.text for one in alike.places(source, gather(source), words)]


@pytest.mark.parametrize(
    ("words", "found"),
    [
        ("stop planks",
         ["Stop planks", "stop\nplanks", "stop planks", "stop planks", "STOP PLANKS"]),
        ("planks hold", ["planks hold"]),
        ("stop plank", []),  # whole words alone
        ("hold. Ask", ["hold. Ask"]),
        ("(", []),
    ],
)  # fmt: skip
def test_words_are_found_in_running_text_however_they_are_spaced(
    words: str, found: list[str]
) -> None:
    assert _found(words) == found


def test_one_place_a_section_but_of_those_that_are_served() -> None:
    source = Source(PAGE)
    facts = gather(source)
    rows = sections(source, facts)
    frost, planks = (one.number for one in rows)
    places = list(alike.places(source, facts, "stop planks"))
    where = [alike.section_of(rows, one.start.number) for one in places]
    assert where == [-1, -1, frost, frost, planks]
    chosen = list(alike.one_a_section(iter(places), rows))
    assert chosen == [places[0], places[2], places[4]]
    assert list(alike.one_a_section(iter(places), rows, [frost])) == [places[0], places[4]]


@pytest.mark.parametrize(
    ("name", "value", "is_look"),
    [
        ("color", "rgb(0, 0, 0)", True),
        ("position", "fixed", False),
        ("color", "", False),
        ("color", "x" * 300, True),
        ("color", "x" * 301, False),
        ("color", "red; position: fixed", False),
        ("background-image", "URL(http://x.example/)", False),
        ("color", "a\\62", False),
        ("color", "red/* */", False),
        ("color", "</style>", False),
    ],
)
def test_only_a_declaration_of_a_known_property_goes_into_a_link(
    name: str, value: str, is_look: bool
) -> None:
    assert looks.is_look(name, value) is is_look


@pytest.mark.parametrize(
    ("tag", "look", "style"),
    [
        ("<button>", {"color": "red"}, "color: red"),
        ("<button style='margin: 0;'>", {"color": "red", "border": "0"},
         "margin: 0; color: red; border: 0"),
        ("<button style=' margin: 0 '>", {}, "margin: 0"),
        ("<button>", {}, None),
    ],
)  # fmt: skip
def test_a_link_keeps_its_buttons_style_and_gets_what_it_lacks(
    tag: str, look: dict[str, str], style: str | None
) -> None:
    source = Source(f"<p>{tag}x</button>")
    [button] = source.of_tags("button")
    assert looks.style_with(source, button.number, look) == style


@pytest.mark.parametrize(
    ("css", "has"),
    [
        ("button:hover { color: red }", True),
        ("a, nav BUTTON.x:focus-visible{}", True),
        ("button { color: red } a:hover {}", False),
        (".button:active {}", True),
        (".buttons:active {}", False),
        ("button, a:hover {}", False),
    ],
)
def test_styles_of_buttons_that_are_pointed_at(css: str, has: bool) -> None:
    source = Source(f"<style>{css}</style><style>p {{}}</style>")
    assert looks.has_states(looks.styles_of(source)) is has
