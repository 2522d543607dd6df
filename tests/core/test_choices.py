"""From what the entries of a contents list are chosen."""

from __future__ import annotations

from collections.abc import Sequence

import pytest
from hypothesis import given
from hypothesis import strategies as st

from innerhop.core.contents import choices
from innerhop.core.contents.choices import Choice
from innerhop.core.contents.entries import Possible
from innerhop.core.contents.in_step import OutOfStep
from innerhop.core.contents.lists import ContentsList, ListEntry
from innerhop.core.contents.settings import Settings
from tests.core.test_contents import MADE, Read, page

TITLES = ("a|One", "===|One more", "b|Two", "Three")


def _rows(listed: str, *titles: str) -> list[Choice]:
    """What is chosen from for the one list of a page."""
    found = Read(page(listed, *titles))
    return choices.of_list(found.lists[0], found.off, found.possible)


def test_a_new_list_takes_what_is_usual_and_says_what_needs_an_id() -> None:
    rows = choices.for_new(Read(page("", *TITLES)).possible, ["h2"])
    assert [row.title for row in rows] == ["One", "One more", "Two", "Three"]
    assert [(row.title, row.needs_id) for row in rows if row.on] == [
        ("One", False), ("Two", False), ("Three", True),
    ]  # fmt: skip


OWN = "data-hop-order=own data-hop-levels"


@pytest.mark.parametrize(
    ("listed", "titles", "chosen"),
    [
        # what is new stands where the page has it
        (MADE, ("a|One", "b|Two", "n|New", "c|Three"), ["One", "Two", "New", "Three"]),
        # an order of its own is kept, and what is new stands behind what it follows
        (MADE.replace("data-hop-levels", OWN),
         ("c|Three", "n|New", "b|Two", "a|One"), ["One", "Two", "Three", "New"]),
        # without one, entries move with their parts
        (MADE, ("b|Two", "a|One", "c|Three"), ["Two", "One", "Three"]),
        # what leads to nothing goes; what is called something else is
        (MADE, ("a|One", "b|Other words"), ["One", "Other words"]),
        # what leads elsewhere than it says leads there
        (MADE.replace("#b", "#c"), ("a|One", "b|Two", "c|Three"), ["One", "Two", "Three"]),
        # what leads to another page stays as it is
        (MADE.replace("<ol>", "<ol><li><a href='/else/'>Else</a></li>"),
         ("a|One", "b|Two", "c|Three"), ["Else", "One", "Two", "Three"]),
    ],
)  # fmt: skip
def test_entries_are_as_they_will_be(listed: str, titles: Sequence[str], chosen: list[str]) -> None:
    rows = _rows(listed, *titles)
    assert [row.title for row in rows if row.on] == chosen
    assert not any(row.needs_id for row in rows)  # what is new on the page may be marked already
    assert all(row.part or row.link is not None for row in rows)


def test_words_of_the_editors_own_stay() -> None:
    rows = _rows(
        MADE.replace("<a href=#b>Two", "<a data-hop-label=own href=#b>In short"),
        "a|One", "b|Two", "c|Three",
    )  # fmt: skip
    assert [(row.title, row.label) for row in rows] == [
        ("One", ""), ("Two", "In short"), ("Three", ""),
    ]  # fmt: skip


@pytest.mark.parametrize("id_", ["b", "two"])
def test_an_entry_that_leads_to_either_id_of_its_part_is_that_parts(id_: str) -> None:
    text = page(MADE, "a|One", "b|Two", "c|Three").replace(
        '<h2 id="b">', '<h2><a id="two"></a><a id="b"></a>'
    )
    found = Read(text.replace("href=#b", f"href=#{id_}"))
    rows = choices.of_list(found.lists[0], found.off, found.possible)
    assert [row.title for row in rows] == ["One", "Two", "Three"]
    assert all(row.on and row.part for row in rows)


parts = st.lists(st.integers(1, 30), unique=True, max_size=12)


@given(parts, parts)
def test_what_is_not_listed_stands_behind_the_nearest_listed_part_before_it(
    listed: list[int], rest: list[int]
) -> None:
    possible = [Possible(number, "h2", f"{number}", f"s{number}")
                for number in sorted({*listed, *rest})]  # fmt: skip
    entries = [ListEntry(100 + at, 0, f"{at}", f"s{at}", 0, f"#s{at}") for at in listed]
    one = ContentsList(90, 99, 90, "", entries, Settings("nested", own_order=True), True)
    rows = [row.part.number for row in choices.of_list(one, OutOfStep(), possible) if row.part]
    assert [number for number in rows if number in listed] == listed
    assert sorted(rows) == sorted({*listed, *rest})
    for number in set(rest) - set(listed):
        above = [other for other in rows[: rows.index(number)] if other in listed]
        before = [other for other in listed if other < number]
        assert (above[-1:] == [max(before)]) if before else not above
