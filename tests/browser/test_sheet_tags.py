"""Tags on the sheet leave the page's words, links and pictures alone."""

from __future__ import annotations

import pytest
from playwright.sync_api import Locator, expect

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
