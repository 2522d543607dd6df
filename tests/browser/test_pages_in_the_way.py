"""Pages whose markup or styles stand in the way of our script in the sheet."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect

from innerhop.library.models import Editor
from innerhop.practice import demo
from tests.browser.conftest import Desk
from tests.library.test_hops import bring

# Named elements hide what documents have by that name (HTML Standard, #dom-document-nameditem).
IN_THE_WAY = {
    "an image called like a method": "<img name=querySelectorAll src='data:,' alt=''>",
    "a form called like a method": "<form name=createElement></form>",
    "a form called like a property": "<form name=documentElement></form><img name=fonts alt=''>",
    "styles that hide what they don't know": "<style>:not(:defined){display:none!important}"
    "body>*,html>*:not(head):not(body){display:none!important;visibility:hidden!important}"
    "main{display:block!important;visibility:visible!important}</style>",
}


@pytest.mark.parametrize("markup", IN_THE_WAY.values(), ids=IN_THE_WAY)
def test_the_sheet_still_measures_and_marks(desk: Desk, markup: str) -> None:
    editor = Editor.objects.get(username=demo.EDITOR)
    text = f"<!doctype html><title>In the way</title>{markup}<main><h1>In</h1><h2>Part</h2></main>"
    bring(desk.site, editor, "/in-the-way/", text)
    desk.open("/in-the-way/")
    tops = desk.sheet.evaluate(
        "() => [...Document.prototype.querySelectorAll.call(document, 'h1, h2')]"
        ".map(one => Math.round(one.getBoundingClientRect().top))"
    )
    tag = desk.sheet.locator("inner-hop-marks button").last
    expect(tag).to_be_visible()
    expect(desk.tab.get_by_text("The sheet does not answer")).to_have_count(0)
    assert tops[1] > tops[0]
    desk.click("h2")
    expect(desk.tab.locator("#section-id")).to_have_value("part")


def test_typing_after_words_were_chosen_searches_for_the_hop_s_end(desk: Desk) -> None:
    desk.open("/skippers-handbook/")
    desk.select("mooring lines coiled")
    field = desk.tab.locator("#end-asked")
    field.wait_for()
    desk.tab.keyboard.type("moor")
    expect(field).to_have_value("moor")
    expect(field).to_be_focused()
