"""What is left to do on a site, mended from its list; and what was done, taken back."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from innerhop.library.models import Link
from tests.browser.conftest import Desk


def test_all_hops_of_a_cause_are_mended_by_keyboard_and_taken_back(desk: Desk) -> None:
    tab, base = desk.tab, f"{desk.server}/marrowby-canal-trust"
    tab.goto(f"{base}/to-do/")
    count = Link.objects.broken().filter(site=desk.site).count()
    expect(tab.get_by_role("heading", level=1)).to_contain_text(f"{count} broken hops")
    tab.goto(f"{base}/")
    expect(tab.get_by_role("link", name=f"{count} broken hops")).to_be_visible()
    tab.goto(f"{base}/hand-over/")
    expect(tab.get_by_text(f"{count} hops of the site are broken")).to_be_visible()
    tab.get_by_role("link", name="See what broke them").press("Enter")
    tab.get_by_role("button", name=re.compile("Use it in 8 places")).press("Enter")
    done = tab.get_by_text("leads to /#book now, in 8 places on 8 pages")
    expect(done).to_be_visible()
    expect(done.locator("..")).to_be_focused()
    expect(tab.get_by_role("heading", level=1)).to_contain_text(f"{count - 7} broken hops")
    tab.keyboard.press("Tab")
    expect(tab.get_by_role("button", name="Undo")).to_be_focused()
    tab.keyboard.press("Enter")
    expect(tab.get_by_text("Undone: “Book” leads to /#book")).to_be_visible()
    tab.get_by_role("link", name="What was done so far").click()
    row = tab.get_by_role("row").nth(1)
    expect(row).to_contain_text("“Book” leads to /#book now")
    row.get_by_role("button", name="Redo").click()
    expect(tab.get_by_text("Done again: “Book” leads to /#book")).to_be_visible()
    tab.get_by_role("button", name=re.compile("^Undo ?: ")).click()
    expect(tab.get_by_text("Undone: “Book” leads")).to_be_visible()
