"""What a page's maker meant: what is a contents list, a menu, a section, a word of a link, an
ID that somebody chose. Shapes seen on real sites, with other words; where no standard is named
beside one it is common practice, no source. How often it is right on manuals that people wrote
is measured by `judging`."""

from __future__ import annotations

import pytest

from innerhop.check.reading import FilePage, Options
from innerhop.core.addresses import urls
from innerhop.core.facts import captions, signs
from innerhop.core.names import ids
from tests.core.site_of import ADDRESS, found, site_of

HEAD = "<html lang=en><title>Canal</title><h1>Canal</h1>"
PARTS = "".join(
    f"<h2 id={one.lower()}>{one}</h2><p>A paragraph about it, with some words."
    for one in ("Locks", "Bridges", "Tunnels", "Moorings")
)
LOCKS, BRIDGES, TUNNELS = (
    f"<a href=#{one.lower()}>{one}</a>" for one in ("Locks", "Bridges", "Tunnels")
)
SIDE = "<aside><h3>{}</h3><ul><li>" + "<li>".join((LOCKS, BRIDGES, TUNNELS)) + "</ul></aside>"


def page_of(body: str, name: str = "page.html") -> FilePage:
    return FilePage(name, f"<title>Canal</title><h1>Canal</h1>{body}", Options(ADDRESS))


def labels(body: str) -> list[list[str]]:
    return [[entry.label for entry in one.entries] for one in page_of(body).lists]


@pytest.mark.parametrize(
    "body",
    [
        f"<ul><li>{LOCKS}<li>{BRIDGES}<li>{TUNNELS}</ul>{PARTS}",
        f"<p>{LOCKS} | {BRIDGES} | {TUNNELS}</p>{PARTS}",
        f"<ul><li>1. {LOCKS}<li>2. {BRIDGES}<li>3. {TUNNELS}</ul>{PARTS}",
        f"<dl><dt>{LOCKS}<dt>{BRIDGES}<dt>{TUNNELS}</dl>{PARTS}",
        f"<table><tr><td>{LOCKS}<tr><td>{BRIDGES}<tr><td>{TUNNELS}</table>{PARTS}",
        f"{SIDE.format('On this page')}{PARTS}",
        f"{SIDE.format('Good to know')}{PARTS}",
        # words left out of a title, and a title with more
        f"<ul><li><a href=#locks>All locks</a><li>{BRIDGES}<li>{TUNNELS}</ul>{PARTS}",
    ],
)
def test_lists_of_the_pages_parts_are_contents(body: str) -> None:
    (one,) = labels(body)
    assert len(one) == 3
    assert one[1:] == ["Bridges", "Tunnels"]


@pytest.mark.parametrize(
    "body",
    [
        # sentences with a link in each
        f"<ul><li>Before you come to the {LOCKS} have the windlass at hand and the crew told."
        f"<li>Nobody may stand on the {BRIDGES} while they are moved by the keeper."
        f"<li>Light a lamp in the {TUNNELS} since the other boat can't see you.</ul>{PARTS}",
        # other words than the sections'
        "<ul><li><a href=#locks>open</a><li><a href=#bridges>swing</a>"
        f"<li><a href=#tunnels>dark</a></ul>{PARTS}",
        # one part again and again
        "<ul><li><a href=#locks>Locks</a><li><a href=#locks>Locks one</a>"
        f"<li><a href=#locks>Locks two</a></ul>{PARTS}",
        # from the end of the page to its beginning
        f"<ul><li>{TUNNELS}<li>{BRIDGES}<li>{LOCKS}</ul>{PARTS}",
        # other pages
        "<ul><li><a href=/a/>Locks</a><li><a href=/b/>Bridges</a><li><a href=/c/>Tunnels</a></ul>"
        f"{PARTS}",
        # two alone
        f"<ul><li>{LOCKS}<li>{BRIDGES}</ul>{PARTS}",
        # a site of one page has them in its menu
        f"<header><nav><ul><li>{LOCKS}<li>{BRIDGES}<li>{TUNNELS}</ul></nav></header>{PARTS}",
    ],
)
def test_what_only_looks_like_contents_is_none(body: str) -> None:
    assert labels(body) == []


def test_the_entry_for_the_page_itself_arrives() -> None:
    body = f"<ul><li><a href=#>Canal</a><li>{LOCKS}<li>{BRIDGES}<li>{TUNNELS}</ul>{PARTS}"
    (one,) = page_of(body).lists
    assert [entry.arrives for entry in one.entries] == [True] * 4


def test_notes_and_captions_are_nothing_that_a_list_lacks() -> None:
    inside = "<div class=note><h2>Mind the cill</h2><p>Keep forward.</div><h2>Figure 3. A cill</h2>"
    whole = f"<ul><li>{LOCKS}<li>{BRIDGES}<li>{TUNNELS}<li><a href=#moorings>Moorings</a></ul>"
    site = site_of(
        {"page.html": f"<html lang=en><title>Canal</title><h1>Canal</h1>{whole}{PARTS}{inside}"}
    )
    assert [rule for rule, _ in found(site) if rule == "list-off"] == []


@pytest.mark.parametrize(
    ("bar", "is_menu"),
    [
        ("<a href=/>Home</a> <a href=/locks/>Locks</a> <a href=/shop/>Shop</a>", True),
        # https://html.spec.whatwg.org/multipage/links.html#sequential-link-types
        ("<a rel=prev href=/a/>The locks</a> <a rel=next href=/b/>The bridges</a>", False),
        ("<a href=/a/>Previous</a> <a href=/>Up</a> <a href=/b/>Next</a>", False),
        ("<a href=/a/>Zurück</a> <a href=/b/>Nächste Seite</a>", False),
        # https://www.w3.org/WAI/ARIA/apg/patterns/breadcrumb/
        ("<div aria-label=Breadcrumb><a href=/>Home</a> <a href=/boats/>Boats</a></div>", False),
        (
            "<a href=/>Home</a> › <a href=/boats/>Boats</a> › <a href=/boats/hire/>Hire</a> › Dogs",
            False,
        ),
        # https://html.spec.whatwg.org/multipage/links.html#attr-hyperlink-hreflang
        ("<a hreflang=de href=/de/>Deutsch</a> <a hreflang=cy href=/cy/>Cymraeg</a>", False),
    ],
)
def test_what_differs_by_its_nature_is_no_menu(bar: str, is_menu: bool) -> None:
    assert bool(page_of(f"<nav>{bar}</nav>{PARTS}").menus) == is_menu


@pytest.mark.parametrize(
    ("line", "is_section"),
    [
        ("<p><b>The swing bridge</b></p><p>It is moved by hand, and takes two.", True),
        ("<p><b>Figure 2. The swing bridge</b></p><p>It is moved by hand.", False),
        ("<div class=note><p><b>Mind your head</b></p><p>The arch is low.</div>", False),
        ("<p><b>Related pages</b></p><ul><li><a href=/a/>Bridges</a><li><a href=/b/>Locks</a></ul>",
         False),
        ("<p><b>Opening:</b></p><ul><li>noon<li>four</ul>", False),
        ("<p><b><code>bridge(open)</code></b></p><p>It opens.", False),
        ("<p><b>Note</b></p><p>One.<p><b>Note</b></p><p>Two."
         "<p><b>Note</b></p><p>Three.<p><b>Note</b></p><p>Four.", False),
    ],
)  # fmt: skip
def test_a_line_that_serves_as_a_heading_names_text(line: str, is_section: bool) -> None:
    own = [one.title for one in page_of(line).sections if one.level == 0]
    assert bool(own) == is_section


@pytest.mark.parametrize("word", ["Figure", "Abbildung", "Table", "Tableau", "Example", "Ejemplo"])
def test_captions_are_counted(word: str) -> None:
    assert captions.is_counted(f"{word} 2.1. The upper lock")
    assert captions.is_counted(f"{word} B: the upper lock")
    assert not captions.is_counted(f"{word}s")


@pytest.mark.parametrize("sign", ["¶", "#", "§", "🔗", "◆ ", "\xa0#"])
def test_a_sign_in_a_heading_is_no_word_of_it(sign: str) -> None:
    page = page_of(f"<h2 id=weir>The weir<a href=#weir>{sign}</a></h2><p>Keep off.")
    assert signs.is_sign(sign)
    assert [one.title for one in page.sections] == ["The weir"]
    assert [link.permalink for link in page.facts.links] == [True]


# https://www.w3.org/TR/accname-1.2/#computation-steps: what a link is called
@pytest.mark.parametrize(
    ("link", "words"),
    [
        ("<a href=/a/><img src=a.png alt='Book a boat'></a>", "Book a boat"),
        ("<a href=/a/ aria-label='Book a boat'><i class=icon></i></a>", "Book a boat"),
        ("<a href=/a/><svg aria-label='Book a boat'></svg></a>", "Book a boat"),
        ("<a href=/a/ title='Book a boat'></a>", "Book a boat"),
        ("<map><area href=/a/ alt='Book a boat'></map>", "Book a boat"),
        ("<a href=/a/>Book<style>@media only screen { table { color: red } }</style> a boat</a>",
         "Book a boat"),
        ("<a href=/a/>Book a boat<span hidden> or not</span></a>", "Book a boat"),
        ("<a href=/a/>Book a boat<span style='display:none'> or not</span></a>", "Book a boat"),
        ("<a href=/a/></a>", ""),
    ],
)  # fmt: skip
def test_links_are_called_what_readers_hear(link: str, words: str) -> None:
    assert [one.text for one in page_of(f"<p>{link}").facts.links] == [words]


@pytest.mark.parametrize(
    ("link", "rules"),
    [
        ("<a href=#>Here</a>", {"hash-alone"}),
        # https://www.w3.org/TR/wai-aria-1.2/#widget_roles
        ("<a href=# role=tab>Prices</a>", set()),
        ("<a href=# aria-expanded=false>More of it</a>", set()),
        ("<a href=# onclick='show()'>Show the map</a>", set()),
        ("<a href=# data-toggle=collapse>Show the map</a>", set()),
        ("<a href=# class=dropdown-toggle>Boats</a>", set()),
        ("<a href=#>Back to top</a>", set()),
    ],
)
def test_a_hash_that_a_script_uses_is_no_mistake(link: str, rules: set[str]) -> None:
    site = site_of(
        {"page.html": f"<html lang=en><title>Canal</title><h1>Locks</h1><p>Some text. {link}"}
    )
    assert {rule for rule, _ in found(site) if rule == "hash-alone"} == rules


@pytest.mark.parametrize(
    "id_", ["id123", "comp-k3x9f2ab", "collapse-4f21", "sec_1.2.3", "l00042", "_17"]
)
def test_ids_that_nobody_chose(id_: str) -> None:
    assert ids.is_a_systems(id_)


@pytest.mark.parametrize("id_", ["locks", "lock-12", "the-upper-lock", "prices-2026", "faq"])
def test_ids_that_somebody_chose(id_: str) -> None:
    assert not ids.is_a_systems(id_)


def test_an_id_that_a_system_made_is_never_what_was_meant() -> None:
    there = "<title>Other</title><h1>Other</h1><div id=comp-k3x9f2ab>A part</div>"
    here = "<title>Canal</title><h1>Canal</h1><p><a href=other.html#comp-k3x9f2ac>the prices</a>"
    site = site_of({"page.html": here, "other.html": there})
    assert "near-id" not in {rule for rule, _ in found(site)}
    assert "no-id" in {rule for rule, _ in found(site)}


# https://url.spec.whatwg.org/#shorten-a-urls-path
@pytest.mark.parametrize(
    ("href", "path", "climbs"),
    [("../a.html", "/x/b.html", False), ("../../a.html", "/x/b.html", True),
     ("x/../../a.html", "/b.html", True), ("/../a.html?to=../../x", "/x/b.html", False),
     ("./././a.html", "/b.html", False)],
)  # fmt: skip
def test_an_address_above_the_sites_own_folder(href: str, path: str, climbs: bool) -> None:
    assert urls.climbs_out(href, path) == climbs


def test_capitals_make_another_file_of_an_index() -> None:
    assert urls.page_key("/x/index.html") == urls.page_key("/x/")
    assert urls.page_key("/x/Index.html") != urls.page_key("/x/")


@pytest.mark.parametrize(
    ("marks", "is_wrong"),
    [
        ("<h2>One</h2><a id=two></a><h2>Two</h2>", False),  # it is that of the next heading
        ("<h2>One</h2><a id=one></a><p>Text", True),
        ("<h2>One</h2><a id=two></a><a id=zwei></a><section><h2>Two</h2></section>", False),
    ],
)
def test_a_marker_right_above_its_heading_is_its_own(marks: str, is_wrong: bool) -> None:
    hops = "<p><a href=#one>one</a> <a href=#two>two</a> <a href=#zwei>zwei</a>"
    site = site_of(
        {"page.html": f"<html lang=en><title>Canal</title><h1>Canal</h1>{hops}{marks}<p>x"}
    )
    assert ("marker-below" in {rule for rule, _ in found(site)}) == is_wrong
