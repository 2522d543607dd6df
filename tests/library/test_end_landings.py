"""What readers see first where a hop ends, said before it is saved."""

from __future__ import annotations

from typing import Any

import pytest

from innerhop.library.acts.base import Act
from innerhop.library.acts.table import planned
from innerhop.library.models import Editor, Layout, Measure, Page, Site
from tests.library.test_changes import content, words_in
from tests.library.test_hop_acts import save
from tests.library.test_hops import bring

TEXT = """<!doctype html><html lang=en><title>Ice</title><header>Canal</header><main><h1>Ice</h1>
<p>Mind the frost.</p><h2 id=frost>Frost</h2><p>x</p><h2>Thaw</h2><p>y</p></main>"""
COVERED = "What readers see first there at Phone 390: covered by 24 px."
ROOM = "scroll-padding-top"


@pytest.fixture
def ice(site: Site, editor: Editor) -> Page:
    """A page whose header, 60 px tall on a phone, hides the line that readers come for."""
    page = bring(site, editor, "/ice/", TEXT)
    target = {"top": 900, "margin": 0, "content": 900, "line": 24, "heading": None,
              "boxes": [], "hidden": False}  # fmt: skip
    view = {"width": 390, "height": 844, "page": 4000, "padding": 0, "snap": "", "snaps": [],
            "covers": [[True, 0, 60, 0, 9999]]}  # fmt: skip
    Layout.objects.create(
        page=page, revision=page.revision, width=390, view=view, targets={"frost": target}
    )
    Measure.objects.create(
        page=page, revision=page.revision, width=390, height=4000, tops={}, header=60, padding=0
    )
    return page


def led(page: Page, end: dict[str, Any], **more: Any) -> Act:
    words = words_in(page, "Mind the frost")
    points = {
        name: {"number": one.number, "child": one.child, "offset": one.offset}
        for name, one in (("start", words.start), ("stop", words.end))
    }
    return planned("hop", page, {**points, "end": {"page": page.pk, **end}, **more})


def test_a_covered_end_is_told_and_its_room_left_in_the_same_change(
    ice: Page, editor: Editor
) -> None:
    act = led(ice, {"id": "frost"})
    assert COVERED in act.notes
    assert act.lacks_room
    act = led(ice, {"id": "frost"}, room=True)
    assert COVERED not in act.notes
    save(ice, editor, act)
    text = content(Page.objects.get(pk=ice.pk)).decode()
    assert ROOM in text
    assert '<a href="#frost">Mind the frost</a>' in text


def test_an_end_that_is_to_be_marked_is_told_of_the_header(ice: Page) -> None:
    number = ice.sections.get(title="Thaw").number
    act = led(ice, {"id": "thaw", "number": number, "mark": True})
    assert [one for one in act.notes if "up to 60 px, covers it at Phone 390" in one]


def test_where_nothing_covers_it_nothing_is_said(ice: Page) -> None:
    Layout.objects.all().delete()
    Measure.objects.all().delete()
    act = led(ice, {"id": "frost"})
    assert act.notes == []
    assert not act.lacks_room


@pytest.mark.parametrize("kind", ["marker", "contents"])
def test_a_marker_or_a_list_says_so_too_and_leaves_the_room(
    ice: Page, editor: Editor, kind: str
) -> None:
    number = ice.sections.get(title="Thaw").number
    entries = [{"part": ice.sections.get(title="Frost").number, "id": "frost", "label": "Frost"}]
    sent = {
        "marker": {"number": number, "side": "before", "id": "thaw"},
        "contents": {"kind": "nested", "levels": "h2", "scope": "page", "entries": entries},
    }[kind]
    act = planned(kind, ice, sent)
    assert any("up to 60 px, covers" in one for one in act.notes)
    assert act.lacks_room
    save(ice, editor, planned(kind, ice, {**sent, "room": True}))
    assert ROOM in content(Page.objects.get(pk=ice.pk)).decode()
