"""Contents lists and ways back as an editor has them made: with the marks they need, on one
page or many, kept in step, and undone to the byte."""

from __future__ import annotations

import re
from typing import Any

import pytest

from innerhop.core.contents.kinds import KINDS
from innerhop.core.refusals import Refusal
from innerhop.library import doing
from innerhop.library.acts.forms import Unreadable
from innerhop.library.acts.table import planned
from innerhop.library.bring_in import bring_ins, news
from innerhop.library.changes import undo, write
from innerhop.library.index import index
from innerhop.library.index.texts import current
from innerhop.library.models import Change, Editor, Page, Site
from innerhop.library.seek import hops
from innerhop.screens.acts.questions import QUESTIONS
from tests.library.test_changes import content, page_at
from tests.library.test_hops import bring

pytestmark = pytest.mark.django_db
BASE = {"kind": "nested", "levels": "h2"}
HANDBOOK, HOME = "/skippers-handbook/", "/"


def do(page: Page, editor: Editor, name: str, **sent: Any) -> Change:
    act = planned(name, page, sent)
    return write.save(page.site, editor, act.message, act.plans, act.effects)


def again(page: Page, editor: Editor, old: str, new: str) -> Page:
    """The page as it comes in once more, with something else in it."""
    markup = content(page).decode()
    assert old in markup
    piece = bring_ins.NewFile("pasted", markup.replace(old, new).encode(), address=page.path)
    for _ in bring_ins.bring_in(page.site, editor, [piece], 1, replace=True):
        pass
    row = page.new_texts.filter(change=None).first()
    if row is not None:  # it was worked on, and is to be as it comes
        news.choose(row, news.WHOLE, "there")
        doing.do(editor, "take-in", page.site, {"bring_in": row.bring_in_id})
    return now(page)


def parts(of: Page, *kinds: str, **more: Any) -> list[dict[str, Any]]:
    return [{"part": one.number, **more} for one in current(of).possible if one.kind in kinds]


def now(page: Page) -> Page:
    return Page.objects.select_related("site").get(pk=page.pk)


def checked(page: Page) -> Page:
    """The page as it is; its rows are those of a fresh reading, and no hop of it is broken
    that was not before."""
    assert [one.what for one in index.differences(page.site)] == []
    return now(page)


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_a_list_with_its_marks_and_ways_back_is_one_change(
    site: Site, editor: Editor, kind: str
) -> None:
    page = page_at(site, "/volunteer-days/")
    before, broken = content(page), page.broken_count
    change = do(page, editor, "contents", kind=kind, levels="h2", entries=parts(page, "h2"),
                where="sections", to_list=True)  # fmt: skip
    page = checked(page)
    assert change.message == "Made a contents list of 5 entries, with 5 ways back"
    assert (page.lists, page.lists_off, page.ways_back) == (1, 0, 5)
    assert page.marked_count == page.section_count
    assert page.broken_count == broken
    (one,) = current(page).lists
    arrives = {hop.link.number: hop for hop in hops.out_of(page)}
    for entry in one.entries:
        assert arrives[entry.number].end is not None
    assert all(way.to == one.id for way in current(page).ways_back)
    undo.undo(change)
    assert content(page) == before
    assert checked(page).lists == 0


def test_a_list_made_by_hand_is_taken_over_without_changing_its_look(
    site: Site, editor: Editor
) -> None:
    page = page_at(site, HANDBOOK)
    (one,) = current(page).lists
    assert (one.made, page.lists_off) == (False, 2)
    links = {entry.to: entry.number for entry in one.entries}
    entries = [
        {"part": part.number, "link": links.get(part.mark)}
        for part in current(page).possible
        if part.kind == "h2" and part.title != "Water and pump-out"
    ]
    before = content(page).decode()
    do(page, editor, "contents", kind="numbered", levels="h2", there=one.number, entries=entries)
    page = checked(page)
    after = content(page).decode()
    assert (page.lists, page.lists_off) == (1, 0)  # what was left out is meant to be
    (own,) = current(page).lists
    assert own.made
    assert own.settings.left_out == {"water-and-pump-out"}
    added = '        <li><a href="#lifting-bridges">Lifting bridges</a></li>\n'
    attributes = (
        ' data-hop-list="numbered" data-hop-levels="h2" data-hop-left-out="water-and-pump-out" '
        'id="contents"'
    )
    undone = after.replace(added, "").replace(' id="lifting-bridges"', "")
    shown = re.sub(r' data-hop-[\w-]+="[^"]*"| id="contents"', "", undone)
    assert shown == before
    for attribute in attributes.split():
        assert attribute in after


def test_a_renamed_heading_and_a_new_one_bring_it_out_of_step_on_all_pages(
    site: Site, editor: Editor
) -> None:
    for at in range(3):
        body = "".join(f"<h2 id=s{n}>Part {n}</h2><p>x</p>" for n in range(5))
        markup = f"<!doctype html><title>x</title><main>{body}</main>"
        page = bring(site, editor, f"/p{at}/", markup)
        do(page, editor, "contents", kind="nested", levels="h2", entries=parts(page, "h2"))
        page = again(now(page), editor, ">Part 3</h2>", ">Third</h2>")
        again(page, editor, "</main>", "<h2>Fresh</h2><p>y</p></main>")
    assert site.pages.filter(lists_off=2, path__startswith="/p").count() == 3
    page = page_at(site, "/p1/")
    do(page, editor, "update-lists", all=True)
    assert not site.pages.filter(lists_off__gt=0).exists()
    text = content(page).decode()
    assert '<a href="#s3">Third</a>' in text
    assert '<a href="#fresh">Fresh</a>' in text
    assert '<h2 id="fresh">Fresh' in text
    checked(page)
    with pytest.raises(Refusal, match="in step"):
        planned("update-lists", now(page), {"all": True})


def test_words_of_the_editor_s_own_and_an_order_of_their_own_are_kept(
    site: Site, editor: Editor
) -> None:
    page = page_at(site, HOME)
    entries = list(reversed(parts(page, "h2")))
    entries[0]["label"] = "In my words"
    do(page, editor, "contents", kind="nested", levels="h2", entries=entries, own_order=True)
    page = checked(page)
    assert page.lists_off == 0
    page = again(page, editor, "</h2>", " again</h2>")
    do(page, editor, "update-lists")
    (one,) = current(now(page)).lists
    assert one.entries[0].label == "In my words"
    assert all(entry.label.endswith("again") for entry in one.entries[1:])
    numbers = [part.number for part in current(now(page)).possible if part.kind == "h2"]
    marks = {part.mark: part.number for part in current(now(page)).possible}
    assert [marks[entry.to] for entry in one.entries] == sorted(numbers, reverse=True)


def test_a_handbook_in_parts_gets_one_page_of_contents(site: Site, editor: Editor) -> None:
    page = page_at(site, "/about/")
    entries: list[dict[str, Any]] = []
    for path in (HANDBOOK, "/moorings/"):
        other = page_at(site, path)
        entries.append({"page": other.pk, "part": None})
        entries += parts(other, "h2", page=other.pk)
    change = do(
        page, editor, "contents", kind="nested", levels="h2", scope="chosen", entries=entries
    )
    assert {one.pk for one in undo.pages_of(change)} == {page.pk, *(row["page"] for row in entries)}
    page = checked(page)
    (one,) = [one for one in current(page).lists if one.made]
    assert len(one.entries) == len(entries)
    found = {hop.link.number: hop for hop in hops.out_of(page)}
    for entry, row in zip(one.entries, entries, strict=True):
        if row["part"] is not None:
            assert found[entry.number].page.pk == row["page"]
            assert found[entry.number].kind == hops.THERE
    assert [entry.depth for entry in one.entries][:3] == [0, 1, 1]


@pytest.mark.parametrize(
    ("head", "body", "href"),
    [
        ("", "<h2 id=a>A</h2>", "#top"),
        # `top` is a heading of its own further down, and the body has an ID
        ("", "<h2 id=a>A</h2><h2 id=top>Top speed</h2>", "#page"),
        # a bare hash leaves the page
        ("<base href=/elsewhere/>", "<h2 id=a>A</h2>", "/top-of/#top"),
    ],
)
def test_the_top_is_the_real_top(
    site: Site, editor: Editor, head: str, body: str, href: str
) -> None:
    """HTML Standard, "select the indicated part": an element with the ID comes first."""
    page = bring(
        site, editor, "/top-of/",
        f"<!doctype html><head>{head}<title>T</title></head><body id=page><main>{body}"
        "<p>x</p></main></body>",
    )  # fmt: skip
    do(page, editor, "ways-back", where="sections")
    page = checked(page)
    assert {link.href for link in page.links.all()} == {href}
    assert page.broken_count == 0


def test_ways_back_are_reworded_and_taken_out_together(site: Site, editor: Editor) -> None:
    page = page_at(site, HANDBOOK)
    before = content(page)
    do(page, editor, "ways-back", where="sections")
    put = content(page).decode()
    assert put.count('<p class="back"><a href="#top"') == 10  # as the one that was there
    do(now(page), editor, "reword-ways", words="Up again")
    assert content(page).decode() == put.replace("Back to top", "Up again")
    do(now(page), editor, "ways-back", where="none")
    assert content(page) == before  # the one that the page came with is the site's own
    (own,) = current(now(page)).ways_back
    do(now(page), editor, "reword-ways", words="Up again", instead=[own.number])
    assert b"Up again" in content(page)
    assert b"Back to top" not in content(page)
    do(now(page), editor, "ways-back", where="none", instead=[own.number])
    assert now(page).ways_back == 0
    for change in site.changes.all():
        undo.undo(change)
    assert content(page) == before


def test_a_site_s_own_words_and_a_page_s_language(site: Site, editor: Editor) -> None:
    page = bring(site, editor, "/de/", "<html lang=de><main><h2>A</h2><p>x</p></main></html>")
    do(page, editor, "ways-back", where="sections")
    assert ">Nach oben<" in content(page).decode()
    site.back_words = {"de": "Hinauf"}
    site.save()
    do(page_at(site, "/de/"), editor, "ways-back", where="sections")
    assert ">Hinauf<" in content(page).decode()


@pytest.mark.parametrize(
    ("markup", "sent", "why"),
    [
        ("<p>Nothing</p>", {"entries": []}, "at least one entry"),
        ("<p>Nothing</p>", {"entries": [{"part": 3}]}, "no longer there"),
        ("<h2>A</h2><p>x</p>", {"entries": [{"part": "x"}]}, "can't be read"),
        ("<h2>A</h2><p>x</p>", {"entries": [{"part": 4, "page": 10**6}]}, "no longer there"),
        ("<h2>A</h2><p>x</p>", {"entries": [{"part": 4}], "there": 4}, "no longer there"),
        ("<h2>A</h2><p>x</p>", {"entries": [{"part": 4}], "kind": "pie"}, "can't be read"),
        ("<h2>A</h2><p>x</p>", {"entries": [{"part": 3}], "kind": "points"}, "what visitors get"),
        ("<h2>A</h2><p>x</p>", {"entries": [{"part": 4}], "classes": "a\"b"}, "one word"),
        ("<h2>A</h2><p>x <b>y</b></p>", {"entries": [{"part": 3}], "at": 5}, "whole block"),
        ("<h2>A</h2><p>x</p>", {"entries": [{"part": 4}] * 2_001}, "too long for a reader"),
        ("<h2>A</h2><p>x</p>", {"entries": [{"part": 4}], "title_level": 1}, "from 2 to 6"),
    ],
)  # fmt: skip
def test_what_can_t_be_listed_is_said(
    site: Site, editor: Editor, markup: str, sent: dict[str, Any], why: str
) -> None:
    page = bring(site, editor, "/odd/", f"<!doctype html><body>{markup}")
    with pytest.raises((Refusal, Unreadable), match=why):
        do(page, editor, "contents", **{**BASE, **sent})


def test_headings_of_all_kinds_make_a_sensible_list(site: Site, editor: Editor) -> None:
    """Links, pictures, code, line breaks, emoji and other directions in headings; empty ones;
    equal ones; some in closed parts, in tables; levels that skip."""
    page = bring(
        site, editor, "/odd/",
        "<!doctype html><main><h1>T</h1><h2>See <a href=/about/>this</a> "
        "<code>&lt;b&gt;</code></h2><p>x"
        "<h2><img alt='A boat' src=x></h2><p>x<h4>Two<br>lines ⛵</h4><p>x<h2 dir=rtl>שלום</h2><p>x"
        "<h2></h2><h2>Same</h2><p>x<h2>Same</h2><p>x<details><summary>More</summary><h6>Deep</h6>"
        "<p>x</details><table><tr><td><h3>Cell</h3>x</table></main>",
    )  # fmt: skip
    act = planned("contents", page, {
        "kind": "nested", "levels": "h2 h3 h4 h6", "entries": parts(page, "h2", "h3", "h4", "h6"),
    })  # fmt: skip
    assert any("“Same” stands in the list more than once" in note for note in act.notes)
    write.save(site, editor, act.message, act.plans)
    page = checked(page)
    (one,) = current(page).lists
    assert [(entry.depth, entry.label) for entry in one.entries] == [
        (0, "See this <b>"), (0, "A boat"), (1, "Two lines ⛵"), (0, "שלום"), (0, "Same"),
        (0, "Same"), (1, "Deep"), (1, "Cell"),
    ]  # fmt: skip
    assert len({entry.to for entry in one.entries}) == 8
    assert (page.lists_off, page.broken_count) == (0, 0)


def test_a_sealed_part_is_not_marked_for_a_list(site: Site, editor: Editor) -> None:
    page = bring(
        site, editor, "/odd/",
        "<!doctype html><main><h2 id=a>A</h2><p>x</p><section><h2>B</h2><p>y</p></section></main>",
    )  # fmt: skip
    number = next(one.number for one in current(page).source.of_tags("section"))
    do(page, editor, "lock", number=number, on=True)
    entries = parts(page, "h2")
    with pytest.raises(Refusal, match="site’s own system"):
        do(page, editor, "contents", **BASE, entries=entries)
    do(now(page), editor, "contents", **BASE, entries=entries[:1])


def test_removing_a_list_says_which_ways_back_lead_to_it(site: Site, editor: Editor) -> None:
    page = page_at(site, HOME)
    do(page, editor, "contents", **BASE, entries=parts(page, "h2"), where="sections", to_list=True)
    page = now(page)
    (one,) = current(page).lists
    act = planned("remove-list", page, {"number": one.number})
    assert any("would lead nowhere" in note for note in act.notes)
    do(page, editor, "remove-list", number=one.number, ways=True)
    page = checked(page)
    assert (page.lists, page.ways_back) == (0, 0)


def test_points_and_signs_follow_their_sections(site: Site, editor: Editor) -> None:
    page = page_at(site, "/volunteer-days/")
    before = content(page)
    change = do(page, editor, "visitor-parts", points=True, signs=True, up=2)
    page = checked(page)
    text = content(page).decode()
    assert text.count("data-hop-sign") == 5
    assert (page.lists, page.ways_back, page.broken_count) == (1, 0, 1)
    titles = [one.title for one in page.sections.all()]
    assert "Lunch" in titles  # a sign is no part of a heading's words
    page = again(page, editor, ">Lunch ", ">Dinner ")
    assert page.lists_off == 1
    do(page, editor, "update-lists")
    assert '<a href="#lunch"><span>Dinner</span></a>' in content(page).decode()
    # The heading is named once: its sign does not say its words again.
    assert 'Dinner <a href="#lunch" data-hop-sign="" aria-label="Link to this section">' in (
        content(page).decode()
    )
    do(now(page), editor, "visitor-parts")
    again_before = (
        content(page).decode().replace("Dinner", "Lunch").replace(' id="what-to-wear-2"', "")
    )
    assert again_before == before.decode()
    assert change.effects[0]["path"] == "/hops/hops.css"


def test_all_pages_get_their_parts_and_those_that_can_t_are_named(
    site: Site, editor: Editor
) -> None:
    bring(site, editor, "/body/", "<h2>A</h2><p>x</p>")
    act = planned("visitor-parts", page_at(site, HOME), {"up": 3, "all": True})
    assert len(act.plans) == site.pages.count() - 1
    assert any(note.startswith("“A” stays as it is") for note in act.notes)


SPHINX = """<!doctype html><html lang=en><title>Ice</title><main><h1>Ice</h1>
<ul><li><a href="#frost-1">Frost</a><li><a href="#thaw">Thaw</a><li><a href="#id3">Wind</a></ul>
<span id="frost"></span><span id="frost-1"></span><h2>Frost</h2><p>x</p>
<h2 id="thaw">Thaw</h2><p>x</p><span id="wind"></span><span id="id3"></span><h2>Wind</h2><p>x</p>
<h2>Rain</h2><p>x</p></main>"""


def test_entries_that_lead_to_a_second_id_stay_as_they_are_written(
    site: Site, editor: Editor
) -> None:
    """As generators write them: a heading of a manual has the ID of its label, too."""
    page = bring(site, editor, "/ice/", SPHINX)
    (one,) = current(page).lists
    asked = QUESTIONS["list-parts"].form({"number": one.number}, page).asked()
    rows = QUESTIONS["list-parts"].answer(page, **asked)["rows"]
    assert [(row["title"], row["on"]) for row in rows] == [
        ("Frost", True), ("Thaw", True), ("Wind", True), ("Rain", True),
    ]  # fmt: skip
    entries = [{name: row[name] for name in ("part", "link", "label")} for row in rows]
    do(page, editor, "contents", there=one.number, kind="nested", levels="h2", entries=entries)
    text = content(now(page)).decode()
    hrefs = re.findall(r'<a href="([^"]*)', text)
    assert hrefs == ["#frost-1", "#thaw", "#id3", "#rain"]
