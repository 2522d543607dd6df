"""Lines of style for what hops need, on one page or on all that lack them."""

from __future__ import annotations

import pytest

from innerhop.core.refusals import Refusal
from innerhop.library.acts import page_acts
from innerhop.library.changes import undo
from innerhop.library.index.texts import current
from innerhop.library.models import Editor, Layout, Measure, Page, Site
from tests.library.test_changes import page_at, save
from tests.library.test_hops import bring

pytestmark = pytest.mark.django_db


def measure(page: Page, header: int, padding: int = 0) -> None:
    for width, tall in ((390, header // 2), (1280, header)):
        Measure.objects.update_or_create(
            page=page, width=width,
            defaults={"revision": page.revision, "height": 2_000, "tops": {}, "header": tall,
                      "padding": padding},
        )  # fmt: skip


def test_room_for_a_header_is_left_on_all_pages_that_lack_it(site: Site, editor: Editor) -> None:
    site.pages.all().delete()
    head = "<!doctype html><html><head><title>{}</title></head><body><h2 id=a>A</h2>"
    paths = ("/short/", "/tall/", "/roomy/", "/unseen/")
    short, tall, roomy, _ = (bring(site, editor, path, head.format(path)) for path in paths)
    for page, header, padding in ((short, 40, 0), (tall, 76, 10), (roomy, 76, 90)):
        measure(page, header, padding)
    act = page_acts.room(short, everywhere=True)
    change = save(short, editor, act)
    texts = {path: current(page_at(site, path)).text for path in paths}
    assert "scroll-padding-top: 36px }" in texts["/short/"]
    assert "(min-width: 390px) { html { scroll-padding-top: 92px } }" in texts["/tall/"]
    assert "scroll-padding" not in texts["/roomy/"]
    assert "92px" in texts["/unseen/"]  # as much as the tallest needs
    assert change.message == "Left room for what stays at the top of the view on 3 pages"
    with pytest.raises(page_acts.NothingLacks):
        page_acts.room(page_at(site, "/short/"), everywhere=True)
    undo.undo(change)
    assert "scroll-padding" not in current(page_at(site, "/tall/")).text


def test_smooth_scrolling_on_all_pages_leaves_out_what_has_no_head(
    site: Site, editor: Editor
) -> None:
    site.pages.all().delete()
    page = bring(site, editor, "/a/", "<title>A</title><h2 id=a>A</h2>")
    bring(site, editor, "/b/", "<h2 id=a>A</h2>")
    act = page_acts.smooth(page, everywhere=True)
    assert (len(act.plans), act.notes) == (
        1,
        ["1 page without a head of their own stay as they are."],
    )


def test_room_is_known_from_how_visitors_pages_lie(site: Site) -> None:
    page = page_at(site, "/skippers-handbook/")
    Measure.objects.all().delete()
    with pytest.raises(page_acts.NothingLacks):
        page_acts.room(page)
    view = {"width": 1280, "height": 800, "page": 9_000, "padding": 0, "snap": "", "snaps": [],
            "covers": [[0, 0, 67, 0, 9_000]]}  # fmt: skip
    Layout.objects.create(page=page, revision=0, width=1280, view=view, targets={})
    act = page_acts.room(page)
    assert "scroll-padding-top: 83px" in act.plans[0].make(current(page)).edits[0].new


def test_room_is_made_once_in_the_site_s_own_style_sheet(site: Site, editor: Editor) -> None:
    page = page_at(site, "/skippers-handbook/")
    measure(page, 67)
    sheet = site.assets.filter(media_type="text/css").order_by("path")[0]
    before = bytes(sheet.content)
    change = save(page, editor, page_acts.room_in_sheet(page, sheet.pk))
    sheet.refresh_from_db()
    added = bytes(sheet.content).removeprefix(before)
    assert b"html { scroll-padding-top: 83px }" in added
    assert len(sheet.content) == sheet.size
    with pytest.raises(page_acts.NothingLacks):
        page_acts.room_in_sheet(page, sheet.pk)
    undo.undo(change)
    sheet.refresh_from_db()
    assert bytes(sheet.content) == before
    undo.redo(change)
    sheet.refresh_from_db()
    sheet.content = b"p {}"  # it came in anew
    sheet.save()
    with pytest.raises(Refusal, match="came in anew"):
        undo.undo(change)
