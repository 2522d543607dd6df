"""The ruler is to scale, tells kinds of hop apart, and holds what is crowded,
empty or shut."""

from __future__ import annotations

import io
import zipfile
from urllib.parse import urlsplit

import pytest
from playwright.sync_api import expect

from innerhop.visitor import passes
from tests.browser.conftest import Desk, until

TOPS = """() => Object.fromEntries([...document.querySelectorAll('h2,h3')].map(
  e => [e.dataset.hopN, e.getBoundingClientRect().top + scrollY]))"""
STRIPS = """() => Object.fromEntries([...document.querySelectorAll('.ruler-section')].map(
  e => [e.dataset.n, e.querySelector('rect').getBoundingClientRect().top]))"""


def test_strips_stand_where_their_headings_do(desk: Desk) -> None:
    """Within a pixel of the drawing, from boxes measured in the sheet (CSSOM View)."""
    desk.open("/skippers-handbook/")
    tops = desk.sheet.evaluate(TOPS)
    strips = desk.tab.evaluate(STRIPS)
    height = desk.sheet.evaluate("document.scrollingElement.scrollHeight")
    ruler = desk.tab.locator("svg.ruler").bounding_box()
    assert ruler is not None
    scale = (ruler["height"] - 28) / height
    assert len(strips) == 16
    for number, drawn in strips.items():
        assert drawn == pytest.approx(ruler["y"] + 14.75 + tops[number] * scale, abs=1)


def test_kinds_of_hop_differ_by_their_line(desk: Desk) -> None:
    desk.open("/skippers-handbook/")
    dashes = desk.tab.evaluate(
        "() => Object.fromEntries([...document.querySelectorAll('.ruler-hop')].map(g =>"
        " [g.dataset.kind, g.querySelector('path').getAttribute('stroke-dasharray')]))"
    )
    assert dashes.keys() == {"here", "there", "menu", "back", "broken"}
    assert len({dashes["here"], dashes["there"], dashes["menu"], dashes["back"]}) == 4
    broken = desk.tab.locator('.ruler-hop[data-kind="broken"]').last
    assert "l8 8 m0 -8 l-8 8" in (broken.locator("path").nth(1).get_attribute("d") or "")


def test_pointing_at_one_lights_the_same_on_the_others(desk: Desk) -> None:
    desk.open("/skippers-handbook/")
    desk.tab.locator(".outline-row", has_text="Winter on the cut").hover()
    lit = desk.tab.locator(".ruler-section.lit")
    expect(lit).to_have_attribute("aria-label", "Winter on the cut, #winter")
    until(
        desk.sheet,
        "Boolean(document.querySelector('inner-hop-marks').shadowRoot.querySelector('.lit'))",
    )


def test_a_closed_part_opens_when_it_is_chosen(desk: Desk) -> None:
    desk.open("/lock-guide/")
    closed = "document.getElementById('locks-8-11').closest('details').open"
    assert desk.sheet.evaluate(closed) is False
    desk.tab.locator(".outline-row", has_text="The narrow ones").click()
    until(desk.sheet, closed)


def test_a_hundred_sections_and_a_long_title(desk: Desk) -> None:
    title = "A title of forty characters, nearly so x"
    body = "".join(
        f"<h{2 + (n % 4 > 0)}>Part {n} of a long and crowded handbook</h{2 + (n % 4 > 0)}>"
        f"<p>{'words ' * (n % 37)}<a href=#p{n}>gone</a>"
        for n in range(100)
    )
    desk.paste("/crowded/", f"<title>{title}</title><h1>{title}</h1>{body}")
    assert desk.tab.locator(".ruler-section").count() == 100
    boxes = desk.tab.evaluate(
        "() => [...document.querySelectorAll('.ruler-title')].map(t => {"
        " const b = t.getBoundingClientRect(); return [b.top, b.bottom, b.right] })"
    )
    assert len(boxes) > 10
    for (_, bottom, _), (top, _, _) in zip(sorted(boxes), sorted(boxes)[1:], strict=False):
        assert top >= bottom - 5  # labels leave each other room
    bar = desk.tab.get_by_role("button", name="Download").or_(
        desk.tab.get_by_role("link", name="Download")
    )
    box = bar.bounding_box()
    assert box is not None
    assert box["y"] < 98  # the bar stays one line


def test_a_long_page_can_be_drawn_closer_with_the_whole_beside_it(desk: Desk) -> None:
    """To scale within a pixel, by boxes measured in the sheet (CSSOM View); what is gone to
    by key or on the bar is drawn, and the focus stays with it."""
    body = "".join(f"<h2 id=l{n}>Lock {n}</h2><p style='height:300px'>Gates." for n in range(110))
    desk.paste("/locks/", f"<title>Locks</title><body style=margin:0>{body}")
    closer = desk.tab.get_by_role("button", name="Closer")
    closer.click()
    expect(closer).to_have_attribute("aria-pressed", "true")
    strips = desk.tab.evaluate(STRIPS)
    assert 20 < len(strips) < 40
    tops = desk.sheet.evaluate(TOPS)
    first, last = min(strips, key=int), max(strips, key=int)
    ruler = desk.tab.locator("svg.ruler").bounding_box()
    assert ruler is not None
    scale = (ruler["height"] - 28) / (12 * 800)
    away = (tops[last] - tops[first]) * scale
    assert strips[last] - strips[first] == pytest.approx(away, abs=1)

    bar = desk.tab.locator(".ruler-whole-page").bounding_box()
    assert bar is not None
    desk.tab.mouse.click(bar["x"] + 2, bar["y"] + bar["height"] / 2)
    desk.tab.locator('.ruler-section[aria-label^="Lock 55,"]').wait_for()
    height, y = desk.sheet.evaluate(
        "[document.scrollingElement.scrollHeight, scrollY + innerHeight / 2]"
    )
    assert y == pytest.approx(height / 2, abs=height / bar["height"])
    desk.tab.locator(".ruler-section").first.focus()
    for _ in range(3):
        desk.tab.keyboard.press("ArrowUp")
        expect(desk.tab.locator('.ruler-section[aria-pressed="true"]')).to_be_focused()


def test_a_page_without_headings_says_so(desk: Desk) -> None:
    page = desk.server + "/marrowby-canal-trust/bring-in/"
    desk.tab.goto(page)
    desk.tab.get_by_label("Address", exact=True).fill("/bare/")
    desk.tab.get_by_label("Title", exact=True).fill("Bare")
    desk.tab.get_by_label("Markup", exact=True).fill("<p>Nothing but this.")
    desk.tab.get_by_role("button", name="Bring in the markup").click()
    desk.tab.get_by_role("link", name="Bare").click()
    expect(desk.tab.get_by_text("Point at any line in the sheet to mark it")).to_be_visible()


def test_a_zip_s_styles_and_pictures_are_in_the_sheet(desk: Desk) -> None:
    files = {
        "trip/index.html": '<link rel=stylesheet href="css/a.css"><h2>Trip</h2><img src=/p.svg>',
        "trip/css/a.css": "@font-face{font-family:x;src:url(/x.woff2)} h2{color:rgb(1, 2, 3)}"
        " body{background:url('/p.svg')}",
        "trip/p.svg": '<svg xmlns="http://www.w3.org/2000/svg" width="33" height="44"></svg>',
    }
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        for name, text in files.items():
            archive.writestr(name, text)
    desk.site.pages.get(path="/").delete()
    desk.tab.goto(desk.server + "/marrowby-canal-trust/bring-in/")
    desk.tab.locator("input[type=file]").set_input_files(
        [{"name": "trip.zip", "mimeType": "application/zip", "buffer": buffer.getvalue()}]
    )
    desk.tab.get_by_role("button", name="Bring in the files").click()
    desk.tab.get_by_role("heading", name="1 page came in").wait_for()
    desk.open("/")
    assert desk.sheet.evaluate("getComputedStyle(document.querySelector('h2')).color") == (
        "rgb(1, 2, 3)"
    )
    until(desk.sheet, "document.images[0].naturalWidth === 33")


def test_a_broken_archive_is_refused_on_the_screen(desk: Desk) -> None:
    desk.tab.goto(desk.server + "/marrowby-canal-trust/bring-in/")
    desk.tab.locator("input[type=file]").set_input_files(
        [{"name": "x.zip", "mimeType": "application/zip", "buffer": b"PK\x03\x04 no"}]
    )
    desk.tab.get_by_role("button", name="Bring in the files").click()
    expect(desk.tab.get_by_role("alert")).to_have_text(
        "This is not a ZIP file, or it is damaged. Pack it again."
    )


def test_a_page_in_utf_16_is_shown_and_visited(desk: Desk) -> None:
    text = "<title>Łódź</title><h2>Śluza</h2><p>ó"
    desk.tab.goto(desk.server + "/marrowby-canal-trust/bring-in/")
    desk.tab.locator("input[type=file]").set_input_files(
        [{"name": "lodz.html", "mimeType": "text/html", "buffer": text.encode("utf-16")}]
    )
    desk.tab.get_by_role("button", name="Bring in the files").click()
    desk.tab.get_by_role("link", name="Łódź").click()
    desk.wait_for_sheet()
    desk.click("h2")
    expect(desk.tab.get_by_label("ID for this section")).to_have_value("sluza")
    desk.tab.get_by_role("button", name="Mark this section").click()
    desk.hears("Marked “Śluza” as #sluza")
    page = desk.site.pages.get(path="/lodz.html")
    desk.tab.goto(f"{desk.server}{page.get_absolute_url()}visit/?to=sluza")
    assert desk.tab.evaluate("document.querySelector(':target').textContent") == "Śluza"


def test_the_window_that_a_reader_gets_is_drawn_where_the_hop_lands(desk: Desk) -> None:
    """Against the real scroll position after following the hop (CSSOM View)."""
    desk.open("/skippers-handbook/")
    expect(desk.tab.locator(".ruler-reader")).to_be_hidden()
    desk.tab.locator(".outline-row", has_text="Winter on the cut").click()
    desk.tab.get_by_role("button", name="Measure it at all three").locator("visible=true").click()
    reader = desk.tab.locator(".ruler-reader")
    expect(reader).to_be_visible()
    box, ruler = reader.bounding_box(), desk.tab.locator("svg.ruler").bounding_box()
    assert box is not None
    assert ruler is not None
    pass_ = passes.to_enter(desk.site.pk)
    root = f"http://{desk.site.visitor_host}:{urlsplit(desk.server).port}"
    visit = desk.tab.context.new_page()
    visit.emulate_media(reduced_motion="reduce")
    visit.set_viewport_size({"width": 1280, "height": 800})
    visit.goto(f"{root}/-/enter?pass={pass_}&to=/skippers-handbook/")
    visit.goto(f"{root}/skippers-handbook/#winter")
    height, y = visit.evaluate("[document.scrollingElement.scrollHeight, scrollY]")
    visit.close()
    drawn = (box["y"] - ruler["y"] - 14) / (ruler["height"] - 28) * height
    assert drawn == pytest.approx(y, abs=height / 100)
