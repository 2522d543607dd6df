"""Tags on the sheet leave the page's words, links and pictures alone."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Locator, expect

from innerhop.library.bring_in import bring_ins
from tests.browser.conftest import Desk

# Every tag in view that stands over a letter or a picture of the page.
_OVER = """() => {
  const { shadowRoot } = document.querySelector('inner-hop-marks');
  const tags = [...shadowRoot.querySelectorAll('[data-tag-of]')];
  const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  const boxes = [...document.images].map((one) => one.getBoundingClientRect());
  while (walk.nextNode()) {
    const { data, parentElement } = walk.currentNode;
    if (!data.trim() || !parentElement.checkVisibility()) continue;
    const range = document.createRange();
    range.selectNodeContents(walk.currentNode);
    boxes.push(...range.getClientRects());
  }
  const seen = tags.map((one) => [one, one.getBoundingClientRect()])
    .filter(([, { top, bottom }]) => top >= 0 && bottom <= window.innerHeight);
  const over = seen.filter(([, tag]) => boxes.some((one) =>
    Math.min(tag.right, one.right) - Math.max(tag.left, one.left) > 3
    && Math.min(tag.bottom, one.bottom) - Math.max(tag.top, one.top) > 4));
  return { seen: seen.length, over: over.map(([one]) => one.textContent) };
}"""


@pytest.mark.parametrize("path", ["/moorings/", "/skippers-handbook/", "/lock-guide/"])
@pytest.mark.parametrize("width", ["Phone", "Tablet", "Laptop 1280"])
def test_no_tag_stands_over_what_readers_see(desk: Desk, path: str, width: str) -> None:
    desk.open(path)
    desk.tab.get_by_role("button", name=width).click()
    desk.tab.keyboard.press("n")  # a section in view, at any width
    desk.sheet.wait_for_function(f"({_OVER})().seen > 0")
    assert desk.sheet.evaluate(_OVER)["over"] == []


def test_tags_make_way_when_they_are_asked_to(desk: Desk) -> None:
    desk.open("/moorings/")

    def tags() -> Locator:  # of the sheet that is there now
        return desk.sheet.locator("inner-hop-marks [data-tag-of]")

    expect(tags().first).to_be_attached()
    desk.tab.keyboard.press("t")
    expect(tags()).to_have_count(0)
    expect(desk.tab.get_by_role("button", name="Tags")).to_have_attribute("aria-pressed", "false")
    desk.tab.reload()
    desk.wait_for_sheet()
    expect(tags()).to_have_count(0)
    desk.tab.get_by_role("button", name="Tags").click()
    expect(tags().first).to_be_attached()


LINES = "".join(
    f"<tr><td><a name=l{at:05} id=l{at:05}></a>{at} A line of the lock-keeper's log, as it was kept"
    for at in range(1, 90)
)
CROWDED = (
    "<html lang=en><title>Log</title><style>body{margin:0;font:9px/1.1 serif}td{padding:0}</style>"
    "<h1>The log</h1><div id=one><h2 id=may>May</h2></div><p>Words.<h2 id=june>June</h2><p>Words."
    f"<table>{LINES}</table>"
)


@pytest.fixture
def crowded(desk: Desk) -> Desk:
    """A page with an ID on every line, all made by a system but a few."""
    pieces = [bring_ins.NewFile("log.html", CROWDED.encode())]
    for _ in bring_ins.bring_in(desk.site, desk.site.editors.get(), pieces, 1):
        pass
    desk.open("/log.html")
    return desk


def test_on_a_crowded_page_words_can_be_read(crowded: Desk) -> None:
    crowded.sheet.wait_for_function(f"({_OVER})().seen > 20")
    # A sliver takes no more than the page's edge.
    assert not [one for one in crowded.sheet.evaluate(_OVER)["over"] if "#l0" not in one]
    tags = crowded.sheet.locator("inner-hop-marks")
    line = tags.locator("[data-tag-of]", has_text="#l00001")
    expect(line).to_have_class(re.compile("folded|slim"))
    expect(tags.locator("[data-tag-of]", has_text="#june")).not_to_have_class(re.compile("folded"))
    line.click()
    expect(line).to_have_class(re.compile("asked"))
    expect(crowded.side).to_contain_text("l00001")


def test_on_a_crowded_page_the_outline_begins_with_sections(crowded: Desk) -> None:
    rows = crowded.side.locator(".outline-row")
    expect(rows).to_have_count(2)  # the lines' marks are under a fold
    fold = crowded.side.get_by_text("other marked parts")
    fold.click()
    expect(rows.filter(has_text="#l00007")).to_have_count(1)
    # Chosen in the sheet, a part is found in its fold.
    fold.click()
    crowded.sheet.locator("[data-tag-of]", has_text="#l00009").click()
    crowded.tab.keyboard.press("Escape")
    expect(rows.filter(has_text="#l00009")).to_have_count(1)
