"""A button of our own look: its words can be read on any colour of links."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from innerhop.core.plan import Plan
from innerhop.core.planners import links_beside, own_button
from innerhop.core.proof import proved
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source

_PARTS = st.integers(0, 255)


@given(st.tuples(_PARTS, _PARTS, _PARTS))
def test_words_stand_out_from_every_ground(ground: own_button.Colour) -> None:
    """WCAG 2.2, 1.4.3: at least 4.5 to 1."""
    assert own_button.contrast(own_button.words_on(ground), ground) >= 4.5


@pytest.mark.parametrize(
    ("one", "other", "ratio"),
    [
        ((0, 0, 0), (255, 255, 255), 21),  # WCAG 2.2, #dfn-contrast-ratio: from 1 to 21
        ((9, 9, 9), (9, 9, 9), 1),
        ((118, 118, 118), (255, 255, 255), 4.54),  # from memory: the lightest grey that passes
    ],
)
def test_contrast(one: own_button.Colour, other: own_button.Colour, ratio: float) -> None:
    assert own_button.contrast(one, other) == pytest.approx(ratio, abs=0.005)


@pytest.mark.parametrize(
    ("computed", "read"),
    [("rgb(12, 34, 56)", (12, 34, 56)), ("rgba(1, 2, 3, 0.5)", (0, 0, 238)), ("none", (0, 0, 238))],
)
def test_a_computed_colour(computed: str, read: own_button.Colour) -> None:
    assert own_button.colour(computed) == read


def _put(text: str) -> str:
    source = Source(text)
    number = next(source.of_tags("p")).number
    ground = (20, 60, 50)
    new = links_beside.NewLink("Book", {"href": "#b", **own_button.attributes(source, ground)})
    plan: Plan = links_beside.plan_beside(source, number, "after", new, FileEncoding())
    return proved(source, own_button.with_style(source, plan, ground)).text


def test_its_rules_stand_in_the_page_once() -> None:
    first = _put("<!doctype html><title>t</title><p>x</p>")
    assert first.count("<style>") == 1
    assert '<a href="#b" class="hop-button">Book</a>' in first
    assert _put(first).count("<style>") == 1


def test_the_body_of_a_post_has_no_place_for_rules() -> None:
    assert '<a href="#b" style="display: inline-block;' in _put("<p>x</p>")
