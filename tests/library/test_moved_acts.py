"""Old addresses of sections: told in the tag of the visitor's script, and kept true as marks and
pages move on. What the script does with them is tried in Chromium (test_moved)."""

from __future__ import annotations

import pytest

from innerhop.core.contents import moved
from innerhop.core.planners.markers import CannotMark
from innerhop.core.planners.page_styles import CannotStyle
from innerhop.library import doing
from innerhop.library.acts import moved_acts
from innerhop.library.changes import undo
from innerhop.library.hand_over import copy_sheet
from innerhop.library.index.texts import current
from innerhop.library.models import Change, Editor, Page, Site
from tests.library.test_changes import section
from tests.library.test_mark_acts import bring

pytestmark = pytest.mark.django_db
TUNNEL = "<!doctype html><html lang=en><head><title>T</title></head><body><h1>T</h1>"
PAGES = {
    "/one/": f'{TUNNEL}<h2 id="winter">Winter works</h2><p>Ice.<a href="#winter">w</a></p>'
    '<ul><li><h3 id="ice">Ice</h3></ul>',
    "/two/": f'{TUNNEL}<h2 id="cold">Cold days</h2><p>Snow. <a href="/one/#winter">w</a></p>',
    "/bare/": '<h2 id="alone">Alone</h2><p>A page without a head of its own.',
}


@pytest.fixture
def pages(site: Site, editor: Editor) -> Site:
    bring(site, editor, PAGES)
    return site


def at(site: Site, path: str) -> Page:
    return site.pages.select_related("site").get(path=path)


def do(site: Site, where: str, name: str, **sent: object) -> Change:
    return doing.do(site.editors.get(), name, at(site, where), sent)


def number(site: Site, path: str, id_: str) -> int:
    found = at(site, path).marks.get(value=id_)
    return int(found.number)


def led(site: Site, path: str) -> dict[str, str]:
    """As it is kept, which is as it is written."""
    page = at(site, path)
    found = {one.old: one.to for one in moved_acts.of_page(page)}
    tags = [one.attr(moved.MOVED) for one in current(page).source.of_tags("script")]
    assert found == dict(pair for one in tags for pair in moved.read(one))
    return found


def rename(site: Site, path: str, old: str, new: str, lead: bool = True) -> Change:
    return do(site, path, "rename", number=number(site, path, old), id=new, lead=lead)


def test_a_renamed_mark_leads_readers_on_and_undoing_it_leaves_nothing(pages: Site) -> None:
    before = current(at(pages, "/one/")).text
    change = rename(pages, "/one/", "winter", "winter-works")
    assert led(pages, "/one/") == {"winter": "#winter-works"}
    assert "readers who come by #winter are led on" in change.message
    assert pages.assets.filter(path="/hops/hops.js").exists()
    assert 'href="/one/#winter-works"' in current(at(pages, "/two/")).text  # as without it
    undo.undo(change)
    assert current(at(pages, "/one/")).text == before
    assert not pages.assets.filter(path="/hops/hops.js").exists()


def test_old_addresses_follow_what_they_lead_to(pages: Site) -> None:
    rename(pages, "/one/", "winter", "winter-works")
    rename(pages, "/one/", "winter-works", "works", lead=False)
    assert led(pages, "/one/") == {"winter": "#works"}
    rename(pages, "/one/", "works", "übersicht")
    assert led(pages, "/one/") == {
        "winter": "#%C3%BCbersicht", "works": "#%C3%BCbersicht",
    }  # fmt: skip
    end = {"page": at(pages, "/two/").pk, "id": "cold"}
    sent = {"number": number(pages, "/one/", "übersicht"), "then": "retarget", "end": end}
    do(pages, "/one/", "take-away", **sent)
    assert set(led(pages, "/one/").values()) == {"/two/#cold"}
    rename(pages, "/two/", "cold", "cold-days", lead=False)
    assert set(led(pages, "/one/").values()) == {"/two/#cold-days"}
    do(pages, "/two/", "move-page", path="/frost/")
    assert set(led(pages, "/one/").values()) == {"/frost/#cold-days"}
    gone = do(pages, "/frost/", "take-away", number=number(pages, "/frost/", "cold-days"),
              then="break")  # fmt: skip
    assert "nowhere" in gone.message or set(led(pages, "/one/").values()) == {"/frost/#cold-days"}


def test_a_section_on_another_page_is_led_to_and_a_line_says_where(pages: Site) -> None:
    end = {"page": at(pages, "/two/").pk, "id": "cold"}
    sent = {"number": number(pages, "/one/", "winter"), "then": "retarget", "end": end,
            "lead": True, "line": True}  # fmt: skip
    change = do(pages, "/one/", "take-away", **sent)
    text = current(at(pages, "/one/")).text
    assert led(pages, "/one/") == {"winter": "/two/#cold"}
    line = '<p id="winter" data-hop-moved="">This moved to <a href="/two/#cold">Cold days</a></p>'
    assert f"{line}<h2>Winter works</h2>" in text
    assert "readers who come by #winter are led there too" in change.message
    assert [one.is_back for one in moved_acts.of_page(at(pages, "/one/"))] == [False]
    sheet = copy_sheet.of_page(at(pages, "/one/"))
    entered = " ".join(one.enter for one in sheet.steps)
    assert 'data-hop-moved="winter /two/#cold"' in entered
    assert "This moved to" in entered


def test_a_line_stands_where_a_paragraph_may(pages: Site) -> None:
    end = {"page": at(pages, "/two/").pk, "id": "cold"}
    do(pages, "/one/", "take-away", number=number(pages, "/one/", "ice"), then="retarget",
       end=end, line=True)  # fmt: skip
    assert '<ul><li><p id="ice"' in current(at(pages, "/one/")).text
    assert led(pages, "/one/") == {}


def test_leading_on_is_ended(pages: Site) -> None:
    before = current(at(pages, "/one/")).text
    rename(pages, "/one/", "winter", "winter-works")
    rename(pages, "/one/", "winter-works", "winter", lead=False)
    assert led(pages, "/one/") == {"winter": "#winter"}
    assert [one.is_back for one in moved_acts.of_page(at(pages, "/one/"))] == [True]
    do(pages, "/one/", "stop-leading", old="winter")
    assert current(at(pages, "/one/")).text == before  # nothing else needs the script
    with pytest.raises(CannotMark, match="any more"):
        do(pages, "/one/", "stop-leading", old="winter")


def test_what_visitors_get_and_where_they_are_led_are_two_things(pages: Site) -> None:
    rename(pages, "/one/", "winter", "works")
    do(pages, "/one/", "visitor-parts", focus=True)
    assert led(pages, "/one/") == {"winter": "#works"}
    do(pages, "/one/", "visitor-parts")
    assert led(pages, "/one/") == {"winter": "#works"}
    assert "data-hop-unlit" in current(at(pages, "/one/")).text
    do(pages, "/one/", "visitor-parts", lit=True)
    assert "data-hop-unlit" not in current(at(pages, "/one/")).text
    do(pages, "/one/", "stop-leading", old="winter")
    assert "hops.js" in current(at(pages, "/one/")).text  # which lights up the sections


def test_pages_without_a_head_are_told(pages: Site, editor: Editor) -> None:
    sent = {"number": number(pages, "/bare/", "alone"), "id": "lone", "lead": True}
    with pytest.raises(CannotStyle, match="no head"):
        doing.planned(editor, "rename", at(pages, "/bare/"), sent).told()
    Page.objects.filter(path="/bare/").update(body_only=True)
    with pytest.raises(CannotMark, match="Leave the old ID as a marker"):
        doing.planned(editor, "rename", at(pages, "/bare/"), sent)
    assert section(at(pages, "/bare/"), "Alone").mark == "alone"
