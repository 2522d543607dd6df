"""The algebra of edits, on any text and any edits."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from innerhop.core import edits
from innerhop.core.edits import Edit, EditsClash


@st.composite
def edits_of(draw: st.DrawFn, text: str) -> list[Edit]:
    """Edits in order and without overlap on a text."""
    cuts = sorted(draw(st.lists(st.integers(0, len(text)), max_size=8)))
    pairs = zip(cuts[::2], cuts[1::2], strict=False)
    return [Edit(a, text[a:b], draw(st.text("xyz\n", max_size=4))) for a, b in pairs]


@given(st.data(), st.text("abc\r\n", max_size=24))
def test_turned_round_they_give_the_text_back(data: st.DataObject, text: str) -> None:
    made = data.draw(edits_of(text))
    assert edits.apply(edits.apply(text, made), edits.invert(made)) == text


@given(st.data(), st.text("abc\n", max_size=24))
def test_joined_they_do_what_both_do(data: st.DataObject, text: str) -> None:
    first = data.draw(edits_of(text))
    middle = edits.apply(text, first)
    then = data.draw(edits_of(middle))
    end = edits.apply(middle, then)
    assert edits.apply(text, edits.join(first, then)) == end
    assert edits.join(first, edits.invert(first)) == []


@given(st.data(), st.text("abc", max_size=24))
def test_carried_past_others_they_still_do_the_same(data: st.DataObject, text: str) -> None:
    one = data.draw(edits_of(text))
    other = data.draw(edits_of(text))
    try:
        carried = edits.carry(one, other)
        carried_back = edits.carry(other, one)
    except EditsClash:
        return
    both = edits.apply(edits.apply(text, other), carried)
    assert both == edits.apply(edits.apply(text, one), carried_back)


def test_a_text_that_is_not_the_planned_one_is_refused() -> None:
    with pytest.raises(EditsClash):
        edits.apply("abc", [Edit(1, "x", "y")])
    with pytest.raises(EditsClash):
        edits.apply("abc", [Edit(0, "ab", ""), Edit(1, "b", "")])


def test_a_difference_is_shown_line_by_line() -> None:
    text = "one\n  <p>two words here</p>\nthree"
    made = [Edit(9, "", "<b>"), Edit(12, "", "</b>"), Edit(text.index("three"), "three", "3")]
    first, second = edits.difference(text, made)
    assert first.line == 2
    assert [kind for kind, _ in first.parts] == ["same", "new", "same", "new", "same"]
    assert "".join(words for _, words in first.parts) == "<p><b>two</b> words here</p>"
    assert second.parts == (("old", "three"), ("new", "3"))


@given(st.data(), st.text("abc", max_size=12))
def test_steps_taken_back_in_any_order_leave_the_first_text(data: st.DataObject, text: str) -> None:
    steps: list[edits.Step] = []
    now, waiting = text, list(range(data.draw(st.integers(1, 5))))
    for owner in waiting:
        made = data.draw(edits_of(now))
        steps.append((owner, made))
        now = edits.apply(now, made)
    while waiting:
        refused = []
        for owner in data.draw(st.permutations(waiting)):
            left = edits.standing(steps)
            at = next(at for at, step in enumerate(left) if step[0] == owner)
            back = edits.invert(left[at][1] or ())
            try:
                for _, step in left[at + 1 :]:
                    back = edits.carry(back, step or ())
            except EditsClash:
                refused.append(owner)
                continue
            steps.append((owner, back))
            now = edits.apply(now, back)
        assert len(refused) < len(waiting), "the newest of those that stand can be taken back"
        waiting = refused
    assert (now, edits.standing(steps)) == (text, [])
