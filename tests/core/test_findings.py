"""Each rule: what must be found, and near misses that must not. Sources stand beside the rules
(`innerhop/core/findings`); the slips that recognisers tell apart are common practice."""

from __future__ import annotations

import re
from dataclasses import replace
from functools import partial
from typing import Any

import pytest

from innerhop.core.findings.found import (
    ENDS,
    LINKS,
    MARKS,
    MENUS,
    NOTE,
    SECTIONS,
    TRAITS,
    JudgedLink,
)
from innerhop.core.findings.look import findings_of
from innerhop.core.findings.pages.places import LANDINGS
from innerhop.core.findings.table import BROKEN_HOPS, OTHERS, RULES
from innerhop.core.findings.whole_site import WholeSite
from innerhop.core.site.guesses import Meanings
from innerhop.core.site.hops import BROKEN, NONE
from tests.core.site_of import found, site_of

ROWS = (MARKS, LINKS, SECTIONS, TRAITS, MENUS)
LONG = f"<p>{'word ' * 900}</p>"
MENU = "<header><nav><a href=#book>Book</a> <a href=/>Home</a> <a href=/b/>B</a></nav></header>"
HOME = f"{MENU}<h1>Home</h1><h2 id=book>Book</h2>"
PARTS = "".join(f"<h2 id=s{n}>Part {n}</h2><p>words</p>" for n in range(6))

# rule: (pages by file, or one page's markup; the words of what is found)
MUST = {
    "no-hash": ("<a href=fees>the fees</a><h2 id=fees>Fees</h2>", ["the fees"]),
    "hidden-end": ("<a href=#x>x marks</a><div hidden><p id=x>y</div>", ["x marks"]),
    "words-gone": ("<a href='#:~:text=never'>those</a><p>other", ["those"]),
    "menu-hash": ({"index.html": HOME, "b.html": f"{MENU}<h1>B</h1>"}, ["Book"]),
    "two-hashes": ("<a href='##fees'>the fees</a><h2 id=fees>Fees</h2>", ["the fees"]),
    "id-in-class": ("<a href=#fees>the fees</a><h2 class='big fees'>Our prices</h2>", ["the fees"]),
    "space-or-capital": (
        "<a href=#Fees>one</a> <a href='#fees%20'>two</a><h2 id=fees>Fees</h2>", ["one", "two"],
    ),
    "id-off": ("<a href=#our-fees>f</a><h2 id='our fees'>Fees</h2>", ["f"]),
    "id-with-hash": ("<a href=#fees>f</a><h2 id='#fees'>Fees</h2>", ["Fees"]),
    "unmarked-section": ("<a href=#our-fees>see</a><h2>Our fees</h2>", ["see"]),
    "near-id": ("<a href=#feees>the feees</a><h2 id=fees>Fees</h2>", ["the feees"]),
    "words-of-a-heading": ("<a href=#x-9>Our prices</a><h2 id=f>Our prices</h2>", ["Our prices"]),
    "no-id": ("<a href=#nothing-like-it>gone</a><h2 id=fees>Fees</h2>", ["gone"]),
    "near-page": (
        {"index.html": "<a href=/moorigns/#m>moor</a>", "moorings/index.html": "<p id=m>x"},
        ["moor"],
    ),
    "no-page": ("<a href=/gone-for-good/>away</a>", ["away"]),
    "base-leaves": ("<base href=/other/><a href=#x>here</a><h2 id=x>X</h2>", ["here"]),
    "empty-address": ("<title>T</title><a href=''>nothing</a>", ["nothing"]),
    "id-with-space": ("<h2 id='our fees'>Fees</h2>", ["Fees"]),
    "twice": ("<h2 id=a>One</h2><h2 id=a>Two</h2><p id=a>Three", ["Two", "Three"]),
    "twice-shared": (
        {one: f"<main><h1>{one}</h1><p id=f>x</main><footer><p>The Toll House, by the lock, "
              f"<b id=f>Reach us</b><a href=/>Home</a></footer>" for one in ("a.html", "b.html")},
        ["Reach us", "Reach us"],
    ),
    "new-tab-within": ("<a href=#x target=_blank>x</a><p id=x>y", ["x"]),
    "hash-alone": ("<title>T</title><a href=#>Book now</a>", ["Book now"]),
    "script-link": ("<a href='JavaScript:go()'>go there</a>", ["go there"]),
    "words-twice": ("<a href='#:~:text=lock'>it</a><p>a lock<p>a lock", ["it"]),
    "preview-address": (
        {"index.html": "<a href='/b/?preview=true'>b</a> <a href=https://staging.canal.example/b/>c</a>",
         "b.html": "<p>x"},
        ["b", "c"],
    ),
    "list-off": (
        f"<ul>{''.join(f'<li><a href=#s{n}>Part {n}</a>' for n in range(5))}</ul>{PARTS}",
        ["“Part 5” is missing from it."],
    ),
    "entry-elsewhere": (
        f"<ul><li><a href=#s0>Part 0</a><li><a href=#s1>Part 1</a><li><a href=#s2>Part 3</a></ul>"
        f"{PARTS}", ["Part 3"],
    ),
    "menu-label-twice": (
        "<nav><ul><li><a href=/a>Locks</a><li><a href=/b>locks</a><li><a href=/c>C</a></ul></nav>",
        ["locks"],
    ),
    "vague-words": ("<a href=#x>click here</a> <a href=#x>The fees</a><p id=x>y", ["click here"]),
    "empty-link": ("<a href=#x><img src=a></a><p id=x>y", ["#x"]),
    "marker-below": ("<h2>Fees</h2> <span id=fees></span><p>x", ["Fees"]),
    "no-language": ("<html><h1>A</h1><h2>Gebühren</h2></html>", ["Gebühren"]),
    "same-words": ("<a href=#a>Fees</a> <a href=#b>fees</a><p id=a>x<p id=b>y", ["Fees", "fees"]),
    "new-tab-unsaid": ("<a href=https://o.example/ target=_blank>Away</a>", ["Away"]),
    "whole-address": (
        {"index.html": "<a href=https://canal.example/b/#x>b</a>", "b.html": "<p id=x>x"}, ["b"],
    ),
    "plain-http": (
        {"index.html": "<a href=http://canal.example/b/>b</a>", "b.html": "<p>x"}, ["b"],
    ),
    "empty-id": ("<h2 id=''>Fees</h2>", ["Fees"]),
    "generated-id": ("<a href=#b-7f3a9c21>go</a><h2 id=b-7f3a9c21>Fees</h2>", ["Fees"]),
    "unmarked": ("<h1>A</h1><h2>Fees</h2><h2 id=b>B</h2>", ["Fees"]),
    "level-skipped": ("<h1>A</h1><h2 id=a>B</h2><h4 id=c>C</h4>", ["C"]),
    "bold-line": ("<h1>A</h1><p><b>Opening times</b></p><p>From nine.</p>", ["Opening times"]),
    "no-list": (f"<h1>A</h1>{PARTS}{LONG}", ["5 screens, 6 sections"]),
    "no-way-back": (f"<h1>A</h1><a href=#s1>Part 1</a>{PARTS}{LONG}", ["5 screens"]),
    "spacers": ("<p>&nbsp;</p><p></p><h2>Fees</h2>", ["Fees"]),
    "unused-mark": (
        "<h2 id=a>Fees</h2><h2 id=b>Locks</h2><a href=#b>b</a><h2 id=c>C</h2>", ["Fees and 1 more"],
    ),
}  # fmt: skip
MUST_NOT = {
    "no-hash": "<a href=fees/>x</a><a href=fees.pdf>y</a><h2 id=fees>Fees</h2>",
    "hidden-end": "<a href=#x>x</a><details><p id=x>y</details><p id=z hidden=until-found>",
    "words-gone": "<a href='#:~:text=other'>those</a><p>other",
    "menu-hash": {"index.html": HOME, "b.html": f"{MENU}<h1>B</h1><h2 id=book>Book</h2>"},
    "two-hashes": "<a href='##fees'>x</a><h2 id='#fees'>Fees</h2>",
    "id-in-class": "<a href=#fees>x</a><h2 class='feestje'>Our prices</h2>",
    "space-or-capital": "<a href=#Fees>x</a><h2 id=Fees>Fees</h2><h2 id=fees>fees</h2>",
    "near-id": "<a href=#cat>x</a><h2 id=car>Car</h2>",
    "no-page": "<a href=/b.pdf>x</a><a href=mailto:a@b.example>y</a><a href=//o.example/>z</a>",
    "near-page": {"a.html": "<a href=/b/>x</a>", "b.html": "<p>y"},
    "base-leaves": "<base href=/><a href=/page#x>x</a><h2 id=x>X</h2>",
    "empty-address": "<title>Locks</title><nav><a href=''>Locks</a></nav>",
    "id-with-space": "<h2 id='our\N{NO-BREAK SPACE}fees'>Fees</h2>",
    "id-with-hash": "<h2 id='c#'>C</h2><h2 id='#'>D</h2><a name='#e'></a>",
    "twice": "<h2 id=a>One</h2><h2 id=A>Two</h2><template><p id=a></template><a name=a></a>",
    "new-tab-within": "<a href=#x target=_self>x</a><p id=x>y",
    "hash-alone": "<a href=#>Back to top</a> <a href=#>Nach oben</a> <a href=#top>Book</a>",
    "script-link": "<a href=#javascript:x>x</a>",
    "words-twice": "<a href='#:~:text=lock'>it</a><p>a lock<p>a bridge",
    "preview-address": {"index.html": "<a href='/b/?page=2'>b</a> <a href=/devices/>d</a>",
                        "b.html": "x", "devices.html": "y"},
    "list-off": f"<ul>{''.join(f'<li><a href=#s{n}>Part {n}</a>' for n in range(6))}</ul>{PARTS}",
    "menu-label-twice": "<nav><ul><li><a href=/a>A</a><li><a href=/b>B</a></ul></nav>",
    "vague-words": "<a href=#x>Click here for the fees</a><p id=x>y",
    "empty-link": "<a href=#x><img src=a alt=Fees></a><p id=x>y",
    "marker-below": "<span id=fees></span><h2>Fees</h2><p id=p>text</p>",
    "no-language": "<html lang=de><h1>A</h1><h2>Gebühren</h2>",
    "same-words": "<a href=#a>[1]</a> <a href=#b>[1]</a> <a href=#a>F</a> <a href=#a>F</a>",
    "new-tab-unsaid": "<a href=https://o.example/ target=_blank>Away (opens in a new tab)</a>",
    "whole-address": {"index.html": "<a href='https://canal.example/b/?a=1'>b</a>", "b.html": "x"},
    "plain-http": "<a href=http://other.example/>b</a>",
    "generated-id": "<a href=#winter-2024>go</a><h2 id=winter-2024>Winter</h2>",
    "unmarked": "<h1>The page itself</h1><span id=a></span><h2>Fees</h2>",
    "level-skipped": "<h1>A</h1><h2 id=a>B</h2><h3 id=b>C</h3><h2 id=c>D</h2>",
    "bold-line": "<h1>A</h1><p><b>It ends.</b></p><p>x</p><ul><li><p><b>Entry</b></p><p>y</ul>",
    "no-list": f"<h1>A</h1>{PARTS}",
    "no-way-back": f"<h1>A</h1><a href=#s1>P</a>{PARTS}{LONG}<p><a href=#top>Back to top</a>",
    "spacers": "<p>&nbsp;</p><p>text</p><h2>Fees</h2>",
    "unused-mark": "<h2 id=a>Fees</h2><a href=#a>a</a>",
}  # fmt: skip


@pytest.mark.parametrize("rule", MUST)
def test_what_must_be_found(rule: str) -> None:
    pages, words = MUST[rule]
    site = site_of({"page.html": pages} if isinstance(pages, str) else pages)
    assert [one for name, one in found(site) if name == rule] == words
    for page in range(len(site.pages)):
        for one in site.findings(page):
            told = RULES[one.rule]
            said = [told.title, told.why, *([told.fix.label] if told.fix else [])]
            for template in said:
                assert "{" not in told.says(template, one, site.title)


@pytest.mark.parametrize("rule", MUST_NOT)
def test_near_misses(rule: str) -> None:
    pages = MUST_NOT[rule]
    site = site_of({"page.html": pages} if isinstance(pages, str) else pages)
    assert [one for name, one in found(site) if name == rule] == []


def test_every_rule_is_tried_and_says_all_it_has_to() -> None:
    assert len(RULES) == len({id(one) for one in (*BROKEN_HOPS, *OTHERS)})  # names are unique
    elsewhere = {name for name, one in RULES.items() if one.needs_browser} | {"moved-page"}
    assert set(MUST) | elsewhere == set(RULES)  # in test_findings of the library, and in Chromium
    for rule in RULES.values():
        assert rule.find or rule.recognise
        assert bool(rule.fix) != bool(rule.no_fix), rule.name
        assert re.fullmatch(r"[a-z-]+", rule.name)
        assert rule.avoid.endswith(".")
        assert rule.level == NOTE or rule.source.name


@pytest.mark.parametrize("other", ["", "<h2 id=x>Elsewhere</h2>"])
def test_a_bare_hash_that_leaves_the_page_is_told_once_whether_it_arrives_or_not(
    other: str,
) -> None:
    page = "<base href=/other/><a href=#x>here</a><h2 id=x>X</h2>"
    site = site_of({"page.html": page, "other/index.html": f"<h1>Other</h1>{other}"})
    told = [name for name, words in found(site) if words == "here"]
    assert told == ["base-leaves", "vague-words"]


def test_two_places_alike_are_told_apart_by_their_order() -> None:
    site = site_of({"page.html": "<a href=#no>x</a> <a href=#no>x</a>"})
    assert [one.key for one in site.findings(0)] == ["#no x", "#no x 2"]


@pytest.mark.parametrize("rule", [one.name for one in OTHERS if not one.needs_browser])
def test_a_rule_says_which_rows_it_reads(rule: str) -> None:
    """The same is found where a page has no other rows at all, and its links no ends."""
    pages = MUST[rule][0]
    site = site_of({"page.html": pages} if isinstance(pages, str) else pages)
    reads = RULES[rule].reads
    for at in range(len(site.pages)):
        page = site.rows(at)
        bare = replace(page, **{one: () for one in ROWS if one not in reads})
        if ENDS not in reads:
            bare = replace(bare, links=[JudgedLink(*one[:8], *NONE) for one in bare.links])
        assert findings_of([RULES[rule]], bare, site) == findings_of([RULES[rule]], page, site)


class _Asked:
    """A site that notes what it is asked."""

    def __init__(self, site: WholeSite) -> None:
        self.site, self.address, self.asked = site, site.address, site.asked
        self.questions: set[str] = set()
        self.meant = Meanings(partial(self._ask, "ids"), partial(self._ask, "having"))

    def _ask(self, name: str, *asked: Any) -> Any:
        self.questions.add(name)
        return getattr(self.site, name)(*asked)

    def __getattr__(self, name: str) -> Any:
        return partial(self._ask, name)


@pytest.mark.parametrize("rule", [*MUST, *(f"not {rule}" for rule in MUST_NOT)])
def test_rules_say_what_they_ask_of_the_site(rule: str) -> None:
    pages = MUST[rule][0] if rule in MUST else MUST_NOT[rule.removeprefix("not ")]
    site = site_of({"page.html": pages} if isinstance(pages, str) else pages)
    for page in map(site.rows, range(len(site.pages))):
        for one in RULES.values():
            noted = _Asked(site)
            if one.find:
                list(one.find(page, noted))
            for link in page.links if one.recognise else ():
                if link.kind == BROKEN:
                    one.recognise(link, page, noted)
            assert one.asks is not None
            assert noted.questions <= {*one.asks}, one.name


@pytest.mark.parametrize("verdict", sorted(LANDINGS))
def test_a_bad_landing_is_told_of_its_mark(verdict: str) -> None:
    site = site_of({"page.html": "<h2 id=a>A</h2><p id=b>Bee</p><span id=c></span><p id=a>again"})
    says = {"a": (verdict, "so"), "b": ("another", "else"), "c": (verdict, "so, too")}
    page = replace(site.rows(0), landings=says)
    rule = LANDINGS[verdict]
    told = [(one.words, one.told["id"], one.told["says"]) for one in rule.find(page, site)]
    assert told == [("A", "a", "so"), ("again", "c", "so, too")]
    assert not list(rule.find(replace(page, landings={}), site))


def test_a_mark_below_its_heading_is_told_as_that_and_not_as_cut_off_too() -> None:
    site = site_of({"page.html": "<h2>Fees</h2><span id=f></span><p>text"})
    page = replace(site.rows(0), landings={"f": ("cut", "cut off")})
    assert "marker-below" in [one.rule for one in site.findings(0)]
    assert not list(LANDINGS["cut"].find(page, site))


BAR = "<nav><ul>{}</ul></nav><main><h1>Fees</h1><p>x"
BUTTONS = [
    ("<a href=# role=' TAB '>Fees of all</a>", True),
    ("<a href=# aria-expanded=false>More of it</a>", True),
    ("<a href=# onclick=x()>Book it</a>", True),
    ("<a href=# data-x=1>Book it</a>", True),
    ("<a href=# @click=x>Book it</a>", True),
    ("<a href=# data-hop-label=own>Book it</a>", False),
    ("<a href=# class='nav-toggle'>Book it</a>", True),
    ("<a href=# class=plain>Book it</a>", False),
    ("<a href=# role=note>Book it</a>", False),
    ("<title>Fees and more</title><a href=#>Fees</a>", True),  # the page that is open
    ("<title>Fees and more</title><a href=#>Locks</a>", False),
    (BAR.format("<li><a href=/a>A</a><li><a href=/b>B</a><li><a href=/c>C</a><li><a href=#>D</a>"),
     True),
    (BAR.format("<li><a href=/a>A</a><li><a href=/b>B</a><li><a href=#c>C</a><li><a href=#>D</a>"),
     False),
    (BAR.format("<li><a href=/a>A</a><li><a href=#>D</a>"), False),
]  # fmt: skip


@pytest.mark.parametrize(("markup", "is_button"), BUTTONS)
def test_a_link_to_nowhere_that_is_no_mistake(markup: str, is_button: bool) -> None:
    pages = {"page.html": markup} | {f"{one}.html": "<p>x" for one in "abc"}
    told = [rule for rule, _ in found(site_of(pages)) if rule == "hash-alone"]
    assert told == ([] if is_button else ["hash-alone"])


AROUND = [
    ("<p>The fees of this year: <a href=/b>more</a>", True),
    ("<p>Fees <a href=/b>more</a>", False),
    ("<p>The fees of this year: <a href=/b>click here</a>", False),
    ("<ul><li><a href=/b>more</a></ul>", False),
    ("<ul><li>A<li>B<li><a href=/b>more</a></ul>", True),
    ("<p><a href=/b><code>here</code></a>", True),
    ("<pre>see <a href=/b>here</a></pre>", True),
    ("<div>The fees of this year: <a href=/b>more</a></div>", False),
    ("<table><tr><td>The fees of this year <b><a href=/b>more</a></b></table>", True),
]


@pytest.mark.parametrize(("markup", "is_told"), AROUND)
def test_what_stands_around_says_where_a_link_leads(markup: str, is_told: bool) -> None:
    """WCAG 2.2, programmatically determined link context."""
    told = [rule for rule, _ in found(site_of({"page.html": markup, "b.html": "<p>x"}))]
    assert ("vague-words" in told) is not is_told


def test_what_is_mended_without_asking_takes_nothing_that_someone_may_have_meant() -> None:
    """What `inner-hop check --fix` does: where a hop leads is plain, and nothing else changes."""
    assert {name for name, one in RULES.items() if one.fix and one.fix.is_safe} == {
        "base-leaves", "menu-hash", "moved-page", "new-tab-within", "no-hash", "plain-http",
        "space-or-capital", "two-hashes", "whole-address",
    }  # fmt: skip


@pytest.mark.parametrize(
    ("href", "path", "told"),
    [
        ("/gone/", "index.html", "/gone/"),
        ("/docs/gone.html", "index.html", "The folder /docs/"),
        ("/b/gone.html", "index.html", "/b/gone.html"),
        ("../../gone.html", "b/index.html", "What is above the site’s own folder"),
    ],
)
def test_what_isn_t_there_is_named_as_far_as_it_is_missing(href: str, path: str, told: str) -> None:
    pages = {"index.html": "<p>x", "b/index.html": "<p>y", "b/c.html": "<p>z"}
    site = site_of(pages | {path: f"<a href={href}>away from here</a>"})
    said = [one.told["what"] for at in range(3) for one in site.findings(at)
            if one.rule == "no-page"]  # fmt: skip
    assert said == [told]
