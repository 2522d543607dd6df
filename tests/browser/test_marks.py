"""Marks of every kind through the real interface: pointed at, named, dragged,
renamed, taken away; and that hops to them arrive in a visitor's browser."""

from __future__ import annotations

import pytest
from playwright.sync_api import Route, expect

from innerhop.core.facts.page_facts import gather
from innerhop.core.source.tree import Source
from innerhop.library.bring_in import bring_ins
from innerhop.library.models import Change, Editor, Link
from innerhop.practice import demo
from tests.browser.conftest import Desk

HANDBOOK, LOCKS, MOORINGS = "/skippers-handbook/", "/lock-guide/", "/moorings/"


def choose(desk: Desk, title: str) -> None:
    """Choose a section in the outline, and wait until the desk knows it."""
    desk.tab.keyboard.press("Escape")
    desk.side.locator(".outline-row", has_text=title).first.click()
    expect(desk.side.get_by_text("A hop lands")).to_be_visible()


def drag(desk: Desk, tag: str, to: str, at_top: bool) -> None:
    """Drag a mark's tag in the sheet to the upper or lower edge of an element."""
    x, y, scale = desk.place_of(
        f"const e = document.querySelector({to!r});"
        "e.scrollIntoView({ block: 'center', behavior: 'instant' });"
        "return e.getBoundingClientRect().toJSON()"
    )
    desk.tab.wait_for_timeout(200)
    height = desk.sheet.evaluate(f"document.querySelector({to!r}).offsetHeight")
    mark_x, mark_y, _ = desk.place_of(
        "const { shadowRoot } = document.querySelector('inner-hop-marks');"
        "const tags = [...shadowRoot.querySelectorAll('[data-tag-of]')];"
        f"const tag = tags.find((one) => one.textContent === '#{tag}');"
        "return tag.getBoundingClientRect().toJSON()"
    )
    mark_x, mark_y = mark_x + 6 * scale, mark_y + 8 * scale
    desk.tab.mouse.move(mark_x, mark_y)
    desk.tab.mouse.down()
    end = y + (3 if at_top else height * scale - 3)
    desk.tab.mouse.move(mark_x + 20, (mark_y + end) / 2, steps=4)
    desk.tab.mouse.move(x + 30 * scale, end, steps=4)
    desk.tab.wait_for_timeout(150)


def test_anything_can_be_marked_and_stepped_out_of(desk: Desk) -> None:
    desk.open(HANDBOOK)
    desk.click("figure img")
    here = desk.side
    expect(here.get_by_text("A picture", exact=True)).to_be_visible()
    expect(here.get_by_text("readers don’t see the upper 67 px of it")).to_be_visible()
    expect(here.get_by_label("ID for this part")).to_be_focused()
    desk.tab.get_by_role("heading", name="Skipper").click()  # the keyboard leaves the field
    desk.tab.keyboard.press("o")
    expect(here.get_by_text("A figure", exact=True)).to_be_visible()
    desk.tab.keyboard.press("o")
    expect(here.get_by_text("A section block", exact=True)).to_be_visible()
    expect(here.get_by_text("readers don’t see all of the heading")).to_be_visible()
    desk.tab.keyboard.press("i")
    expect(here.get_by_text("A figure", exact=True)).to_be_visible()
    field = here.get_by_label("ID for this part")
    expect(field).not_to_have_value("")
    field.fill("controls")
    desk.press("Mark this figure")
    desk.hears("as #controls")
    assert '<figure id="controls">' in desk.markup(HANDBOOK)
    desk.tab.goto(f"{desk.tab.url.partition('#')[0]}visit/?to=controls")
    assert desk.tab.evaluate("document.querySelector(':target').localName") == "figure"


def test_a_band_is_named_as_a_reader_sees_it(desk: Desk) -> None:
    desk.paste(
        "/bands/",
        "<!doctype html><title>Bands</title><body style='margin:0'><h1>Bands</h1>"
        "<div style='background:#ddd;padding:40px 0 300px'><h2 style='margin:0'>Ropes</h2>"
        "<p>a</p></div>"
        "<div style='display:flex'><div><p>left</p></div><div><h2>Right</h2></div></div>",
    )
    desk.click("h2")
    desk.press("Larger")
    message = "A hop lands at the top of this light grey band, 40 px above the heading “Ropes”."
    expect(desk.side.get_by_text(message)).to_be_visible()
    desk.click("div > div > p")
    desk.press("Larger")
    expect(desk.side.get_by_text("A column", exact=True)).to_be_visible()


def test_a_marker_is_put_dragged_and_warned_about(desk: Desk) -> None:
    desk.open(MOORINGS)
    desk.click("section:nth-of-type(2) table")
    for _ in range(3):
        if desk.side.get_by_text("A table", exact=True).is_visible():
            break
        desk.press("Larger")
        desk.tab.wait_for_timeout(400)
    desk.press("Before it")
    desk.side.get_by_label("ID for a marker").fill("prices")
    desk.press("Put the marker")
    # Right below the heading: said before it is done.
    expect(desk.side.get_by_text("it is cut off above the view")).to_be_visible()
    assert "prices" not in desk.markup(MOORINGS)
    desk.press("Put it there all the same")
    desk.hears("Put the marker #prices before")
    assert '<span id="prices"></span><table>' in desk.markup(MOORINGS)
    desk.tab.locator(".ruler-marker").wait_for()

    drag(desk, "prices", "section:nth-of-type(2) h2", at_top=True)
    desk.tab.mouse.up()
    desk.press("Move it")
    desk.hears("Moved #prices")
    assert '<span id="prices"></span><h2 id="fees">' in desk.markup(MOORINGS)

    # Along the ruler, to the bottom of the page.
    box = None
    while box is None:  # the ruler is drawn anew once the sheet has been measured
        desk.tab.wait_for_timeout(300)
        box = desk.tab.locator(".ruler-marker").bounding_box()
    desk.tab.mouse.move(box["x"] + box["width"] - 6, box["y"] + box["height"] / 2)
    desk.tab.mouse.down()
    desk.tab.mouse.move(box["x"] + box["width"] - 6, box["y"] + 230, steps=6)
    desk.tab.mouse.up()
    desk.press("Move it")
    desk.settled()  # the line that says it stands there from before
    text = desk.markup(MOORINGS)
    assert text.index('id="prices"') > text.index("Winter moorings</h2>")
    desk.tab.get_by_role("region", name="Sheet").get_by_role("button", name="Undo").click()
    desk.hears("Undone: Moved #prices")
    assert '<span id="prices"></span><h2 id="fees">' in desk.markup(MOORINGS)


def test_many_sections_at_once(desk: Desk) -> None:
    desk.open(HANDBOOK)
    desk.press("Mark many")
    here = desk.side
    desk.press("All 6 of level 3")
    desk.press("All 2 of level 2")  # off again
    expect(here.get_by_label("ID for Going down")).to_have_value("going-down")
    here.get_by_label("ID for Going down").fill("going-up")
    # What nobody typed makes way; what was typed twice is told.
    expect(here.get_by_label("ID for Going up")).to_have_value("going-up-2")
    here.get_by_label("ID for Going up").fill("going-up")
    expect(here.get_by_role("button", name="Use going-up-2")).to_be_visible()
    expect(here.get_by_role("button", name="Mark 6 sections")).to_be_disabled()
    here.get_by_label("ID for Going down").fill("down-hill")
    here.get_by_role("checkbox", name="You are aground").uncheck()
    here.get_by_role("button", name="Mark 5 sections").click()
    desk.hears("Marked 5 sections")
    text = desk.markup(HANDBOOK)
    assert '<h3 id="going-up">' in text
    assert '<h3 id="down-hill">' in text
    assert 'id="you-are-aground"' not in text
    assert Change.objects.count() == 1


def test_what_is_suggested_while_one_types_makes_way(desk: Desk) -> None:
    desk.open(HANDBOOK)
    waiting: list[Route] = []

    def wait(route: Route) -> None:
        waiting.append(route)

    desk.tab.route("**/ask/check-many/", wait)
    desk.press("Mark many")
    field = desk.side.get_by_label("ID for").locator("visible=true").first
    field.focus()  # and about to type
    desk.tab.wait_for_timeout(50)
    waiting.pop().continue_()
    expect(field).not_to_have_value("")
    desk.tab.unroute("**/ask/check-many/")
    desk.tab.keyboard.type("#of")
    expect(field).to_have_value("of")  # and the keyboard stays behind it
    desk.tab.keyboard.type("-my-own")
    expect(field).to_have_value("of-my-own")


def test_a_rename_takes_its_hops_along_and_may_leave_the_old_id(desk: Desk) -> None:
    desk.open(HANDBOOK)
    choose(desk, "Winter on the cut")
    desk.tab.keyboard.press("r")
    here = desk.side
    expect(here.get_by_label("Another ID for it")).to_have_value("winter")
    here.get_by_label("Another ID for it").fill("# On Ice ")
    expect(desk.shown("can't hold spaces")).to_be_visible()
    here.get_by_role("button", name="Use on-ice").click()
    here.get_by_label("Leave the old ID").check()
    expect(desk.shown("Moorings and charges, line")).to_be_visible()
    expect(desk.shown("What changes in the markup on 2 pages")).to_be_visible()
    desk.press("Rename")
    desk.hears("Renamed #winter to #on-ice with 2 hops; #winter stays as a marker")
    assert '<span id="winter"></span><h2 id="on-ice">' in desk.markup(HANDBOOK)
    assert 'href="/skippers-handbook/#on-ice"' in desk.markup(MOORINGS)
    visit = f"{desk.tab.url.partition('#')[0]}visit/?to="
    for id_ in ("on-ice", "winter"):  # bookmarks of the old one arrive there too
        desk.tab.goto(visit + id_)
        # The page glides from one to the other.
        desk.tab.wait_for_function(
            "Math.abs(document.getElementById('on-ice').getBoundingClientRect().top - 70) < 71"
        )


def test_the_same_id_twice_is_shown_and_sorted_out(desk: Desk) -> None:
    desk.open(MOORINGS)
    here = desk.side
    expect(here.get_by_text("2 parts of this page have the ID fees")).to_be_visible()
    here.get_by_role("button", name="See the second").click()
    expect(here.get_by_text("the same on 7 pages")).to_be_visible()
    expect(here.get_by_text("the shared footer, nobody arrives here")).to_be_visible()
    desk.press("Rename this one")
    expect(here.get_by_label("Another ID for it")).to_have_value("what-we-live-on")
    expect(here.get_by_text("No hop has this ID")).to_be_visible()
    desk.press("Rename")
    desk.hears("Renamed #fees to #what-we-live-on, on all 7 pages that share it")
    for path in (HANDBOOK, LOCKS, MOORINGS):
        assert '<h2 id="what-we-live-on">' in desk.markup(path)
    desk.tab.keyboard.press("Escape")
    expect(here.get_by_text("2 parts of this page")).to_have_count(0)


def test_taking_a_mark_away_asks_what_becomes_of_its_hops(desk: Desk) -> None:
    desk.open(LOCKS)
    choose(desk, "The flight")
    desk.press("Remove")
    here = desk.side
    expect(here.get_by_text("1 hop lands here:")).to_be_visible()
    here.get_by_label("They lead to another mark").check()
    here.get_by_label("Where they should lead").fill("stair")
    here.get_by_role("option", name="The staircase").click()
    desk.press("Remove it")
    desk.hears("Took away #the-flight; 1 hop now leads to /lock-guide/#staircase-locks")
    text = desk.markup(LOCKS)
    assert "<h2>The flight</h2>" in text
    assert 'href="#staircase-locks">The flight</a>' in text


def test_a_part_that_can_t_be_edited_gets_what_works(desk: Desk) -> None:
    desk.open(LOCKS)
    desk.click("section:nth-of-type(4) h2")
    here = desk.side
    desk.press("Larger")
    expect(here.get_by_text("A section block", exact=True)).to_be_visible()
    desk.press("Lock this part")
    desk.hears("Locked this part")
    # Words inside can't be linked now, and the reason is given.
    desk.select("the grooves in the stonework")
    expect(here.get_by_text("This part is locked")).to_be_visible()
    desk.tab.keyboard.press("Escape")
    choose(desk, "Stop planks")
    expect(here.get_by_role("button", name="#stop-planks use it")).to_be_visible()
    copies = here.get_by_role("button", name=":~:text=").locator("visible=true")
    expect(copies).to_have_count(3)
    links = copies.all_text_contents()
    # The link to its words, followed as a visitor would.
    directive = links[0].partition("#")[2].partition("this page")[0].strip()
    visit = desk.tab.url.partition("#")[0] + "visit/"
    choose(desk, "Stop planks")
    here.get_by_role("button", name="Put a marker before it").click()
    here.get_by_label("ID for the marker").fill("planks")
    desk.press("Put the marker")
    expect(desk.shown("What stays at the top of the view there")).to_be_visible()
    here.get_by_label("Leave room for the header").locator("visible=true").check()
    desk.press("Put the marker")
    desk.hears("Put the marker #planks before")
    assert "scroll-padding-top" in desk.markup(LOCKS)
    assert '<span id="planks"></span><section>' in desk.markup(LOCKS)
    desk.tab.goto(visit)
    desk.tab.goto(desk.tab.url.partition("#")[0] + "#" + directive)
    desk.tab.wait_for_timeout(400)
    top = desk.tab.evaluate("document.getElementById('stop-planks').getBoundingClientRect().top")
    assert 0 < top < 800


def test_a_line_becomes_a_heading_with_a_mark(desk: Desk) -> None:
    desk.paste(
        "/bold/",
        "<!doctype html><title>Bold</title><body><main><h1>Bold</h1><h2 id=a>Ropes</h2>"
        "<p class=c><b>Splicing for beginners</b><br>Take three strands.</p></main>",
    )
    desk.click("p.c")
    desk.press("Make it a heading")
    here = desk.side
    expect(here.locator("#heading-level")).to_have_value("3")
    expect(here.get_by_label("ID for the new section")).to_have_value("splicing-for-beginners")
    here.get_by_label("Let it look as it does now").uncheck()
    here.get_by_role("button", name="Make it a heading").locator("visible=true").click()
    desk.hears("a heading of level 3 and marked it #splicing-for-beginners")
    assert (
        '<h3 id="splicing-for-beginners">Splicing for beginners</h3><p class=c>Take three'
        in desk.markup("/bold/")
    )
    choose(desk, "Splicing for beginners")
    desk.press("Change its level")
    here.locator("#new-level").select_option("2")
    desk.press("Change the level")
    desk.hears("a heading of level 2")
    assert '<h2 id="splicing-for-beginners">' in desk.markup("/bold/")


def test_what_the_page_has_already(desk: Desk) -> None:
    """An ID in the class field; one that a system made up."""
    desk.open(LOCKS)
    here = desk.side
    here.get_by_role("button", name="the note on paddle gear").click()
    expect(
        here.get_by_text("The heading “A note on paddle gear” has it as a class")
    ).to_be_visible()
    desk.press("Move it to the ID")
    desk.hears("Moved “paddle-gear” from the class to the ID")
    assert '<h2 id="paddle-gear">A note' in desk.markup(LOCKS)
    desk.open("/about/")
    choose(desk, "Accounts")
    expect(here.get_by_text("This ID looks made up")).to_be_visible()
    here.get_by_role("button", name="Put a marker with a good name").click()
    expect(here.get_by_label("ID for the marker")).to_have_value("accounts-2")
    here.get_by_label("ID for the marker").fill("our-accounts")
    desk.press("Put the marker")
    desk.hears("Put the marker #our-accounts before “Accounts”")


def test_keys_go_from_section_to_section(desk: Desk) -> None:
    desk.open(HANDBOOK)
    desk.tab.keyboard.press("n")
    title = desk.side.get_by_role("heading", level=2)
    expect(title.locator("visible=true").first).to_have_text("Before you set off")
    desk.tab.keyboard.press("n")
    expect(title.locator("visible=true").first).to_have_text("What to bring")
    desk.tab.keyboard.press("p")
    expect(title.locator("visible=true").first).to_have_text("Before you set off")
    field = desk.side.get_by_label("ID for this section")
    desk.tab.keyboard.press("m")  # has a mark: the field is for the next that has none
    expect(field).to_be_focused()
    desk.tab.keyboard.press("Escape")  # which leaves the field alone
    choose(desk, "Going down")
    desk.tab.keyboard.press("m")
    expect(field).to_be_focused()
    desk.tab.keyboard.press("Escape")
    expect(field).not_to_be_focused()
    desk.tab.keyboard.press("m")
    expect(field).to_be_focused()


def test_long_work_shows_how_far_it_has_come(desk: Desk) -> None:
    editor = Editor.objects.get(username=demo.EDITOR)
    pieces = [
        bring_ins.NewFile(
            f"/far/{n}/", b"<p><a href='/moorings/#hardship-fund'>x</a>", f"/far/{n}/"
        )
        for n in range(120)
    ]
    for _ in bring_ins.bring_in(desk.site, editor, pieces, len(pieces)):
        pass
    desk.open(MOORINGS)
    choose(desk, "The hardship fund")
    desk.press("Rename")
    desk.side.get_by_label("Another ID for it").fill("help")
    expect(desk.shown("What changes in the markup on 121 pages")).to_be_visible()
    expect(desk.shown("The first 6 pages are shown")).to_be_visible()
    with desk.tab.expect_response("**/rename/") as answer:
        desk.press("Rename")
    assert "ndjson" in answer.value.headers["content-type"]
    desk.hears("Renamed #hardship-fund to #help with 121 hops")
    assert Link.objects.filter(site=desk.site, fragment="help").count() == 121


def test_a_long_heading_gets_a_short_name(desk: Desk) -> None:
    title = "What to do when a paddle will not close and the pound above is running off"
    desk.paste("/long/", f"<!doctype html><title>t</title><h1>t</h1><br><br><h2>{title}</h2><p>x")
    desk.click("h2")
    here = desk.side
    expect(here.get_by_label("ID for this section")).to_have_value("what-to-do-when-a-paddle-will")
    here.get_by_label("A short name for it").fill("Stuck paddle")
    expect(here.get_by_label("ID for this section")).to_have_value("stuck-paddle")
    desk.press("Mark this section")
    desk.hears("as #stuck-paddle")


@pytest.mark.parametrize("letters", ["own", "plain"])
def test_a_site_chooses_its_letters(desk: Desk, letters: str) -> None:
    desk.home().get_by_role("link", name="Marrowby Canal Trust").click()
    if letters == "own":
        desk.tab.get_by_label("In the site’s own letters").check()
    desk.tab.get_by_role("button", name="Save the settings").click()
    desk.tab.wait_for_url("**/marrowby-canal-trust/")
    text = "<!doctype html><html lang=de><title>t</title><h1>t</h1><h2>Schleusen für Anfänger"
    desk.paste("/de/", text)
    desk.click("h2")
    wanted = {"own": "schleusen-für-anfänger", "plain": "schleusen-fuer-anfaenger"}[letters]
    expect(desk.side.get_by_label("ID for this section")).to_have_value(wanted)
    desk.press("Mark this section")
    desk.hears(f"as #{wanted}")
    (mark,) = gather(Source(desk.markup("/de/"))).marks
    assert mark.value == wanted


def test_a_hop_to_words_where_no_id_can_be(desk: Desk) -> None:
    desk.open(LOCKS)
    desk.select("the grooves in the stonework")
    desk.side.get_by_role("option", name="A note on paddle gear").click()
    suggested = desk.side.get_by_label("It has no mark yet")
    expect(suggested).to_have_value("a-note-on-paddle-gear")  # nothing moves any more
    desk.settled()
    desk.side.get_by_role("button", name="link to its words").click()
    expect(desk.side.locator(".form.on", has_text=":~:text=A%20note")).to_be_visible()
    desk.press("Save the hop")
    desk.hears("Linked “the grooves in the stonework” to #:~:text=A%20note")
    hop = desk.side.get_by_role("button", name="the grooves in the stonework #:~:text")
    hop.click()
    expect(desk.side.get_by_text("A hop to a place on this page")).to_be_visible()
