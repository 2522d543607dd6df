"""Pages that come in again: nothing that was made here goes unless that was seen."""

from __future__ import annotations

import json

import pytest
from django.test import Client

from innerhop.library.acts.table import planned
from innerhop.library.bring_in import bring_ins
from innerhop.library.bring_in.again import WouldLose
from innerhop.library.changes import undo
from innerhop.library.models import BringIn, Editor, Page, Site
from tests.library.test_changes import content
from tests.library.test_contents_acts import parts
from tests.library.test_hop_acts import save
from tests.library.test_hops import bring

OLD = "<!doctype html><html lang=en><title>Ice</title><main><h1>Ice</h1><h2>Frost</h2><p>Thin.</p>"
OLD += "<h2 id=thaw>Thaw</h2><p>Wet.</p></main>"
NEW = OLD.replace("Thin.", "Thick.")
LOST = "Ice (/ice/): 2 marks: #frost, #late; 1 hop: “Late” to #late; 1 contents list; 2 ways back."


@pytest.fixture
def ice(site: Site, editor: Editor) -> Page:
    """A page on which somebody has worked."""
    page = bring(site, editor, "/ice/", OLD)

    def do(name: str, **sent: object) -> None:
        page.refresh_from_db()
        save(page, editor, planned(name, page, sent))

    heading = page.sections.get(title="Frost").number
    do("mark", marks=[{"number": heading, "id": "frost"}])
    do("rename", number=page.marks.get(value="thaw").number, id="late")
    do("contents", kind="nested", levels="h2", entries=parts(page, "h2"), where="sections")
    last = page.sections.get(title="Thaw").number
    do("put-link", number=last, side="before", words="Late", end={"page": page.pk, "id": "late"})
    page.refresh_from_db()
    return page


def again(site: Site, editor: Editor, markup: str, *, lose: bool = False) -> None:
    piece = bring_ins.Piece("ice.html", markup.encode(), address="/ice/")
    for _ in bring_ins.bring_in(site, editor, [piece], 1, replace=True, lose=lose):
        pass


def test_what_would_be_lost_is_told_and_stays(ice: Page, site: Site, editor: Editor) -> None:
    here = content(ice)
    with pytest.raises(WouldLose) as problem:
        again(site, editor, NEW)
    assert problem.value.lines == [LOST]
    ice.refresh_from_db()
    assert content(ice) == here


def test_it_goes_when_that_was_seen_and_comes_back(ice: Page, site: Site, editor: Editor) -> None:
    here = content(ice)
    again(site, editor, NEW, lose=True)
    ice.refresh_from_db()
    assert content(ice).decode() == NEW
    change = BringIn.objects.latest("pk").change
    assert change is not None
    undo.undo(change)
    ice.refresh_from_db()
    assert content(ice) == here


def test_a_text_that_has_it_all_comes_in_at_once(ice: Page, site: Site, editor: Editor) -> None:
    """What was made here was entered there, and words are other ones now."""
    entered = content(ice).decode().replace("Thin.", "Thick.")
    again(site, editor, entered)
    ice.refresh_from_db()
    assert content(ice).decode() == entered


def test_a_page_that_nobody_worked_on_comes_in_at_once(site: Site, editor: Editor) -> None:
    page = bring(site, editor, "/ice/", OLD)
    again(site, editor, NEW.replace("id=thaw", ""))
    page.refresh_from_db()
    assert b"Thick." in content(page)


@pytest.mark.parametrize("script", [True, False])
def test_the_screen_says_it_and_takes_it_when_told_so(
    client: Client, ice: Page, site: Site, script: bool
) -> None:
    sent = {"kind": "whole", "address": "/ice/", "markup": NEW, "taken": "replace"}
    accept = {"Accept": "application/json"} if script else {}
    answer = client.post(f"/{site.slug}/bring-in/markup/", sent, headers=accept)
    if script:
        lines = [json.loads(line) for line in answer.getvalue().decode().splitlines()]
        assert lines[-1]["lost"] == [LOST]
    else:
        assert answer.status_code == 422
        assert "1 contents list" in answer.content.decode()
        assert 'name="lose" value="yes"' in answer.content.decode()
    done = client.post(f"/{site.slug}/bring-in/markup/", {**sent, "lose": "yes"}, follow=True)
    assert done.status_code == 200
    assert f'data-change="{BringIn.objects.latest("pk").change_id}"' in done.content.decode()
    ice.refresh_from_db()
    assert content(ice).decode() == NEW
