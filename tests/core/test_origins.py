"""Which element was which before an edit, against numbers that a test writes into the markup."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from innerhop.core.edits import Edit, apply
from innerhop.core.origins import Inserted, origins_of, shifts_of
from innerhop.core.source.tree import Source

TEXT = "<p>" + "".join(f"<b data-n={at}>{at}</b>" for at in range(12))
PLACES = [TEXT.index(f"<b data-n={at}>") for at in range(12)] + [len(TEXT)]
TAKEN = st.lists(st.integers(0, 11), unique=True, max_size=4)
PUT = st.lists(st.sampled_from(range(13)), unique=True, max_size=4)


def _edits(taken: list[int], put: list[int]) -> list[Edit]:
    gone = [Edit(PLACES[at], TEXT[PLACES[at] : PLACES[at + 1]], "") for at in taken]
    new = [Edit(PLACES[at], "", "<i>new</i>") for at in put]
    return sorted([*gone, *new])


@given(TAKEN, PUT)
def test_each_element_is_the_one_that_its_number_says(taken: list[int], put: list[int]) -> None:
    edits = _edits(taken, put)
    old, new = Source(TEXT), Source(apply(TEXT, edits))
    origins = origins_of(old, new, edits)
    assert len(origins) == len(new)
    for number, origin in enumerate(origins):
        name = new.attr(number, "data-n")
        if name is not None:
            assert origin is not None
            assert old.attr(origin, "data-n") == name
        elif new.tags[number] == "i":
            assert origin is None
        else:
            assert origin is not None
            assert old.tags[origin] == new.tags[number]


@given(TAKEN, PUT)
def test_numbers_move_by_what_the_shifts_say(taken: list[int], put: list[int]) -> None:
    edits = _edits(taken, put)
    origins = origins_of(Source(TEXT), Source(apply(TEXT, edits)), edits)
    shifts, moved = dict(shifts_of(origins)), {}
    by = 0
    for old in range(len(Source(TEXT))):
        by += shifts.get(old, 0)
        moved[old] = old + by
    assert all(moved[one] == at for at, one in enumerate(origins) if one is not None)


@pytest.mark.parametrize(
    ("start", "end", "is_held"),
    [(2, 5, True), (2, 4, True), (3, 5, True), (3, 3, False), (1, 4, False), (3, 6, False)],
)
def test_what_was_put_in_at_once_is_held(start: int, end: int, is_held: bool) -> None:
    inserted = Inserted([Edit(2, "", "new"), Edit(8, "ab", "")])
    assert inserted.holds(start, end) is is_held


def test_where_a_character_stood_before() -> None:
    inserted = Inserted([Edit(2, "", "new"), Edit(4, "ab", "")])
    assert [inserted.old_place(at) for at in range(9)] == [0, 1, None, None, None, 2, 3, 6, 7]
