"""Shared parts: the same to a reader on two pages, wherever their links are
written from."""

from __future__ import annotations

import pytest

from innerhop.core.addresses.link_ends import LinkEnds
from innerhop.core.facts import page_facts, shared_parts
from innerhop.core.source.tree import Source

FOOT = "<footer><h2 id=f>Reach us</h2><p>The Toll House, <a href='/about/'>see</a></p></footer>"


def regions(body: str, base: str = "https://marrowby.example/a/") -> list[tuple[str, str]]:
    source = Source(f"<!doctype html><body>{body}")
    found = shared_parts.regions(source, page_facts.gather(source), LinkEnds(base, None).resolve)
    return [(one.kind, one.digest) for one in found]


def test_addresses_count_as_what_they_lead_to() -> None:
    relative = FOOT.replace("/about/", "../about/")
    assert regions(FOOT) == regions(relative) != regions(relative, "https://marrowby.example/a/b/")


@pytest.mark.parametrize(
    ("other", "same"),
    [
        (FOOT.replace("<p>", "\n  <p>\n"), True),  # white space
        (FOOT.replace("<a ", "<a aria-current=page class=on "), True),  # which page this is
        (FOOT.replace("Toll", "Lock"), False),
        (FOOT.replace("id=f", "id=g"), False),
        (FOOT.replace("<p>", "<p><b>").replace("</p>", "</b></p>"), False),
    ],
)
def test_what_makes_two_the_same(other: str, same: bool) -> None:
    assert (regions(FOOT) == regions(other)) == same


@pytest.mark.parametrize(
    ("body", "kinds"),
    [
        (f"<header><nav><a href=/>The site’s home</a></nav></header><main><h1>x</h1></main>{FOOT}",
         ["header", "footer"]),
        ("<div><h1>Page</h1><p>all of its content</p></div>", []),
        ("<main><h1>x</h1><aside><p>Ask us about boats</p></aside></main>", ["part"]),
        ("<div><p>Ask us about boats</p></div><main>x</main>", ["part"]),
        ("<footer><p>©</p></footer>", []),  # alike by chance
        # Without an h1 the highest headings are the page's own, and without any its words.
        ("<div><h2>Page</h2><p>all of its content</p></div><div><p>Ask us about boats</p></div>",
         ["part"]),
        ("<div><p>all the words that this page has of its own</p></div><div>Ask us</div>", []),
    ],
)  # fmt: skip
def test_what_could_be_shared(body: str, kinds: list[str]) -> None:
    assert [kind for kind, _ in regions(body)] == kinds
