"""What broke between two looks at a site, and why. The causes are a fact of the trade (common
practice, no source); where hops lead is the HTML Standard's, tested with hops."""

from __future__ import annotations

from collections.abc import Mapping

import pytest

from innerhop.check.reading import FilePage, Options
from innerhop.core.findings.whole_site import WholeSite, read
from innerhop.core.live.breaking import Before, BreakCause, Breaking, broken_hops
from innerhop.core.source.tree import Source

OPTIONS = Options("https://canal.example/")
BODY = "<p>Twelve locks in two miles, and a kettle at each of them.</p>"
BEFORE = {
    "/": f'<h1>Home</h1>{BODY}<a href="/works/#winter">the works</a> <a href="#here">here</a>'
    f'<h2 id="here">Here</h2>{BODY}',
    "/works/": f'<h1>Works</h1><h2>Summer</h2>{BODY}<h2 id="winter">Winter works</h2>{BODY}',
}


def site_of(pages: Mapping[str, str]) -> WholeSite:
    rows = [read(FilePage("", text, OPTIONS, path), path) for path, text in pages.items()]
    return WholeSite(OPTIONS.address, "en", rows, lambda at: Source(list(pages.values())[at]))


def causes(now: Mapping[str, str], before: Mapping[str, str] = BEFORE) -> dict[str, BreakCause]:
    """By its page and address, why a hop broke."""
    old, new = site_of(before), site_of(now)
    texts = {row.key: text for row, text in zip(old.pages, before.values(), strict=True)}
    broken = {(old.pages[at].key, found.key) for at in range(len(old.pages))
              for found, _ in broken_hops(old, at, old.findings(at))}  # fmt: skip
    was = Before(
        lambda key: Source(texts[key]) if key in texts else None,
        lambda key, found: (key, found.key) in broken,
    )
    breaking = Breaking(new, was)
    return {f"{page.path} {key}": cause for at, page in enumerate(new.pages)
            for key, cause in breaking.of(at, new.findings(at)).items()}  # fmt: skip


def changed(path: str, old: str, new: str) -> dict[str, str]:
    assert old in BEFORE[path]
    return {**BEFORE, path: BEFORE[path].replace(old, new)}


@pytest.mark.parametrize(
    ("path", "old", "new", "why", "enter"),
    [
        ("/works/", 'id="winter"', 'id="winter-works"', "“winter-works” stands at the same heading",
         "winter"),
        ("/works/", 'id="winter"', "", "taken off “Winter works”", "winter"),
        ("/works/", f'<h2 id="winter">Winter works</h2>{BODY}', "", "“Winter works”, where it led",
         ""),
        ("/works/", '<h2 id="winter">Winter works</h2>',
         '<div style="display:none"><h2 id="winter">Winter works</h2></div>', "hidden", ""),
        ("/", "/works/#winter", "/works/#wintr", "Its address was “/works/#winter” before",
         "/works/#winter"),
        ("/", "</h1>", '</h1><a href="#gate">the gate</a>', "It is new there", ""),
    ],
)  # fmt: skip
def test_the_cause_is_told(path: str, old: str, new: str, why: str, enter: str) -> None:
    (found,) = causes(changed(path, old, new)).values()
    assert why in found.why
    assert found.enter == enter
    assert found.todo


def test_a_page_that_is_gone_is_the_cause() -> None:
    (found,) = causes({"/": BEFORE["/"]}).values()
    assert found.why == "The page that it leads to is not there any more."


def test_what_was_broken_before_and_what_nobody_saw_is_not_told() -> None:
    once = changed("/", "#here", "#her")
    assert causes(once, once) == {}
    assert causes({**BEFORE, "/new/": "<h1>New</h1><a href=#no>no</a>"}) == {}
    assert causes(BEFORE) == {}


def test_of_several_links_with_the_same_words_nobody_knows_which_it_was() -> None:
    two = {**BEFORE, "/": f'<h1>Home</h1>{BODY}<a href="#a">more</a><a href="#b">more</a>'
           f'<h2 id="a">A</h2>{BODY}<h2 id="b">B</h2>{BODY}'}  # fmt: skip
    now = {**two, "/": two["/"].replace('href="#b"', 'href="#c"')}
    (found,) = causes(now, two).values()
    assert found.why.startswith("Its address is new there")
