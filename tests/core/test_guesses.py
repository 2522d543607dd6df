"""What a broken hop likely means. The slips are common practice, no source."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from rapidfuzz.distance import OSA

from innerhop.core.names.ids import Naming
from innerhop.core.site import guesses
from innerhop.core.site.guesses import Ids, Meant, Paths, Titled, Titles
from innerhop.core.site.guesses import likely as likely_on

IDS = {1: ["fees", "winter-moorings", "Lunch", "hardship-fund"], 2: ["ice", "fees-2", "ice-safety"]}


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
        ("ice-safety", 2, "ice-safety", "another page"),
    ],
)
def test_slips_of_the_hand(fragment: str, page: int, id_: str, why: str) -> None:
    first = likely(fragment, 1, IDS)[0]
    assert (first.page, first.id) == (page, id_)
    assert why in first.why


def likely(fragment: str, page: int, ids: dict[int, list[str]]) -> list[Meant]:
    having = [one for one, names in ids.items() if fragment in names]
    return likely_on(fragment, page, Ids(ids.get(page, [])), having)


def test_what_is_like_nothing_means_nothing() -> None:
    assert likely("opening-hours", 1, IDS) == []
    assert likely("", 1, {}) == []
    # On two pages a short name is a section of that kind, and of neither for certain.
    assert likely("ice", 1, {**IDS, 3: ["ice"]}) == []
    assert likely("fees-1", 2, IDS) == []  # another number is another thing
    assert likely("comp-kx92m1", 2, {2: ["comp-kx92m2"]}) == []  # nobody typed it


@pytest.mark.parametrize(
    ("fragment", "text", "meant", "why"),
    [
        ("winter-moorings", "see there", 2, "no ID yet"),
        ("nothing", "  opening   HOURS ", 3, "words of the link"),
        ("hours", "see there", None, ""),  # it has another ID than its words make
        ("hours-1", "", None, ""),
    ],
)
def test_sections_that_could_be_meant(
    fragment: str, text: str, meant: int | None, why: str
) -> None:
    sections = [Titled(2, "Winter moorings", ""), Titled(3, "Opening hours", "hours")]
    found = Titles(sections, Naming("en")).like(fragment, text)
    assert [one.number for one, _ in found] == ([meant] if meant else [])
    assert all(why in one for _, one in found)


def test_a_file_in_another_folder() -> None:
    paths = Paths(["/guides/locks", "/locks/old", "/about", "/guides/winter%20works"])
    assert paths.same_file("/locks") == ["/guides/locks"]
    assert paths.same_file("/works/Winter works") == ["/guides/winter%20works"]
    assert paths.same_file("/") == []


@pytest.mark.parametrize(
    ("path", "found"),
    [
        ("/skippers-hand-book", ["/skippers-handbook"]),
        ("/Moorings/", ["/moorings"]),
        ("/elsewhere", []),
    ],
)
def test_addresses_that_are_a_little_off(path: str, found: list[str]) -> None:
    paths = Paths(["/skippers-handbook", "/moorings", "/" + "m" * 500, "/about"])
    assert paths.slips(path) == paths.near(path) == found


@given(st.text("abcé-", min_size=4, max_size=9), st.integers(0, 9), st.sampled_from("abx"))
def test_whatever_is_a_letter_off_is_found(name: str, at: int, letter: str) -> None:
    """Optimal string alignment of at most 1, as rapidfuzz counts it one by one."""
    others = [name[:at] + letter + name[at:], name[:at] + name[at + 1 :], name[::-1],
              name[:at] + name[at + 1 : at + 2] + name[at : at + 1] + name[at + 2 :]]  # fmt: skip
    many = [f"{at}zz{at}" for at in range(60)] if at % 2 else []  # compared, and looked up
    ids = [one for one in dict.fromkeys([*others, "other", "aaaa", *many]) if one]
    found = Ids(ids).a_letter_off(name)
    assert set(found) == {one for one in ids if OSA.distance(name, one) <= 1}


@pytest.mark.parametrize(
    ("asked", "there", "may"),
    [
        ("/skippers-hand-book/", "/skippers-handbook/", True),
        ("/mooring/", "/moorings/", True),
        ("/volunteer-dasy/", "/volunteer-days/", True),
        ("/volunteer-dams/", "/volunteer-days/", False),  # a word of its own
        ("/volunter-days/", "/volunteer-days/", True),
        ("/guides/winter-works/", "/winter-works/", True),
        # Seen on manuals of which a part was brought in.
        ("/git-rm.html", "/git-am.html", False),
        ("/gitcredentials.html", "/git-credential.html", False),
        ("/mod/mod_ldap.html", "/mod/mod_dav.html", False),
        ("/hcontrol_8c.html", "/control_8c.html", False),
        ("/topics/settings.html", "/ref/settings.html", False),
        ("/ref/contrib/admin/index.html", "/faq/admin.html", False),
    ],
)
def test_a_page_is_near_where_a_person_would_agree(asked: str, there: str, may: bool) -> None:
    """Common practice, no source."""
    assert guesses.may_mean(asked, there, has_id=False) is may


def test_a_name_in_another_folder_is_meant_where_the_page_has_the_id() -> None:
    assert guesses.may_mean("/locks/", "/guides/locks/", has_id=True)
