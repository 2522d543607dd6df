"""A button that becomes a link looks as before to a visitor: Chromium's computed values and
its box, before and after, on pages that style buttons in the ways people do."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import Desk

_SEEN = """(tag) => {
  const one = document.querySelector(`main ${tag}`);
  const style = getComputedStyle(one);
  const { width, height } = one.getBoundingClientRect();
  const names = ['color', 'backgroundColor', 'fontSize', 'fontWeight', 'fontFamily', 'boxShadow',
    'borderTopWidth', 'borderTopStyle', 'borderTopColor', 'borderTopLeftRadius', 'paddingLeft',
    'textDecorationLine', 'textTransform', 'cursor'];
  return [Math.round(width), Math.round(height), ...names.map((name) => style[name])];
}"""


@pytest.mark.parametrize(
    "css",
    [
        "",  # the browser's own look
        "button { background: #143; color: #fff; border: 0; padding: 12px; font: 600 17px serif }",
        ".go { background: gold; border-radius: 9px; padding: 8px } a { color: red }",
        "main button:not(.x) { text-transform: uppercase; border: 2px dashed; cursor: pointer }"
        " button:hover { background: #eee }",
    ],
    ids=["none", "by tag", "by class", "by more"],
)
def test_a_button_keeps_its_look(desk: Desk, css: str) -> None:
    tab = desk.tab
    desk.paste(
        "/buttons/",
        f"<!doctype html><title>Buttons</title><style>{css}</style><main><h1>Buttons</h1>"
        "<p>Ready? <button class=go type=button>Go there</button> now</p>"
        "<h2 id=there>There</h2><p>Here you are.</p></main>",
    )
    address = f"{desk.server}{desk.site.pages.get(path='/buttons/').get_absolute_url()}visit/"
    visitor = tab.context.new_page()
    visitor.goto(address)
    before = visitor.evaluate(_SEEN, "button")

    desk.click("main button")
    desk.press("Make a hop of it")
    desk.side.get_by_role("option", name="There").click()
    expect(desk.shown("looks as the button did")).to_be_visible()
    says_states = desk.side.get_by_text("Pointed at, it stays as it is")
    expect(says_states.locator("visible=true")).to_have_count(1 if ":hover" in css else 0)
    desk.press("Save the hop")
    desk.hears("Linked the button")

    visitor.goto(address)
    assert visitor.evaluate(_SEEN, "a") == before
