"""Where the keyboard is after something was done, how far it is to what one came for, and what is
said: WCAG 2.2, 2.4.1, 2.4.3, 2.4.11, 4.1.3."""

from __future__ import annotations

from playwright.sync_api import expect

from innerhop.library.acts.table import planned
from innerhop.library.changes import write
from innerhop.library.models import Page
from tests.browser.conftest import Desk

SITE = "/marrowby-canal-trust"


def test_the_keyboard_goes_back_to_where_it_came_from(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/skippers-handbook/")
    row = tab.locator(".outline-row", has_text="Lifting bridges")
    row.click()
    desk.settled()
    tab.keyboard.press("Escape")  # out of the field
    tab.keyboard.press("Escape")
    expect(row).to_be_focused()


def test_stray_letters_throw_nothing_away_and_enter_saves_a_list(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/lock-guide/")
    desk.press("Make a contents list")
    desk.settled()
    tab.get_by_role("heading", name="Contents list").focus()
    tab.keyboard.type("next to them, or in it")
    expect(tab.get_by_role("heading", name="Contents list")).to_be_visible()
    entry = tab.get_by_role("list", name="Entries").get_by_role("checkbox").nth(1)
    title = tab.get_by_role("list", name="Entries").locator("label").nth(1).inner_text()
    tab.get_by_role("button", name=f"Other words for “{title}”").click()
    expect(tab.get_by_label(f"Words in the list for “{title}”")).to_be_focused()
    entry.press("Enter")
    expect(tab.locator("[x-ref=message]")).to_contain_text("contents list")


def test_on_menus_the_keyboard_and_the_view_follow(desk: Desk) -> None:
    tab = desk.tab
    tab.goto(f"{desk.server}{SITE}/menus/")
    tab.locator("#item-1").click()
    tab.get_by_role("button", name="Another").click()
    tab.get_by_role("combobox", name="Where it ends").press_sequentially("Volunteer")
    tab.locator("#ends [role=option]").first.wait_for()
    tab.keyboard.press("Enter")
    expect(tab.get_by_role("button", name="Another")).to_be_focused()
    tab.get_by_role("button", name="Save on").click()
    tab.get_by_role("button", name="Undo").click()
    expect(tab.locator("#menu-done")).to_be_focused()
    tab.set_viewport_size({"width": 320, "height": 640})
    tab.locator("#item-3").click()
    expect(tab.get_by_label("Its words")).to_be_in_viewport()


def test_long_lists_are_short_ways(desk: Desk) -> None:
    """A copy sheet is one stop a step, the rehearsal's filter two stops from its top."""
    tab = desk.tab
    page = Page.objects.select_related("site").get(site=desk.site, path="/lock-guide/")
    titles = [one.number for one in page.sections.all() if not one.mark]
    act = planned("mark", page, {"marks": [{"number": n, "id": f"part-x{n}"} for n in titles]})
    write.save(desk.site, desk.site.editors.get(), act.message, act.plans, act.effects)
    tab.goto(f"{desk.server}{SITE}/hand-over/copy-sheet/")
    steps = tab.locator(".step")
    expect(steps).to_have_count(len(titles))
    stops = tab.evaluate(
        "[...document.querySelectorAll('.step :is(button, input, a)')]"
        ".filter((one) => one.tabIndex >= 0).length"
    )
    assert stops == len(titles)
    first = steps.first.get_by_role("checkbox")
    first.press("Enter")
    expect(tab.get_by_role("status").get_by_text(f"Copied part-x{titles[0]}")).to_be_visible()
    assert tab.evaluate("navigator.clipboard.readText()") == f"part-x{titles[0]}"
    first.press(" ")
    expect(
        tab.get_by_role("status").get_by_text(f"Ticked off, {len(titles) - 1} left")
    ).to_be_visible()
    tab.goto(f"{desk.server}{SITE}/rehearsal/?page={page.pk}")
    tab.get_by_role("button", name="Walk every hop").wait_for()
    tab.get_by_role("link", name="Skip the hops").focus()
    tab.keyboard.press("Enter")
    tab.keyboard.press("Tab")
    expect(
        tab.get_by_role("group", name="Show one verdict alone").get_by_role("button").first
    ).to_be_focused()
    expect(tab.get_by_text("Phone 390: ").first).to_be_attached()


def test_old_and_new_are_told_apart_without_colours(desk: Desk) -> None:
    """WCAG 1.4.1; HTML Standard, “Edits”."""
    tab = desk.tab
    tab.goto(f"{desk.server}{SITE}/findings/")
    finding = tab.locator(".finding", has=tab.get_by_role("button", name="Lead")).first
    finding.get_by_role("button", name="See").click()
    finding.get_by_role("button", name="See what changes").click()
    expect(finding.locator("ins").first).to_contain_text("put in: ")
    tab.goto(f"{desk.server}{SITE}/menus/")
    tab.locator("#item-3").click()
    tab.get_by_text("See what changes").click()
    expect(tab.locator("aside ins").first).to_contain_text("put in: ")
