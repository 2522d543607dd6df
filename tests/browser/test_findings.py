"""Findings as an editor has them: mended from the list one, some or all at once, set aside and
taken back, seen on their page and come back from; the same count on every screen."""

from __future__ import annotations

import json
import re

import pytest
from playwright.sync_api import Locator, expect

from innerhop.library.seek import findings
from tests.browser.conftest import Desk

pytestmark = pytest.mark.usefixtures("unmeasured")


def row(desk: Desk, title: str) -> Locator:
    return desk.tab.locator(".finding").filter(has=desk.tab.get_by_role("heading", name=title))


def test_all_of_a_cause_are_mended_by_keyboard_and_taken_back(desk: Desk) -> None:
    tab, base = desk.tab, f"{desk.server}/marrowby-canal-trust"
    tab.goto(f"{base}/findings/")
    count = findings.counted(desk.site)
    expect(tab.get_by_role("link", name=f"All · {count}")).to_be_visible()
    expect(tab.locator("[data-findings-count]")).to_have_text(str(count))
    tab.goto(f"{base}/")
    expect(tab.get_by_role("link", name=f"{count} findings")).to_be_visible()
    tab.goto(f"{base}/hand-over/")
    tab.get_by_role("link", name="See what broke them").press("Enter")
    menu = row(desk, "#book in the menu works on Eleven miles of quiet water only")
    expect(menu).to_contain_text("7 places, 7 pages")
    menu.get_by_role("button", name="Write it as /#book").press("Enter")
    done = tab.get_by_text("water only”: 8 places on 8 pages")
    expect(done).to_be_visible()
    expect(done.locator("..")).to_be_focused()
    expect(tab.locator("[data-findings-count]")).to_have_text(str(count - 7))
    expect(menu).to_have_count(0)
    tab.keyboard.press("Tab")
    expect(tab.get_by_role("button", name="Undo")).to_be_focused()
    tab.keyboard.press("Enter")
    expect(tab.get_by_text("Undone: Mended")).to_be_visible()
    expect(menu).to_have_count(1)
    tab.get_by_role("link", name="What was done so far").click()
    made = tab.locator(".history-row").first
    made.get_by_role("button", name="Do it again").click()
    expect(tab.get_by_text("Done again: Mended")).to_be_visible()
    made.get_by_role("button", name="Take back").click()
    expect(tab.get_by_text("Undone: Mended")).to_be_visible()


def test_one_place_is_seen_chosen_and_mended(desk: Desk) -> None:
    desk.tab.goto(f"{desk.server}/marrowby-canal-trust/findings/?level=stuck")
    off = row(desk, "A space or a capital is off")
    off.get_by_role("button", name="See all 2 places").click()
    places = off.get_by_role("listitem").filter(has=desk.tab.get_by_role("checkbox"))
    expect(places).to_have_count(2)
    expect(places.first).to_contain_text("/about/#Trustees was likely meant for #trustees")
    places.nth(1).get_by_role("checkbox").check()
    off.get_by_role("button", name="See what changes").click()
    expect(off.get_by_text("What changes in the markup, on 1 page")).to_be_visible()
    expect(off.locator("ins")).to_have_text("put in: winter")
    off.get_by_role("button", name="Mend the 1 chosen").click()
    expect(desk.tab.get_by_text("Mended “A space or a capital is off”: 1 place")).to_be_visible()
    assert "/skippers-handbook/#winter" in desk.markup("/stoppages/")
    assert "/about/#Trustees" in desk.markup("/")


def test_a_place_is_set_aside_with_a_reason_and_counts_again(desk: Desk) -> None:
    tab = desk.tab
    count = findings.counted(desk.site)
    tab.goto(f"{desk.server}/marrowby-canal-trust/findings/?level=better")
    bold = row(desk, "A line serves as a heading")
    bold.get_by_role("button", name=re.compile("See all")).click()
    bold.get_by_role("checkbox").first.check()
    bold.get_by_role("button", name="Set aside").click()
    bold.get_by_label("Why it is no finding here").fill("It is a label")
    bold.get_by_role("button", name="Set 1 aside").click()
    expect(tab.get_by_text("Set 1 place aside")).to_be_visible()
    expect(tab.get_by_text("not here any more")).to_have_count(0)
    expect(tab.locator("[data-findings-count]")).to_have_text(str(count - 1))
    tab.get_by_role("button", name="Undo").click()
    expect(tab.get_by_text("Undone: Set 1 place aside")).to_be_visible()
    tab.goto(f"{desk.server}/marrowby-canal-trust/history/")
    tab.get_by_role("button", name="Do it again").first.click()
    tab.get_by_text("Done again: Set 1 place aside").wait_for()
    tab.goto(f"{desk.server}/marrowby-canal-trust/findings/?level=better")
    tab.get_by_role("link", name="Set aside · 1").click()
    expect(tab.get_by_text("It is a label")).to_be_visible()
    tab.get_by_role("button", name=re.compile("Take back")).click()
    expect(tab.get_by_text("counts again")).to_be_visible()
    expect(tab.locator("[data-findings-count]")).to_have_text(str(count))


def test_from_a_pin_to_the_place_and_back_to_the_line(desk: Desk) -> None:
    tab = desk.tab
    tab.goto(f"{desk.server}/marrowby-canal-trust/findings/?level=stuck")
    row(desk, "No hash in front").locator(".finding-pins a").first.press("Enter")
    tab.wait_for_url("**/?finding=*#hop-*")
    expect(tab.get_by_text("You came from Findings, for “Staircase”")).to_be_visible()
    expect(tab.get_by_role("heading", name="Staircase", exact=False).first).to_be_visible()
    on_page = desk.site.pages.get(path="/lock-guide/")
    count = findings.by_page([on_page])[on_page.pk]
    tab.get_by_role("button", name="Back to the outline").click()
    shown = tab.locator("[data-page-findings]")
    expect(shown.get_by_role("link", name=f"{count} findings on this page")).to_be_visible()
    tab.get_by_role("link", name="Back to it").click()
    again = row(desk, "No hash in front")
    expect(again.get_by_role("link", name="Staircase").first).to_be_visible()
    expect(again).to_have_class(re.compile("open"))


def test_a_rule_has_its_page_and_the_list_its_files(desk: Desk) -> None:
    tab, base = desk.tab, f"{desk.server}/marrowby-canal-trust"
    tab.goto(f"{base}/findings/")
    row(desk, "No hash in front").get_by_role("link", name="Why it matters").click()
    expect(tab.get_by_role("heading", name="No hash in front", level=1)).to_be_visible()
    expect(tab.get_by_role("link", name="URL Standard, “URL parsing”")).to_be_visible()
    count = findings.counted(desk.site)
    found = json.loads(tab.request.get(f"{base}/findings/file/json/").text())
    assert len(found["findings"]) == count
    csv = tab.request.get(f"{base}/findings/file/csv/").body().decode("utf-8-sig").splitlines()
    assert csv[0].startswith("file,line,column,rule,level,title")
    assert len(csv) == count + 1


def test_words_that_name_a_section_become_a_hop(desk: Desk) -> None:
    desk.paste(
        "/offers/",
        "<title>Offers</title><h1>Offers</h1><p>Please read mooring overnight before you go, "
        "and rings, bollards and pins.</p>",
    )
    tab = desk.tab
    tab.get_by_role("button", name="Find words that could be hops").click()
    expect(desk.shown("2 places name a section and lead nowhere.")).to_be_visible()
    row = tab.get_by_role("listitem").filter(has_text="“Mooring overnight” on Skipper’s handbook")
    row.get_by_role("button", name="Make it a hop").click()
    desk.hears("mooring overnight")
    expect(desk.shown("These words name a section and lead nowhere.")).to_be_visible()
    markup = desk.markup("/offers/")
    assert '<a href="/skippers-handbook/#mooring-overnight">mooring overnight</a>' in markup


def test_words_of_the_whole_site_become_hops_from_the_list(desk: Desk) -> None:
    words = "Please read mooring overnight before you go, and rings, bollards and pins."
    desk.paste("/offers/", f"<title>Offers</title><h1>Offers</h1><p>{words}</p>")
    tab = desk.tab
    tab.goto(f"{desk.server}/marrowby-canal-trust/findings/")
    tab.get_by_role("button", name="Look for them").click()
    rows = tab.get_by_role("list", name="Words that could be hops").get_by_role("listitem")
    ours = rows.filter(has=tab.get_by_role("link", name="Offers", exact=True))
    expect(ours.first).to_contain_text("“Mooring overnight”")
    before = rows.count()
    tab.get_by_text(f"{before} places name a section and lead nowhere.").wait_for()
    # A section without an ID is marked in the same change, and taken back with it.
    unmarked = ours.filter(has_text="“Rings, bollards").filter(has_text="marked with it")
    unmarked.get_by_role("button", name="Make it a hop").click()
    expect(rows).to_have_count(before - 1)
    assert '#rings-bollards-and-pins">rings, bollards and pins</a>' in desk.markup("/offers/")
    assert 'id="rings-bollards-and-pins"' in desk.markup("/skippers-handbook/")
    tab.get_by_role("button", name="Undo").click()
    expect(rows).to_have_count(before)
    ours.first.get_by_role("button", name="Make it a hop").click()
    expect(ours.filter(has_text="Mooring overnight")).to_have_count(0)
    assert '/#mooring-overnight">mooring overnight</a>' in desk.markup("/offers/")
    assert "rings-bollards" not in desk.markup("/skippers-handbook/")


def test_what_changes_in_many_places_is_seen_before_it_is_done(desk: Desk) -> None:
    """Seen: twelve lines were made headings with one click."""
    lines = "".join(f"<p><b>Line {at}</b></p><p>About {at}.</p>" for at in range(12))
    desk.paste("/bold/", f"<!doctype html><title>Bold</title><h1>Bold</h1>{lines}")
    page = desk.site.pages.get(path="/bold/")
    before = desk.markup("/bold/")
    desk.tab.goto(f"{desk.server}/marrowby-canal-trust/findings/?level=better&page={page.pk}")
    bold = row(desk, "A line serves as a heading")
    bold.get_by_role("button", name="Make them headings").click()
    expect(bold.get_by_text("What changes in the markup, on 1 page")).to_be_visible()
    assert desk.markup("/bold/") == before
    bold.get_by_role("button", name="Yes, in all 12 places").click()
    expect(desk.tab.get_by_text("serves as a heading”: 12 places")).to_be_visible()
