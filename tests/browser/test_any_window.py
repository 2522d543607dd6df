"""Windows of any width: nothing is lost at 400 % zoom, which is 320 px (WCAG 2.2, 1.4.10),
and letters grow with the reader's own size (1.4.4)."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import Desk

SCREENS = ("/", "/map/", "/findings/", "/findings/rules/menu-hash/", "/history/", "/bring-in/",
           "/hand-over/", "/settings/", "/hand-over/copy-sheet/")  # fmt: skip


@pytest.mark.parametrize("width", [320, 390, 640])
def test_no_screen_scrolls_sideways(desk: Desk, width: int) -> None:
    tab = desk.tab
    tab.set_viewport_size({"width": width, "height": 640})
    for path in ("", *SCREENS):
        tab.goto(f"{desk.server}/marrowby-canal-trust{path}" if path else f"{desk.server}/?all")
        assert tab.evaluate("document.documentElement.scrollWidth") <= width, path


@pytest.mark.parametrize("width", [320, 640])
def test_the_page_screen_shows_ruler_sheet_and_desk_in_turn(desk: Desk, width: int) -> None:
    tab = desk.tab
    tab.set_viewport_size({"width": width, "height": 700})
    tab.goto(f"{desk.server}{desk.site.pages.get(path='/skippers-handbook/').get_absolute_url()}")
    panes = {name: tab.get_by_role("region", name=name) for name in ("Ruler", "Sheet", "Desk")}
    for name, pane in panes.items():
        tab.get_by_role("button", name=name, exact=True).click()
        for other, shut in panes.items():
            expect(shut).to_be_visible(visible=other == name)
        box = pane.bounding_box()
        assert box is not None
        assert (box["width"], box["height"] > 400) == (width, True)
        assert tab.evaluate("document.documentElement.scrollWidth") <= width
    tab.get_by_role("button", name="Ruler", exact=True).click()
    strip = tab.get_by_role("button", name="Lifting bridges, no mark yet")
    strip.press("Enter")  # what was chosen is worked on at the desk
    expect(panes["Desk"]).to_be_visible()
    expect(tab.get_by_label("ID for this section")).to_have_value("lifting-bridges")


@pytest.mark.parametrize("width", [900, 1024, 1280])
def test_from_900_px_on_all_three_stand_side_by_side(desk: Desk, width: int) -> None:
    desk.tab.set_viewport_size({"width": width, "height": 800})
    desk.open("/skippers-handbook/")
    for name in ("Ruler", "Sheet", "Desk"):
        expect(desk.tab.get_by_role("region", name=name)).to_be_visible()
    assert desk.tab.evaluate("document.documentElement.scrollWidth") <= width


@pytest.mark.parametrize(("width", "height"), [(911, 430), (1280, 400)])
def test_a_wide_and_low_window_scrolls_to_all_of_the_page_screen(
    desk: Desk, width: int, height: int
) -> None:
    """A laptop at 150 % zoom (WCAG 2.2, 1.4.4)."""
    tab = desk.tab
    tab.set_viewport_size({"width": width, "height": height})
    desk.open("/skippers-handbook/")
    tab.mouse.move(width - 20, 90)
    tab.evaluate("scrollTo(0, 10_000)")
    for name in ("Ruler", "Sheet", "Desk"):
        box = tab.get_by_role("region", name=name).bounding_box()
        assert box is not None
        assert box["y"] + box["height"] <= height + 1, name


def test_letters_follow_the_reader_s_own_size(desk: Desk) -> None:
    tab = desk.tab
    tab.goto(f"{desk.server}/marrowby-canal-trust/")
    size = "getComputedStyle(document.querySelector('h1')).fontSize"
    before = float(tab.evaluate(size)[:-2])
    # What a browser does whose reader asked for letters twice the size.
    tab.evaluate("document.documentElement.style.fontSize = '175%'")
    assert float(tab.evaluate(size)[:-2]) == pytest.approx(2 * before, rel=0.01)
