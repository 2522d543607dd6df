"""Hops as the index knows them: kinds, ends, and what is broken about them."""

from __future__ import annotations

import threading

import pytest
from django.core.management import CommandError, call_command
from django.db import connection

from innerhop.core.names import ids
from innerhop.library import doing, sites
from innerhop.library.acts import base, hop_acts, mark_acts
from innerhop.library.acts.ends import End, NoSuchEnd
from innerhop.library.bring_in import bring_ins
from innerhop.library.changes import undo, write
from innerhop.library.hand_over import differences
from innerhop.library.index import index
from innerhop.library.index.texts import naming_of
from innerhop.library.models import Editor, Page, Site
from innerhop.library.seek import ends, hops
from innerhop.library.seek.guesses import Guesser
from innerhop.screens.page_state.state import hop_rows
from tests.library.test_changes import page_at, save, section, words_in


def bring(site: Site, editor: Editor, address: str, markup: str) -> Page:
    piece = bring_ins.NewFile("pasted", markup.encode(), address=address)
    for _ in bring_ins.bring_in(site, editor, [piece], 1):
        pass
    return page_at(site, address)


@pytest.mark.parametrize(
    ("href", "kind", "end"),
    [
        ("#two", hops.HERE, "two"),
        ("/gone/", hops.BROKEN, None),  # with a hash or without
        ("gone.html", hops.BROKEN, None),
        ("/lock-guide/#summit", hops.THERE, "summit"),
        ("https://marrowby.example/lock-guide#summit", hops.THERE, "summit"),
        ("../lock-guide/index.html#summit", hops.THERE, "summit"),
        ("#", hops.BACK, None),
        ("#top", hops.BACK, None),
        ("/kinds/#Top", hops.BACK, None),
        ("/lock-guide/#top", hops.THERE, None),
        ("#no", hops.BROKEN, None),
        ("/no-such-page/#x", hops.BROKEN, None),
        ("##two", hops.BROKEN, None),
        ("#Two", hops.BROKEN, None),
        ("#tw%6F", hops.HERE, "two"),
    ],
)
def test_each_kind(site: Site, editor: Editor, href: str, kind: str, end: str | None) -> None:
    page = bring(site, editor, "/kinds/", f'<h2 id=two>x</h2><p><a href="{href}">go</a>')
    (hop,) = hops.out_of(page)
    assert hop.kind == kind
    assert bool(hop.why) == (kind == hops.BROKEN)
    if end is None:
        assert hop.end is None
    else:
        assert hop.page is not None
        assert hop.page.marks.get(value=end).number == hop.end


@pytest.mark.parametrize(
    "href",
    [
        "https://elsewhere.example/#x",
        "mailto:a@b.example",
        "tel:+44",
        "/lock-guide/",
        "/map.pdf",
        "http://[",
    ],
)
def test_other_links_are_no_hops(site: Site, editor: Editor, href: str) -> None:
    page = bring(site, editor, "/kinds/", f'<p><a href="{href}">go</a>')
    assert hops.out_of(page) == []


def test_menus_are_told_from_contents(site: Site) -> None:
    kinds = {hop.link.text: hop.kind for hop in hops.out_of(page_at(site, "/skippers-handbook/"))}
    assert kinds["Help"] == hops.MENU
    assert kinds["Winter on the cut"] == hops.HERE  # a nav inside main
    into = hops.into(page_at(site, "/skippers-handbook/"))
    assert {hop.kind for hop in into} >= {hops.MENU, hops.THERE, hops.BROKEN}


def test_a_base_element_makes_bare_hashes_leave(site: Site, editor: Editor) -> None:
    page = bring(
        site,
        editor,
        "/based/",
        '<base href="/lock-guide/"><h2 id=a>x</h2><p>words <a href="#summit">go</a>',
    )
    (hop,) = hops.out_of(page)
    assert (hop.kind, hop.page) == (hops.THERE, page_at(site, "/lock-guide/"))
    assert not page.keeps_hashes
    act = hop_acts.hop(page, words_in(page, "words"), End(page, "a"))
    assert act.href == "/based/#a"  # so the hop is written with its path


def test_counts_of_broken_hops(site: Site) -> None:
    for page in site.pages.all():
        broken = [hop for hop in hops.out_of(page) if hop.kind == hops.BROKEN]
        assert page.broken_count == len(broken)


def test_an_end_that_has_gone_is_said(site: Site) -> None:
    page = page_at(site, "/moorings/")
    with pytest.raises(NoSuchEnd, match="any more"):
        hop_acts.hop(page, words_in(page, "honesty"), End(page, "never-was"))


def test_finding_an_end_by_words_id_or_nothing(site: Site) -> None:
    page = page_at(site, "/skippers-handbook/")
    assert [one.number for one in ends.find(site, "", page)] == [
        row.number for row in page.sections.all()
    ]
    marks = ends.find(site, "contact", page)
    assert marks[0].kind == "mark"  # in the shared footer: a mark, no section
    assert ends.find(site, "\x00", None) == []
    assert ends.find(site, "%", None) == []  # no wildcard
    assert len(ends.find(site, "a", page)) <= ends.MOST


def test_the_difference_is_what_all_changes_make_together(site: Site, editor: Editor) -> None:
    page = page_at(site, "/moorings/")
    heading = section(page, "The waiting list")
    first = mark_acts.mark(page, [(heading.number, "list")])
    change = write.save(site, editor, first.message, first.plans)
    page.refresh_from_db()
    second = hop_acts.hop(page, words_in(page, "honesty box"), End(page, "list"))
    write.save(site, editor, second.message, second.plans)
    undo.undo(change)
    page.refresh_from_db()
    (spot,) = differences.since_arrival(page).spots
    assert [words for kind, words in spot.parts if kind == "new"] == ['<a href="#list">', "</a>"]


@pytest.mark.django_db(transaction=True)
def test_two_editors_at_the_same_moment() -> None:
    """One wins, the other is told; the page has one change and one ID."""
    editor = Editor.objects.create_user("one")
    site = sites.create("Race", "race.example", "en", editor)
    page = bring(site, editor, "/race/", "<h2>A</h2>")
    number = page.sections.get().number
    planned = [mark_acts.mark(page_at(site, "/race/"), [(number, name)]) for name in ("a", "b")]
    together = threading.Barrier(2)
    results: list[object] = []

    def save(act: base.Act) -> None:
        together.wait()
        try:
            results.append(write.save(site, editor, act.message, act.plans))
        except write.MovedOn as problem:
            results.append(problem)
        finally:
            connection.close()

    threads = [threading.Thread(target=save, args=(act,)) for act in planned]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(type(one).__name__ for one in results) == ["Change", "MovedOn"]
    assert page.marks.count() == 1
    page.refresh_from_db()
    assert page.revision == 2


def test_adding_an_editor(site: Site, monkeypatch: pytest.MonkeyPatch) -> None:
    module = "innerhop.library.management.commands.add_editor.getpass"
    monkeypatch.setattr(module, lambda _: "short")
    with pytest.raises(CommandError, match="too short"):
        call_command("add_editor", "ana", "--site", site.slug)
    with pytest.raises(CommandError, match="No site"):
        call_command("add_editor", "ana", "--site", "nowhere")
    monkeypatch.setattr(module, lambda _: "a-long-enough-one")
    call_command("add_editor", "ana", "--site", site.slug)
    ana = Editor.objects.get(username="ana")
    assert list(sites.of(ana)) == [site]
    assert ana.check_password("a-long-enough-one")


MEANT = [
    ("/stoppages/", "winter on the cut", "/skippers-handbook/", "winter", "Capitals"),
    ("/stoppages/", "water", "/skippers-handbook/", "", "this is its top"),
    ("/skippers-handbook/", "what to do about ice", None, "", ""),
    (
        "/lock-guide/",
        "Staircase",
        "/lock-guide/",
        "staircase-locks",
        "takes staircase-locks for a page",
    ),
    ("/moorings/", "what is included", "/moorings/", "winter moorings", "which no ID may"),
    ("/moorings/", "Book", "/", "book", "looked for on the page"),
]


@pytest.mark.parametrize("meaning", MEANT)
def test_a_broken_hop_and_what_it_likely_means(
    site: Site, editor: Editor, meaning: tuple[str, str, str | None, str, str]
) -> None:
    path, text, to, id_, why = meaning
    page = page_at(site, path)
    hop = next(one for one in hops.out_of(page) if one.link.text == text)
    assert hop.kind == hops.BROKEN
    found = Guesser(site).guesses(hop)
    if to is None:
        assert found == []
        return
    assert (found[0].page.path, found[0].id) == (to, id_)
    assert why in found[0].why
    # One click: it leads there, on every page that shares it.
    act = hop_acts.retarget(page, hop.link, End(found[0].page, id_))
    write.save(site, editor, act.message, act.plans)
    mended = [one for one in hops.out_of(page_at(site, path)) if one.link.text == text]
    assert all(one.kind != hops.BROKEN for one in mended)
    assert page_at(site, path).broken_count == sum(
        one.kind == hops.BROKEN for one in hops.out_of(page_at(site, path))
    )


def test_a_page_without_lang_follows_its_site_s_language(site: Site, editor: Editor) -> None:
    plain = bring(site, editor, "/plain/", "<h1>Gebühren</h1><h2>Öffnung</h2>")
    own = bring(site, editor, "/own/", "<html lang=en><h1>Fees</h1><h2>Öffnung</h2>")
    assert [naming_of(one).language for one in (plain, own)] == ["en", "en"]
    change = doing.do(editor, "settings", site, {"language": "de", "air": 8})
    assert change.message == "Changed settings: its language, air below a header"
    now = [page_at(site, path) for path in ("/plain/", "/own/")]
    assert [naming_of(one).language for one in now] == ["de", "en"]
    assert [ids.suggest("Öffnung", naming_of(one)) for one in now] == ["oeffnung", "offnung"]
    undo.undo(change)
    assert naming_of(page_at(site, "/plain/")).language == "en"


def test_a_hop_spelt_right_offers_to_mend_the_id(site: Site, editor: Editor) -> None:
    """IDs with a space are found by no fragment that people write (HTML Standard, "id")."""
    page = bring(
        site,
        editor,
        "/spelt/",
        "<h2 id='winter moorings'>W</h2><p><a href='#winter-moorings'>w</a>",
    )
    (hop,) = hops.out_of(page)
    (guess, *_) = Guesser(site).guesses(hop)
    assert (guess.id, guess.mends_id) == ("winter moorings", True)


def test_an_id_typed_whole_is_found_among_many_that_begin_so(site: Site, editor: Editor) -> None:
    many = "".join(f"<h2 id=toll-{at}>Toll {at}</h2><p>Pay.</p>" for at in range(300))
    bring(site, editor, "/tolls/", f"<h1>Tolls</h1>{many}<h2 id=toll>What a toll is</h2>")
    found = ends.find(site, "toll", None)
    assert (found[0].id, found[0].kind, len(found)) == ("toll", "section", ends.MOST)


QUESTIONS = (
    "<h1>Paying</h1><p>Eight questions.</p>"
    "<p id=q7><b>Question 7: What happens if I pay late?</b></p><p>A letter comes.</p>"
    "<p id=late-days>After <b>ten days</b> it is £2 more.</p><p><img id=form alt='The form'></p>"
)


def test_marked_parts_are_found_by_their_words(site: Site, editor: Editor) -> None:
    page = bring(site, editor, "/paying/", QUESTIONS)
    other = page_at(site, "/about/")
    found = {one.id: (one.title, one.what) for one in ends.find(site, "", page)}
    assert found == {
        "q7": ("Question 7: What happens if I pay late?", ""),
        "late-days": ("After ten days it is £2 more.", "paragraph"),
        "form": ("The form", "picture"),
    }
    assert [one.id for one in ends.find(site, "pay late", other)] == ["q7"]
    assert [one.id for one in ends.find(site, "ten days", other)] == ["late-days"]
    assert ends.title_of(page, "form") == "The form"


def test_ends_begin_with_sections_and_close_with_what_pages_share(
    site: Site, editor: Editor
) -> None:
    footer = "<footer><p id=phone>Ring us</p><p id=post>Write to us</p></footer>"
    lines = "".join(f"<p id=line-{at}>Line {at}</p>" for at in range(30))
    page = bring(site, editor, "/tolls/", f"<h2>Tolls</h2>{lines}<h2>Boats</h2>{footer}")
    bring(site, editor, "/boats/", f"<h2>Boats</h2><p>Two.</p>{footer}")
    found = ends.find(site, "", page)
    assert [one.kind for one in found[:2]] == ["section", "section"]
    assert [one.title for one in found if one.is_shared] == ["Ring us", "Write to us"]
    assert all(one.is_shared for one in found[-2:])
    few = bring(site, editor, "/few/", "<h2>A</h2><p id=a>First</p><h2>B</h2><p id=b>Second</p>")
    assert [one.title for one in ends.find(site, "", few)] == ["A", "First", "B", "Second"]
    closest = ends.find(site, "boats", page)
    assert [one.kind for one in closest[:2]] == ["section", "section"]


def test_an_id_on_a_bold_line_is_its_section_s_mark(site: Site, editor: Editor) -> None:
    page = bring(site, editor, "/paying/", QUESTIONS.replace(" id=q7", ""))
    title = "Question 7: What happens if I pay late?"
    save(page, editor, mark_acts.mark(page, [(section(page, title).number, "late")]))
    assert section(page, title).mark == "late"
    assert list(index.differences(site)) == []  # which reads the page afresh


def test_an_id_that_stands_in_a_class_is_said_as_its_finding_says(
    site: Site, editor: Editor
) -> None:
    page = bring(site, editor, "/pay/", "<p><a href=#dues>Dues</a></p><h2 class=dues>What it costs")
    (hop,) = hop_rows(page)["hops"]
    assert hop["notes"][-1] == (
        "The heading “What it costs” has this ID in its class. Choose the hop to move it."
    )
    page.findings.all().delete()
    (hop,) = hop_rows(page)["hops"]
    assert not any("in its class" in one for one in hop.get("notes", []))
