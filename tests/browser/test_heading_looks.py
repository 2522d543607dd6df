"""Lines made headings look as before in Chromium, whatever the page says of headings."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page

from innerhop.core.facts.page_facts import gather
from innerhop.core.planners import headings
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from tests.core.planned import after

STYLES = (
    "body{font:17px/1.6 serif;color:#234}h2,h3{font:700 40px/2 sans-serif;color:red;margin:9px;"
    "text-transform:uppercase;letter-spacing:3px;border-bottom:1px solid;padding:4px;"
    "text-align:right;background:#eee}.cap{font-size:25px;letter-spacing:1px;margin:12px 0}"
)
LOOK = """() => {
  const all = [...document.querySelectorAll("body *")];
  const words = all.find((one) => !one.children.length && one.textContent === "Going down");
  const range = document.createRange();
  range.selectNodeContents(words);
  const { x, y, width, height } = range.getBoundingClientRect();
  const next = document.querySelector("#next").getBoundingClientRect();
  const { color, fontWeight, textTransform, backgroundColor } = getComputedStyle(words);
  return [x, y, width, height, next.y, color, fontWeight, textTransform, backgroundColor];
}"""


@pytest.mark.parametrize(
    "line",
    [
        "<p><b>Going down</b></p>",
        "<p><strong>Going down</strong>",
        "<div><b>Going down</b></div>",
        "<div class=cap>Going down</div>",
        "<div class=cap><span>Going down</span></div>",
        "<div class=cap><div>Going down</div></div>",
        "<div style='font-size:22px;color:green'>Going down</div>",
        "<p style='color:green'><b>Going down</b></p>",
        "<div><b>Going down</b><br></div>",
    ],
)
def test_a_line_made_a_heading_looks_as_before(tab: Page, line: str) -> None:
    text = f"<!doctype html><style>{STYLES}</style><p>First.</p>{line}<p id=next>Then.</p>"
    source = Source(text)
    number = next(one.number for one in source.of_tags("p", "div") if "Going" in one.text)
    plan = headings.plan_heading(
        source, gather(source), number, 2, id_="down", encoding=FileEncoding(), keeps_look=True
    )
    looks = []
    for page in (text, after(source, plan)):
        tab.set_content(page)
        looks.append(tab.evaluate(LOOK))
    assert looks[0] == looks[1]
    assert tab.evaluate("document.querySelector('h2').id") == "down"
