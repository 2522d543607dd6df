"""The menus screen as an editor uses it, and what readers get: every item clicked from
every page does what its line said."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Locator, Page, expect

from innerhop.library import sites
from innerhop.library.bring_in import bring_ins
from innerhop.library.seek import menus
from tests.browser.conftest import Desk

STATES = "els => els.map(e => e.dataset.state)"


def show(desk: Desk) -> Page:
    desk.tab.goto(f"{desk.server}/marrowby-canal-trust/menus/")
    row(desk.tab, "Handbook").wait_for()
    return desk.tab


def row(tab: Page, label: str) -> Locator:
    return tab.locator(".menu-words", has_text=re.compile(f"^{label}"))


def order(tab: Page) -> list[str]:
    return tab.locator(".menu-words bdi").all_text_contents()


def said(tab: Page, words: str) -> None:
    expect(tab.get_by_role("status").get_by_text(words)).to_be_visible()


def states(tab: Page) -> dict[str, list[str]]:
    """What each item's line says, station by station."""
    found = tab.locator("tr[data-row]")
    return {
        one.locator("bdi").inner_text(): one.locator("td .menu-state").evaluate_all(STATES)
        for one in found.all()
    }


def test_every_item_does_what_its_line_says(desk: Desk) -> None:
    """HTML Standard, https://html.spec.whatwg.org/multipage/browsing-the-web.html#scroll-to-fragid,
    as Chromium carries it out."""
    tab = show(desk)
    before = states(tab)
    assert before["Book"].count("nothing") == 7
    compare(desk, before)
    tab = show(desk)
    row(tab, "Book").click()
    expect(tab.get_by_text("Works on 1 of 8 pages.")).to_be_visible()
    tab.get_by_role("button", name="Write it so on 8 pages").click()
    said(tab, "“Book” in the menu “Main” leads to /#book now on 8 pages")
    after = states(tab)
    assert after["Book"] == ["jumps", *["opens-jumps"] * 7]
    compare(desk, {"Book": after["Book"]})


def compare(desk: Desk, lines: dict[str, list[str]]) -> None:
    """Click each item on each page as a visitor."""
    pages = list(desk.site.pages.filter(menus__name="Main").order_by("path"))
    desk.tab.goto(f"{desk.server}{pages[0].get_absolute_url()}visit/")
    root = desk.tab.evaluate("location.origin")
    for at, page in enumerate(pages):
        for label, does in lines.items():
            if desk.tab.url != root + page.path:
                desk.tab.goto(root + page.path)
            start = desk.tab.evaluate("[location.pathname, scrollY]")
            desk.tab.locator("header nav a", has_text=re.compile(f"^{label}$")).click()
            desk.tab.wait_for_load_state()
            there = desk.tab.evaluate("location.pathname")
            target = "document.querySelector(':target')"
            jumped = desk.tab.evaluate(f"{target} !== null")
            expected = {
                "jumps": (start[0], True), "there": (start[0], False), "nothing": (start[0], False),
            }.get(does[at])  # fmt: skip
            if expected is None:
                assert there != start[0]
                assert jumped == (does[at] == "opens-jumps")
            else:
                assert (there, jumped) == expected


def test_items_are_dragged_and_undone(desk: Desk) -> None:
    tab = show(desk)
    drag(tab, "Help", "Locks", 3)  # px: above it
    said(tab, "Moved an item in the menu “Main” on 8 pages")
    assert order(tab) == ["Handbook", "Help", "Locks", "Moorings", "Book"]
    drag(tab, "Locks", "Help", 26)  # onto it, which puts it under that one
    expect(tab.locator("tr[data-row='2'] th")).to_have_css("padding-left", "26px")
    tab.get_by_role("button", name="Undo").click()
    said(tab, "Undone: Moved an item")
    expect(tab.locator("tr[data-row='2'] th")).to_have_css("padding-left", "0px")
    # Escape lets go of it; nothing is saved.
    hold(tab, "Handbook", "Book", 3)
    tab.keyboard.press("Escape")
    tab.mouse.up()
    assert order(tab)[0] == "Handbook"


def hold(tab: Page, label: str, other: str, down: int) -> None:
    """Hold an item so far down from another one's upper edge."""
    handle = tab.locator("tr", has=row(tab, label)).locator(".menu-handle").bounding_box()
    to = tab.locator("tr", has=row(tab, other)).locator(".menu-card").bounding_box()
    assert handle
    assert to
    x = handle["x"] + 12
    tab.mouse.move(x, handle["y"] + 12)
    tab.mouse.down()
    tab.mouse.move(x, to["y"] + 20)
    tab.mouse.move(x, to["y"] + down)
    expect(tab.locator("tr[data-drop]")).to_have_count(1)


def drag(tab: Page, label: str, other: str, down: int) -> None:
    hold(tab, label, other, down)
    tab.mouse.up()


def test_the_whole_screen_by_keyboard(desk: Desk) -> None:
    tab = show(desk)
    row(tab, "Handbook").focus()
    tab.keyboard.press("ArrowDown")
    expect(row(tab, "Locks")).to_be_focused()
    tab.keyboard.press("Alt+ArrowRight")
    said(tab, "Moved an item in the menu “Main” on 8 pages")
    expect(row(tab, "Locks")).to_be_focused()
    tab.keyboard.press("Alt+ArrowLeft")
    expect(tab.locator("tr[data-row='1'] th")).to_have_css("padding-left", "0px")
    expect(row(tab, "Locks")).to_be_focused()
    tab.keyboard.press("Enter")
    words = tab.get_by_label("Its words")
    words.focus()
    tab.keyboard.press("Control+a")
    tab.keyboard.type("Gates")
    save = tab.get_by_role("button", name="Save on 8 pages")
    expect(save).to_be_enabled()
    tab.keyboard.press("Enter")
    said(tab, "“Locks” in the menu “Main” is “Gates” now on 8 pages")
    assert "Gates" in order(tab)
    # As a table for those who don't see the lines.
    table = tab.get_by_role("table")
    gates = table.get_by_role("row", name="Gates")
    expect(gates.get_by_role("cell").first).to_have_text("opens the page at its top")
    # The count beside the menu's name is that of now.
    expect(tab.get_by_role("link", name="Main · 5 items")).to_be_visible()
    tab.get_by_role("button", name="Take it out").click()
    expect(tab.get_by_role("link", name="Main · 4 items")).to_be_visible()


def test_an_item_of_a_section_and_back_to_its_page(desk: Desk) -> None:
    tab = show(desk)
    tab.get_by_role("button", name="Add an item").click()
    field = tab.get_by_role("combobox", name="Where it ends")
    field.fill("lifting bridges")
    tab.get_by_role("option", name="Lifting bridges").first.click()
    expect(tab.get_by_label("Its words")).to_have_value("Lifting bridges")
    tab.get_by_role("button", name="Put it in on").click()
    said(tab, "“Lifting bridges” put into the menu “Main” on 8 pages and marked")
    tab.get_by_role("button", name="Lead it to the page’s top").click()
    expect(tab.get_by_text("/skippers-handbook/", exact=True).last).to_be_visible()
    tab.get_by_role("button", name="Save on 8 pages").click()
    said(tab, "leads to /skippers-handbook/ now on 8 pages")
    tab.get_by_role("button", name="Take it out").click()
    said(tab, "“Lifting bridges” taken out of the menu “Main” on 8 pages")
    assert order(tab) == ["Handbook", "Locks", "Moorings", "Book", "Help"]
    stations = tab.locator(".menu-station button")
    stations.nth(1).click()
    expect(tab.get_by_role("link", name="About the Trust")).to_be_visible()


def test_words_too_long_for_a_phone_are_said(desk: Desk) -> None:
    tab = show(desk)
    row(tab, "Moorings").click()
    tab.get_by_label("Its words").fill("Moorings for visitors, winter boats and everybody else")
    tab.get_by_role("button", name="Save on 8 pages").click()
    said(tab, "is “Moorings for visitors")
    expect(
        tab.get_by_text(re.compile("On a phone .390 px. these words need 2 lines"))
    ).to_be_visible()


@pytest.mark.harmful  # the sheet runs no script of the page's
def test_the_lit_item_follows_the_reader(desk: Desk) -> None:
    parts = "".join(f"<h2 id=p{n}>Part {n}</h2><p style='height:90vh'>x</p>" for n in range(1, 4))
    items = "".join(f"<li><a href=#p{n}>Part {n}</a></li>" for n in range(1, 4))
    nav = f'<header><nav aria-label="Places"><ul>{items}</ul></nav></header>'
    whole = f"<html><head><title>One</title></head><body>{nav}<main><h1>One</h1>{parts}</main>"
    desk.paste("/one/", whole)
    tab = desk.tab
    tab.goto(f"{desk.server}/marrowby-canal-trust/menus/?menu=places")
    tab.get_by_label("Light up the item of the section").check()
    said(tab, "The menu “Places” lights up the section one is in on 1 page")
    page = desk.site.pages.get(path="/one/")
    tab.goto(f"{desk.server}{page.get_absolute_url()}visit/")
    lit = tab.locator("header a[aria-current=location]")
    tab.evaluate("document.getElementById('p2').scrollIntoView()")
    expect(lit).to_have_text(["Part 2"])


def test_a_section_is_added_from_its_page(desk: Desk) -> None:
    desk.open("/skippers-handbook/")
    desk.tab.locator(".outline-row", has_text="Lifting bridges").click()
    desk.press("Add to the menu")
    field = desk.tab.get_by_label("Words of the item")
    expect(field).to_have_value("Lifting bridges")
    field.fill("Bridges")
    expect(desk.shown("What changes in the markup on 8 pages")).to_be_visible()
    desk.press("Put it in the menu on 8 pages")
    desk.hears("“Bridges” put into the menu “Main” on 8 pages and marked “Lifting bridges”")
    assert [one.label for one in menus.of_site(desk.site)[0].items][-1] == "Bridges"


def test_a_site_without_a_menu_begins_a_plan(desk: Desk) -> None:
    bare = sites.create("Bare", "bare.example", "en", desk.site.editors.get())
    piece = bring_ins.NewFile("index.html", b"<title>Bare</title><h1>Bare</h1><h2 id=a>A</h2><p>x")
    for _ in bring_ins.bring_in(bare, desk.site.editors.get(), [piece], 1):
        pass
    tab = desk.tab
    tab.goto(f"{desk.server}/bare/menus/")
    expect(tab.get_by_role("heading", name="No menu found")).to_be_visible()
    tab.get_by_label("Name of the menu").fill("Shop")
    tab.get_by_role("button", name="Begin a plan").click()
    tab.get_by_role("button", name="Add an item").click()
    tab.get_by_role("combobox", name="Where it ends").fill("A")
    tab.get_by_role("option", name="A #a").click()
    tab.get_by_role("button", name="Put it in the plan").click()
    said(tab, "Changed the plan of the menu “Shop”, 1 item")
    assert states(tab) == {"A": ["jumps"]}
    tab.get_by_role("button", name="Give this plan up").click()
    expect(tab.get_by_role("heading", name="No menu found")).to_be_visible()
