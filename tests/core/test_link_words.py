"""Link words against WCAG 2.2's 2.4.4 and the failures its techniques name."""

from __future__ import annotations

import pytest

from innerhop.core.addresses import link_target
from innerhop.core.names import link_words
from innerhop.core.source.tree import Source


@pytest.mark.parametrize(
    ("text", "part"),
    [
        ("", "Nothing in this link can be read out"),  # F89
        ("Click here!", "does not say where it leads"),  # F84
        ("read MORE →", "does not say where it leads"),  # F84
        ("Mehr erfahren …", "does not say where it leads"),
        ("こちら", "does not say where it leads"),
        ("→", "does not say where it leads"),
        ("More about mooring fees", ""),
        ("Hereford locks", ""),
    ],
)
def test_words_that_say_nothing(text: str, part: str) -> None:
    found = link_words.trouble(text)
    assert part in found if part else found == ""


def test_the_same_words_for_two_places() -> None:
    """WCAG 2.4.9 and its technique on consistent names."""
    words = link_words.SameWords([("Fees", "/a"), ("fees ", "/b"), ("Locks", "/a")])
    assert "2 different places" in words.trouble("FEES")
    assert words.trouble("Locks") == ""
    assert "2 different places" in words.trouble("Locks", "/c")
    assert words.trouble("Locks", "/a") == ""


@pytest.mark.parametrize(
    ("target", "is_new"),
    [("", False), ("_SELF", False), ("_top", False), ("_blank", True), (" _Blank", True),
     ("shop", True)],
)  # fmt: skip
def test_which_targets_open_a_new_tab(target: str, is_new: bool) -> None:
    """HTML Standard #the-rules-for-choosing-a-navigable."""
    assert link_target.is_new_tab(target) is is_new


def test_what_changes_for_a_link_to_open_otherwise() -> None:
    """HTML Standard #link-type-noopener; what else is said in `rel` stays."""
    source = Source('<a href=x rel="license NoOpener" target=_blank>a</a><a href=y>b</a>')
    first, second = source.reading.matching("a")
    assert link_target.changed(source, first, False, True) == {"target": None, "rel": "license"}
    assert link_target.changed(source, second, True, True) == {
        "target": "_blank",
        "rel": "noopener",
    }
    assert link_target.changed(source, second, True, False) == {"target": "_blank"}
    assert link_target.changed(source, second, False, False) == {}
