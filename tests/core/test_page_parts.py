"""What a page fetches, names as its own address, and is sketched as, before it is taken in."""

from __future__ import annotations

import pytest

from innerhop.core.facts.page_facts import gather
from innerhop.core.site import page_parts
from innerhop.core.site.sketch import sketch
from innerhop.core.source.tree import Source

BASE = "https://canal.example/guides/locks/"
ROOT = "https://canal.example"


@pytest.mark.parametrize(
    ("markup", "found"),
    [
        # HTML Standard, "Attributes" index: what fetches something
        ("<img src=a.png>", ["/guides/locks/a.png"]),
        ("<img src=/a.png?w=2#x>", ["/a.png?w=2"]),
        ("<img src=''>", []),
        ("<video src=/v.mp4 poster=/p.png></video>", ["/v.mp4", "/p.png"]),
        ("<svg><use href=/s.svg#x /><image xlink:href=/i.png /></svg>", ["/s.svg", "/i.png"]),
        ("<table background=/t.png><tr><td background=/d.png>", ["/t.png", "/d.png"]),
        ("<img src=/a.png><img src=/a.png>", ["/a.png"]),
        ("<a href=/b/>b</a>", []),
        ("<img src='data:image/png;base64,AA'><img src='mailto:a@b.example'>", []),
        # HTML Standard, "srcset attributes"
        ("<img srcset='/a.png 1x, /b.png 2x'>", ["/a.png", "/b.png"]),
        ("<img srcset='/a.png 100w,/b.png 200w'>", ["/a.png", "/b.png"]),
        # HTML Standard, link types: those that a browser fetches
        ("<link rel=stylesheet href=/s.css>", ["/s.css"]),
        ("<link rel='Shortcut ICON' href=/i.ico>", ["/i.ico"]),
        ("<link rel=next href=/2/>", []),
        ("<link href=/x>", []),
        # CSS Values 4, url(); CSS Cascade, @import
        ("<style>@import '/a.css'; p { background: url( \"/b.png\" ) }</style>",
         ["/a.css", "/b.png"]),
        ("<p style='background:url(/c.png)'>", ["/c.png"]),
        ("<script src=/s.js></script>", ["/s.js"]),
    ],
)  # fmt: skip
def test_what_a_page_fetches(markup: str, found: list[str]) -> None:
    source = Source(f"<!doctype html><title>x</title><body>{markup}")
    assert page_parts.parts(source, BASE) == [f"{ROOT}{one}" for one in found]


def test_scripts_are_left_out_where_nobody_wants_them() -> None:
    source = Source("<script src=/s.js></script><img src=/a.png>")
    assert page_parts.parts(source, BASE, scripts=False) == [f"{ROOT}/a.png"]


def test_a_style_sheet_fetches_from_its_own_place() -> None:
    css = "@import 'more.css'; body { background: url(../i/a.png) } .b { color: red }"
    assert page_parts.css_parts(css, f"{ROOT}/css/site.css") == [
        f"{ROOT}/css/more.css", f"{ROOT}/i/a.png",
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("head", "address"),
    [
        ("<link rel=canonical href=/guides/locks/>", f"{ROOT}/guides/locks/"),
        ("<link rel='X CANONICAL' href='?p=2#top'>", f"{BASE}?p=2"),
        ("<link rel=canonical href=/a/><link rel=canonical href=/a/>", f"{ROOT}/a/"),
        ("<link rel=canonical href=/a/><link rel=canonical href=/b/>", None),  # RFC 6596: one
        ("<link rel=next href=/a/>", None),
        ("<link rel=canonical href='http://[/'>", None),
        ("", None),
    ],
)
def test_the_address_that_a_page_names_as_its_own(head: str, address: str | None) -> None:
    assert page_parts.canonical(Source(f"<!doctype html><head>{head}</head>"), BASE) == address


LINKS = "<a href=/a/>a</a>" * 3


@pytest.mark.parametrize(
    ("body", "is_drawn"),
    [
        ("<div id=app></div><script src=/app.js></script>", True),
        ("<div id=app></div><script type=module>go()</script>", True),
        ("<div id=app></div><script>go()</script>", False),
        ("<div id=app></div>", False),
        ("<h1>Closed</h1><script src=/app.js></script>", False),
        (f"{LINKS}<script src=/app.js></script>", False),
        (f"{LINKS[:34]}<script src=/app.js></script>", True),
        (f"<p>{'word ' * 25}</p><script src=/app.js></script>", False),
        (f"<p>{'word ' * 24}</p><script src=/app.js></script>", True),
    ],
)
def test_a_page_with_nothing_of_its_own_is_drawn_by_its_scripts(body: str, is_drawn: bool) -> None:
    source = Source(f"<!doctype html><body>{body}")
    words = len(source.text_of(0).replace("go()", "").split())
    assert page_parts.is_drawn_by_scripts(source, gather(source), words) is is_drawn


PAGE = (
    "<!doctype html><title>Locks</title><link rel=stylesheet href=/s.css><h1>Locks</h1>"
    "<p>A few words<h2 id=a>The flight</h2>"
    "<p>Twelve locks <img src=/a.png> <a href=/m/>moorings</a>"
)


def _digest(text: str) -> str:
    source = Source(text)
    return sketch(source, gather(source), "/locks/")["digest"]


def test_a_page_is_sketched_by_its_sections() -> None:
    source = Source(PAGE)
    found = sketch(source, gather(source), "/locks/")
    assert found["title"] == "Locks"
    assert [(level, marked) for level, _, marked in found["sections"]] == [(2, True)]
    assert found["words"] == 9
    untitled = Source("<p>Words")
    assert sketch(untitled, gather(untitled), "/locks/")["title"] != ""


@pytest.mark.parametrize(
    ("change", "is_same"),
    [
        (("Twelve", "Eleven"), False),
        (("/a.png", "/b.png"), False),
        (("/m/", "/n/"), False),
        (("id=a", "id=b"), False),
        (("<h2", "<h3"), False),
        (("/s.css", "/s.css?v=2"), True),
        (("A few words", "A  few\nwords"), True),
        (("<p>A", "<p class=x>A"), True),
    ],
)
def test_pages_that_show_the_same_are_one(change: tuple[str, str], is_same: bool) -> None:
    assert (_digest(PAGE) == _digest(PAGE.replace(*change))) is is_same
