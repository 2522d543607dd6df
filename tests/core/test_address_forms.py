"""The four forms of a hop: each leads where it was meant to, read as browsers read
it, and what does not work where it stands is not offered."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from innerhop.core.addresses import address_forms
from innerhop.core.addresses.address_forms import ABSOLUTE, HASH, PATH, RELATIVE, CannotWrite, Start
from innerhop.core.addresses.urls import resolve

SITE = "https://marrowby.example"


def start(path: str, base: str = "", shared: bool = False) -> Start:
    return Start(SITE + path, base or SITE + path, shared)


def hrefs(here: Start, path: str, fragment: str | None = "fees") -> dict[str, str]:
    return {one.form: one.href for one in address_forms.all_forms(here, SITE + path, fragment)}


@pytest.mark.parametrize(
    ("here", "there", "hash_", "relative"),
    [
        ("/locks/", "/moorings/", "", "../moorings/#fees"),
        ("/locks/", "/locks/", "#fees", "./#fees"),
        ("/a/b/c.html", "/a/b/d.html", "", "d.html#fees"),
        ("/a/b/c.html", "/a/b/c.html", "#fees", "c.html#fees"),
        ("/a/b/c.html", "/", "", "../../#fees"),
        ("/", "/a/b/", "", "a/b/#fees"),
        ("/a/", "/a/x:y", "", "./x:y#fees"),
    ],
)
def test_each_form_is_as_short_as_it_works(
    here: str, there: str, hash_: str, relative: str
) -> None:
    found = hrefs(start(here), there)
    wanted = {HASH: hash_, PATH: f"{there}#fees", RELATIVE: relative}
    assert found == {**wanted, ABSOLUTE: f"{SITE}{there}#fees"}


def test_a_base_address_and_a_shared_part_rule_forms_out() -> None:
    """HTML Standard #document-base-url: with a base, a bare hash is read against the base."""
    elsewhere = start("/locks/", base=f"{SITE}/old/")
    assert hrefs(elsewhere, "/locks/") == {
        HASH: "",
        PATH: "/locks/#fees",
        RELATIVE: "../locks/#fees",
        ABSOLUTE: f"{SITE}/locks/#fees",
    }
    other_host = start("/locks/", base="https://cdn.example/")
    found = hrefs(other_host, "/locks/")
    assert (found[HASH], found[PATH]) == ("", "")
    assert found[ABSOLUTE] == f"{SITE}/locks/#fees"
    assert hrefs(start("/locks/", shared=True), "/locks/")[HASH] == ""


def test_the_best_form_is_the_hash_then_the_site_s_own() -> None:
    here = start("/locks/")
    assert address_forms.best(here, f"{SITE}/locks/", "a", RELATIVE).href == "#a"
    assert address_forms.best(here, f"{SITE}/x/", "a", RELATIVE).href == "../x/#a"
    assert address_forms.best(here, f"{SITE}/x/", None, PATH).href == "/x/"
    assert address_forms.best(here, f"{SITE}/locks/", "a", PATH, asked=ABSOLUTE).form == ABSOLUTE
    with pytest.raises(CannotWrite, match="another page"):
        address_forms.best(here, f"{SITE}/x/", "a", PATH, asked=HASH)
    other_host = start("/locks/", base="https://cdn.example/")
    assert address_forms.best(other_host, f"{SITE}/locks/", "a", PATH).form == ABSOLUTE


# RFC 3986 4.1 and 4.2, and section 5.4.1's own references by their kind.
@pytest.mark.parametrize(
    ("href", "form"),
    [
        ("g:h", ABSOLUTE), ("//g", ABSOLUTE), ("\\\\g", ABSOLUTE), (" https://x/ ", ABSOLUTE),
        ("#s", HASH), ("/g", PATH), ("\\g", PATH), ("g#s", RELATIVE), ("../g", RELATIVE),
        ("?y", RELATIVE), ("", RELATIVE), ("g;x=1/../y", RELATIVE),
    ],
)  # fmt: skip
def test_a_link_s_form(href: str, form: str) -> None:
    assert address_forms.form_of(href) == form


NAMES = st.sampled_from(["a", "b", "locks", "x:y", "%C3%A9", "z.html", "..;", "-"])
PATHS = st.builds(
    lambda parts, last: "/" + "".join(f"{part}/" for part in parts) + last,
    st.lists(NAMES, max_size=4),
    st.sampled_from(["", "page.html", "index.html", "x:y"]),
)


@given(here=PATHS, there=PATHS, base=st.one_of(st.none(), PATHS), fragment=st.sampled_from(
    [None, "a", "%C3%BC", ":~:text=x", ""]))  # fmt: skip
def test_whatever_is_written_is_read_as_it_was_meant(
    here: str, there: str, base: str | None, fragment: str | None
) -> None:
    """URL Standard 4.4: the browser's own resolving, by ada-url, is the judge."""
    stands = start(here, SITE + base if base else "")
    wanted = resolve(SITE + there, SITE)
    assert wanted
    for one in address_forms.all_forms(stands, SITE + there, fragment):
        if one.href:
            found = resolve(one.href, stands.base)
            assert found
            assert (found.path, found.fragment) == (wanted.path, fragment)
            assert address_forms.form_of(one.href) == one.form


@pytest.mark.parametrize(
    ("target", "fragment", "href"),
    [
        ("https://canal.example/b/", "x", "../b/index.html#x"),
        ("https://canal.example/b/", None, "../b/index.html"),
        ("https://canal.example/b", "x", "../b#x"),
        ("https://canal.example/b/?q=1", "x", "../b/?q=1#x"),  # a server answers that
        ("https://canal.example/", None, "../index.html"),
    ],
)
def test_in_a_folder_of_files_a_folder_is_named_by_its_file(
    target: str, fragment: str | None, href: str
) -> None:
    here = Start("https://canal.example/a/", "https://canal.example/a/", index="index.html")
    assert address_forms.written(here, target, fragment, RELATIVE).href == href
