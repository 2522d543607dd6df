"""What a broken hop likely means. The slips are common practice, no source."""

from __future__ import annotations

import pytest

from innerhop.core.site.guesses import likely, near_paths

IDS = {1: ["fees", "winter-moorings", "Lunch", "hardship-fund"], 2: ["ice", "fees-2"]}


@pytest.mark.parametrize(
    ("fragment", "page", "id_", "why"),
    [
        ("#fees", 1, "fees", "# too many"),
        ("%20fees", 1, "fees", "space"),
        ("FEES", 1, "fees", "Capitals"),
        ("lunch", 1, "Lunch", "Capitals"),
        ("winter%20moorings", 1, "winter-moorings", "differently"),
        ("winter_moorings", 1, "winter-moorings", "differently"),
        ("hardshp-fund", 1, "hardship-fund", "slip"),
        ("ice", 2, "ice", "another page"),
    ],
)
def test_slips_of_the_hand(fragment: str, page: int, id_: str, why: str) -> None:
    first = likely(fragment, 1, IDS)[0]
    assert (first.page, first.id) == (page, id_)
    assert why in first.why


def test_what_is_like_nothing_means_nothing() -> None:
    assert likely("opening-hours", 1, IDS) == []
    assert likely("", 1, {}) == []


@pytest.mark.parametrize(
    ("path", "found"),
    [
        ("/skippers-hand-book", ["/skippers-handbook"]),
        ("/Moorings/", ["/moorings"]),
        ("/elsewhere", []),
    ],
)
def test_addresses_that_are_a_little_off(path: str, found: list[str]) -> None:
    assert near_paths(path, ["/skippers-handbook", "/moorings", "/about"]) == found
