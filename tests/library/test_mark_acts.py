"""Acts on marks over a whole site: what lands there goes along, what is shared is
changed everywhere, and nothing else moves."""

from __future__ import annotations

import threading

import pytest
from django.db import connection, transaction
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from innerhop.core.addresses import fragments
from innerhop.core.facts.empty_markers import is_marker
from innerhop.core.facts.page_facts import gather
from innerhop.core.merge.merging import THERE
from innerhop.core.planners import markers
from innerhop.core.planners.marking import CannotMark
from innerhop.core.source.tree import Source
from innerhop.library import doing, sites
from innerhop.library.acts import base, hop_acts, mark_acts, page_acts
from innerhop.library.acts.ends import End
from innerhop.library.acts.table import planned
from innerhop.library.bring_in import bring_ins, news
from innerhop.library.changes import locked_parts, prepare, undo, write
from innerhop.library.index import index, shared_parts
from innerhop.library.index.texts import current
from innerhop.library.models import Change, Editor, Link, LockedPart, Mark, Page, Region, Site
from innerhop.library.seek import hops, hops_to_mark
from innerhop.library.steps import finished
from tests.library.test_changes import content, page_at, save, section, words_in
from tests.library.test_findings import site_with
from tests.library.test_index import check


def bring(site: Site, editor: Editor, pages: dict[str, str]) -> None:
    pieces = [bring_ins.NewFile(path, text.encode(), address=path) for path, text in pages.items()]
    found = finished(bring_ins.bring_in(site, editor, pieces, len(pieces), replace=True))
    waiting = news.of(found)
    for row in waiting:  # what has hardly anything of its page waits for a word
        news.choose(row, news.WHOLE, THERE)
    if waiting:
        doing.do(editor, "take-in", site, {"bring_in": found.pk})


def ends(site: Site) -> dict[tuple[int, int], tuple[str, object, object]]:
    """For each hop of a site, by its page and number: its kind, and the page and
    the element that it ends at, as the text of that element."""
    found = {}
    for page in site.pages.select_related("site"):
        for hop in hops.out_of(page):
            at = None
            if hop.page is not None and hop.end is not None:
                source = current(hop.page).source
                number = hop.end
                while is_marker(source, number):
                    number += 1  # a marker counts as what comes behind it
                at = source.element(number).text
            found[page.pk, hop.link.number] = hop.kind, hop.page and hop.page.pk, at
    return found


IDS = ["a", "b", "ü", "top", "it's", "%41", "A b", "a&b"]
PIECES = st.one_of(
    st.sampled_from(IDS).map(lambda id_: ("id", id_)),
    st.tuples(
        st.sampled_from(["#{}", "/one/#{}", "/two#{}", "../one/#{}", "/none/#{}"]),
        st.sampled_from([*IDS, "", "TOP", "c", "%C3%BC", "%61"]),
    ).map(lambda pair: ("href", pair[0].format(pair[1]))),
)


def markup(pieces: list[tuple[str, str]]) -> str:
    rows = (
        f'<h2 id="{value}">Part {at}</h2><p>x'
        if kind == "id"
        else f'<p><a href="{value}">link {at}</a>'
        for at, (kind, value) in enumerate(pieces)
    )
    return f"<!doctype html><title>t</title><body>{''.join(rows)}"


@settings(max_examples=35, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(PIECES, max_size=9), st.lists(PIECES, max_size=9), st.data())
def test_after_any_rename_hops_arrive_where_they_did(
    editor: Editor, one: list[tuple[str, str]], two: list[tuple[str, str]], data: st.DataObject
) -> None:
    """Every hop that resolved still resolves to the same element, and none that
    was broken changed, but where it has the new name already."""
    with transaction.atomic():
        site = sites.create("Any", "any.example", "en", editor)
        bring(site, editor, {"/one/": markup(one), "/two/": markup(two)})
        marks = list(Mark.objects.filter(page__site=site).select_related("page__site"))
        if marks:
            mark = data.draw(st.sampled_from(marks))
            new = data.draw(st.sampled_from(["new", "c", "top", "x y", "a", "A", "é`\"'"]))
            before = ends(site)
            hrefs = dict(Link.objects.filter(site=site).values_list("pk", "href"))
            try:
                act = mark_acts.rename(mark.page, mark.number, new)
            except CannotMark as problem:
                assert str(problem)
            else:
                save(mark.page, editor, act)
                after = ends(site)
                check(site)
                encoded = fragments.encode(new)
                for key, (kind, page, at) in before.items():
                    if kind != hops.BROKEN:
                        assert after[key] == (kind, page, at)
                for pk, href in Link.objects.filter(site=site).values_list("pk", "href"):
                    assert hrefs.get(pk, href) == href or href.endswith(f"#{encoded}")
                undo.undo(Change.objects.get(site=site))
                assert ends(site) == before
        transaction.set_rollback(True)


def test_a_rename_is_one_change_in_every_form_of_address(site: Site, editor: Editor) -> None:
    page = page_at(site, "/skippers-handbook/")
    bring(site, editor, {
        "/forms/": "<title>t</title><p><a href='/skippers-handbook/#winter'>a</a>"
        "<a href='../skippers-handbook/index.html#winter'>b</a>"
        "<a href='https://marrowby.example/skippers-handbook#winter'>c</a>"
        "<a href='/skippers-handbook/#winte'>d</a>",
    })  # fmt: skip
    number = section(page, "Winter on the cut").number
    before = ends(site)
    act = mark_acts.rename(page, number, "winter-on-the-cut", keep=True)
    assert "with 5 hops" in act.message
    save(page, editor, act)
    page.refresh_from_db()
    text = content(page_at(site, "/forms/")).decode()
    assert text.count("#winter-on-the-cut'") == 3
    assert "#winte'" in text
    # The old ID stays as a marker, so links from elsewhere still arrive there.
    assert b'<span id="winter"></span><h2 id="winter-on-the-cut">' in content(page)
    assert {k: v for k, v in ends(site).items() if k[0] != page.pk} == {
        k: v for k, v in before.items() if k[0] != page.pk
    }


@pytest.mark.parametrize(
    ("title", "new", "message"),
    [
        ("Winter on the cut", "tunnels", "first"),
        ("Winter on the cut", "winter", "the ID it has"),
        ("Winter on the cut", "a b", "spaces"),
        ("Winter on the cut", "top", "1 hop written #top leads elsewhere"),
    ],
)
def test_renames_that_would_lead_readers_astray(
    site: Site, title: str, new: str, message: str
) -> None:
    page = page_at(site, "/skippers-handbook/")
    with pytest.raises(CannotMark, match=message):
        mark_acts.rename(page, section(page, title).number, new)


def test_two_editors_rename_the_same_id(transactional_db: None, site: Site, editor: Editor) -> None:
    page = page_at(site, "/skippers-handbook/")
    number = section(page, "Winter on the cut").number
    planned = [mark_acts.rename(page_at(site, page.path), number, new) for new in ("w1", "w2")]
    lost: list[str] = []

    def rename(act: base.Act) -> None:
        try:
            write.save(site, editor, act.message, act.plans)
        except write.MovedOn as problem:
            lost.append(str(problem))
        finally:
            connection.close()

    threads = [threading.Thread(target=rename, args=[act]) for act in planned]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(lost) == 1
    assert "Nothing is lost" in lost[0]
    won = Mark.objects.get(page=page, number=number).value
    here = Link.objects.filter(site=site, fragment__in=["w1", "w2", "winter"])
    assert set(here.values_list("fragment", flat=True)) == {won}


def test_the_second_of_two_same_ids(site: Site, editor: Editor) -> None:
    """Readers arrive at the first; the editor says which hops mean the second."""
    page = page_at(site, "/moorings/")
    links = "<p><a href='/moorings/#fees'>a</a><a href='/moorings/#fees'>b</a>"
    bring(site, editor, {"/to-fees/": links})
    first, second = page.marks.filter(value="fees")
    link = Link.objects.filter(site=site, href="/moorings/#fees").last()
    assert link is not None
    act = mark_acts.rename(page, second.number, "what-we-live-on", follow=[link.pk])
    save(page, editor, act)
    hop = hops.out_of(page_at(site, "/to-fees/"))
    assert [one.end for one in hop] == [first.number, second.number]
    # The second stood in the shared footer: all the pages that have it changed.
    others = Mark.objects.filter(page__site=site, value="what-we-live-on")
    assert others.count() == len(shared_parts.copies(page, second.number)) == 7
    check(site)


def test_what_is_done_in_a_shared_part_is_done_on_all_pages(site: Site, editor: Editor) -> None:
    page = page_at(site, "/lock-guide/")
    words = words_in(page, "gifts")
    act = hop_acts.hop(page, words, End(page, "summit"))
    # A bare hash would work on one of the pages only.
    assert act.href == "/lock-guide/#summit"
    assert "on all 7 pages" in act.message
    change = save(page, editor, act)
    linked = Link.objects.filter(site=site, text="gifts").values_list("page", "href")
    assert len(linked) == 7
    paragraph = words.start.number
    with pytest.raises(CannotMark, match="“Moorings and charges” shares this part"):
        mark_acts.mark(page_at(site, "/lock-guide/"), [(paragraph, "hardship-fund")])
    undo.undo(change)
    page.refresh_from_db()
    assert hop_acts.hop(page, words, End(page, "")).href == "#top"
    check(site)


THEN = [
    (mark_acts.BREAK, "2 hops to it go nowhere", hops.BROKEN),
    (mark_acts.KEEP, "as a marker", hops.THERE),
    (mark_acts.RETARGET, "2 hops now lead to /skippers-handbook/#tunnels", hops.THERE),
]


@pytest.mark.parametrize(("then", "message", "kind"), THEN)
def test_taken_away_with_a_choice_for_its_hops(
    site: Site, editor: Editor, then: str, message: str, kind: str
) -> None:
    page, other = page_at(site, "/skippers-handbook/"), page_at(site, "/moorings/")
    number = section(page, "Winter on the cut").number
    act = mark_acts.take_away(page, number, then, End(page, "tunnels"))
    assert message in act.message
    before = content(page), content(other)
    change = save(page, editor, act)
    hop = next(one for one in hops.out_of(other) if one.link.text == "winter on the cut")
    assert hop.kind == kind
    assert b'<h2 id="winter">' not in content(page)
    check(site)
    undo.undo(change)
    assert (content(page), content(other)) == before


def test_hops_go_along_when_a_mark_moves(site: Site, editor: Editor) -> None:
    page = page_at(site, "/volunteer-days/")
    marker = page.marks.get(value="what-to-wear")
    assert marker.empty
    heading = section(page, "What to wear").number
    save(page, editor, mark_acts.move(page, marker.number, heading, markers.ON))
    page.refresh_from_db()
    assert page.marks.get(value="what-to-wear").number == heading
    assert section(page, "What to wear").mark == "what-to-wear"
    hop = next(one for one in hops.out_of(page_at(site, "/")) if one.link.text == "what to wear")
    assert (hop.end, hop.kind) == (heading, hops.THERE)
    below = mark_acts.move(page, heading, heading + 1, markers.BEFORE)
    assert "would not see the heading" in below.notes[0]


@pytest.fixture
def locked(site: Site, editor: Editor) -> Page:
    """A page whose footer, which six pages share, can't be edited."""
    page = page_at(site, "/moorings/")
    change = save(page, editor, page_acts.lock(page, page.regions.get(kind="footer").number))
    assert change.message == "Locked this part on all 7 pages that share it"
    return page


def lock_of(page: Page) -> LockedPart:
    return LockedPart.objects.get(page=page, lifted=False)


def footer_of(page: Page) -> int:
    page.refresh_from_db()
    return page.regions.get(kind="footer").number


def test_a_locked_region_is_left_alone(locked: Page, editor: Editor) -> None:
    footer = footer_of(locked)
    for act in (
        mark_acts.mark(locked, [(footer + 3, "new")]),
        mark_acts.marker(locked, footer + 3, markers.BEFORE, "new"),
        hop_acts.hop(locked, words_in(locked, "gifts"), End(locked, "")),
    ):
        with pytest.raises(locked_parts.Locked, match="can’t be edited"):
            save(locked, editor, act)
    assert Change.objects.count() == 1
    save(locked, editor, page_acts.unlock(locked, footer))
    save(locked, editor, mark_acts.mark(locked, [(footer + 3, "new")]))


def test_a_lock_stays_on_its_region(locked: Page, editor: Editor) -> None:
    footer = footer_of(locked)
    change = save(locked, editor, mark_acts.marker(locked, footer, markers.BEFORE, "foot"))
    assert lock_of(locked).number == footer_of(locked) == footer + 1
    undo.undo(change)
    assert lock_of(locked).number == footer
    # A whole new text: the region is known again, or its lock is gone.
    text = content(locked).decode().replace("<h1>", "<p>new</p><h1>")
    bring(locked.site, editor, {"/moorings/": text})
    assert lock_of(locked).number == footer_of(locked) == footer + 1
    bring(locked.site, editor, {"/moorings/": "<h1>New</h1><p>nothing left"})
    assert not LockedPart.objects.filter(page=locked, lifted=False).exists()


def test_hops_in_a_locked_region_keep_the_old_id(locked: Page, editor: Editor) -> None:
    about = page_at(locked.site, "/about/")
    accounts = about.marks.get(value="accounts")
    with pytest.raises(CannotMark, match="Leave the old ID as a marker"):
        mark_acts.rename(about, accounts.number, "books")
    save(about, editor, mark_acts.rename(about, accounts.number, "books", keep=True))
    (read,) = (one for one in hops.out_of(locked) if one.link.text == "Read our accounts")
    assert (read.kind, read.link.href) == (hops.THERE, "/about/#accounts")


def test_a_link_to_words_is_a_hop_to_where_they_stand(site: Site, editor: Editor) -> None:
    page = page_at(site, "/moorings/")
    end = End(page_at(site, "/lock-guide/"), "", directive=":~:text=Stop%20planks")
    act = hop_acts.hop(page, words_in(page, "honesty box"), end)
    assert act.href == "/lock-guide/#:~:text=Stop%20planks"
    save(page, editor, act)
    hop = next(one for one in hops.out_of(page) if one.link.text == "honesty box")
    assert (hop.kind, hop.end) == (hops.THERE, section(end.page, "Stop planks").number)
    bring(site, editor, {"/lock-guide/": "<h1>Locks</h1>"})
    hop = next(one for one in hops.out_of(page) if one.link.text == "honesty box")
    assert hop.kind == hops.BROKEN
    assert "opens at its top" in hop.why


def test_many_pages_are_saved_step_by_step_and_all_or_none(site: Site, editor: Editor) -> None:
    pages = {f"/p{n}/": "<p><a href='/moorings/#hardship-fund'>x</a>" for n in range(90)}
    bring(site, editor, pages)
    page = page_at(site, "/moorings/")
    number = section(page, "The hardship fund").number
    act = mark_acts.rename(page, number, "help")
    steps = write.save_steps(site, editor, act.message, act.plans)
    assert next(steps) == prepare.PagesDone(0, 91)
    assert next(steps) == prepare.PagesDone(40, 91)
    steps.close()  # stopped half way
    assert not Link.objects.filter(site=site, fragment="help").exists()
    save(page, editor, act)
    assert Link.objects.filter(site=site, fragment="help").count() == 91


def test_an_index_of_an_older_version_is_written_anew(site: Site) -> None:
    Region.objects.all().delete()
    Page.objects.filter(site=site, path="/about/").update(indexed=1)
    assert index.catch_up() == 1
    assert Region.objects.filter(page__path="/about/").exists()
    assert index.catch_up() == 0


def test_where_an_id_is_taken(site: Site) -> None:
    page = page_at(site, "/moorings/")
    copies = shared_parts.copies(page, page.regions.get(kind="footer").number + 2)
    assert {"winter", "summit", "hardship-fund"} <= hops_to_mark.taken_on_all(copies)
    assert gather(Source(current(page).text)).ids().keys() <= hops_to_mark.taken(page)


def test_the_first_of_two_same_ids_taken_away(site: Site, editor: Editor) -> None:
    page = page_at(site, "/moorings/")
    bring(site, editor, {"/to-fees/": "<p><a href='/moorings/#fees'>a</a>"})
    first, second = page.marks.filter(value="fees")
    act = mark_acts.take_away(page, first.number, mark_acts.BREAK)
    assert act.message == "Took away #fees; 1 hop now leads to the other part with that ID"
    save(page, editor, act)
    (hop,) = hops.out_of(page_at(site, "/to-fees/"))
    assert hop.end == second.number


@pytest.mark.parametrize("how", ["name-beside", "hop"])
def test_a_part_whose_id_a_system_made_gets_a_readable_mark_before_it(
    site: Site, editor: Editor, how: str
) -> None:
    """Such systems don't let their IDs be renamed, and may make them anew (common practice)."""
    bring(site, editor, {
        "/m/": "<p>All <b>the fees</b>.</p><h2 id=block-7f3a9c21>Fees</h2>",
        "/n/": "<a href=/m/#block-7f3a9c21>f</a>",
    })  # fmt: skip
    page, other = page_at(site, "/m/"), page_at(site, "/n/")
    number = page.marks.get().number
    if how == "hop":
        end = {"page": page.pk, "id": "fees", "number": number, "mark": True}
        act = planned("link-part", page, {"number": number - 1, "end": end})
    else:
        act = planned("name-beside", page, {"number": number, "id": "fees"})
    change = write.save(site, editor, act.message, act.plans, act.effects)
    markup = current(page_at(site, "/m/")).text
    assert '<span id="fees"></span><h2 id=block-7f3a9c21>' in markup
    led = '<a href="#fees"><b>' in markup, b"<a href=/m/#fees>" in content(other)
    assert led == (how == "hop", how == "name-beside")
    assert list(index.differences(site)) == []
    undo.undo(change)
    with pytest.raises(CannotMark, match="Another part"):
        planned("name-beside", page_at(site, "/m/"), {"number": number, "id": "block-7f3a9c21"})


FOOT = "<footer><p>The foot of the site</p><a href='#fees'>Fees</a></footer>"


@pytest.mark.parametrize("act", ["rename", "take-away"])
def test_a_bare_hash_in_a_part_that_pages_share_goes_along_on_all_of_them(
    editor: Editor, act: str
) -> None:
    """But not on a page that has such an ID of its own."""
    fees = "<h2 id=fees>Fees</h2><p>x<h2 id=cost>Costs</h2><p>x"
    own = "<h2 id=fees>Other fees</h2><p>y"
    pages = {"a": fees, "b": "", "c": own}
    site = site_with(editor, {
        f"{name}/index.html": f"<!doctype html><title>{name}</title><main><h1>{name}</h1>{text}"
        f"<p>words</main>{FOOT}"
        for name, text in pages.items()
    })  # fmt: skip
    page = page_at(site, "/a/")
    number = page.marks.get(value="fees").number
    sent = {
        "rename": {"number": number, "id": "prices"},
        "take-away": {
            "number": number, "then": "retarget", "end": {"page": page.pk, "id": "cost"},
        },
    }[act]  # fmt: skip
    planned_act = planned(act, page, sent)
    write.save(site, editor, planned_act.message, planned_act.plans, planned_act.effects)
    feet = [content(page_at(site, f"/{name}/")).decode().rpartition("<a ")[2] for name in pages]
    assert feet[0] == feet[1] != FOOT.rpartition("<a ")[2]
    assert feet[2] == FOOT.rpartition("<a ")[2]
    assert list(index.differences(site)) == []
