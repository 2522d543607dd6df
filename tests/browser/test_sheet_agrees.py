"""Our reading of a page against Chromium's: the same elements under the same
numbers, with the same text in the same places (HTML Standard 13.2 as Chromium
carries it out). What the sheet reports of a selection rests on this."""

from __future__ import annotations

import pytest
from hypothesis import HealthCheck, given, settings
from playwright.sync_api import Page

from innerhop.core.planners.selection import texts_below
from innerhop.core.source.tree import Source
from innerhop.practice import demo
from innerhop.visitor import dressing
from tests.core import trees

WAY = dressing.FileAddresses(
    "/-/sheet/t", "https://marrowby.example/a/", "https://marrowby.example/a/"
)
READ = """() => {
  const found = {};
  for (const e of document.querySelectorAll('[data-hop-n]')) {
    const n = e.dataset.hopN;
    if (n in found) continue;
    const texts = [];
    e.childNodes.forEach((node, at) => { if (node.nodeType === 3) texts.push([at, node.data]) });
    found[n] = [e.localName, texts];
  }
  return found;
}"""
TRICKY = {
    "tables": "<table><tr><td>a<tr>b<td>c<p>d</table>e",
    "misnested": "<p><b>a<i>b</b>c</i>d<p>e",
    "lists": "<ul><li>a<li>b<ul><li>c</ul>d</ul>",
    "comments": "<p>a<!-- b -->c<!-- d --></p>",
    "pre": "<pre>\n a\r\n b</pre><textarea>\nc</textarea>",
    "references": "<p>&amp;&eacute;&notit;&#x1F6A4;&nosuch;&#0;</p>",
    "stray ends": "<p>a</foo>b</p></p>c</br>d",
    "svg": "<svg><title>a</title><g>b<foreignObject><p>c</p></foreignObject></g></svg>d",
    "select": "<select><option>a<option>b</select>c",
    "details": "<details><summary>a</summary>b</details>c",
    "noscript": "<noscript><p>a</p></noscript>b",
    "template": "<template><p>a</p></template><p>b",
    "frames of old": "<center><font color=red>a</center>b</font>",
    "headings in headings": "<h2>a<h3>b</h2>c",
    "anchors in anchors": "<a href=x>a<a href=y>b</a>c</a>d",
    "late head": "<p>a<title>b</title><base href=/x/>c",
    "null and form feed": "<p>a\x0cb</p>",
    "xhtml": '<?xml version="1.0"?><!DOCTYPE html><html xmlns="http://www.w3.org/1999/xhtml">'
    '<head><meta charset="utf-8" /></head><body>a<br />b<a id="c" />d<p />e</body></html>',
    "xhtml tables": "<table><caption>a</caption><colgroup><col></col><col></col></colgroup>"
    "<thead><tr><th /><th>b</th></tr></thead><tbody><tr><td>c</td></tr></tbody></table>d",
    "docbook": '<div class="toc"><dl><dt><span><a href="#a">a</a></span></dt><dd><dl></dl></dd>'
    '</dl></div><table><colgroup><col class="c1"/></colgroup><tr><td>b</td></tr></table><hr/>c',
    "nobr and buttons": "<nobr>a<nobr>b<button>c<button>d",
}


def agree(tab: Page, text: str) -> None:
    """Compare the two readings, element by element."""
    source = Source(text)
    tab.set_content(dressing.dress(source, WAY, ""))
    theirs = tab.evaluate(READ)
    ours: dict[str, list[object]] = {n: [source.element(int(n)).tag, []] for n in theirs}
    for number, child, data in texts_below(source, 0, 0):
        if str(number) in ours:
            ours[str(number)][1].append([child, data])  # type: ignore[attr-defined]
    for number, (tag, texts) in theirs.items():
        assert ours[number][0] == tag
        if tag not in ("html", "head"):  # set_content leaves white space out before the body
            assert ours[number][1] == texts, (number, tag)


@pytest.mark.parametrize("name", TRICKY)
def test_tricky_markup_is_read_as_chromium_reads_it(tab: Page, name: str) -> None:
    agree(tab, f"<!doctype html><html><head></head><body>{TRICKY[name]}</body></html>")


@pytest.mark.harmful  # the demo's addresses lead nowhere here
@pytest.mark.parametrize("name", [name for name, _ in demo.files() if name.endswith("html")])
def test_the_demo_s_pages_are_read_as_chromium_reads_them(tab: Page, name: str) -> None:
    data = dict(demo.files())[name]
    agree(tab, data.decode("cp1252" if name.startswith("about") else "utf-8"))


@pytest.mark.harmful
@settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(text=trees.markup())
def test_any_untidy_markup_is_read_as_chromium_reads_it(tab: Page, text: str) -> None:
    agree(tab, text.replace("\r\n", "\n"))
