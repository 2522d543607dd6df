"""Somebody is invited, comes in, works beside who invited them, and is let out again."""

from __future__ import annotations

import time

from playwright.sync_api import Page, expect

from innerhop.library.models import Editor, Invitation, Membership
from tests.browser.conftest import Desk
from tests.screens.test_accounts import ACCOUNT, GOOD, totp


def come_in(desk: Desk) -> Page:
    """Invite Jo, who follows the link and makes an account; their window."""
    tab = desk.tab
    tab.goto(f"{desk.server}/marrowby-canal-trust/people/")
    tab.get_by_label("Their mail address").fill("jo@marrowby.example")
    tab.get_by_role("button", name="Send the mail").click()
    expect(tab.get_by_text("as editor, asked")).to_be_visible()
    assert tab.context.browser is not None
    jo = tab.context.browser.new_context().new_page()
    jo.goto(f"{desk.server}/-/join/{Invitation.objects.get().key}/")
    jo.get_by_label("What others see you called").fill(ACCOUNT["called"])
    jo.get_by_label("A name to sign in with").fill(ACCOUNT["name"])
    jo.get_by_label("A password").fill(GOOD)
    jo.get_by_role("button", name="Make the account and come in").click()
    expect(jo.get_by_role("heading", level=1)).to_be_visible()
    return jo


def test_invited_in_two_steps_and_let_out(desk: Desk) -> None:
    jo = come_in(desk)
    jo.goto(f"{desk.server}/-/account/2fa/totp/activate/")
    if jo.get_by_role("heading", name="Is it you?").is_visible():
        jo.get_by_label("Password").fill(GOOD)
        jo.get_by_role("button", name="Go on").click()
    secret = jo.locator(".code").inner_text()
    jo.get_by_label("code").fill(totp(secret, time.time()))
    jo.get_by_role("button", name="Turn it on").click()
    expect(jo.get_by_role("heading", name="Codes for a lost phone")).to_be_visible()
    code = jo.locator("li").first.inner_text()
    jo.get_by_role("button", name="Sign out").click()
    jo.get_by_label("Name").fill("jo")
    jo.get_by_label("Password", exact=True).fill(GOOD)
    jo.get_by_role("button", name="Sign in", exact=True).click()
    jo.get_by_role("textbox").fill(code)
    jo.get_by_role("button", name="Sign in").click()
    expect(jo.get_by_role("link", name="Menus")).to_be_visible()
    row = desk.tab.locator("li", has_text="signs in as jo")
    desk.tab.reload()
    row.get_by_role("button", name="Let out").click()
    expect(row).to_have_count(0)
    jo.reload()
    expect(jo.get_by_role("heading", name="Not here")).to_be_visible()


def test_what_one_did_the_other_finds_and_takes_back(desk: Desk) -> None:
    jo = come_in(desk)
    page = desk.site.pages.get(path="/volunteer-days/")
    jo.goto(desk.server + page.get_absolute_url())
    jo.get_by_role("button", name="What to wear", exact=False).first.click()
    jo.get_by_role("button", name="Mark this section").click()
    expect(jo.get_by_text("Marked “What to wear”").first).to_be_visible()
    tab = desk.tab
    tab.goto(f"{desk.server}/marrowby-canal-trust/history/")
    row = tab.locator(".history-row", has_text="Marked “What to wear”")
    expect(row).to_contain_text("Jo Barrow")
    row.get_by_role("link").first.click()
    side = tab.get_by_label("What is chosen")
    expect(side.locator("ins").first).to_contain_text("id=")
    side.get_by_role("button", name="Take it back").click()
    expect(tab.get_by_text("Undone: Marked “What to wear”")).to_be_visible()
    expect(row).to_contain_text("taken back by Demo")
    jo.goto(f"{desk.server}/marrowby-canal-trust/history/")
    redo = jo.locator(".history-row", has_text="Marked “What to wear”").get_by_role("button")
    expect(redo).to_contain_text("Do it again")
    let_in = jo.locator(".history-row", has_text="Let Jo Barrow in")
    expect(let_in.get_by_role("button")).to_have_count(0)


def test_who_reads_finds_nothing_to_change(desk: Desk) -> None:
    Membership.objects.filter(editor=Editor.objects.get(username="demo")).update(role="reader")
    desk.open("/volunteer-days/")
    tab = desk.tab
    expect(tab.get_by_text("You read this site, and change nothing on it.")).to_be_visible()
    tab.get_by_role("button", name="What to wear", exact=False).first.click()
    for name in ("Undo", "Redo", "Mark many", "Make a contents list"):
        expect(tab.get_by_role("button", name=name, exact=True)).to_be_hidden()
    expect(tab.get_by_role("button", name="Mark this section")).to_be_hidden()


def test_two_on_one_page_see_each_other_and_lose_nothing(desk: Desk) -> None:
    jo, tab = come_in(desk), desk.tab
    where = desk.server + desk.site.pages.get(path="/volunteer-days/").get_absolute_url()
    jo.goto(where)
    jo.get_by_role("button", name="What to wear", exact=False).first.click()
    with jo.expect_response("**/here/"):
        pass
    tab.goto(where)
    desk.wait_for_sheet()
    expect(tab.get_by_text("Jo Barrow is here, on “What to wear”.")).to_be_visible()
    tab.get_by_role("button", name="Lunch", exact=False).first.click()
    tab.get_by_role("button", name="Rename", exact=True).click()
    typed = desk.side.get_by_role("textbox").locator("visible=true").first
    typed.fill("at-noon")
    jo.get_by_role("button", name="Mark this section").click()
    expect(jo.get_by_text("Marked “What to wear”").first).to_be_visible()
    news = tab.get_by_text("Jo Barrow changed this page: Marked “What to wear”", exact=False)
    expect(news).to_be_visible()
    tab.get_by_role("button", name="Use the page as it is now").locator("visible=true").click()
    expect(tab.get_by_text("What you typed is still here.")).to_be_visible()
    expect(typed).to_have_value("at-noon")
