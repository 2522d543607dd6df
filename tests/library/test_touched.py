"""Changes of attributes alone, of which the index is told without reading the page whole:
whatever else of the page hangs by an ID or an address, its rows are those of a fresh reading."""

from __future__ import annotations

from typing import Any

import pytest

from innerhop.library.acts.table import planned
from innerhop.library.changes import undo, write
from innerhop.library.index import index
from innerhop.library.models import Editor, Site
from tests.library.test_changes import page_at
from tests.library.test_findings import site_with

pytestmark = pytest.mark.django_db
PARTS = "".join(f"<h2 id=s{n}>Part {n}</h2><p>words</p>" for n in range(5))
SPANS = " ".join(f"<span><a href=#s{n}>Part {n}</a></span>" for n in range(4))
SHAPES = {
    "a line of links": f"<h1>A</h1><p>{SPANS.replace('span', 'b')}</p>{PARTS}",
    "links in a div": f"<h1>A</h1><div>{SPANS} <p>and more</p></div>{PARTS}",
    "a list": f"<h1>A</h1><ul>{SPANS.replace('span', 'li')}</ul>{PARTS}",
    "a list of paragraphs": f"<h1>A</h1><ul>{SPANS.replace('span>', 'p>')}</ul>{PARTS}",
    "a list made with two entries": "<h1>A</h1><ul data-hop-list=nested data-hop-levels=h2>"
    "<li><a href=#s0>Part 0</a><li><a href=#s1>Part 1</a></ul><h2 id=s0>Part 0</h2><p>x"
    "<h2 id=s1>Part 1</h2><p>y",
    "a list that ends in the footer": f"<h1>A</h1><ul>{SPANS.replace('span', 'li')}<li>"
    f"<a href=#s9>Reach us</a></ul>{PARTS.replace('s0', 's8').replace('s1', 's7')}"
    "<footer><h2 id=s0>Reach us</h2><p id=s1>x</footer>",
    "a menu named by a heading": "<h2 id=s0>Where to</h2><nav aria-labelledby=s0><ul><li>"
    "<a href=/>Home</a><li><a href=/b/>B</a><li><a href=/c/>C</a></ul></nav><h1>A</h1><p id=s1>x",
    "a way back": "<h1 id=s0>A</h1><h2 id=s1>B</h2><p>x<p><a href=#s0>Back to top</a>",
    "ways to the top by another name": "<p id=s0>x<h1>A</h1><p id=s1>y<p><a href=#s0>Up</a>",
    "a marker before a heading": "<h1>A</h1><a id=s0></a><h2>B</h2><span id=s1></span><h2>C</h2>",
    "a container": "<h1>A</h1><div id=s0><h2>B</h2><p id=s1>x</div>",
    "the same twice": "<h1>A</h1><h2 id=s0>B</h2><p id=s0>x<p id=s1>y<a href=#s0>b</a>",
    "questions that open": "<h1>A</h1><details id=s0><summary>What is B?</summary><p id=s1>x y z"
    "</details><button id=s2 aria-expanded=false aria-controls=s1>And C?</button><a href=#s1>x</a>",
    "a shut part": "<h1>A</h1><details id=s0><summary>B</summary><p id=s1>x</details>"
    "<a href=#s1>x</a>",
    "a bold line": "<h1>A</h1><p id=s0><b>B</b></p><p id=s1>x</p>",
    "a link to itself": "<h1>A</h1><h2 id=s0>B <a href=#s0>#</a></h2><p id=s1>x",
    "a base address": "<base href=/b/><h1>A</h1><p><a href=#s0>x</a><h2 id=s0>B</h2><p id=s1>y",
    "a broken hop": "<h1>A</h1><p><a href=#S0>x</a> <a href=#so>y</a><h2 id=s0>B</h2><p id=s1>z",
}


def tried(site: Site, editor: Editor, name: str, sent: dict[str, Any]) -> None:
    """Do it, whereupon the index is that of a fresh reading, and undo it."""
    act = planned(name, page_at(site, "/a/"), sent)
    change = write.save(site, editor, act.message, act.plans, act.effects)
    assert [one.what for one in index.differences(site)] == []
    undo.undo(change)


@pytest.mark.parametrize("shape", SHAPES)
def test_whatever_hangs_by_an_id(editor: Editor, shape: str) -> None:
    site = site_with(editor, {"a/index.html": SHAPES[shape], "b/index.html": "<h1>B</h1>"})
    for value in ("s0", "s1"):
        mark = page_at(site, "/a/").marks.filter(value=value).first()
        if mark is not None:
            one = {"number": mark.number, "id": "fresh"}
            tried(site, editor, "rename", one)
            tried(site, editor, "rename", {**one, "follow": []})
            tried(site, editor, "take-away", one)
    assert [one.what for one in index.differences(site)] == []


@pytest.mark.parametrize("shape", [one for one, markup in SHAPES.items() if "<a href" in markup])
def test_whatever_hangs_by_an_address(editor: Editor, shape: str) -> None:
    site = site_with(editor, {"a/index.html": SHAPES[shape], "b/index.html": "<h1>B</h1>"})
    here, there = page_at(site, "/a/"), page_at(site, "/b/")
    for link in list(here.links.all())[:3]:
        for end in ({"page": here.pk, "id": "s1"}, {"page": there.pk, "id": ""}):
            tried(site, editor, "retarget", {"number": link.number, "end": end})
        tried(site, editor, "reopen", {"number": link.number, "new_tab": True})
    assert [one.what for one in index.differences(site)] == []
