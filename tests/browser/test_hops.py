"""Hops through the real interface: from any start, to any end, in any form, seen whole,
on the map and on the copy sheet; and what is written is followed in a visitor's
browser, which has to arrive at the element that was meant."""

from __future__ import annotations

import json
import re

import pytest
from playwright.sync_api import Page as Tab
from playwright.sync_api import expect

from innerhop.core.addresses import address_forms, urls
from innerhop.core.facts import hidden_parts
from innerhop.library.acts import hop_acts
from innerhop.library.acts.ends import End
from innerhop.library.changes.write import save
from innerhop.library.models import Editor
from innerhop.practice import demo
from tests.browser.conftest import Desk
from tests.browser.test_every_state import axe
from tests.core.test_hidden_parts import CASES
from tests.library.test_changes import page_at, words_in

HANDBOOK, LOCKS, MOORINGS = "/skippers-handbook/", "/lock-guide/", "/moorings/"

# Addresses that people type, and the oddities of the URL Standard's own parsing. Left
# out is a space in a host, which the standard refuses and Chromium writes as %20.
TYPED = [
    "#fees", "#", "", "?q#x", "//host/path", "\\\\host\\path", "/a\\b", "a b", "  /x  ",
    "/\tx\n", "http:x", "https:/x", "https://bücher.example/ä#ö", "#%zz", "#%C3%BC", "#ü",
    "#a b`<>",     "../../..", "./x:y", "x:y", "mailto:a@b.example", "javascript:alert(1)", "https://[::1]/",
    "https://h:99999/", "https://1.2.3/", "https://EXAMPLE.com:443/%7Ea/./b/..",
    "https://xn--a/", "/%2e%2E/x", ";x=1", "https://h?q#f#g",
]  # fmt: skip


@pytest.mark.parametrize("base", ["https://marrowby.example/a/b/c?q#f", "http://x.example/"])
def test_addresses_resolve_as_in_chromium(tab: Tab, base: str) -> None:
    """URL Standard 4.4: Chromium's own `URL` as the second implementation."""
    found = tab.evaluate(
        "([all, base]) => all.map((one) => {"
        " try { return new URL(one, base).href } catch { return null } })",
        [TYPED, base],
    )
    for text, href in zip(TYPED, found, strict=True):
        ours = urls.resolve(text, base)
        assert (ours.href if ours else None) == href, text


@pytest.mark.parametrize(("markup", "state"), CASES)
def test_shut_parts_open_as_in_chromium(tab: Tab, markup: str, state: str) -> None:
    """HTML Standard, "ancestor revealing algorithm"; CSSOM View, a part without a box
    is not scrolled to."""
    body = (
        f"<!doctype html><body><div style='height:3000px'></div>{markup}<p style='height:3000px'>"
    )
    tab.route(
        "https://shut.example/**", lambda route: route.fulfill(body=body, content_type="text/html")
    )
    tab.goto("https://shut.example/#x")
    tab.wait_for_function("document.readyState === 'complete'")
    tab.wait_for_timeout(60)
    moved = tab.evaluate("window.scrollY > 0")
    shown = tab.evaluate("document.querySelector('#x').checkVisibility()")
    assert (moved, shown) == (state != hidden_parts.HIDDEN, state != hidden_parts.HIDDEN)


def test_every_form_arrives_in_a_visitor_s_browser(desk: Desk) -> None:
    """Each form is written into a page, served, and clicked; the element that the
    browser targets (CSS `:target`) has to be the one that was meant."""
    site, editor = desk.site, Editor.objects.get(username=demo.EDITOR)
    guide = page_at(site, LOCKS)
    words = ("honesty box", "the last shop", "Forty boats")
    page = page_at(site, MOORINGS)
    forms = (address_forms.PATH, address_forms.RELATIVE, address_forms.HASH)
    for form, word in zip(forms, words, strict=True):
        page.refresh_from_db()
        end = End(page, "fees") if form == address_forms.HASH else End(guide, "summit")
        act = hop_acts.hop(page, words_in(page, word), end, hop_acts.Manner(form))
        save(site, editor, act.message, act.plans)
    for word, id_ in zip(words, ("summit", "summit", "fees"), strict=True):
        desk.open(MOORINGS)
        with desk.tab.context.expect_page() as opened:
            desk.tab.get_by_role("link", name="Visit").click()
        visit = opened.value
        visit.get_by_role("link", name=word).first.click()
        visit.wait_for_url(f"**#{id_}")
        assert visit.evaluate("document.querySelector(':target').id") == id_
        visit.close()


def test_a_picture_becomes_a_start_and_a_button_is_copied_beside_itself(desk: Desk) -> None:
    desk.open("/")
    desk.click("main svg, main img")
    desk.press("Make a hop of it")
    desk.side.get_by_label("Where the hop ends").fill("/lock-guide/#summit")
    desk.side.get_by_text("It leads to a mark on that page.").wait_for()
    desk.tab.keyboard.press("Enter")
    expect(desk.shown("What changes in the markup")).to_be_visible()
    desk.press("Save the hop")
    desk.hears("Linked the")
    assert re.search(r'<a href="/lock-guide/#summit"><(svg|img)', desk.markup("/"))

    desk.open("/")
    desk.click("main a[class]")
    desk.press("Put a link beside it")
    expect(desk.side.get_by_label("How it looks")).not_to_have_value("")
    desk.side.get_by_label("Words that readers click").fill("Ask about moorings")
    desk.side.get_by_label("Where the hop ends").fill("fees")
    desk.side.get_by_role("option", name="Fees for a year").click()
    desk.press("Save the hop")
    desk.hears("Put in a link “Ask about moorings” to /moorings/#fees")
    assert 'href="/moorings/#fees">Ask about moorings</a>' in desk.markup("/")


def test_a_tile_is_copied_with_its_link(desk: Desk) -> None:
    tile = (
        "<article class=card><img src=/{n}.svg alt=''><h3>Lock {n}</h3><p>It has {n} gates.</p>"
        "<a href=/{n}/>Read more</a></article>"
    )
    tiles = "".join(tile.format(n=n) for n in (1, 2))
    desk.paste("/tiles/", f"<title>Tiles</title><div>{tiles}</div><h2 id=ice>Ice</h2><p>Then.</p>")
    desk.click("article p")
    desk.press("Put a link beside it")
    expect(desk.side.get_by_text("Its picture comes along")).to_be_visible()
    desk.side.get_by_label("Words that readers click").fill("When it freezes")
    desk.side.get_by_label("Where the hop ends").fill("#ice")
    desk.side.get_by_text("It leads to a mark on this page.").wait_for()
    desk.tab.keyboard.press("Enter")
    desk.shown("What changes in the markup").wait_for()
    desk.press("Save the hop")
    desk.hears("Put in a link “When it freezes”")
    copy = (
        "<article class=card><img src=/1.svg alt=''><h3>When it freezes</h3><p></p>"
        "<a href=#ice>Read more</a></article>"
    )
    assert tile.format(n=1) + copy in desk.markup("/tiles/")


def test_a_button_of_our_own_has_the_colour_of_links_and_words_that_can_be_read(desk: Desk) -> None:
    """WCAG 2.2, 1.4.3, by axe-core, on a page whose own rules for links would win over a
    class alone."""
    styles = "<style>main a, main a:visited { color: #ffe680 } body { background: #222 }</style>"
    text = "<main><h1>Book</h1><p id=here>Come <a href=#here>along</a>.</p></main>"
    desk.paste("/book/", f"<!doctype html><html lang=en><title>Book</title>{styles}{text}")
    desk.click("h1")
    desk.press("Put a link beside it")
    desk.side.get_by_label("How it looks").select_option("own")
    desk.side.get_by_label("Words that readers click").fill("Book a boat")
    desk.side.get_by_label("Where the hop ends").fill("here")
    ends = desk.side.get_by_role("listbox", name="Sections and marks")
    ends.get_by_role("option", name="here").first.click()
    desk.press("Save the hop")
    desk.hears("Put in a link “Book a boat”")
    desk.tab.goto("about:blank")  # no policy of ours holds there
    desk.tab.set_content(desk.markup("/book/"))
    button = desk.tab.get_by_role("link", name="Book a boat")
    expect(button).to_have_css("background-color", "rgb(255, 230, 128)")
    expect(button).to_have_css("color", "rgb(0, 0, 0)")
    button.hover()
    assert axe(desk.tab, {"runOnly": ["color-contrast"]}, ".hop-button") == []


def test_an_end_is_found_in_any_way_with_the_keyboard_alone(desk: Desk) -> None:
    desk.open(MOORINGS)
    desk.tab.get_by_label("Link words on this page").fill("honesty box")
    desk.tab.keyboard.press("Enter")
    field = desk.side.get_by_label("Where the hop ends")
    expect(field).to_be_focused()
    field.fill("https://marrowby.example/lock-guide?preview=true#sumit")
    expect(desk.side.get_by_text("has the ID “sumit”")).to_be_visible()
    expect(desk.side.get_by_role("option").first).to_contain_text("A slip of a letter.")
    field.fill("Lock guide")
    page_row = desk.side.get_by_role("option", name="Lock guide /lock-guide/ page")
    expect(page_row).to_be_visible()
    while page_row.get_attribute("aria-selected") != "true":
        desk.tab.keyboard.press("ArrowDown")
    desk.tab.keyboard.press("ArrowRight")
    expect(desk.side.get_by_role("option", name="The river locks")).to_be_visible()
    desk.tab.keyboard.press("ArrowDown")
    desk.tab.keyboard.press("Enter")
    expect(
        desk.side.get_by_role("radio", name=re.compile("address stands in front"))
    ).to_be_checked()
    expect(
        desk.side.get_by_role("radio", name=re.compile("leads to another page"))
    ).to_be_disabled()
    desk.side.get_by_role("radio", name=re.compile("anywhere")).check()
    expect(desk.side.locator(".form.on")).to_contain_text("https://marrowby.example/lock-guide/#")
    save_it = desk.side.get_by_role("button", name="Save the hop")
    expect(save_it).to_be_enabled()
    save_it.press("Enter")
    desk.hears("Linked “honesty box” to https://marrowby.example/lock-guide/#the-flight")


def test_after_saving_the_sheet_stays_where_it_was(desk: Desk) -> None:
    desk.open(HANDBOOK)
    desk.select("mooring lines coiled")
    before = desk.sheet.evaluate("window.scrollY")
    assert before > 0
    desk.tab.get_by_role("option", name="Winter on the cut").click()
    desk.press("Save the hop")
    desk.hears("Linked")
    desk.tab.wait_for_timeout(1500)
    assert abs(desk.sheet.evaluate("window.scrollY") - before) <= 2


@pytest.mark.parametrize(
    ("text", "message"),
    [
        ("javascript:alert(1)", "is a program"),
        ("https://exa mple.com/#x", "No browser can read this"),
        ("/lock-gide/", "No page of this site has the address"),
    ],
)
def test_what_is_no_end_is_told_as_it_is_typed(desk: Desk, text: str, message: str) -> None:
    desk.open(MOORINGS)
    desk.select("honesty box")
    desk.side.get_by_label("Where the hop ends").fill(text)
    expect(desk.shown(message)).to_be_visible()


def test_a_start_on_the_ruler_is_dragged_to_a_section(desk: Desk) -> None:
    tab = desk.tab
    desk.open(HANDBOOK)
    start = tab.locator(".ruler-start").nth(9)
    section = tab.locator(".ruler-section", has=tab.locator("rect")).nth(2)
    title = section.get_attribute("aria-label")
    assert title
    box, to = start.bounding_box(), section.bounding_box()
    assert box
    assert to
    tab.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    tab.mouse.down()
    tab.mouse.move(to["x"] + 40, to["y"] + 12, steps=4)
    expect(tab.locator(".ruler-section.aimed")).to_have_attribute("aria-label", title)
    tab.mouse.up()
    expect(desk.side.get_by_text(title.split(",")[0]).locator("visible=true").first).to_be_visible()
    expect(desk.shown("What changes in the markup")).to_be_visible()
    desk.press("Save the hop")
    desk.hears("leads to #")


def test_a_hop_is_written_another_way_and_opens_elsewhere(desk: Desk) -> None:
    desk.open(HANDBOOK)
    desk.side.get_by_role("button", name=re.compile("^stop planks note")).click()
    desk.press("Change how it is written")
    desk.side.get_by_role("radio", name=re.compile("own place")).check()
    desk.side.get_by_label("Open it in a new tab").check()
    expect(desk.shown("target")).to_be_visible()
    desk.press("Save the hop")
    desk.hears("leads to ../lock-guide/#stop-planks now")
    assert '<a target="_blank" href="../lock-guide/#stop-planks">' in desk.markup(HANDBOOK)
    desk.side.get_by_role("button", name=re.compile("^stop planks note")).click()
    desk.press("Change where it leads")  # the box says how the link opens now
    desk.side.get_by_label("Where the hop ends").fill("fees")
    desk.side.get_by_role("option", name="Fees for a year").click()
    expect(desk.side.get_by_label("Open it in a new tab")).to_be_checked()
    desk.press("Cancel")
    desk.press("Open in the same tab")
    desk.hears("opens in the same tab now")
    assert '<a href="../lock-guide/#stop-planks">' in desk.markup(HANDBOOK)


def test_all_hops_of_a_page_are_written_another_way(desk: Desk) -> None:
    desk.open(HANDBOOK)
    desk.press("Change how they are written")
    desk.side.get_by_label("Write them with").select_option("absolute")
    expect(desk.shown("What changes in the markup")).to_be_visible()
    desk.press("Write them so")
    desk.hears("with the whole address")
    assert 'href="https://marrowby.example/lock-guide/#stop-planks"' in desk.markup(HANDBOOK)


def test_there_and_back(desk: Desk) -> None:
    desk.open(HANDBOOK)
    desk.side.get_by_role("button", name=re.compile("^stop planks note")).click()
    desk.side.get_by_role("button", name=re.compile("^Stop planks Lock guide")).click()
    desk.tab.wait_for_url(re.compile(r"#stop-planks$"))
    expect(desk.side.get_by_text("You came by “stop planks note”")).to_be_visible()
    desk.side.get_by_role("button", name="Back to it").click()
    desk.tab.wait_for_url(re.compile(r"#hop-\d+$"))
    expect(desk.side.get_by_role("heading", name="stop planks note")).to_be_visible()


def test_a_link_is_copied_from_a_heading_by_pointing_at_it(desk: Desk) -> None:
    desk.open(HANDBOOK)
    x, y, scale = desk.place_of(
        "const e = document.querySelector('#your-first-lock');"
        "const top = e.getBoundingClientRect().top + scrollY - 300;"
        "window.scrollTo({ top, behavior: 'instant' });"
        "return e.getBoundingClientRect().toJSON()"
    )
    desk.tab.mouse.move(x + 30 * scale, y + 8 * scale)
    desk.tab.frame_locator("iframe").get_by_role("button", name="Copy a link").wait_for()
    x, y, scale = desk.place_of(
        "const { shadowRoot } = document.querySelector('inner-hop-marks');"
        "return shadowRoot.querySelector('.copy').getBoundingClientRect().toJSON()"
    )
    desk.tab.mouse.move(x + 20 * scale, y + 10 * scale, steps=3)
    desk.tab.mouse.click(x + 20 * scale, y + 10 * scale)
    desk.hears("Copied /skippers-handbook/#your-first-lock")
    kept = "navigator.clipboard.readText()"
    assert desk.tab.evaluate(kept) == "/skippers-handbook/#your-first-lock"
    desk.tab.get_by_role("button", name="for other sites, mail").click()
    desk.hears("Copied https://marrowby.example/")
    assert desk.tab.evaluate(kept) == "https://marrowby.example/skippers-handbook/#your-first-lock"


def test_the_list_of_hops_by_where_they_lead(desk: Desk) -> None:
    desk.open(LOCKS)
    kinds = desk.side.get_by_role("group", name="Which hops are listed")
    counts = {
        one.split(" ")[0]: int(one.split(" ")[1])
        for one in kinds.get_by_role("button").all_inner_texts()
    }
    assert counts["Broken"] > 0
    kinds.get_by_role("button", name=re.compile("^In")).click()
    rows = desk.side.locator(".row[data-lights]").locator("visible=true")
    expect(rows).to_have_count(counts["In"])
    kinds.get_by_role("button", name="Broken").click()
    expect(rows).to_have_count(counts["Broken"])


def test_the_map_of_a_site_and_of_one_page(desk: Desk) -> None:
    tab = desk.home()
    tab.get_by_role("link", name="Map").click()
    expect(tab.locator(".map-page")).to_have_count(desk.site.pages.count())
    menu = tab.locator('.map-hop[data-kind="menu"]')
    assert 0 < menu.count() < 7  # one for each item, not for each page
    expect(menu.first).to_be_visible()
    tab.get_by_label("From the menu").uncheck()
    expect(menu.first).to_be_hidden()
    tab.get_by_label("Title or address of a page").fill("stoppages")
    tab.get_by_role("button", name="Show its neighbours").click()
    expect(
        tab.get_by_role("heading", name="Stoppages and winter works and its neighbours")
    ).to_be_visible()
    expect(tab.locator(".map-page.centre")).to_have_count(1)
    tab.locator(".map-page:not(.centre) .map-title").first.click()
    tab.wait_for_url("**?page=*")
    tab.get_by_role("link", name="Open this page").click()
    expect(tab.locator(".ruler-section").first).to_be_visible()


def test_a_copy_sheet_is_ticked_off_and_taken_away(desk: Desk) -> None:
    tab = desk.tab
    tab.goto(f"{desk.server}/marrowby-canal-trust/hand-over/copy-sheet/")
    expect(tab.get_by_text("nothing to enter anywhere yet")).to_be_visible()
    desk.open(LOCKS)
    desk.side.get_by_role("button", name="Use it for Staircase").click()
    desk.hears("leads to #staircase-locks now")
    tab.get_by_role("link", name="Hand over").click()
    tab.get_by_role("link", name="Copy sheet", exact=True).click()
    expect(tab.get_by_text("1 left to do")).to_be_visible()
    box = tab.get_by_role("checkbox", name="Link it to · button “Staircase”")
    expect(tab.get_by_text("instead of staircase-locks")).to_be_visible()
    tab.get_by_role("button", name="#staircase-locks").click()
    assert tab.evaluate("navigator.clipboard.readText()") == "#staircase-locks"
    box.check()
    expect(tab.get_by_text("0 left to do")).to_be_visible()
    tab.reload()
    expect(box).to_be_checked()
    with tab.expect_download() as download:
        tab.get_by_role("link", name="Download as JSON").click()
    sheet = json.loads(download.value.path().read_text())
    assert sheet["steps"][0]["done"] is True
    tab.emulate_media(media="print")
    expect(tab.get_by_role("button", name="Print")).to_be_hidden()
    expect(box).to_be_visible()


def test_a_link_is_reworded_on_its_desk_and_taken_off_so_that_its_words_stay(desk: Desk) -> None:
    link = '<p>See <a class="b" href=#fees>the <b>fees</b></a> first.</p>'
    page = f"<!doctype html><title>Fees</title><h1>All</h1>{link}<h2 id=fees>Fees</h2><p>x</p>"
    desk.paste("/fees/", page)
    desk.tab.locator(".hop-row, .row").filter(has_text="the fees").first.click()
    desk.press("Change its words")
    desk.side.get_by_label("What readers click").fill("What it costs")
    expect(desk.side.locator("ins:visible").first).to_be_visible()
    desk.press("Save the words")
    desk.hears("The link “the fees” says “What it costs” now")
    assert '<a class="b" href=#fees>What it costs</a>' in desk.markup("/fees/")
    desk.press("Take the link off, its words stay")
    desk.hears("Took the link off “What it costs”, which led to #fees")
    assert "<p>See What it costs" in desk.markup("/fees/")
    desk.tab.get_by_role("button", name="Undo", exact=True).first.click()
    desk.hears("Undone")
    assert '<a class="b" href=#fees>What it costs</a>' in desk.markup("/fees/")


def test_what_is_called_as_the_selected_words_comes_first_and_nothing_is_said_to_be_missing(
    desk: Desk,
) -> None:
    """Seen: “No page, section or mark has these words” before anything was typed."""
    desk.paste(
        "/none/", "<!doctype html><title>None</title><h1>None</h1><p>Mind the stop planks.</p>"
    )
    desk.select("Mind")
    ends = desk.side.get_by_role("listbox", name="Sections and marks")
    expect(ends).to_contain_text("Type words, an ID or any address")
    desk.select("stop planks")
    expect(ends.get_by_role("option").first).to_contain_text("Stop planks")
    desk.side.get_by_label("Where the hop ends").fill("nothing like this")
    expect(ends).to_contain_text("No page, section or mark has these words")


def test_the_same_words_become_hops_too_seen_first(desk: Desk) -> None:
    desk.open(HANDBOOK)
    desk.select("windlass")
    desk.tab.locator("#end-asked").fill("Going through a tunnel")
    desk.tab.get_by_role("option").first.click()
    desk.tab.get_by_label("in 4 places on this page").check()
    desk.shown("and in 4 other places").wait_for()
    changes = desk.side.get_by_label("What changes in the markup").get_by_role("listitem")
    expect(changes).to_have_count(4)  # two of the five stand side by side
    desk.press("Save the hop")
    desk.hears("and in 4 other places")
    assert desk.markup(HANDBOOK).count('<a href="#tunnels">windlass</a>') == 5


def test_what_is_pointed_at_in_the_sheet_is_the_end_and_drops_nothing(desk: Desk) -> None:
    """Seen: a click beside the words threw away the hop that was being made of them."""
    desk.open(HANDBOOK)
    desk.select("the lifebelt")
    option = desk.side.get_by_role("option", name="Mooring overnight").first
    option.hover()
    expect(desk.tab.locator(".outline-row.lit, [data-n].lit").first).to_be_attached()
    desk.click("#your-first-lock")
    desk.shown("Another").wait_for()
    expect(desk.shown("Your first lock")).to_be_visible()
    x, y, _ = desk.place_of("return document.body.getBoundingClientRect().toJSON()")
    desk.tab.mouse.click(x + 4, y + 4)
    expect(desk.shown("“the lifebelt”")).to_be_visible()
    desk.click("#your-first-lock + p")
    expect(desk.side.get_by_label("It has no mark yet and gets this ID")).not_to_have_value("")
    desk.press("Save the hop")
    desk.hears("Linked “the lifebelt” to #")
