"""What is said of where a hop lands, against where Chromium lands (CSSOM View, "scroll an
element into view"; CSS Scroll Snap 1, "scroll-padding")."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.browser.conftest import Desk

PAGE = (
    "<!doctype html><html lang=en><head><title>Questions</title><style>body{margin:0}"
    "header{position:sticky;top:0;height:76px;background:#fff}h2{font:20px/30px serif;margin:0}"
    "p{height:900px;margin:0}</style></head><body><header>Trust</header><main><h1>Questions</h1>"
    + "".join(f"<h2 id=q{n}>Question {n}</h2><p>Answer {n}</p>" for n in range(1, 6))
    + "<p><a href='#q3'>three</a></p></main></body></html>"
)
SEEN = """() => {
  const heading = document.getElementById('q3').getBoundingClientRect();
  const bar = document.querySelector('header').getBoundingClientRect();
  return Math.round(heading.top - bar.bottom);
}"""


def test_a_heading_under_a_sticky_header_is_said_to_be_so_and_mended_on_all_pages(
    desk: Desk,
) -> None:
    tab = desk.tab
    desk.paste("/q-and-a/", PAGE)
    desk.click("#q3")
    line = tab.get_by_text("readers don’t see all of the heading")
    expect(line).to_contain_text("the page’s header, 76 px tall, stays at the top of the view")
    page = desk.site.pages.get(path="/q-and-a/")
    visit = f"{desk.server}{page.get_absolute_url()}visit/?to=q3"
    tab.goto(visit)
    assert tab.evaluate(SEEN) == -76
    desk.open("/q-and-a/")
    desk.click("#q3")
    tab.get_by_role("button", name="Leave room for it").click()
    tab.get_by_role("button", name="Leave room on").click()
    desk.hears("Left room for what stays at the top of the view on")
    expect(tab.get_by_text("at the top of the view, 92 px below its edge")).to_be_visible()
    tab.goto(visit)
    assert tab.evaluate(SEEN) == 16


def test_the_second_part_with_an_id_never_says_that_hops_land_there(desk: Desk) -> None:
    desk.paste("/twice/", "<title>Twice</title><h2 id=a>First</h2><p>x</p><h2 id=a>Second</h2>")
    desk.click("h2:nth-of-type(2)")
    expect(
        desk.tab.get_by_text("No hop lands here: the heading “First” has the ID a")
    ).to_be_visible()
    second = desk.tab.locator(".outline-row", has_text="Second")
    expect(second.locator(".dot.twice")).to_have_count(1)
    expect(second).to_contain_text("#a again")


def test_a_header_that_goes_with_the_box_it_stands_in_asks_for_no_room(desk: Desk) -> None:
    """CSS Positioned Layout 3: what is sticky stays within its containing block."""
    boxed = PAGE.replace("<header>Trust</header>", "<div><header>Trust</header></div>")
    desk.paste("/q-and-a/", boxed)
    desk.click("#q3")
    expect(desk.tab.get_by_text("A hop lands with this heading at the top of")).to_be_visible()
    page = desk.site.pages.get(path="/q-and-a/")
    desk.tab.goto(f"{desk.server}{page.get_absolute_url()}visit/?to=q3")
    assert abs(desk.tab.evaluate("document.getElementById('q3').getBoundingClientRect().top")) < 1
    assert desk.tab.evaluate("document.querySelector('header').getBoundingClientRect().bottom") < 0
