"""Changes are written on all their pages or on none, and can be undone and redone."""

from __future__ import annotations

import random

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from innerhop.core.planners.selection import Point, Words, texts_below
from innerhop.library import doing
from innerhop.library.acts import base, convert_and_move, hop_acts, mark_acts, page_acts
from innerhop.library.acts.ends import End
from innerhop.library.bring_in import bring_ins, news
from innerhop.library.changes import effects, undo, write
from innerhop.library.hand_over import differences
from innerhop.library.index.texts import current
from innerhop.library.models import Change, Editor, LockedPart, Mark, Page, Section, Site


def page_at(site: Site, path: str) -> Page:
    return Page.objects.select_related("site").get(site=site, path=path)


def content(page: Page) -> bytes:
    return bytes(page.revisions.get(number=Page.objects.get(pk=page.pk).revision).content)


def section(page: Page, title: str) -> Section:
    return page.sections.get(title=title)


def words_in(page: Page, wanted: str) -> Words:
    """The first place on the page where these words stand in one text node."""
    source = current(page).source
    for number, child, data in texts_below(source, 0, 0):
        if wanted in data:
            at = data.index(wanted)
            return Words(Point(number, child, at), Point(number, child, at + len(wanted)))
    raise AssertionError(wanted)


def save(page: Page, editor: Editor, act: base.Act) -> Change:
    return write.save(page.site, editor, act.message, act.plans, act.effects)


def correct(page: Page, editor: Editor, path: str) -> Change:
    return save(page, editor, convert_and_move.correct_address(page, path))


def test_marking_and_hopping_to_another_page_is_one_change(site: Site, editor: Editor) -> None:
    handbook, guide = page_at(site, "/skippers-handbook/"), page_at(site, "/lock-guide/")
    before = content(handbook), content(guide)
    heading = section(guide, "A note on paddle gear")
    end = End(guide, "paddle-gear", heading.number)
    change = save(handbook, editor, hop_acts.hop(handbook, words_in(handbook, "the pawl"), end))

    assert set(undo.pages_of(change)) == {handbook, guide}
    assert b'<a href="/lock-guide/#paddle-gear">the pawl</a>' in content(handbook)
    assert b'<h2 id="paddle-gear" class="paddle-gear">' in content(guide)
    assert Mark.objects.filter(page=guide, value="paddle-gear").exists()  # the index follows

    undo.undo(change)
    assert (content(handbook), content(guide)) == before
    assert not Mark.objects.filter(page=guide, value="paddle-gear").exists()
    undo.redo(change)
    assert b"the pawl</a>" in content(handbook)
    with pytest.raises(undo.CannotUndo):
        undo.redo(change)


def test_a_page_that_moved_on_stops_the_whole_change(site: Site, editor: Editor) -> None:
    handbook, guide = page_at(site, "/skippers-handbook/"), page_at(site, "/lock-guide/")
    end = End(guide, "gear", section(guide, "A note on paddle gear").number)
    planned = hop_acts.hop(handbook, words_in(handbook, "the pawl"), end)
    other = Editor.objects.create_user("other")
    save(guide, other, page_acts.smooth(guide))
    before = content(handbook), content(guide)
    with pytest.raises(write.MovedOn, match="other changed “Lock guide” while you worked"):
        save(handbook, editor, planned)
    assert (content(handbook), content(guide)) == before
    assert Change.objects.filter(site=site).count() == 1


def test_any_change_can_be_undone_unless_a_later_one_needs_it(site: Site, editor: Editor) -> None:
    page = page_at(site, "/skippers-handbook/")
    top = End(page, "")
    first = save(page, editor, hop_acts.hop(page, words_in(page, "five minutes in neutral"), top))
    page.refresh_from_db()
    second = save(page, editor, page_acts.smooth(page))
    undo.undo(first)  # not the newest, and elsewhere on the page
    assert b"five minutes in neutral</a>" not in content(page)
    assert b"scroll-behavior" in content(page)
    undo.redo(first)
    undo.undo(second)
    assert b"five minutes in neutral</a>" in content(page)


def test_next_to_undo_is_the_editor_s_own(site: Site, editor: Editor) -> None:
    page = page_at(site, "/lock-guide/")
    mine = save(page, editor, page_acts.smooth(page))
    page.refresh_from_db()
    heading = section(page, "A note on paddle gear")
    other = Editor.objects.create_user("other")
    save(page, other, mark_acts.mark(page, [(heading.number, "gear")]))
    assert undo.next_to_undo(site, editor) == mine
    undo.undo(mine)
    assert undo.next_to_undo(site, editor) is None
    assert undo.next_to_redo(site, editor) == mine
    page.refresh_from_db()
    words = words_in(page, "worked in pairs")
    save(page, editor, hop_acts.hop(page, words, End(page, "the-flight")))
    assert undo.next_to_redo(site, editor) is None  # a new change closes that way


@settings(max_examples=8, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(order=st.randoms(use_true_random=False))
def test_all_changes_undone_in_any_order_give_the_original(
    site: Site, editor: Editor, order: random.Random
) -> None:
    page = page_at(site, "/about/")  # windows-1252, CR LF
    original = content(page)
    made = []
    for heading in list(page.sections.filter(mark="")):
        made.append(
            save(page, editor, mark_acts.mark(page, [(heading.number, f"ü{heading.number}")]))
        )
        page.refresh_from_db()
    for words in ("a load of pears", "forty people came", "diesel and soup"):
        act = hop_acts.hop(page, words_in(page, words), End(page, "trustees"))
        made.append(save(page, editor, act))
        page.refresh_from_db()
    order.shuffle(made)
    for change in made:
        undo.undo(change)
    assert content(page) == original


def test_bringing_a_page_in_again_is_a_change_too(site: Site, editor: Editor) -> None:
    page = page_at(site, "/about/")
    original = content(page)
    save(page, editor, page_acts.smooth(page))
    changed = content(page)
    piece = bring_ins.NewFile("about/index.html", b"<h1>New</h1>\xff\xfe")
    for _ in bring_ins.bring_in(site, editor, [piece], 1, replace=True):
        pass
    row = page.new_texts.get()
    news.choose(row, news.WHOLE, "there")
    doing.do(editor, "take-in", site, {"bring_in": row.bring_in_id})
    assert content(page) == piece.data
    again = undo.next_to_undo(site, editor)
    assert again is not None
    undo.undo(again)
    assert content(page) == changed
    page.refresh_from_db()
    assert differences.since_arrival(page).changed  # what was done before is a difference again
    undo.redo(again)
    page.refresh_from_db()
    assert not differences.since_arrival(page).changed
    smooth = Change.objects.filter(site=site, author=editor).exclude(pk=again.pk).first()
    assert smooth is not None
    with pytest.raises(undo.CannotUndo, match="later change"):
        undo.undo(smooth)  # nobody can follow its characters through a new text
    undo.undo(again)
    undo.undo(smooth)
    assert content(page) == original


def test_what_was_locked_later_is_not_taken_away(site: Site, editor: Editor) -> None:
    page = page_at(site, "/about/")
    words = words_in(page, "diesel and soup")
    linked = save(page, editor, hop_acts.hop(page, words, End(page, "trustees")))
    page.refresh_from_db()
    number = page.links.latest("pk").number
    locked = save(page, editor, page_acts.lock(page, number))
    with pytest.raises(undo.CannotUndo, match="locked or unlocked later"):
        undo.undo(linked)
    undo.undo(locked)
    undo.undo(linked)
    assert not LockedPart.objects.filter(page=page, lifted=False).exists()


def test_an_address_can_be_given_once(site: Site, editor: Editor) -> None:
    page = page_at(site, "/about/")
    with pytest.raises(effects.AddressTaken, match="Lock guide"):
        correct(page, editor, "/lock-guide")
    correct(page, editor, "https://marrowby.example/trust/")
    assert page_at(site, "/trust/").links.filter(key="/trust", fragment="history").exists()
