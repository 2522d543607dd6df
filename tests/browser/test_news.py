"""What changed there, in the real interface: seen, chosen, taken in, taken back."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.browser.conftest import Desk
from tests.browser.states import HANDBOOK, STATES


def test_what_both_sides_did_is_seen_chosen_and_taken_in(desk: Desk) -> None:
    STATES["what changed there"](desk)
    tab = desk.tab
    met = tab.get_by_role("region", name="Where they meet, 1 of 1")
    expect(met.get_by_label("Changed there")).to_contain_text("If you are aground")
    expect(met.get_by_role("button", name="Both")).to_have_attribute("aria-pressed", "true")
    met.get_by_role("button", name="What is there").click()
    expect(met.get_by_role("button", name="What is there")).to_have_attribute(
        "aria-pressed", "true"
    )
    met.get_by_role("button", name="Both").click()
    tab.get_by_role("link", name="Moorings and charges").click()
    expect(tab.get_by_role("complementary", name="Desk")).to_contain_text("As it is there")
    tab.get_by_role("button", name="Take in").click()
    said = tab.get_by_role("status").filter(has_text="Took in the new text of")
    expect(said).to_be_visible()
    desk.open(HANDBOOK)
    heading = desk.sheet.locator("h3#aground")
    expect(heading).to_have_text("If you are aground")
    tab.go_back()
    tab.get_by_role("button", name="Undo").first.click()
    expect(tab.get_by_role("button", name="Take in")).to_be_visible()
    desk.open(HANDBOOK)
    expect(desk.sheet.locator("h3#aground")).to_have_text("You are aground")
