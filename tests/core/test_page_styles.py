"""A line of style is put into the head as one element and nothing else."""

import pytest

from innerhop.core.planners import page_styles
from innerhop.core.source.tree import Source
from tests.core import trees
from tests.core.planned import after as after_plan


def smooth(text: str) -> str:
    source = Source(text)
    return after_plan(source, page_styles.plan_style(source, page_styles.SMOOTH))


@pytest.mark.parametrize(
    "text",
    [
        "<!doctype html><html><head><title>x</title></head><body><p>y",
        "<title>x</title><p>y",
        "<HEAD>\r\n</HEAD><BODY>y",
    ],
)
def test_the_tree_gains_one_style(text: str) -> None:
    after = smooth(text)
    old, new = trees.read(text), trees.read(after)
    style = next(one for one in new.below() if one.tag == "style")
    assert "prefers-reduced-motion: no-preference" in style.text
    for head in (one for one in new.below() if one.tag == "head"):
        head.children.remove(style)
    assert new == old


@pytest.mark.parametrize("text", ["<p>y", "<p><svg><title>A lock</title></svg>"])
def test_a_page_without_a_head_is_told_what_to_do(text: str) -> None:
    with pytest.raises(page_styles.CannotStyle, match="scroll-behavior: smooth"):
        smooth(text)
