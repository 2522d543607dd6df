"""Addresses, against published examples."""

import pytest

from innerhop.core.addresses import urls
from innerhop.core.addresses.urls import NotAnAddress

BASE = "http://a/b/c/d;p?q"
# RFC 3986 section 5.4.1 (normal) and 5.4.2 (abnormal), typed in from the RFC. The URL
# Standard differs where marked: it keeps an empty path's slash, treats backward
# references past the root as the RFC's last paragraph of 5.4.2 allows, and reads
# `http:g` as relative to an http base (URL Standard 4.4, "special relative or
# authority state").
EXAMPLES = {
    "g:h": "g:h",
    "g": "http://a/b/c/g",
    "./g": "http://a/b/c/g",
    "g/": "http://a/b/c/g/",
    "/g": "http://a/g",
    "//g": "http://g/",  # URL Standard: http://g becomes http://g/
    "?y": "http://a/b/c/d;p?y",
    "g?y": "http://a/b/c/g?y",
    "#s": "http://a/b/c/d;p?q#s",
    "g#s": "http://a/b/c/g#s",
    "g?y#s": "http://a/b/c/g?y#s",
    ";x": "http://a/b/c/;x",
    "g;x": "http://a/b/c/g;x",
    "g;x?y#s": "http://a/b/c/g;x?y#s",
    "": "http://a/b/c/d;p?q",
    ".": "http://a/b/c/",
    "./": "http://a/b/c/",
    "..": "http://a/b/",
    "../": "http://a/b/",
    "../g": "http://a/b/g",
    "../..": "http://a/",
    "../../": "http://a/",
    "../../g": "http://a/g",
    "../../../g": "http://a/g",
    "../../../../g": "http://a/g",
    "/./g": "http://a/g",
    "/../g": "http://a/g",
    "g.": "http://a/b/c/g.",
    ".g": "http://a/b/c/.g",
    "g..": "http://a/b/c/g..",
    "..g": "http://a/b/c/..g",
    "./../g": "http://a/b/g",
    "./g/.": "http://a/b/c/g/",
    "g/./h": "http://a/b/c/g/h",
    "g/../h": "http://a/b/c/h",
    "g;x=1/./y": "http://a/b/c/g;x=1/y",
    "g;x=1/../y": "http://a/b/c/y",
    "g?y/./x": "http://a/b/c/g?y/./x",
    "g?y/../x": "http://a/b/c/g?y/../x",
    "g#s/./x": "http://a/b/c/g#s/./x",
    "g#s/../x": "http://a/b/c/g#s/../x",
    "http:g": "http://a/b/c/g",  # URL Standard; the RFC allows it for old parsers
}


@pytest.mark.parametrize("href", EXAMPLES)
def test_rfc_3986_section_5_4(href: str) -> None:
    found = urls.resolve(href, BASE)
    assert found is not None
    assert found.href == EXAMPLES[href]


def test_a_base_element_sends_a_bare_hash_off_the_page() -> None:
    """HTML Standard #document-base-url."""
    page = "https://marrowby.example/lock-guide/"
    base = urls.base_address(page, "/")
    found = urls.resolve("#summit", base)
    assert found is not None
    assert found.href == "https://marrowby.example/#summit"
    assert urls.base_address(page, "http://[") == page  # one that can't be read counts for nothing
    assert urls.base_address(page, None) == page


@pytest.mark.parametrize(
    ("file", "address"),
    [
        ("index.html", "/"),
        ("lock-guide/index.html", "/lock-guide/"),
        ("about.html", "/about.html"),
        ("a b/Ü.htm", "/a%20b/%C3%9C.htm"),
        ("x\\y\\default.htm", "/x/y/"),
    ],
)
def test_a_page_gets_its_address_from_its_path(file: str, address: str) -> None:
    assert urls.address_of_file(file) == address


@pytest.mark.parametrize("path", ["/about", "/about/", "/about.html", "/about/index.html"])
def test_which_addresses_are_one_page(path: str) -> None:
    assert urls.page_key(path) == "/about"
    exact = {"/about/": "/about/", "/about/index.html": "/about/"}
    assert urls.page_key(path, loose=False) == exact.get(path, path)


@pytest.mark.parametrize(
    ("typed", "message"),
    [
        ("", "needs an address"),
        ("https://elsewhere.example/x", "another site"),
        ("/x/#y", "before any"),
        ("/x?y", "before any"),
        ("http://[", "can't be read"),
        ("mailto:a@b.example", "another site"),
    ],
)
def test_what_is_no_page_address_is_said_plainly(typed: str, message: str) -> None:
    with pytest.raises(NotAnAddress, match=message):
        urls.read_path(typed, "https://marrowby.example/")


def test_page_and_site_addresses_are_helped() -> None:
    site = urls.read_site_address("  Marrowby.example ")
    assert site == "https://marrowby.example/"
    assert urls.read_path("locks/", site) == "/locks/"
    assert urls.read_path("https://marrowby.example/locks/", site) == "/locks/"
    for typed in ("", "https://marrowby.example/locks/", "ftp://marrowby.example"):
        with pytest.raises(NotAnAddress):
            urls.read_site_address(typed)
