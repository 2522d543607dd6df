"""The copy sheet of a site: what is one thing to do is told once, and nothing that nobody asked
for."""

from __future__ import annotations

import pytest

from innerhop.library.acts import page_acts
from innerhop.library.acts.table import planned
from innerhop.library.changes import write
from innerhop.library.hand_over import copy_sheet
from innerhop.library.models import Asset, Editor, Page, Site
from tests.library.test_menu_acts import change, end, main, stay
from tests.library.test_page_styles import measure

pytestmark = pytest.mark.django_db


def told(site: Site) -> list[tuple[str, str, str, int]]:
    return [(step.kind, step.what, step.at, step.pages)
            for sheet in copy_sheet.of_site(site) for step in sheet.steps]  # fmt: skip


def test_a_menu_of_all_pages_is_told_once_and_by_its_items(site: Site, editor: Editor) -> None:
    labels = [item.label for item in main(site).items]
    guide = Page.objects.get(site=site, path="/lock-guide/")
    items = stay()
    items = [items[2], {"item": None, "depth": 0, "label": "Learn", "end": end(guide)}, *items[:2],
             *items[3:]]  # fmt: skip
    change(site, editor, items)
    assert told(site) == [
        ("move-item", f"item “{labels[2]}”", "as the menu’s first item", 8),
        ("new-item", "new item “Learn”", f"right behind the item “{labels[2]}”", 8),
    ]


def test_an_emptied_and_a_reworded_item(site: Site, editor: Editor) -> None:
    first, second, *_ = (item.label for item in main(site).items)
    items = [{"item": 1, "depth": 0, "label": "Something else"}, *stay()[2:]]
    change(site, editor, items)
    assert [one[:3] for one in told(site)] == [
        ("item-words", f"item “{second}”", ""), ("no-item", f"item “{first}”", ""),
    ]  # fmt: skip
    row, *_ = copy_sheet.rows(copy_sheet.of_site(site))
    assert row["enter"] == "Something else"
    assert str(row["place"]).startswith("in the menu “Main”, in the header, the same on 8")


def test_room_is_one_line_wherever_it_was_saved(site: Site, editor: Editor) -> None:
    for one in site.pages.all():
        measure(one, 67)
    page = site.pages.get(path="/about/")
    act = planned("room", page, {"all": True})
    change = write.save(site, editor, act.message, act.plans, act.effects)
    steps = told(site)
    assert [one[:2] for one in steps] == [("style", "a line of style")]
    assert steps[0][3] == len(act.plans)
    assert copy_sheet.styles(site, copy_sheet.of_site(site)).room == ""
    assert change.pk


def test_lines_in_a_style_sheet_are_told(site: Site, editor: Editor) -> None:
    for one in site.pages.all():
        measure(one, 67)
    sheet = Asset.objects.filter(site=site, path__endswith=".css").first()
    assert sheet is not None
    act = page_acts.room_in_sheet(site.pages.get(path="/about/"), sheet.pk)
    write.save(site, editor, act.message, act.plans, act.effects)
    found = copy_sheet.styles(site, [])
    assert [(path, "scroll-padding-top" in css) for path, css in found.sheets] == [
        (sheet.path, True)
    ]
    assert told(site) == []
