"""The whole path in the real interface: bring in, mark, hop, visit, undo, take away."""

from __future__ import annotations

import io
import re
import zipfile

from playwright.sync_api import expect

from innerhop.practice import demo
from tests.browser.conftest import Desk, until


def test_from_files_to_a_working_hop_and_away(desk: Desk) -> None:
    # Sign in.
    desk.tab.context.clear_cookies()
    tab = desk.home()
    tab.get_by_role("button", name="Sign in as the demo editor").click()
    # Bring in.
    tab.get_by_role("link", name="Bring in pages").click()
    markup = b"<title>Towpath</title>\n<h1>Towpath</h1>\n<H2 class=x>Getting on</h2>\n<p>Nettles.\n"
    tab.locator("input[type=file]").set_input_files(
        [{"name": "towpath.html", "mimeType": "text/html", "buffer": markup}]
    )
    tab.get_by_role("button", name="Bring in the files").click()
    expect(tab.get_by_role("heading", name="1 page came in")).to_be_visible()
    tab.get_by_label("Address of Towpath").fill("/towpath/")
    tab.get_by_role("button", name="Keep these addresses").click()
    tab.get_by_role("link", name="Towpath", exact=True).click()
    desk.wait_for_sheet()

    # Mark with one click in the sheet; the typed hash is taken off and said.
    desk.click("h2")
    field = tab.get_by_label("ID for this section")
    expect(field).to_have_value("getting-on")
    field.fill("# Getting")
    expect(field).to_have_value("Getting")
    expect(tab.locator("#id-message")).to_contain_text("The # is put in front for you")
    field.fill("getting on")
    expect(tab.locator("#id-message")).to_contain_text("can't hold spaces")
    tab.get_by_role("button", name="Use getting-on").click()
    expect(tab.locator("#id-message")).to_have_text("Free on this page")
    field.press("Enter")
    desk.hears("Marked “Getting on” as #getting-on")
    expect(tab.locator(".ruler-section")).to_have_attribute("aria-label", "Getting on, #getting-on")
    assert '<H2 id="getting-on" class=x>Getting on' in desk.markup("/towpath/")

    # Copy a link.
    tab.get_by_role("button", name="/towpath/#getting-on", exact=False).first.click()
    assert tab.evaluate("navigator.clipboard.readText()") == "/towpath/#getting-on"

    # A hop from another page, ending at a section that gets its mark in the same change.
    desk.open("/skippers-handbook/")
    desk.select("the lifebelt")
    expect(tab.get_by_role("heading", name="Make a hop")).to_be_visible()
    tab.get_by_label("Where the hop ends").fill("paddle gear")
    tab.get_by_role("option", name="A note on paddle gear").click()
    expect(desk.shown("/lock-guide/#a-note-on-paddle-gear")).to_be_visible()
    tab.get_by_role("button", name="Save the hop").click()
    desk.hears("Linked “the lifebelt” to")
    assert '<a href="/lock-guide/#a-note-on-paddle-gear">the lifebelt</a>' in desk.markup(
        "/skippers-handbook/"
    )
    assert 'id="a-note-on-paddle-gear"' in desk.markup("/lock-guide/")

    # Visit: the hop jumps and the address bar shows the hash.
    with tab.expect_popup() as popup:
        tab.get_by_role("link", name="Visit", exact=True).click()
    visit = popup.value
    visit.get_by_role("link", name="the lifebelt").click()
    visit.wait_for_url("**/lock-guide/#a-note-on-paddle-gear")
    assert visit.url.startswith("http://localhost:")
    target = "document.querySelector(':target')"
    assert visit.evaluate(f"{target}.textContent") == "A note on paddle gear"
    # The page ends before the heading can reach the top, so the end of the page it is.
    visit.wait_for_function("scrollY + innerHeight >= document.body.scrollHeight - 1")
    visit.close()

    # Undo over a reload, on both pages.
    tab.reload()
    desk.wait_for_sheet()
    tab.get_by_role("button", name="Undo", exact=True).first.click()
    desk.hears("Undone: Linked “the lifebelt”")
    assert "a-note-on-paddle-gear" not in desk.markup("/lock-guide/")
    tab.get_by_role("button", name="Redo", exact=True).click()
    desk.hears("Done again: Linked “the lifebelt”")
    assert "a-note-on-paddle-gear" in desk.markup("/lock-guide/")

    # Download: the difference first, then the file, then the site.
    tab.get_by_role("link", name="Download").click()
    expect(tab.locator("ins").first).to_contain_text("<a href=")
    with tab.expect_download() as download:
        tab.get_by_role("link", name="Download the file").click()
    assert b"the lifebelt</a>" in download.value.path().read_bytes()
    tab.get_by_role("link", name="Hand over").click()
    expect(tab.get_by_role("heading", name="3 pages changed")).to_be_visible()
    with tab.expect_download() as download:
        tab.get_by_role("link", name="Download the whole site").click()
    with zipfile.ZipFile(io.BytesIO(download.value.path().read_bytes())) as archive:
        changed = {"skippers-handbook/index.html", "lock-guide/index.html", "towpath.html"}
        for name, data in demo.files():
            assert (archive.read(name) == data) == (name not in changed)
        assert archive.read("towpath.html") == markup.replace(b"<H2", b'<H2 id="getting-on"')


def test_what_can_t_be_linked_offers_the_nearest(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/skippers-handbook/")
    desk.select("stop above the flight", until="stop planks")
    expect(tab.get_by_role("alert")).to_contain_text("A link can't stand inside a link")
    tab.get_by_role("button", name="Take these words").click()
    expect(tab.get_by_text("“stop above the flight, and the”")).to_be_visible()
    expect(tab.get_by_label("Where the hop ends")).to_be_visible()


def test_choosing_on_one_shows_on_the_others(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/skippers-handbook/")
    tab.locator(".ruler-section", has_text="Winter on the cut").or_(
        tab.get_by_role("button", name="Winter on the cut, #winter")
    ).first.click(position={"x": 20, "y": 8})
    expect(tab.get_by_role("heading", name="Winter on the cut", level=2)).to_be_visible()
    y = desk.sheet.evaluate("document.getElementById('winter').getBoundingClientRect().top")
    assert 0 < y < 400
    landing = tab.get_by_role("button", name=re.compile("Winter on the cut screen"))
    landing.click()
    expect(tab.get_by_text("A hop to a place on this page")).to_be_visible()
    tab.keyboard.press("Escape")
    expect(tab.get_by_role("heading", name="Outline")).to_be_visible()


def test_the_window_on_the_ruler_moves_the_sheet(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/skippers-handbook/")
    grip = tab.locator(".ruler-grip").bounding_box()
    assert grip is not None
    tab.mouse.move(grip["x"] + 4, grip["y"] + 10)
    tab.mouse.down()
    tab.mouse.move(grip["x"] + 4, grip["y"] + 210)
    tab.mouse.up()
    until(desk.sheet, "scrollY > 2000")
    window = tab.get_by_role("slider", name="Where the sheet is")
    expect(window).to_have_attribute("aria-valuetext", re.compile(r"\d\.\d screens down"))
    window.focus()
    window.press("Home")
    until(desk.sheet, "scrollY === 0")


def test_three_widths_lay_the_page_out_anew(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/skippers-handbook/")
    heights = {}
    for name, width in (("Phone", 390), ("Tablet", 820), ("Laptop 1280", 1280)):
        tab.get_by_role("button", name=name, exact=True).click()
        until(desk.sheet, f"innerWidth === {width}")
        heights[width] = desk.sheet.evaluate("document.scrollingElement.scrollHeight")
        page = desk.site.pages.get(path="/skippers-handbook/")
        for _ in range(50):
            kept = page.measures.filter(width=width).first()
            if kept:
                break
            tab.wait_for_timeout(100)
        assert kept is not None
        assert abs(kept.height - heights[width]) <= 1
    assert heights[390] > heights[820] > heights[1280] > 12 * 800


def test_a_second_editor_keeps_what_they_typed(desk: Desk) -> None:
    tab = desk.tab
    desk.open("/moorings/")
    tab.get_by_role("button", name="The waiting list").last.click()
    field = tab.get_by_label("ID for this section")
    expect(field).to_have_value("the-waiting-list")
    field.fill("the-list")
    other = tab.context.new_page()
    other.goto(tab.url)
    other.get_by_role("button", name="The waiting list").last.click()
    other.get_by_role("button", name="Mark this section").click()
    second = Desk(other, desk.server, desk.site)
    second.hears("Marked “The waiting list”")
    other.get_by_role("button", name="Undo", exact=True).first.click()
    second.hears("Undone")
    tab.get_by_role("button", name="Mark this section").click()
    expect(tab.get_by_role("alert").last).to_contain_text("while you worked")
    tab.get_by_role("button", name="Use the page as it is now").click()
    expect(tab.get_by_label("ID for this section")).to_have_value("the-list")
    tab.get_by_role("button", name="Mark this section").click()
    desk.hears("Marked “The waiting list” as #the-list")


def test_smooth_only_for_visitors_who_want_motion(desk: Desk) -> None:
    tab = desk.tab
    tall = '<p style="height:3000px">'
    desk.paste(
        "/jolt/",
        f"<title>Jolt</title><p><a href=#end>down</a>{tall}<h2 id=end>End</h2>{tall}",
    )
    tab.get_by_role("button", name="Turn on smooth scrolling").click()
    tab.get_by_role("button", name="This page only").click()
    tab.get_by_role("button", name="Turn it on for this page").click()
    desk.hears("Hops on this page scroll smoothly")
    page = desk.site.pages.get(path="/jolt/")
    url = f"{desk.server}{page.get_absolute_url()}visit/"
    for motion, glides in (("no-preference", True), ("reduce", False)):
        tab.emulate_media(reduced_motion=motion)  # type: ignore[arg-type]
        tab.goto(url)
        # CSSOM View: "smooth" lets the user agent glide, "auto" jumps at once.
        behavior = tab.evaluate("getComputedStyle(document.documentElement).scrollBehavior")
        assert (behavior == "smooth") == glides
        tab.get_by_role("link", name="down").click()
        tab.wait_for_function(
            "Math.abs(document.querySelector('h2').getBoundingClientRect().top) < 1"
        )
