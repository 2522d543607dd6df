"""The same path with the keyboard alone; and pages that mean harm."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Desk


def press(tab: Page, *keys: str) -> None:
    for key in keys:
        tab.keyboard.press(key)


def tab_to(tab: Page, name: str, most: int = 80) -> None:
    """Press Tab until the focused control has that name."""
    for _ in range(most):
        tab.keyboard.press("Tab")
        focused = tab.evaluate(
            "() => { const e = document.activeElement; if (e === document.body) return '';"
            " return e.getAttribute('aria-label') || e.labels?.[0]?.textContent || e.textContent }"
        )
        if name in (focused or ""):
            return
    raise AssertionError(f"no Tab stop called {name}")


def test_the_whole_path_by_keyboard(desk: Desk) -> None:
    tab = desk.home()
    press(tab, "Tab")
    tab_to(tab, "Moorings and charges")
    press(tab, "Enter")
    desk.wait_for_sheet()

    # Along the ruler to an unmarked section, and mark it.
    tab_to(tab, "Visitor moorings")
    press(tab, "ArrowDown", "ArrowDown", "ArrowDown", "Enter")
    field = tab.get_by_label("ID for this section")
    expect(field).to_be_focused()
    expect(field).to_have_value("the-waiting-list")
    press(tab, "Enter")
    desk.hears("Marked “The waiting list”")

    # Words by typing them, an end by searching it, and save.
    expect(tab.get_by_role("button", name="#the-waiting-list this page")).to_be_focused()
    press(tab, "Escape")
    tab_to(tab, "Link words on this page")
    tab.keyboard.type("honesty box")
    press(tab, "Enter")
    expect(tab.get_by_role("heading", name="Make a hop")).to_be_visible()
    expect(tab.get_by_label("Where the hop ends")).to_be_focused()
    tab.keyboard.type("waiting list")
    press(tab, "Enter")  # at once: the answer to what was typed is waited for
    expect(tab.get_by_role("button", name="Save the hop")).to_be_focused()
    press(tab, "Enter")
    desk.hears("Linked “honesty box” to #the-waiting-list")

    press(tab, "Control+z")
    desk.hears("Undone: Linked")
    press(tab, "Control+Shift+Z")
    desk.hears("Done again: Linked")

    press(tab, "/")
    expect(tab.get_by_label("Find a page or mark")).to_be_focused()
    tab.keyboard.type("tunnels")
    press(tab, "Enter")
    tab.wait_for_url("**/#tunnels")
    expect(tab.get_by_role("heading", name="Going through a tunnel", level=2)).to_be_visible()
    press(tab, "/")  # a section of the page that is open already
    tab.keyboard.type("handing")
    press(tab, "Enter")
    expect(tab.get_by_role("heading", name="Handing the boat back", level=2)).to_be_visible()
    press(tab, "?")
    expect(tab.get_by_role("dialog", name="Keyboard shortcuts")).to_be_visible()


HARMFUL = """<!doctype html><html><head><title>Harm</title>
<meta http-equiv="refresh" content="0;url=/elsewhere/">
<meta http-equiv="Content-Security-Policy" content="script-src 'self'">
<script>window.ran = 1; top.location = '/sign-in/'</script></head>
<body onload="window.ran = 2"><h2 onclick="window.ran = 3">Heading</h2>
<img src=x onerror="window.ran = 4"><iframe src="/sign-in/"></iframe>
<a href="javascript:window.ran = 5" id=js>script link</a>
<form action="/sign-out/" method=post><button id=send>Send</button></form>
<script>parent.postMessage({ innerHop: 'chose', kind: 'section', n: 3 }, '*')</script>
"""


@pytest.mark.harmful
def test_a_page_s_scripts_never_run_in_the_sheet_nor_meet_the_session(desk: Desk) -> None:
    tab = desk.tab
    desk.paste("/harm/", HARMFUL)
    desk.click("#js")
    desk.click("#send")
    desk.click("h2")
    tab.wait_for_timeout(300)
    assert "/sign-in/" not in tab.url
    assert desk.sheet.url.endswith("/harm/")
    assert desk.sheet.evaluate("typeof window.ran") == "undefined"
    assert desk.sheet.evaluate("origin") == "null"
    blocked = "() => { try { return parent.document.title } catch (e) { return e.name } }"
    assert desk.sheet.evaluate(blocked) == "SecurityError"

    # On its own host name its scripts run, and see no cookie and no screen of ours.
    visit = tab.context.new_page()
    page = desk.site.pages.get(path="/skippers-handbook/")
    visit.goto(f"{desk.server}{page.get_absolute_url()}visit/")
    assert visit.evaluate("document.cookie") == ""
    reach = "url => fetch(url, { credentials: 'include' }).then(() => 'read', () => 'kept out')"
    assert visit.evaluate(reach, f"{desk.server}/marrowby-canal-trust/") == "kept out"
    cookies = {one["domain"]: one["name"] for one in tab.context.cookies()}
    assert cookies["localhost"] == "innerhop_visit"
