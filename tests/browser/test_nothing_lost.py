"""What was typed or pressed is kept: over a session that ends, when Escape is pressed, and
while the screens' script is still on its way."""

from __future__ import annotations

import contextlib

import pytest
from playwright.sync_api import Error, Route, expect

from tests.browser.conftest import Desk


@pytest.mark.harmful  # the browser logs what the server refuses meanwhile
def test_an_act_goes_on_after_signing_in_anew_in_another_tab(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/skippers-handbook/")
    tab.locator(".outline-row", has_text="Lifting bridges").click()
    field = tab.get_by_label("ID for this section")
    field.fill("bridges-that-lift")
    expect(tab.get_by_text("Free on this page").locator("visible=true")).to_be_visible()
    other = tab.context.new_page()
    other.goto(f"{desk.server}/")
    other.get_by_role("button", name="Sign out").click()
    other.get_by_role("button", name="demo editor").wait_for()
    field.press("Enter")
    expect(tab.get_by_text("You have been signed out")).to_be_visible()
    with tab.context.expect_page() as opened:
        tab.get_by_role("link", name="Sign in", exact=True).click()
    opened.value.get_by_role("button", name="demo editor").click()
    opened.value.get_by_role("button", name="Sign out").wait_for()
    expect(field).to_have_value("bridges-that-lift")
    field.press("Enter")
    desk.hears("Marked “Lifting bridges” as #bridges-that-lift")


def test_escape_closes_the_innermost_thing_only(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/skippers-handbook/")
    tab.locator(".outline-row", has_text="Your first lock").click()
    tab.get_by_role("button", name="Rename").locator("visible=true").click()
    field = tab.get_by_label("Another ID for it").locator("visible=true")
    field.fill("first-lock")
    tab.keyboard.press("?")  # typed, since the field has the keyboard
    expect(field).to_have_value("first-lock?")
    tab.keyboard.press("Escape")
    expect(field).not_to_be_focused()
    expect(field).to_have_value("first-lock?")  # still open, with what was typed
    tab.keyboard.press("?")
    expect(tab.get_by_role("dialog")).to_be_visible()
    tab.keyboard.press("Escape")
    expect(tab.get_by_role("dialog")).to_be_hidden()
    expect(field).to_be_visible()
    tab.keyboard.press("Escape")
    expect(field).to_be_hidden()
    expect(tab.get_by_role("heading", name="Your first lock")).to_be_visible()
    tab.keyboard.press("Escape")
    expect(tab.get_by_role("heading", name="Outline")).to_be_visible()


def test_what_is_typed_for_a_part_waits_there(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/skippers-handbook/")
    rows = tab.locator(".outline-row")
    rows.filter(has_text="Lifting bridges").click()
    field = tab.get_by_label("ID for this section")
    expect(field).to_have_value("lifting-bridges")
    field.fill("bridges")
    desk.settled()
    for _ in range(2):
        tab.keyboard.press("Escape")
    rows.filter(has_text="Your first lock").click()
    desk.press("Rename")
    tab.get_by_label("Another ID for it").locator("visible=true").fill("the-first")
    desk.settled()
    tab.keyboard.press("Escape")
    tab.keyboard.press("n")
    tab.keyboard.press("p")
    expect(desk.side.get_by_text("What you had typed here")).to_have_count(0)
    expect(tab.locator("[x-ref=message]")).to_contain_text("What you had typed here is still here")
    expect(tab.get_by_label("Another ID for it").locator("visible=true")).to_have_value("the-first")
    desk.press("Cancel")
    tab.keyboard.press("Escape")
    rows.filter(has_text="Lifting bridges").click()
    expect(field).to_have_value("bridges")


def test_a_reload_keeps_what_was_chosen_and_warns_of_what_would_go(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/skippers-handbook/")
    tab.locator(".outline-row", has_text="Your first lock").click()
    tab.reload()
    desk.wait_for_sheet()
    expect(tab.get_by_role("heading", name="Your first lock")).to_be_visible()
    tab.keyboard.press("m")
    tab.locator(".outline-row", has_text="Your first lock").wait_for(state="attached")
    asked: list[str] = []
    tab.on("dialog", lambda one: (asked.append(one.type), one.accept()))
    tab.reload()
    desk.wait_for_sheet()
    assert asked == []
    tab.keyboard.press("Escape")
    tab.locator(".outline-row", has_text="Lifting bridges").click()
    tab.get_by_label("ID for this section").fill("bridges")
    expect(desk.shown("Free on this page")).to_be_visible()
    desk.settled()
    tab.reload()
    assert asked == ["beforeunload"]


def test_slash_leads_to_the_finder_on_every_screen(desk: Desk) -> None:
    tab, base = desk.tab, f"{desk.server}/marrowby-canal-trust"
    for path in (
        "/",
        "/map/",
        "/findings/",
        "/findings/rules/menu-hash/",
        "/history/",
        "/hand-over/",
        "/settings/",
    ):
        tab.goto(base + path)
        tab.keyboard.press("/")
        expect(tab.locator("#find")).to_be_focused()
        expect(tab.locator("#find")).to_have_value("")
        tab.keyboard.type("a/b")  # typed here, it is a letter like any other
        expect(tab.locator("#find")).to_have_value("a/b")


def test_what_is_pressed_before_the_script_is_here_is_done_then(desk: Desk) -> None:
    tab, held = desk.tab, list[Route]()

    def hold(route: Route) -> None:
        held.append(route)

    tab.route("**/dist/app.*.js", hold)
    tab.goto(f"{desk.server}/marrowby-canal-trust/findings/", wait_until="commit")
    spaces = tab.locator(".finding", has_text="A space or a capital is off")
    see = spaces.get_by_role("button", name="See all 2 places")
    see.click()
    see.press("Enter")  # once more, since nothing seems to happen: still one press
    held[0].continue_()
    expect(spaces.get_by_role("button", name="Hide the places")).to_be_visible()
    expect(spaces.get_by_role("listitem").filter(has=tab.get_by_role("checkbox"))).to_have_count(2)


@pytest.mark.harmful  # the browser logs what the server refuses meanwhile
def test_words_typed_in_menus_outlive_the_session_and_are_warned_of(desk: Desk) -> None:
    tab = desk.tab
    tab.goto(f"{desk.server}/marrowby-canal-trust/menus/")
    tab.locator(".menu-words", has_text="Locks").click()
    words = tab.get_by_label("Its words")
    words.fill("Locks and gates")
    save = tab.get_by_role("button", name="Save on 8 pages")
    expect(save).to_be_enabled()
    asked: list[str] = []
    tab.once("dialog", lambda dialog: (asked.append(dialog.type), dialog.dismiss()))
    with contextlib.suppress(Error):  # staying ends the reload
        tab.reload(timeout=2_000)
    assert asked == ["beforeunload"]
    expect(words).to_have_value("Locks and gates")
    other = tab.context.new_page()
    other.goto(f"{desk.server}/")
    other.get_by_role("button", name="Sign out").click()
    other.get_by_role("button", name="demo editor").wait_for()
    save.click()
    expect(tab.get_by_role("alert")).to_contain_text("You have been signed out")
    with tab.context.expect_page() as opened:
        tab.get_by_role("link", name="Sign in", exact=True).click()
    opened.value.get_by_role("button", name="demo editor").click()
    opened.value.get_by_role("button", name="Sign out").wait_for()
    expect(words).to_have_value("Locks and gates")
    save.click()
    expect(tab.get_by_role("status").get_by_text("Locks and gates")).to_be_visible()


def test_what_is_open_outlives_back_and_a_reload(desk: Desk) -> None:
    tab = desk.tab
    tab.goto(f"{desk.server}/marrowby-canal-trust/findings/")
    tab.locator(".finding").nth(1).get_by_role("button", name="See").click()
    tab.locator(".finding.open .finding-place").first.wait_for()
    which = tab.locator(".finding.open").get_attribute("id")
    tab.reload()
    expect(tab.locator(".finding.open")).to_have_id(str(which))
    tab.goto(f"{desk.server}/marrowby-canal-trust/menus/")
    tab.locator("#item-2").click()
    title = tab.get_by_label("Its words").input_value()
    tab.goto(f"{desk.server}/marrowby-canal-trust/map/")
    tab.go_back()
    expect(tab.get_by_label("Its words")).to_have_value(title)
    tab.go_back()
    expect(tab.locator(".finding.open")).to_have_id(str(which))
    desk.open("/skippers-handbook/")
    desk.press("Mark many")
    rows = tab.get_by_label("ID for", exact=False).locator("visible=true")
    rows.first.fill("of-my-own")
    desk.settled()
    count = tab.get_by_role("button", name="sections").locator("visible=true").inner_text()
    tab.on("dialog", lambda dialog: dialog.accept())
    tab.reload()
    expect(rows.first).to_have_value("of-my-own")
    expect(tab.get_by_role("button", name=count)).to_be_visible()


@pytest.mark.harmful  # the browser logs what the server refuses meanwhile
def test_forms_outlive_the_session(desk: Desk) -> None:
    tab = desk.tab

    def sign_out_elsewhere() -> None:
        tab.context.clear_cookies(name="innerhop_session")

    tab.goto(f"{desk.server}/marrowby-canal-trust/settings/")
    tab.get_by_label("Name of the site").fill("The Trust")
    tab.get_by_label("In the site’s own letters").check()
    sign_out_elsewhere()
    tab.get_by_role("button", name="Save").click()
    tab.get_by_role("button", name="demo editor").click()
    expect(tab.get_by_text("What you typed is here again")).to_be_visible()
    expect(tab.get_by_label("Name of the site")).to_have_value("The Trust")
    expect(tab.get_by_label("In the site’s own letters")).to_be_checked()
    tab.get_by_role("button", name="Save").click()
    expect(tab.get_by_role("link", name="The Trust", exact=True)).to_be_visible()
    tab.goto(f"{desk.server}/marrowby-canal-trust/bring-in/")
    tab.get_by_role("textbox", name="Address", exact=True).fill("/spring/")
    tab.get_by_role("textbox", name="Markup").fill("<h2>Spring</h2><p>Work days.")
    sign_out_elsewhere()
    tab.get_by_role("button", name="Bring in the markup").click()
    with tab.context.expect_page() as opened:
        tab.get_by_role("link", name="Sign in", exact=True).click()
    opened.value.get_by_role("button", name="demo editor").click()
    opened.value.get_by_role("button", name="Sign out").wait_for()
    tab.get_by_role("button", name="Bring in the markup").click()
    expect(tab.get_by_role("heading", name="1 page came in")).to_be_visible()
