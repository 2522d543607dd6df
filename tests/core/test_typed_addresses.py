"""Addresses as people type and paste them. tests/browser compares their resolving
with Chromium's own."""

from __future__ import annotations

import pytest

from innerhop.core.addresses import typed_addresses
from innerhop.core.addresses.typed_addresses import NotALink

PAGE, SITE = "https://marrowby.example/locks/", "https://marrowby.example/"


@pytest.mark.parametrize(
    ("text", "href"),
    [
        ("#fees", "https://marrowby.example/locks/#fees"),
        ("  /moorings/#fees \n", "https://marrowby.example/moorings/#fees"),
        ("../moorings/", "https://marrowby.example/moorings/"),
        ("marrowby.example/moorings/#fees", "https://marrowby.example/moorings/#fees"),
        ("http://www.marrowby.example/moorings/", "https://marrowby.example/moorings/"),
        ("HTTPS://MARROWBY.EXAMPLE:443/moorings/", "https://marrowby.example/moorings/"),
        ("//marrowby.example/moorings/", "https://marrowby.example/moorings/"),
        ("\\moorings\\#fees", "https://marrowby.example/moorings/#fees"),
        ("https://marrowby.example/moorings/?preview=true&id=7#fees",
         "https://marrowby.example/moorings/#fees"),
        ("https://preview-12.marrowby.test/moorings/#fees",
         "https://marrowby.example/moorings/#fees"),
        ("http://localhost:4000/moorings/#fees", "https://marrowby.example/moorings/#fees"),
        ("/moorings/#Überblick", "https://marrowby.example/moorings/#%C3%9Cberblick"),
        ("/moorings/#%C3%9Cberblick", "https://marrowby.example/moorings/#%C3%9Cberblick"),
        ("/moorings/#two words", "https://marrowby.example/moorings/#two%20words"),
        ("#", "https://marrowby.example/locks/#"),
        ("moorings.html", "https://marrowby.example/locks/moorings.html"),
    ],
)  # fmt: skip
def test_what_leads_to_a_page_of_the_site(text: str, href: str) -> None:
    found = typed_addresses.read(text, PAGE, SITE)
    assert typed_addresses.is_address(text)
    assert found.found
    assert found.found.href == href


@pytest.mark.parametrize(
    ("text", "outside"),
    [
        ("https://waterways.example/map#here", "https://waterways.example/map#here"),
        ("waterways.example", "https://waterways.example/"),
        ("//waterways.example/x", "https://waterways.example/x"),
        ("https://bücher.example/", "https://xn--bcher-kva.example/"),
        ("mailto:lock@marrowby.example", "mailto:lock@marrowby.example"),
        ("tel:+44 1632 960983", "tel:+44 1632 960983"),
    ],
)
def test_what_leads_elsewhere(text: str, outside: str) -> None:
    found = typed_addresses.read(text, PAGE, SITE)
    assert (found.found, found.outside) == (None, outside)
    assert found.notes


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("javascript:alert(1)", "program"),
        ("JavaScript:void(0)", "program"),
        ("java\tscript:alert(1)", "program"),
        ("data:text/html,hi", "program"),
        ("file:///C:/site/x.html", "opens on this machine"),
        ("https://exa mple.com/", "No browser"),
        ("http://[1::2::3]/", "No browser"),
        ("https://marrowby.example:99999/", "No browser"),
    ],
)
def test_what_is_no_end_of_a_link(text: str, why: str) -> None:
    with pytest.raises(NotALink, match=why):
        typed_addresses.read(text, PAGE, SITE)


@pytest.mark.parametrize(
    "text", ["lock", "winter works", "the No. 7 lock", "fees 2026", "", "   ", "A.D."]
)
def test_words_are_no_address(text: str) -> None:
    assert not typed_addresses.is_address(text)
