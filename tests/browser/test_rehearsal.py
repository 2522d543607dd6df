"""The rehearsal as an editor has it: pages measured in hidden frames, hops walked in a window
as visitors have it, and a disagreement planted on purpose that it finds."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
from pathlib import Path
from urllib.parse import urlsplit
from xml.etree import ElementTree

import pytest
from django.conf import settings
from django.db import connection
from playwright.sync_api import expect

from innerhop.library import sites
from innerhop.library.bring_in import bring_ins
from tests.browser.conftest import Desk

FILL = "<p style='height: 900px'>x</p>"
HEADER = "<header style='position: sticky; top: 0; height: 60px; background: #ddd'>Canal</header>"
# Where a page's own script has another mind, only a walk can tell.
SCRIPT = "<script>addEventListener('hashchange', () => location.hash === '#b' && scrollTo(0, 5))"
PAGE = (
    f"<!doctype html><html><head><title>Walked</title></head><body>{HEADER}<main><h1>Walked</h1>"
    f"<p><a href=#a>to the first</a> <a href=#b>to the second</a> <a href=#c>to nobody</a></p>"
    f"{FILL}<h2 id=a>First</h2><p>x</p>{FILL}<h2 id=b>Second</h2><p>x</p>{FILL * 2}</main>"
    f"{SCRIPT}</script></body></html>"
)


@pytest.mark.harmful  # the sheet runs no script of the page's, and the browser says so
def test_hops_are_measured_walked_and_mended(desk: Desk) -> None:
    desk.paste("/walked/", PAGE)
    tab = desk.tab
    page = desk.site.pages.get(path="/walked/")
    tab.goto(f"{desk.server}/marrowby-canal-trust/rehearsal/?page={page.pk}")
    rows = tab.locator("li.rehearsal-row")
    expect(tab.get_by_text("Of 9 landings, 3 go nowhere, 6 covered.")).to_be_visible()
    expect(rows.first).to_contain_text("to nobody")
    expect(rows.nth(1)).to_contain_text(re.compile("covered by [0-9]+ px"))
    tab.get_by_role("button", name="Walk every hop").click()
    expect(tab.get_by_role("button", name="Walk every hop again")).to_be_visible(timeout=90_000)
    names = ("nobody", "the first", "the second")
    to = {name: rows.filter(has_text=f"to {name}") for name in names}
    expect(to["nobody"]).to_contain_text("walked at all three, as computed")
    expect(to["the first"]).to_contain_text("walked at all three, as computed")
    expect(to["the second"]).to_contain_text("The page is scrolled to 5 px, not to")
    assert page.walks.count() == 9
    # One verdict alone; and what mends most, seen before it is saved.
    tab.get_by_role("button", name="covered · 6").click()
    expect(rows).to_have_count(2)
    expect(tab.get_by_text("6 landings become clear, none gets worse")).to_be_visible()
    tab.get_by_role("button", name="Save it").click()
    expect(tab.get_by_text("Of 9 landings, 3 go nowhere, 6 clear.")).to_be_visible()
    assert "scroll-padding-top: 76px" in desk.markup("/walked/")
    # On the desk, for the chosen mark.
    desk.open("/walked/")
    tab.locator(".outline-row", has_text="First").click()
    first = tab.locator("[data-first-screens]").locator("visible=true")
    expect(first.get_by_text("clear", exact=True)).to_have_count(3)


def test_a_marker_below_its_heading_goes_up_to_it(desk: Desk) -> None:
    body = f"{FILL}<h2>Prices</h2><span id=prices></span><p>x</p>{FILL * 3}"
    desk.paste("/cut/", f"<title>Cut</title><h1>Cut</h1><p><a href=#prices>to prices</a></p>{body}")
    page = desk.site.pages.get(path="/cut/")
    desk.tab.goto(f"{desk.server}/marrowby-canal-trust/rehearsal/?page={page.pk}")
    expect(desk.tab.get_by_text("Of 3 landings, 3 with the heading cut off.")).to_be_visible()
    desk.tab.get_by_role("button", name="Move it up to the heading").click()
    expect(desk.tab.get_by_text("Of 3 landings, 3 clear.")).to_be_visible()
    assert '<h2 id="prices">Prices</h2><p>x</p>' in desk.markup("/cut/")


def test_a_mark_on_a_band_with_space_above_its_words_goes_down_to_them(desk: Desk) -> None:
    band = "<section id=prices style='padding-top: 260px'><div><h2>Prices</h2><p>x</p></div>"
    body = f"{FILL}{band}</section>{FILL * 3}"
    desk.paste("/band/", f"<title>Band</title><h1>Band</h1><p><a href=#prices>prices</a></p>{body}")
    page = desk.site.pages.get(path="/band/")
    desk.tab.goto(f"{desk.server}/marrowby-canal-trust/rehearsal/?page={page.pk}")
    expect(desk.tab.get_by_text("Of 3 landings, 3 too low.")).to_be_visible()
    expect(desk.tab.get_by_text("3 landings become clear, none gets worse")).to_be_visible()
    desk.tab.get_by_role("button", name="Move it down to what they see first").click()
    expect(desk.tab.get_by_text("Of 3 landings, 3 clear.")).to_be_visible()
    assert "<div><h2 id=prices>Prices</h2>" in desk.markup("/band/").replace('"', "")
    desk.tab.get_by_role("button", name="Undo").click()
    expect(desk.tab.get_by_text("Of 3 landings, 3 too low.")).to_be_visible()
    assert band in desk.markup("/band/")


def test_empty_lines_are_taken_out_at_a_width_someone_typed(desk: Desk) -> None:
    body = f"{FILL}<span id=prices></span>{'<p>&nbsp;</p>' * 6}<h2>Prices</h2><p>x</p>{FILL * 3}"
    desk.paste("/low/", f"<title>Low</title><h1>Low</h1><p><a href=#prices>to prices</a></p>{body}")
    page = desk.site.pages.get(path="/low/")
    tab = desk.tab
    tab.goto(f"{desk.server}/marrowby-canal-trust/rehearsal/?page={page.pk}")
    tab.get_by_label("Another width").fill("1024")
    tab.get_by_role("button", name="Add it").click()
    expect(tab.get_by_text("Of 4 landings, 4 too low.")).to_be_visible()
    expect(tab.get_by_text("Width 1024").first).to_be_visible()
    tab.get_by_role("button", name="Take them out").click()
    expect(tab.get_by_text("Of 4 landings, 4 clear.")).to_be_visible()
    assert "&nbsp;" not in desk.markup("/low/")
    # The desk knows the width as well.
    desk.open("/low/")
    tab.locator(".outline-row", has_text="Prices").click()
    first = tab.locator("[data-first-screens]").locator("visible=true")
    expect(first.get_by_text("clear", exact=True)).to_have_count(4)


# Out of the way once one scrolls, which only a page with its scripts running tells. What a
# script adds a moment after loading is there when a reader clicks.
HIDES = (
    "<style>html { overflow-anchor: none }</style>"
    "<script>addEventListener('scroll', () => document.querySelector('header').style.transform ="
    " scrollY > 90 ? 'translateY(-100%)' : '');"
    "addEventListener('load', () => setTimeout(() =>"
    " document.querySelector('h1').style.height = '300px', 60))</script>"
)


@pytest.mark.harmful  # the sheet runs no script of the page's, and the browser says so
def test_a_header_that_a_script_hides_is_measured_as_visitors_have_it(desk: Desk) -> None:
    desk.paste("/hides/", PAGE.replace(SCRIPT + "</script>", HIDES).replace("Walked", "Hides"))
    page = desk.site.pages.get(path="/hides/")
    tab = desk.tab
    tab.goto(f"{desk.server}/marrowby-canal-trust/rehearsal/?page={page.pk}")
    expect(tab.get_by_text("Of 9 landings, 3 go nowhere, 6 covered.")).to_be_visible()
    tab.get_by_role("button", name="Walk every hop").click()
    again = tab.get_by_role("button", name="Walk every hop again")
    expect(again).to_be_visible(timeout=90_000)
    expect(tab.get_by_text("Of 9 landings, 3 go nowhere, 6 clear.")).to_be_visible()
    assert page.walks.filter(agrees=False).count() == 0
    assert all(abs(walk.found["top"]) < 1 for walk in page.walks.filter(href="#a"))


def test_the_command_line_walks_every_hop_and_fails_where_one_disagrees(
    desk: Desk, tmp_path: Path
) -> None:
    editor = desk.site.editors.get()
    small = sites.create("Small", "small.example", "en", editor)
    piece = bring_ins.NewFile("index.html", PAGE.encode())
    for _ in bring_ins.bring_in(small, editor, [piece], 1):
        pass
    told, junit = tmp_path / "found.json", tmp_path / "found.xml"
    database = urlsplit(os.environ["DATABASE_URL"])._replace(
        path=f"/{connection.settings_dict['NAME']}"
    )
    done = subprocess.run(
        [sys.executable, "manage.py", "rehearse", "small", "--json", told, "--junit", junit],
        env={**os.environ, "DATABASE_URL": database.geturl()}, capture_output=True, text=True,
        cwd=settings.BASE_DIR, check=False, timeout=240,
    )  # fmt: skip
    assert done.returncode == 1, done.stderr
    assert "9 walked, 6 as computed, 3 not; 1 hop leads nowhere" in done.stdout
    rows = json.loads(told.read_text())
    off = {row["href"]: row["trouble"] for row in rows if not row["agrees"]}
    assert list(off) == ["#b"]
    assert "scrolled to 5 px" in off["#b"]
    suite = ElementTree.parse(junit).getroot()
    assert (suite.get("tests"), suite.get("failures")) == ("9", "3")


@pytest.mark.harmful  # pages take a style sheet while it is being changed
def test_room_is_saved_in_the_site_s_own_style_sheet(desk: Desk) -> None:
    tab = desk.tab
    tab.goto(f"{desk.server}/marrowby-canal-trust/rehearsal/")
    tab.get_by_role("button", name="Walk every hop").wait_for(timeout=90_000)
    path = desk.site.assets.filter(media_type="text/css").order_by("path")[0].path
    tab.get_by_label("Where the line stands").select_option(
        f"In {path}, for all pages that take it"
    )
    tab.get_by_role("button", name="Save it in the style sheet").click()
    expect(tab.get_by_text(f"at the top of the view, in {path}")).to_be_visible(timeout=90_000)
    expect(tab.get_by_role("heading", name="Leave room for the header")).to_be_hidden()
