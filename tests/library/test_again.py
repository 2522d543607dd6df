"""Pages that come in again: what was made here is kept, and seen before anything is taken in."""

from __future__ import annotations

from io import BytesIO

import pytest

from innerhop.core.edits import Edit, apply
from innerhop.core.plan import Plan
from innerhop.core.refusals import Refusal
from innerhop.library import doing
from innerhop.library.acts.news_acts import NothingWaits
from innerhop.library.acts.table import planned
from innerhop.library.bring_in import bring_ins, news
from innerhop.library.changes import prepare, undo, write
from innerhop.library.changes.since_it_came import first_and_edits
from innerhop.library.hand_over import copy_sheet, differences
from innerhop.library.index.texts import current
from innerhop.library.models import BringIn, Change, Editor, NewText, Page, Site
from tests.library.test_bring_ins import bring as bring_files
from tests.library.test_changes import content
from tests.library.test_contents_acts import parts
from tests.library.test_hop_acts import save
from tests.library.test_hops import bring

OLD = "<!doctype html><html lang=en><title>Ice</title><main><h1>Ice</h1><h2>Frost</h2><p>Thin.</p>"
OLD += "<h2 id=thaw>Thaw</h2><p>Wet.</p></main>"
NEW = OLD.replace("Thin.", "Thick.")
LOST = ["2 marks: #frost, #late", "1 hop: “Late” to #late", "1 contents list", "2 ways back"]


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


def again(site: Site, editor: Editor, markup: str) -> BringIn:
    return bring_files(site, editor, [("ice/index.html", BytesIO(markup.encode()))], replace=True)


def take_in(site: Site, editor: Editor, found: BringIn) -> Change:
    return doing.do(editor, "take-in", site, {"bring_in": found.pk})


def test_it_waits_and_what_was_made_here_is_kept(ice: Page, site: Site, editor: Editor) -> None:
    here = content(ice).decode()
    found = again(site, editor, NEW)
    ice.refresh_from_db()
    assert content(ice).decode() == here  # nothing was taken in yet
    assert news.waiting(site) == found.pk
    (row,) = news.of(found)
    assert row.found["meetings"] == []
    assert news.read([row])[0].lost.sentences == LOST  # were all as it is there
    change = take_in(site, editor, found)
    assert content(ice).decode() == here.replace("Thin.", "Thick.")
    assert news.waiting(site) is None
    undo.undo(change)
    assert content(ice).decode() == here
    assert news.waiting(site) == found.pk
    undo.redo(change)
    assert content(ice).decode() == here.replace("Thin.", "Thick.")


def test_what_was_done_since_it_came_is_known_after_it_came_again(
    ice: Page, site: Site, editor: Editor
) -> None:
    """The copy sheet, and the next time it comes."""
    steps = [one.key for one in copy_sheet.of_page(ice).steps]
    take_in(site, editor, again(site, editor, NEW))
    ice.refresh_from_db()
    first, edits = first_and_edits(ice)
    assert first.text == NEW
    assert apply(first.text, edits) == content(ice).decode()
    assert [one.key for one in copy_sheet.of_page(ice).steps] == steps
    assert ice in differences.touched_pages(site)
    third = NEW.replace("Wet.", "Very wet.")
    here = content(ice).decode()
    take_in(site, editor, again(site, editor, third))
    assert content(ice).decode() == here.replace("Wet.", "Very wet.")


def test_after_a_taking_in_was_undone_the_old_text_counts(
    ice: Page, site: Site, editor: Editor
) -> None:
    undo.undo(take_in(site, editor, again(site, editor, NEW)))
    ice.refresh_from_db()
    assert first_and_edits(ice)[0].text == OLD


def test_where_they_meet_somebody_has_to_say(ice: Page, site: Site, editor: Editor) -> None:
    found = again(site, editor, OLD.replace("<h2>Frost</h2><p>Thin.</p>", ""))
    (row,) = news.of(found)
    for key in news.open_meetings(row):
        with pytest.raises(news.CannotSay, match="“Ice”"):
            take_in(site, editor, found)
        with pytest.raises(Refusal, match="not to be chosen"):
            news.choose(row, key, "both")
        news.choose(row, key, "here")
    take_in(site, editor, found)
    assert b'<h2 id="frost">Frost</h2>' in content(ice)


@pytest.mark.parametrize("choice", ["there", "here"])
def test_the_whole_as_on_one_side(ice: Page, site: Site, editor: Editor, choice: str) -> None:
    found = again(site, editor, NEW)
    (row,) = news.of(found)
    news.choose(row, news.WHOLE, choice)
    if choice == "here":
        with pytest.raises(NothingWaits):
            take_in(site, editor, found)
        return
    change = take_in(site, editor, found)
    assert content(ice).decode() == NEW
    undo.undo(change)
    assert b'id="frost"' in content(ice)


def test_what_was_found_is_found_anew_when_the_page_changes(
    ice: Page, site: Site, editor: Editor
) -> None:
    found = again(site, editor, NEW)
    number = ice.marks.get(value="late").number
    save(ice, editor, planned("rename", ice, {"number": number, "id": "melting"}))
    take_in(site, editor, found)
    assert b'id="melting"' in content(ice) or b"id=melting" in content(ice)


def test_who_takes_it_in_second_is_refused(ice: Page, site: Site, editor: Editor) -> None:
    found = again(site, editor, NEW)
    act = doing.planned(editor, "take-in", site, {"bring_in": found.pk})
    take_in(site, editor, found)
    with pytest.raises(Refusal):
        write.run(doing.steps(editor, "take-in", site, {}, act))
    with pytest.raises(NothingWaits):
        take_in(site, editor, found)


def test_a_hop_of_another_page_is_counted_where_its_end_goes(
    ice: Page, site: Site, editor: Editor
) -> None:
    bring(site, editor, "/from/", '<title>F</title><p><a href="/ice/#late">Late</a></p>')
    found = again(site, editor, OLD.replace("<h2 id=thaw>Thaw</h2>", ""))
    (row,) = news.of(found)
    one = news.read([row])[0]
    assert one.arriving["late"] == 1
    assert one.merged
    assert "late" in {id_ for met in one.merged.meetings for id_ in met.lost["there"]}


def test_a_text_that_has_it_all_leaves_nothing_to_do(ice: Page, site: Site, editor: Editor) -> None:
    """What was made here was entered there, and words are other ones now."""
    entered = content(ice).decode().replace("Thin.", "Thick.")
    found = again(site, editor, entered)
    (row,) = news.of(found)
    assert row.found["done"] == row.found["same"] > 0
    take_in(site, editor, found)
    assert content(ice).decode() == entered
    ice.refresh_from_db()
    assert not copy_sheet.of_page(ice).steps


def test_a_page_that_nobody_worked_on_comes_in_at_once(site: Site, editor: Editor) -> None:
    page = bring(site, editor, "/ice/", OLD)
    found = again(site, editor, NEW.replace("id=thaw", ""))
    page.refresh_from_db()
    assert b"Thick." in content(page)
    assert found.change is not None
    assert page not in differences.touched_pages(site)


def test_a_later_text_takes_the_place_of_one_that_waits(
    ice: Page, site: Site, editor: Editor
) -> None:
    again(site, editor, NEW)
    later = again(site, editor, NEW.replace("Wet", "Damp"))
    assert NewText.objects.filter(page=ice).count() == 1
    take_in(site, editor, later)
    assert b"Damp" in content(ice)


def test_too_broken_to_say(site: Site, editor: Editor) -> None:
    """A tag was put in here that a tag of the page closes: it is the whole of one side."""
    page = bring(site, editor, "/ice/", "<title>I</title><p>One</b> two")
    text = current(page)
    new = text.text.replace("One", "<b>One").encode()
    edits = [Edit(text.text.index("One"), "", "<b>")]
    following = prepare.NextText(new, text.revision.encoding, edits)
    plan = prepare.PagePlan(
        page, page.revision, lambda _text: Plan(), whole=lambda _text, _locked: following
    )
    write.save(site, editor, "By hand", [plan])
    found = again(site, editor, "<title>I</title><p>One</b> three")
    (row,) = news.of(found)
    assert news.open_meetings(row) == [news.WHOLE]
    with pytest.raises(news.CannotSay):
        take_in(site, editor, found)
    news.choose(row, news.WHOLE, "there")
    take_in(site, editor, found)
    assert b"three" in content(page)


def test_a_page_whose_words_came_in_elsewhere_moves_there_with_its_hops(
    ice: Page, site: Site, editor: Editor
) -> None:
    other = bring(site, editor, "/from/", '<title>F</title><p><a href="/ice/#late">Late</a></p>')
    piece = bring_ins.NewFile("frozen.html", NEW.encode(), address="/frozen/")
    for _ in bring_ins.bring_in(site, editor, [piece], 1, replace=True):
        pass
    found, new = BringIn.objects.latest("pk"), site.pages.get(path="/frozen/")
    (pair,) = news.moved([ice], [new])
    assert (pair.page, pair.to) == (ice, new)
    before = {page.pk: content(page) for page in (ice, other)}
    asked = {"page": ice.pk, "to": new.pk, "bring_in": found.pk}
    change = doing.do(editor, "moved-there", site, asked)
    ice.refresh_from_db()
    assert ice.path == "/frozen/"
    assert b'href="/frozen/#late"' in content(other)
    take_in(site, editor, found)
    assert b'id="frost"' in content(ice)
    assert b"Thick." in content(ice)
    with pytest.raises(Refusal):
        undo.undo(change)  # its new text was taken in since
    taken = undo.next_to_undo(site, editor)
    assert taken
    undo.undo(taken)
    undo.undo(change)
    ice.refresh_from_db()
    assert ice.path == "/ice/"
    assert {page.pk: content(page) for page in (ice, other)} == before
    assert site.pages.filter(path="/frozen/").exists()
    assert not NewText.objects.filter(page=ice).exists()
    with pytest.raises(NothingWaits):
        doing.do(editor, "moved-there", site, {**asked, "to": ice.pk})
    number = new.sections.get(title="Frost").number
    save(new, editor, planned("mark", new, {"marks": [{"number": number, "id": "rime"}]}))
    assert news.moved([ice], [new]) == []  # that would be lost
    with pytest.raises(Refusal, match="worked on"):
        doing.do(editor, "moved-there", site, asked)


def test_a_page_that_comes_as_before_stays_as_it_is(ice: Page, site: Site, editor: Editor) -> None:
    here = content(ice)
    found = again(site, editor, OLD)
    assert not NewText.objects.filter(page=ice).exists()
    assert found.change is None
    assert "came in as before" in found.notes[0]
    assert content(ice) == here


def test_a_choice_holds_as_long_as_both_sides_are_as_they_were(
    ice: Page, site: Site, editor: Editor
) -> None:
    found = again(site, editor, OLD.replace(">Thaw<", ">What melts<").replace("Thin.", "Thick."))
    (row,) = news.of(found)
    (key,) = (one["key"] for one in row.found["meetings"])
    news.choose(row, key, "there")
    number = ice.sections.get(title="Frost").number
    save(ice, editor, planned("rename", ice, {"number": number, "id": "cold"}))
    assert news.of(found)[0].choices == {key: "there"}  # another part
    ice.refresh_from_db()
    number = ice.sections.get(title="Thaw").number
    save(ice, editor, planned("rename", ice, {"number": number, "id": "melting"}))
    assert news.of(found)[0].choices == {}


def test_what_may_be_another_page_waits_for_a_word(ice: Page, site: Site, editor: Editor) -> None:
    """An error page that was sent with the status of a page, say."""
    found = again(site, editor, "<!doctype html><title>Oh</title><h1>Try later</h1><p>Busy.</p>")
    (row,) = news.of(found)
    assert news.WHOLE in news.open_meetings(row)
    with pytest.raises(news.CannotSay):
        take_in(site, editor, found)
    news.choose(row, news.WHOLE, "both")
    assert news.WHOLE not in news.open_meetings(row)
    news.choose(row, news.WHOLE, "here")
    assert news.open_meetings(row) == []


def test_what_was_left_is_not_taken_in(ice: Page, site: Site, editor: Editor) -> None:
    """In another tab, where the button is still there."""
    found = again(site, editor, NEW)
    news.leave(found, left=True)
    with pytest.raises(NothingWaits):
        take_in(site, editor, found)
    news.leave(found, left=False)
    take_in(site, editor, found)
    assert b"Thick." in content(ice)
