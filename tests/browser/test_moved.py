"""Readers who come by the old address of a section, in Chromium: where they arrive, what Back
does, what is there without scripts."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page as Tab
from playwright.sync_api import expect

from innerhop.library.models import Page
from tests.browser.conftest import Desk
from tests.browser.test_visitor_parts import LONG, do, now, visited

OTHER = LONG.replace("<title>Long", "<title>Other").replace("id=s", "id=o")


@pytest.fixture
def pages(desk: Desk) -> tuple[Page, Page]:
    """Part 3 was renamed to an ID of many letters, part 5 is on another page now, with a line."""
    desk.bring("/long/", LONG)
    desk.bring("/other/", OTHER)
    rows = Page.objects.select_related("site").filter(site=desk.site)
    long, other = rows.get(path="/long/"), rows.get(path="/other/")
    do(desk, long, "rename", number=number(long, "s3"), id="größe", lead=True)
    do(desk, now(long), "take-away", number=number(now(long), "s5"), then="retarget",
       end={"page": other.pk, "id": "o7"}, lead=True, line=True)  # fmt: skip
    return now(long), now(other)


def number(page: Page, id_: str) -> int:
    return int(page.marks.get(value=id_).number)


def top(tab: Tab, id_: str) -> float:
    box = tab.locator(f"[id='{id_}']").bounding_box()
    assert box is not None
    return box["y"]


def opened(desk: Desk, page: Page, fragment: str, **how: bool) -> Tab:
    tab = visited(desk, page, **how)
    tab.goto(f"{tab.url}#{fragment}")
    tab.reload()
    return tab


def test_a_renamed_section_is_arrived_at(desk: Desk, pages: tuple[Page, Page]) -> None:
    tab = visited(desk, pages[0])
    tab.evaluate("location.hash = 's9'")
    before = tab.evaluate("history.length")
    tab.evaluate("location.hash = 's3'")
    expect(tab).to_have_url(f"{tab.url.partition('#')[0]}#gr%C3%B6%C3%9Fe")
    assert abs(top(tab, "größe")) <= 1
    assert tab.evaluate("history.length") == before + 1  # the old address is no stop of its own
    tab.go_back()
    expect(tab).to_have_url(f"{tab.url.partition('#')[0]}#s9")


def test_whoever_comes_from_elsewhere_arrives_as_the_page_loads(
    desk: Desk, pages: tuple[Page, Page]
) -> None:
    tab = opened(desk, pages[0], "s3")
    expect(tab).to_have_url(f"{tab.url.partition('#')[0]}#gr%C3%B6%C3%9Fe")
    tab.wait_for_function(
        "Math.abs(document.getElementById('größe').getBoundingClientRect().top) <= 1"
    )


def test_a_section_on_another_page_is_arrived_at_there(
    desk: Desk, pages: tuple[Page, Page]
) -> None:
    tab = visited(desk, pages[0])
    tab.evaluate("location.hash = 's5'")
    tab.wait_for_url("**/other/#o7")
    tab.wait_for_load_state()
    assert abs(top(tab, "o7")) <= 1
    tab.go_back()
    tab.wait_for_url(lambda url: "/long/" in url and not url.endswith("#s5"))


def test_an_id_that_is_there_again_is_where_readers_stay(
    desk: Desk, pages: tuple[Page, Page]
) -> None:
    long = pages[0]
    do(desk, long, "mark", marks=[{"number": number(long, "s8") + 1, "id": "s3"}])
    tab = visited(desk, now(long))
    tab.evaluate("location.hash = 's3'")
    tab.wait_for_timeout(300)
    assert tab.url.endswith("#s3")


def test_without_scripts_a_line_says_where(desk: Desk, pages: tuple[Page, Page]) -> None:
    tab = opened(desk, pages[0], "s5", java_script_enabled=False)
    line = tab.locator("[data-hop-moved]#s5")
    expect(line).to_have_text("This moved to Part 7")
    box = line.bounding_box()
    assert box is not None
    assert -1 <= box["y"] <= 1
    line.get_by_role("link").click()
    tab.wait_for_url("**/other/#o7")


@pytest.mark.harmful  # the sheet keeps the page's own scripts out, and the browser says so
def test_renaming_offers_it_and_the_desk_lists_it(desk: Desk, pages: tuple[Page, Page]) -> None:
    desk.open("/long/")
    rows = desk.side.get_by_role("listitem").filter(has_text="Stop leading on")
    expect(rows).to_have_count(2)
    desk.press("Stop leading on from #s3")
    expect(rows).to_have_count(1)
    desk.click("#s9")
    desk.press("Rename")
    desk.side.get_by_label("Another ID for it").fill("ninth")
    desk.side.get_by_label("Lead readers on who come by the old ID").check()
    expect(desk.side.get_by_text("data-hop-moved").first).to_be_attached()
    desk.press("Rename")
    desk.hears("readers who come by #s9 are led on")
    assert pages[0].traits.filter(kind="led", told="s9 #ninth").exists()
