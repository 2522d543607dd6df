"""What the desk and the frame offer beside the main path."""

from __future__ import annotations

import io
import re
import zipfile

from django.db import connection
from playwright.sync_api import expect

from innerhop.practice import demo
from tests.browser.conftest import Desk


def test_a_hop_seen_whole_and_followed_both_ways(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/skippers-handbook/")
    desk.click("main p a[href='#mooring-overnight']")
    desk_ = tab.get_by_role("region", name="Desk")
    expect(desk_.get_by_text("A hop to a place on this page")).to_be_visible()
    expect(desk_.locator("p.code:visible")).to_have_text("#mooring-overnight")
    desk_.get_by_role("button", name=re.compile("^Mooring overnight")).click()
    seen = "() => {{ const t = document.{}.getBoundingClientRect().top; return t > 0 && t < 900 }}"
    desk.sheet.wait_for_function(seen.format("getElementById('mooring-overnight')"))
    desk_.get_by_role("button", name=re.compile("^Skipper’s handbook")).click()
    desk.sheet.wait_for_function(seen.format("querySelector('main p a')"))


def test_a_hop_to_another_page_leads_there_on_the_screen(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/skippers-handbook/")
    tab.locator(".row", has_text="stop planks note").last.click()
    tab.get_by_role("button", name=re.compile("^Stop planks Lock guide")).click()
    tab.wait_for_url("**/#n*")
    expect(tab.get_by_role("heading", name="Stop planks", level=2)).to_be_visible()


def test_a_broken_hop_says_why(desk: Desk) -> None:
    desk.open("/skippers-handbook/")
    arc = desk.tab.locator('.ruler-hop[data-kind="broken"]').last
    arc.locator("path").last.dispatch_event("click")
    expect(desk.tab.get_by_text("Nothing on this page has this ID")).to_be_visible()
    expect(desk.tab.get_by_text("Nowhere", exact=True)).to_be_visible()


def test_any_change_in_the_list_can_be_undone_and_redone(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/skippers-handbook/")
    for title in ("Going up", "Lifting bridges"):
        tab.locator(".outline-row", has_text=title).click()
        tab.get_by_role("button", name="Mark this section").click()
        desk.hears(f"Marked “{title}”")
        tab.keyboard.press("Escape")
    tab.get_by_role("button", name=re.compile("Undo ?: Marked “Going up”")).click()
    desk.hears("Undone: Marked “Going up”")
    markup = desk.markup("/skippers-handbook/")
    assert 'id="going-up"' not in markup
    assert 'id="lifting-bridges"' in markup
    tab.get_by_role("button", name=re.compile("Redo ?: Marked “Going up”")).click()
    desk.hears("Done again")
    assert 'id="going-up"' in desk.markup("/skippers-handbook/")


def test_a_page_moves_to_another_address(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/about/")
    field = tab.get_by_label("Address of this page")
    field.fill("/lock-guide/")
    tab.get_by_role("button", name="Move", exact=True).click()
    expect(tab.get_by_role("alert").last).to_contain_text("“Lock guide” has the address")
    field.fill("/the-trust/")
    tab.get_by_role("button", name="Move", exact=True).click()
    expect(desk.shown("What changes in the markup")).to_be_visible()
    tab.get_by_role("button", name="Move the page").click()
    desk.hears("Moved “About the Trust” from /about/ to /the-trust/, with")
    assert 'href="/the-trust/#accounts"' in desk.markup("/volunteer-days/")
    tab.goto(f"{desk.server}/marrowby-canal-trust/hand-over/")
    expect(tab.get_by_role("row", name="/about/")).to_contain_text("/the-trust/")
    with tab.expect_download() as download:
        tab.get_by_role("link", name="Download the list of moves").click()
    rows = download.value.path().read_text().splitlines()
    assert rows[1] == "https://marrowby.example/about/,https://marrowby.example/the-trust/"


def test_full_size_shows_the_sheet_as_wide_as_it_is(desk: Desk) -> None:
    desk.open("/about/")
    width = "document.querySelector('iframe').getBoundingClientRect().width"
    assert desk.tab.evaluate(width) < 700
    desk.tab.get_by_role("button", name="Full size").click()
    assert desk.tab.evaluate(width) == 1280
    desk.tab.reload()
    desk.wait_for_sheet()
    assert desk.tab.evaluate(width) == 1280  # remembered


def test_single_keys_can_be_switched_off(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/about/")
    tab.keyboard.press("?")
    dialog = tab.get_by_role("dialog", name="Keyboard shortcuts")
    dialog.get_by_role("checkbox").uncheck()
    dialog.get_by_role("button", name="Close").click()
    tab.keyboard.press("?")
    expect(dialog).to_be_hidden()
    tab.keyboard.press("Control+z")  # keys with Control go on working
    expect(tab.get_by_role("alert").last).to_contain_text("nothing to undo")


def test_the_top_of_the_page_is_an_end_too(desk: Desk) -> None:
    desk.open("/moorings/")
    desk.select("honesty box")
    desk.tab.get_by_role("button", name="The top of this page").click()
    desk.tab.get_by_role("button", name="Save the hop").click()
    desk.hears("Linked “honesty box” to #top")
    expect(desk.tab.locator('.ruler-hop[data-kind="back"]')).to_be_attached()


def test_a_taken_id_for_the_end_is_said_before_saving(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/moorings/")
    desk.select("honesty box")
    tab.get_by_role("option", name="The waiting list").click()
    field = tab.get_by_label("It has no mark yet")
    expect(field).to_have_value("the-waiting-list")
    field.fill("fees")
    expect(tab.get_by_role("alert").filter(has_text="arrive at the first")).to_be_visible()
    expect(tab.get_by_role("button", name="Save the hop")).to_be_disabled()
    # As on the desk of a mark: a hash is taken off, and what could be typed is offered.
    field.fill("#waiting")
    expect(field).to_have_value("waiting")
    expect(tab.get_by_text("is put in front for you")).to_be_visible()
    field.fill("waiting list")
    desk.press("Use waiting-list")
    expect(field).to_have_value("waiting-list")
    expect(tab.get_by_role("button", name="Save the hop")).to_be_enabled()


def test_what_was_done_is_not_said_over_the_sheet_s_last_line(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/moorings/")
    box = tab.locator("[x-ref=message]")
    desk.place_of(
        "scrollTo(0, document.documentElement.scrollHeight);"
        "return document.body.getBoundingClientRect().toJSON()"
    )
    expect(box).to_have_class(re.compile("top-6"))
    desk.place_of("scrollTo(0, 0); return document.body.getBoundingClientRect().toJSON()")
    expect(box).to_have_class(re.compile("bottom-6"))


def test_words_that_are_not_there(desk: Desk) -> None:
    desk.open("/moorings/")
    desk.tab.get_by_label("Link words on this page").fill("submarine")
    desk.tab.get_by_role("button", name="Find", exact=True).click()
    expect(desk.tab.get_by_role("alert").last).to_have_text(re.compile("not on this page"))


def test_a_new_site_starts_empty_and_says_what_to_do(desk: Desk) -> None:
    tab = desk.tab
    tab.goto(f"{desk.server}/?all")
    tab.get_by_label("Name of the site").fill("Hatch Lane School")
    tab.get_by_label("Address").fill("hatch.example/page/")
    tab.get_by_role("button", name="Start the site").click()
    expect(tab.get_by_role("alert")).to_contain_text("without a page behind it")
    tab.get_by_label("Address").fill("hatch.example")
    tab.get_by_role("button", name="Start the site").click()
    tab.get_by_role("link", name="Pages").click()
    expect(tab.get_by_role("heading", name="Nothing here yet")).to_be_visible()


def test_bringing_a_page_in_again_can_replace_it(desk: Desk) -> None:
    tab = desk.tab
    tab.goto(f"{desk.server}/marrowby-canal-trust/bring-in/")
    data = dict(demo.files())["about/index.html"].replace(b"How we decide", b"How we vote")
    file = {"name": "index.html", "mimeType": "text/html", "buffer": data}
    tab.locator("input[type=file]").set_input_files([file])
    tab.get_by_label("Give that page the new text").first.check()
    tab.get_by_role("button", name="Bring in the files").click()
    # The home page has that address: its text is replaced, and can be had back.
    expect(tab.get_by_text("has its new text now")).to_be_visible()
    desk.open("/")
    expect(tab.locator(".outline-row", has_text="How we vote")).to_be_visible()
    tab.get_by_role("button", name="Undo", exact=True).first.click()
    desk.hears("Undone: Brought pages in again")
    expect(tab.locator(".outline-row", has_text="This week on the cut")).to_be_visible()


def test_bringing_in_can_be_stopped_and_then_nothing_came(desk: Desk) -> None:
    tab, before = desk.tab, desk.site.pages.count()
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for number in range(2000):
            archive.writestr(f"{number}/index.html", f"<h1>{number}</h1>" + "<h2>Part</h2>" * 9)
    tab.goto(f"{desk.server}/marrowby-canal-trust/bring-in/")
    tab.locator("input[type=file]").set_input_files(
        [{"name": "many.zip", "mimeType": "application/zip", "buffer": buffer.getvalue()}]
    )
    tab.get_by_role("button", name="Bring in the files").click()
    expect(tab.get_by_text(re.compile(r"\d+ of 2000"))).to_be_visible()
    tab.get_by_role("button", name="Stop").click()
    expect(tab.get_by_role("alert")).to_have_text("Stopped. Nothing was brought in.")
    # The server notices at its next line; then it holds no rows of these pages.
    waiting = "select count(*) from pg_locks where relation = 'library_page'::regclass"
    for _ in range(100):
        with connection.cursor() as cursor:
            cursor.execute(waiting + " and mode = 'RowExclusiveLock'")
            if cursor.fetchone() == (0,):
                break
        tab.wait_for_timeout(100)
    else:
        raise AssertionError("the server went on bringing pages in")
    assert desk.site.pages.count() == before
    assert desk.site.bring_ins.count() == 1


def test_the_list_of_pages_sorts_and_filters(desk: Desk) -> None:
    tab = desk.tab
    tab.goto(f"{desk.server}/marrowby-canal-trust/")
    tab.get_by_label("Order").select_option("longest")
    tab.get_by_role("button", name="Show").click()
    first = tab.locator("ol > li").first
    expect(first).to_contain_text("Skipper’s handbook")
    tab.get_by_label("Only pages with these words").fill("lock")
    tab.get_by_role("button", name="Show").click()
    expect(tab.locator("ol > li")).to_have_count(1)
    tab.get_by_label("Only pages with these words").fill("submarine")
    tab.get_by_role("button", name="Show").click()
    expect(tab.get_by_text("No page has “submarine”")).to_be_visible()


def test_a_wrong_password_is_told_plainly(desk: Desk) -> None:
    tab = desk.home()
    tab.get_by_role("button", name="Sign out").click()
    tab.get_by_label("Name").fill(demo.EDITOR)
    tab.get_by_label("Password").fill("wrong")
    tab.get_by_role("button", name="Sign in", exact=True).click()
    expect(tab.get_by_role("alert")).to_contain_text("don't belong together")
    tab.get_by_label("Password").fill(demo.PASSWORD)
    tab.get_by_role("button", name="Sign in", exact=True).click()
    expect(tab.get_by_role("heading", name="10 pages")).to_be_visible()


def test_a_broken_hop_is_mended_with_one_click_or_led_elsewhere(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/lock-guide/")
    here = tab.get_by_role("region", name="Desk")
    # In a shared part, on how many pages stands on the button before it is pressed.
    expect(here.get_by_role("button", name="Use it on 8 pages for Book")).to_be_visible()
    here.get_by_role("button", name="Use it for Staircase").click()
    desk.hears("“Staircase” leads to #staircase-locks now")
    assert 'href="#staircase-locks">Staircase</a>' in desk.markup("/lock-guide/")
    here.get_by_role("button", name=re.compile("^Summit")).click()
    here.get_by_role("button", name="Change where it leads").click()
    here.get_by_label("Where the hop ends").fill("paddle")
    here.get_by_role("option", name="A note on paddle gear").click()
    here.get_by_role("button", name="Save the hop").click()
    desk.hears("“Summit” leads to #a-note-on-paddle-gear now and marked")
    markup = desk.markup("/lock-guide/")
    assert 'href="#a-note-on-paddle-gear">Summit</a>' in markup
    assert '<h2 id="a-note-on-paddle-gear" class="paddle-gear">' in markup
