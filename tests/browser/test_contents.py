"""Contents lists and ways back through the screen: made, taken over, seen as they will be,
kept in step."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect

from innerhop.library.index.texts import current
from tests.browser.conftest import Desk

HANDBOOK, VOLUNTEERS = "/skippers-handbook/", "/volunteer-days/"


def test_a_list_made_by_hand_is_brought_up_to_date(desk: Desk) -> None:
    desk.open(HANDBOOK)
    desk.side.get_by_role("button", name="Contents list, 8 entries").click()
    expect(desk.shown("It was made by hand")).to_be_visible()
    expect(desk.shown("2 sections are not in it: “Lifting bridges” and")).to_be_visible()
    preview = desk.sheet.locator("nav.contents >> visible=true")
    expect(preview.get_by_role("link")).to_have_count(10)
    lit = preview.get_by_role("link", name="Lifting bridges")
    assert lit.evaluate("e => getComputedStyle(e).outlineStyle") == "dashed"
    old = preview.get_by_role("link", name="What to bring")
    assert old.evaluate("e => getComputedStyle(e).outlineStyle") == "none"
    expect(desk.shown("screens of scrolling")).to_be_visible()
    desk.press("After each section")
    # One section ends with a way back of the site's own, and gets no second.
    expect(desk.shown("10 entries, 2 new IDs, 9 ways back")).to_be_visible()
    desk.press("Save the list")
    desk.hears("Brought the contents list up to date: 2 more")
    expect(desk.shown("in step")).to_be_visible()
    expect(desk.shown("10 ways back up")).to_be_visible()
    expect(desk.tab.locator(".ruler-comb circle")).to_have_count(10)
    expect(desk.tab.locator(".ruler-list")).to_have_count(1)
    desk.tab.get_by_role("button", name="Undo").first.click()
    desk.hears("Undone")
    expect(desk.shown("out of step")).to_be_visible()


def test_a_new_list_is_chosen_entry_by_entry_and_put_where_one_points(desk: Desk) -> None:
    desk.open(VOLUNTEERS)
    desk.press("Make a contents list")
    desk.press("One line")
    preview = desk.sheet.locator("[data-hop-list]")
    expect(preview.get_by_role("link")).to_have_count(5)
    desk.side.get_by_role("checkbox", name="Lunch").uncheck()
    expect(preview.get_by_role("link")).to_have_count(4)
    desk.side.get_by_role("button", name="Other words for “What to wear”").click()
    desk.side.get_by_label("Words in the list for “What to wear”").fill("Clothes")
    expect(preview.get_by_role("link", name="Clothes")).to_be_visible()
    desk.press("Change the order")
    desk.side.get_by_role("button", name="Move “The open day” up").click()
    expect(preview.get_by_role("link").nth(2)).to_have_text("The open day")
    desk.side.get_by_label("Title above it").fill("On this day")
    expect(preview.get_by_text("On this day")).to_be_visible()
    desk.press("Put it elsewhere")
    desk.click("main > section:nth-of-type(2)")
    expect(preview).to_be_visible()
    desk.settled()
    desk.press("Make the list")
    desk.hears("Made a contents list of 4 entries")
    text = current(desk.site.pages.get(path=VOLUNTEERS)).text
    assert text.index("data-hop-list") > text.index(">What we do<")
    assert 'data-hop-label="own">Clothes</a>' in text
    assert 'data-hop-order="own"' in text
    assert 'data-hop-left-out="lunch"' in text


@pytest.mark.usefixtures("unmeasured")
def test_what_is_out_of_step_on_the_site_is_mended_at_once(desk: Desk) -> None:
    desk.tab.goto(f"{desk.server}/{desk.site.slug}/findings/?level=misled")
    for title, where in (
        ("The contents list no longer matches", "2 places on 2 pages"),
        ("A list entry leads elsewhere than its words", "1 place on 1 page"),
    ):
        row = desk.tab.locator(".finding").filter(has=desk.tab.get_by_role("heading", name=title))
        row.get_by_role("button", name="Bring it up to date").click()
        expect(desk.tab.get_by_text(f"Mended “{title}”: {where}")).to_be_visible()
    assert not desk.site.pages.filter(lists_off__gt=0).exists()
    desk.tab.goto(f"{desk.server}/{desk.site.slug}/?sort=list")
    expect(desk.tab.get_by_text("Contents list in step").first).to_be_visible()
