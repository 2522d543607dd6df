"""Two editors at once: what one typed goes to what they chose, or nowhere, and is never lost;
whatever the other put in, took out or moved meanwhile."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect

from innerhop.library.acts.table import planned
from innerhop.library.changes import write
from innerhop.library.models import Editor, Site
from tests.browser.conftest import Desk
from tests.browser.test_menus import row, show

PARTS = "".join(f"<h2>Part {at}</h2><p>About {at}.</p>" for at in range(1, 26))


def other_does(site: Site, path: str, name: str, sent: dict[str, object]) -> None:
    """Another editor's act, saved meanwhile."""
    editor = Editor.objects.get_or_create(username="other")[0]
    page = site.pages.select_related("site").get(path=path)
    act = planned(name, page, sent)
    write.save(site, editor, act.message, act.plans, act.effects)


def test_a_typed_id_goes_to_the_part_it_was_typed_for(desk: Desk) -> None:
    desk.paste("/parts/", f"<title>Parts</title><h1>Parts</h1><p>All.</p>{PARTS}")
    desk.tab.locator(".outline-row", has_text="Part 20").click()
    field = desk.tab.get_by_label("ID for this section")
    field.fill("twenty")
    other_does(desk.site, "/parts/", "ways-back", {"where": "sections"})  # elements before it
    field.press("Enter")
    # Beside it may stand, too, what the other did.
    told = desk.tab.get_by_role("alert").filter(has_text="while you worked")
    told.get_by_role("button", name="Use the page as it is now").click()
    expect(desk.tab.get_by_label("ID for this section")).to_have_value("twenty")
    expect(desk.side.get_by_role("heading", name="Part 20")).to_be_visible()
    desk.press("Mark this section")
    desk.hears("Marked “Part 20” as #twenty")


@pytest.mark.parametrize(
    ("behind", "says"),
    [
        ("<p>More.</p>", "Choose it again; you had typed “elsewhere”"),
        ("", "The ID that this part had was taken away meanwhile. You had typed “elsewhere”"),
    ],
)
def test_what_went_is_worked_on_no_longer_and_the_words_are_said(
    desk: Desk, behind: str, says: str
) -> None:
    marked = f"<h1>Parts</h1><p>All.</p><a id=here></a>{behind}{PARTS}"
    desk.paste("/parts/", f"<title>Parts</title>{marked}")
    desk.tab.locator(".outline-row", has_text="#here").first.click()
    desk.press("Rename")
    desk.side.get_by_label("Another ID for it").fill("elsewhere")
    expect(desk.shown("What changes in the markup")).to_be_visible()
    number = desk.site.pages.get(path="/parts/").marks.get(value="here").number
    other_does(desk.site, "/parts/", "take-away", {"number": number, "then": "break"})
    desk.press("Rename")
    desk.tab.get_by_role("button", name="Use the page as it is now").click()
    expect(desk.tab.get_by_role("alert").last).to_contain_text(says)
    expect(desk.side.get_by_label("Another ID for it")).to_be_hidden()


def save_after_another(desk: Desk, verb: str) -> None:
    """Save what somebody else was faster with, once with the page as it is then."""
    other_does(desk.site, "/parts/", "ways-back", {"where": "sections"})
    desk.press(verb)
    desk.tab.get_by_role("button", name="Use the page as it is now").click()
    desk.hears("This is the page as it is now")
    desk.press(verb)


def test_selected_words_stay_the_words_that_were_selected(desk: Desk) -> None:
    desk.paste("/parts/", f"<title>Parts</title><h1>Parts</h1><p>All of it.</p>{PARTS}")
    desk.select("About 20")
    desk.tab.get_by_role("option", name="Part 3").first.click()
    expect(desk.side.get_by_role("button", name="Save the hop")).to_be_enabled()
    save_after_another(desk, "Save the hop")
    desk.hears("Linked")
    assert ">About 20</a>" in desk.markup("/parts/")


def test_entries_of_a_list_stay_the_parts_that_were_chosen(desk: Desk) -> None:
    desk.paste("/parts/", f"<title>Parts</title><h1>Parts</h1><p>All.</p>{PARTS}")
    desk.press("Make a contents list")
    expect(desk.side.get_by_role("button", name="Make the list")).to_be_enabled()
    save_after_another(desk, "Make the list")
    desk.hears("contents list")
    markup = desk.markup("/parts/")
    assert all(f'<a href="#part-{at}">Part {at}</a>' in markup for at in range(1, 26))


def test_reworded_items_of_a_menu_stay_themselves(desk: Desk) -> None:
    typed = "Locks and gates"
    tab = show(desk)
    row(tab, "Locks").click()
    tab.get_by_label("Its words").fill(typed)
    expect(tab.get_by_role("button", name="Save on 8 pages")).to_be_enabled()
    page = desk.site.pages.get(path="/")
    menu = page.menus.order_by("number").first()
    assert menu is not None
    moved = [{"item": at, "depth": 0} for at in (3, 0, 1, 2, 4)]  # Book comes first
    other_does(desk.site, "/", "menu", {"number": menu.number, "items": moved})
    tab.get_by_role("button", name="Save on 8 pages").click()
    expect(tab.get_by_role("alert")).to_contain_text("while")
    expect(tab.locator('.menu-words[aria-pressed="true"] bdi')).to_have_text("Locks")
    expect(tab.get_by_label("Its words")).to_have_value(typed)
    tab.get_by_role("button", name="Save on 8 pages").click()
    expect(tab.get_by_role("status").get_by_text(typed)).to_be_visible()
    assert tab.locator(".menu-words bdi").all_text_contents() == [
        "Book", "Handbook", typed, "Moorings", "Help",
    ]  # fmt: skip


@pytest.mark.usefixtures("unmeasured")
def test_a_place_that_was_chosen_among_findings_is_the_place_that_is_mended(desk: Desk) -> None:
    two = "<p><a href=#Two>To the second</a> <a href=#Three>To the third</a></p>"
    ends = "<h2 id=two>Two</h2><p>b</p><h2 id=three>Three</h2><p>c</p>"
    desk.paste("/ends/", f"<title>Ends</title><h1>Ends</h1>{PARTS}{two}{ends}")
    page = desk.site.pages.get(path="/ends/")
    desk.tab.goto(f"{desk.server}/marrowby-canal-trust/findings/?level=stuck&page={page.pk}")
    off = desk.tab.locator(".finding").filter(has_text="A space or a capital is off")
    off.get_by_role("button", name="See all 2 places").click()
    places = off.get_by_role("listitem").filter(has=desk.tab.get_by_role("checkbox"))
    places.filter(has_text="To the third").get_by_role("checkbox").check()
    other_does(desk.site, "/ends/", "ways-back", {"where": "sections"})
    off.get_by_role("button", name="Mend the 1 chosen").click()
    expect(desk.tab.get_by_role("alert").first).to_contain_text("while you worked")
    desk.tab.get_by_role("button", name="Show it as it is now").click()
    third = places.filter(has_text="To the third").get_by_role("checkbox")
    expect(third).to_be_checked()
    off.get_by_role("button", name="Mend the 1 chosen").click()
    expect(desk.tab.get_by_role("status").get_by_text("1 place")).to_be_visible()
    assert "<a href=#Two>To the second</a> <a href=#three>" in desk.markup("/ends/")


@pytest.mark.usefixtures("unmeasured")
def test_a_chosen_place_that_went_is_chosen_no_more_and_a_reason_typed_for_it_stays(
    desk: Desk,
) -> None:
    lines = "".join(f"<p><b>Line {at}</b></p><p>About {at}.</p>" for at in range(3))
    desk.paste("/bold/", f"<title>Bold</title><h1>Bold</h1>{lines}")
    page = desk.site.pages.get(path="/bold/")
    desk.tab.goto(f"{desk.server}/marrowby-canal-trust/findings/?level=better&page={page.pk}")
    bold = desk.tab.locator(".finding").filter(has_text="A line serves as a heading")
    bold.get_by_role("button", name="See all 3 places").click()
    bold.get_by_role("listitem").filter(has_text="Line 1").get_by_role("checkbox").check()
    bold.get_by_role("button", name="Set aside").click()
    bold.get_by_label("Why it is no finding here").fill("A label")
    number = page.findings.get(rule="bold-line", words="Line 1").number
    other_does(desk.site, "/bold/", "heading", {"number": number, "level": 2, "id": "line-1"})
    bold.get_by_role("button", name="Set 1 aside").click()
    expect(desk.tab.get_by_role("alert").first).to_contain_text("Nothing of this is there")
    desk.tab.get_by_role("button", name="Show it as it is now").click()
    expect(bold.get_by_text("1 of the places that you chose is not here any more")).to_be_visible()
    expect(bold.get_by_label("Why it is no finding here")).to_have_value("A label")
    expect(bold.get_by_role("button", name="Mend the")).to_be_hidden()
