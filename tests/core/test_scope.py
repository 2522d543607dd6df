"""What belongs to a site that is fetched, and what is a trap (practice, no source)."""

from __future__ import annotations

import pytest

from innerhop.core.site.scope import Scope, folder_of
from innerhop.core.site.unfound import Unfound

ORIGIN = "https://canal.example"


def page(href: str, below: str = "/") -> str | None:
    return Scope(ORIGIN, below).page(href, f"{ORIGIN}/guides/locks/")


@pytest.mark.parametrize(
    ("href", "address"),
    [
        ("../moorings/#fees", f"{ORIGIN}/guides/moorings/"),
        ("http://canal.example/a", f"{ORIGIN}/a"),
        ("https://www.canal.example/a", f"{ORIGIN}/a"),
        ("/a;jsessionid=9F2C", f"{ORIGIN}/a"),
        ("/Locks", f"{ORIGIN}/Locks"),
        ("/a.html", f"{ORIGIN}/a.html"),
        ("https://other.example/a", None),
        ("https://shop.canal.example/", None),
        ("mailto:jo@canal.example", None),
        ("/leaflet.PDF", None),
        ("/a?page=2", None),
        ("/a/b/a/b/a/b/", None),
        ("/" + "x/" * 30, None),
        ("http://[", None),
    ],
)
def test_what_a_link_leads_to(href: str, address: str | None) -> None:
    assert page(href) == address


def test_a_part_of_a_site_is_what_is_below_its_folder() -> None:
    assert page("/guides/locks/flight", "/guides/locks/")
    assert page("/guides/locks", "/guides/locks/")
    assert page("/guides/locksmiths", "/guides/locks/") is None
    assert folder_of("/guides/index.html") == "/guides/"


def test_a_calendar_without_end_is_cut_off_and_said() -> None:
    scope = Scope(ORIGIN)
    days = [f"/days/{year}/{month}/" for year in range(2000, 2100) for month in range(12)]
    taken = [day for day in days if scope.page(day, ORIGIN) is not None]
    assert len(taken) == 400
    assert scope.page(taken[0], ORIGIN) is not None  # what was taken is no other address
    ((why, count),) = scope.left_out.items()
    assert "figures alone" in why
    assert count == len(days) - len(taken)


def test_what_a_site_says_where_there_is_nothing_is_known_again() -> None:
    unfound = Unfound()
    assert not unfound.is_like("<h1>Nothing here</h1>")
    unfound.learn("<h1>Nothing here</h1><p>You asked for /9f2c. " + "Try the front page. " * 20)
    assert unfound.is_like("<h1>Nothing here</h1><p>You asked for /fees. "
                           + "Try the front page. " * 20)  # fmt: skip
    assert not unfound.is_like("<h1>Fees</h1><p>A night costs nine. " + "Boats of all sizes. " * 20)
