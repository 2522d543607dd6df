"""Whole jobs of someone who has no pointer, with the Tab stops counted."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from innerhop.library.models import Link
from tests.browser.conftest import Desk

QUESTIONS = "".join(
    f"<p><b>Question {n}: {words}</b></p><p>Ask at the Toll House, they know.</p>"
    for n, words in enumerate(
        ("What does it cost?", "Where do I pay?", "When is it due?", "Can I pay by the quarter?",
         "What if I sell?", "Do I need insurance?", "What happens if I pay late?", "Who decides?"),
        start=1,
    )
)  # fmt: skip
NAME = (
    "() => { const e = document.activeElement;"
    " return e.getAttribute('aria-label') || e.labels?.[0]?.textContent || e.textContent || '' }"
)


class Keys:
    """A keyboard, and how often its Tab key was pressed."""

    def __init__(self, tab: Page) -> None:
        self.tab, self.stops = tab, 0

    def press(self, *keys: str) -> None:
        for key in keys:
            self.tab.keyboard.press(key)

    def tab_to(self, name: str, most: int = 60) -> None:
        for _ in range(most):
            self.press("Tab")
            self.stops += 1
            if name in self.tab.evaluate(NAME):
                return
        raise AssertionError(f"no Tab stop called {name}")

    def find(self, words: str) -> None:
        """By the finder, from wherever the keyboard is."""
        self.press("Escape", "/")
        expect(self.tab.get_by_label("Find a page or mark")).to_be_focused()
        self.tab.keyboard.type(words)
        self.press("Enter")


def test_mark_a_question_link_to_it_and_see_it(desk: Desk) -> None:
    tab, keys = desk.tab, Keys(desk.tab)
    desk.paste("/paying/", f"<title>Paying</title><h1>Paying</h1><p>Eight.</p>{QUESTIONS}")
    keys.find("pay late")
    expect(tab.get_by_role("heading", name="Question 7: What happens")).to_be_visible()
    keys.press("m")
    field = tab.get_by_label("ID for this section")
    expect(field).to_be_focused()
    expect(field).to_have_value(re.compile("^question-7"))
    tab.keyboard.type("pay-late")
    keys.press("Enter")
    desk.hears("as #pay-late")

    keys.find("waiting list")
    tab.wait_for_url("**/#n*")
    desk.wait_for_sheet()
    keys.press("Escape")
    keys.press("3")
    keys.tab_to("Link words on this page")
    tab.keyboard.type("two leave")
    keys.press("Enter")
    expect(tab.get_by_label("Where the hop ends")).to_be_focused()
    tab.keyboard.type("pay late")
    keys.press("Enter")
    expect(tab.get_by_role("button", name="Save the hop")).to_be_focused()
    keys.press("Enter")
    desk.hears("Linked “two leave” to /paying/#pay-late")
    expect(tab.get_by_role("heading", name="Outline")).to_be_focused()

    keys.find("pay late")
    tab.wait_for_url("**/#pay-late")
    desk.wait_for_sheet()
    keys.press("3")
    keys.tab_to("Visit the page here")
    with tab.context.expect_page() as opened:
        keys.press("Enter")
    visitor = opened.value
    visitor.wait_for_url("**/paying/#pay-late")
    assert visitor.evaluate("document.querySelector(':target').textContent").startswith(
        "Question 7"
    )
    assert keys.stops <= 34


def test_rename_undo_and_redo(desk: Desk) -> None:
    tab, keys = desk.tab, Keys(desk.tab)
    desk.open("/skippers-handbook/")
    keys.press("n")
    expect(tab.get_by_role("heading", name="Before you set off", level=2)).to_be_visible()
    keys.press("r")
    field = tab.get_by_label("Another ID for it").locator("visible=true")
    expect(field).to_be_focused()
    tab.keyboard.type("setting-off")
    expect(tab.get_by_role("button", name="Rename", exact=True).last).to_be_enabled()
    desk.settled()
    keys.press("Enter")
    desk.hears("#setting-off")
    expect(tab.get_by_role("heading", name="Before you set off", level=2)).to_be_focused()
    keys.press("Control+z")
    desk.hears("Undone")
    keys.press("Control+Shift+z")
    desk.hears("Done again")
    assert 'id="setting-off"' in desk.markup("/skippers-handbook/")
    assert keys.stops == 0


@pytest.mark.usefixtures("unmeasured")
def test_mend_what_is_broken_on_the_site(desk: Desk) -> None:
    tab, keys = desk.tab, Keys(desk.tab)
    tab.goto(f"{desk.server}/marrowby-canal-trust/")
    keys.tab_to("Findings")
    keys.press("Enter")
    tab.wait_for_url("**/findings/")
    before = Link.objects.broken().count()
    for label in ("Write it as /#book", "Spell it as the ID", "Put the hash in front"):
        keys.tab_to(label)
        # The list is read anew: what the screen keeps of itself is no new document.
        tab.evaluate("document.body.setAttribute('data-old', '')")
        keys.press("Enter")
        expect(tab.locator("body:not([data-old])")).to_have_count(1)
        tab.wait_for_load_state("load")
        expect(tab.get_by_role("button", name=label)).to_have_count(0)
    assert Link.objects.broken().count() == before - 10
    assert keys.stops <= 150


def test_any_part_is_chosen_with_keys_and_a_mark_moved_there(desk: Desk) -> None:
    tab, keys = desk.tab, Keys(desk.tab)
    desk.open("/moorings/")
    desk.click("table")  # so that the way begins in the middle
    desk.settled()
    keys.press("Escape", "2")
    expect(tab.get_by_role("application")).to_be_focused()
    said = tab.locator("#walked")
    while "section block" not in said.inner_text():
        keys.press("ArrowLeft")
        desk.settled()
    keys.press("ArrowDown")
    keys.press("ArrowRight")
    expect(said).to_contain_text("Winter moorings, #winter moorings")
    keys.press("ArrowDown")
    expect(said).to_contain_text("A paragraph: From November to March")
    expect(tab.get_by_role("application")).to_be_focused()
    keys.press("o", "i", ",")  # single keys go the same ways
    expect(said).to_contain_text("Winter moorings")

    desk.click("#hardship-fund")
    desk.settled()
    desk.press("Move")
    expect(tab.get_by_label("New place")).to_be_focused()
    # The list does what pointing does.
    tab.get_by_label("New place").select_option(label="The waiting list")
    expect(tab.get_by_role("button", name="Move it")).to_be_enabled()
    tab.get_by_label("New place").select_option("")
    expect(tab.get_by_role("button", name="Move it")).to_be_disabled()
    keys.press("Escape", "2", "ArrowDown")
    desk.settled()
    desk.press("Move it")
    desk.hears("Moved #hardship-fund")
    assert '<p id="hardship-fund">Boats are homes' in desk.markup("/moorings/")


def test_the_sheet_is_one_tab_stop_unless_it_is_entered(desk: Desk) -> None:
    tab, keys = desk.tab, Keys(desk.tab)
    desk.open("/lock-guide/")
    keys.tab_to("Where the sheet is")
    keys.tab_to("The sheet", most=1)
    keys.press("Tab")
    assert tab.evaluate("document.activeElement.closest('#desk') !== null")
    keys.press("Shift+Tab", "Enter", "Tab")
    assert tab.evaluate("document.activeElement.tagName") == "IFRAME"
    assert desk.sheet.evaluate("document.activeElement.tagName") == "A"
    keys.press("Escape")
    expect(tab.get_by_role("application")).to_be_focused()
