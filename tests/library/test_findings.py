"""Findings kept: renewed with every change, mended by their acts, set aside and taken back."""

from __future__ import annotations

import json
from collections.abc import Collection, Sequence
from typing import Any

import pytest
from django.test import Client
from django.urls import reverse
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from innerhop.core.findings.broken import id_in_class
from innerhop.core.findings.found import NOTE
from innerhop.core.findings.table import BROKEN_HOPS, RULES
from innerhop.core.refusals import Refusal
from innerhop.library import doing, sites, taste
from innerhop.library.acts import convert_and_move, site_acts
from innerhop.library.acts.table import planned
from innerhop.library.bring_in import bring_ins
from innerhop.library.changes import undo, write
from innerhop.library.index import findings as index_findings
from innerhop.library.index import index
from innerhop.library.models import Change, Editor, Finding, Page, Site
from innerhop.library.seek import findings, hops
from innerhop.library.seek.guesses import Guesser
from tests.core.test_findings import MUST
from tests.library.test_changes import content, page_at

pytestmark = pytest.mark.django_db


def site_with(editor: Editor, pages: dict[str, str]) -> Site:
    site = sites.create("Canal", "canal.example", "en", editor)
    site.rules_asked = [rule.name for rule in taste.CHOICES]
    site.save()
    pieces = [bring_ins.NewFile(name, markup.encode()) for name, markup in pages.items()]
    for _ in bring_ins.bring_in(site, editor, pieces, len(pieces)):
        pass
    return site


def open_on(site: Site) -> set[tuple[str, str, str]]:
    """What is found: rule, page and place, but for what is for information."""
    rows = Finding.objects.filter(site=site, aside=None)
    found = rows.values_list("rule", "page__path", "key")
    return {one for one in found if RULES[one[0]].level != NOTE}


def fix(site: Site, editor: Editor, rule: str, **more: Any) -> Change:
    row = Finding.objects.filter(site=site, rule=rule, aside=None).first()
    assert row is not None
    page = Page.objects.select_related("site").get(pk=row.page_id)
    act = planned("fix", page, {"rule": rule, "cause": row.cause, "all": True, **more})
    return write.save(site, editor, act.message, act.plans, act.effects)


MENDED = [name for name in MUST if RULES[name].fix]
# What a mend lays open that was there before: behind it another slip, or a link's own words.
THEN = {
    "menu-hash": set(),
    "level-skipped": {"level-skipped"},  # deeper ones close up one after another
    "bold-line": {"unmarked"},  # now that it is a section
}  # fmt: skip


@pytest.mark.parametrize("rule", MENDED)
def test_a_fix_makes_its_finding_go_and_nothing_new_comes(editor: Editor, rule: str) -> None:
    pages, words = MUST[rule]
    site = site_with(editor, {"page.html": pages} if isinstance(pages, str) else pages)
    before = open_on(site)
    texts = {page.pk: page.revision for page in site.pages.all()}
    assert sum(one[0] == rule for one in before) == len(words)
    made = fix(site, editor, rule)
    after = open_on(site)
    assert not [one for one in after if one[0] == rule]
    new = {one[0] for one in after - before}
    assert new <= THEN.get(rule, set())
    assert list(index.differences(site)) == []
    undo.undo(made)
    assert open_on(site) == before
    assert texts.keys() == {page.pk for page in site.pages.all()}


LEADING = [one.name for one in BROKEN_HOPS if one.fix and one is not id_in_class.RULE]


@pytest.mark.parametrize("rule", [one for one in LEADING if one in MUST])
def test_what_a_broken_hop_meant_is_the_same_on_every_screen(
    client: Client, editor: Editor, rule: str
) -> None:
    """The finding's answer comes first on the hop's page and in the rehearsal, and mends it
    there too."""
    pages, _ = MUST[rule]
    site = site_with(editor, {"page.html": pages} if isinstance(pages, str) else pages)
    row = Finding.objects.filter(site=site, rule=rule).order_by("number").first()
    assert row is not None
    (hop,) = (one for one in hops.of_site(site, 99)
              if (one.link.page_id, one.link.number) == (row.page_id, row.number))  # fmt: skip
    guess = Guesser(site).guesses(hop)[0]
    assert (guess.rule, guess.page.pk, guess.id) == (rule, row.told["page"], row.told["id"])
    state = client.get(reverse("rehearsal-state", args=[site.slug])).json()
    mend = next(one for one in state["mends"]["meant"] if one["number"] == row.number)
    answer = client.post(mend["url"], json.dumps(mend["sent"]), "application/json")
    assert answer.status_code == 200, answer.content
    assert not Finding.objects.filter(page=row.page_id, rule=rule, number=row.number).exists()


ONE_PAGE = [name for name in MENDED if isinstance(MUST[name][0], str)]


@settings(max_examples=12, deadline=None, suppress_health_check=list(HealthCheck))
@given(names=st.lists(st.sampled_from(ONE_PAGE), min_size=2, max_size=5, unique=True),
       at=st.integers(0, 99))  # fmt: skip
def test_on_any_site_a_fix_mends_what_it_says(editor: Editor, names: list[str], at: int) -> None:
    pages = {f"p{n}.html": str(MUST[name][0]) for n, name in enumerate(names)}
    site = site_with(editor, pages)
    try:
        before = open_on(site)
        groups = findings.groups(findings.open_on(site), ["stuck", "misled", "better"], 0, 99).shown
        mended = [one for one in groups if one.fix]
        group = mended[at % len(mended)]
        act = planned("fix", group.first.page,
                      {"rule": group.rule.name, "cause": group.cause, "all": True})  # fmt: skip
        write.save(site, editor, act.message, act.plans, act.effects)
        after = open_on(site)
        same = Finding.objects.filter(site=site, rule=group.rule.name, cause=group.cause)
        assert not same.exists()
        assert {one[0] for one in after - before} <= THEN.get(group.rule.name, set())
        assert list(index.differences(site)) == []
    finally:
        site.delete()


def test_a_page_that_moved_is_known_by_its_old_address(site: Site, editor: Editor) -> None:
    about = page_at(site, "/about/")
    act = convert_and_move.move(about, "/who-we-are/")
    write.save(site, editor, act.message, act.plans, act.effects)
    bring = bring_ins.NewFile("late.html", b"<h1>Late</h1><a href=/about/#trustees>trustees</a>")
    for _ in bring_ins.bring_in(site, editor, [bring], 1):
        pass
    (row,) = Finding.objects.filter(site=site, rule="moved-page")
    assert row.told["to"] == "/who-we-are/#trustees"
    (hop,) = (one for one in hops.of_site(site, 99) if one.link.page_id == row.page_id)
    assert Guesser(site).guesses(hop)[0].rule == "moved-page"
    fix(site, editor, "moved-page")
    assert not Finding.objects.filter(site=site, rule="moved-page").exists()


def test_what_is_set_aside_stays_so_through_edits_and_counts_again(
    site: Site, editor: Editor
) -> None:
    count = findings.counted(site)
    row = Finding.objects.get(site=site, rule="no-hash")
    sent = {"findings": [row.pk], "reason": "  It is\n meant "}
    aside = doing.do(editor, "set-aside", site, sent)
    assert (aside.message, aside.act, aside.asked) == (
        "Set 1 place aside: No hash in front",
        "set-aside",
        sent,
    )
    assert findings.counted(site) == count - 1
    # Something above it is put in, so that its number is another.
    act = planned("marker", row.page, {"number": 30, "side": "before", "id": "new-marker"})
    write.save(site, editor, act.message, act.plans)
    again = Finding.objects.get(site=site, rule="no-hash")
    assert again.aside is not None
    assert (again.aside.reason, findings.counted(site)) == ("It is meant", count - 1)
    doing.do(editor, "count-again", site, {"aside": again.aside.pk})
    assert findings.counted(site) == count
    whole = doing.do(editor, "set-aside", site, {"rule": "unmarked"})
    assert not Finding.objects.filter(site=site, rule="unmarked", aside=None).exists()
    bring = bring_ins.NewFile("late.html", b"<h1>Late</h1><h2>Nobody can link to it</h2>")
    for _ in bring_ins.bring_in(site, editor, [bring], 1):
        pass
    assert not Finding.objects.filter(site=site, rule="unmarked", aside=None).exists()
    # Each is a change that is undone as any other; what others did since stands in its way.
    undo.undo(whole)
    assert not site.set_aside.exists()
    with pytest.raises(undo.CannotUndo, match="changed once more since"):
        undo.undo(aside)


def test_what_can_t_be_mended_is_said(site: Site, editor: Editor) -> None:
    row = Finding.objects.filter(site=site, rule="no-id").first()
    assert row is not None
    with pytest.raises(Refusal, match="Open the place and choose"):
        planned("fix", row.page, {"rule": "no-id", "cause": "", "all": True})
    hash_ = Finding.objects.get(site=site, rule="no-hash")
    with pytest.raises(Refusal, match="Load the list again"):
        planned("fix", hash_.page, {"rule": "no-hash", "cause": "", "findings": [10**9]})
    lock = planned("lock", hash_.page, {"number": hash_.number, "on": True})
    write.save(site, editor, lock.message, lock.plans, lock.effects)
    with pytest.raises(Refusal, match="can’t be edited here"):
        planned("fix", hash_.page, {"rule": "no-hash", "cause": "", "all": True})
    with pytest.raises(site_acts.CannotSetAside):
        doing.do(editor, "set-aside", site, {"findings": [10**9]})
    stranger = Editor.objects.create_user("stranger")
    with pytest.raises(doing.MayNot):
        doing.do(stranger, "set-aside", site, {"rule": "no-id"})


def test_a_fix_of_a_page_that_moved_on_meanwhile_is_told(site: Site, editor: Editor) -> None:
    row = Finding.objects.get(site=site, rule="no-hash")
    act = planned("fix", row.page, {"rule": "no-hash", "cause": "", "all": True})
    other = planned("marker", row.page, {"number": 30, "side": "before", "id": "new-marker"})
    write.save(site, editor, other.message, other.plans)
    with pytest.raises(write.MovedOn):
        write.save(site, editor, act.message, act.plans, act.effects)
    assert Finding.objects.filter(site=site, rule="no-hash").exists()


@pytest.mark.parametrize("kind", ["csv", "json", "sarif", "junit"])
def test_the_list_as_a_file(site: Site, client: Client, kind: str) -> None:
    answer = client.get(f"/{site.slug}/findings/file/{kind}/")
    assert answer.status_code == 200
    assert b"lock-guide/index.html" in answer.content
    assert client.get(f"/{site.slug}/findings/file/odd/").status_code == 404


def test_what_stands_in_a_shared_part_is_mended_once(editor: Editor) -> None:
    """Wherever the part stands on each page; and on one page alone where that is asked for."""
    foot = "<footer><h3>Reach us</h3><p>By the lock, <a href=/a target=_blank>map</a></p></footer>"
    site = site_with(editor, {
        "a.html": f"<html lang=en><main><h1>A</h1><p>x<p>y</main>{foot}",
        "b.html": f"<html lang=en><main><h1>B</h1></main>{foot}",
        "c.html": "<html lang=en><h1>C</h1><a href=/a target=_blank>out</a>",
    })  # fmt: skip
    rows = Finding.objects.filter(site=site, rule="new-tab-unsaid")
    assert rows.count() == 3
    only = page_at(site, "/c.html")
    fix(site, editor, "new-tab-unsaid", only=only.pk)
    assert set(rows.values_list("page__path", flat=True)) == {"/a", "/b.html"}  # as links call them
    change = fix(site, editor, "new-tab-unsaid")
    assert not rows.exists()
    assert change.message.endswith("on 2 pages")
    assert list(index.differences(site)) == []


def test_ids_in_classes_are_found_among_many_broken_hops(editor: Editor) -> None:
    """Where many ask, the database tells in which texts a word stands at all."""
    many = "".join(f"<a href=b.html#none-{n}>x{n}</a>" for n in range(30))
    own = "<a href=b.html#fees>f</a><a href=b.html#schleuse-ü>s</a><a href=c.html#fees>g</a>"
    wide = "<p class='fees'>x</p>".encode("utf-16")
    site = site_with(editor, {
        "a.html": many + own,
        "b.html": "<p class='big fees'>x<p class=schleuse-ü>y",
        "c.html": "<p>fees</p>",
    })  # fmt: skip
    assert {one[2] for one in open_on(site) if one[0] == "id-in-class"} == {
        "b.html#fees f", "b.html#schleuse-ü s",
    }  # fmt: skip
    pieces = [bring_ins.NewFile("c.html", wide)]
    for _ in bring_ins.bring_in(site, editor, pieces, 1, replace=True):
        pass
    assert "c.html#fees g" in {one[2] for one in open_on(site) if one[0] == "id-in-class"}


@pytest.mark.parametrize(
    ("markup", "body_only"),
    [("<h1>Gebühren</h1>", False), ("<html><h1>Gebühren</h1></html>", True)],
)
def test_a_page_without_a_tag_of_its_own_says_no_language(
    editor: Editor, markup: str, body_only: bool
) -> None:
    site = sites.create("Canal", "canal.example", "de", editor)
    pieces = [bring_ins.NewFile("a.html", markup.encode(), body_only=body_only)]
    for _ in bring_ins.bring_in(site, editor, pieces, 1):
        pass
    page = site.pages.select_related("site").get()
    with pytest.raises(Refusal, match="no html tag"):
        planned("say-language", page, {})
    # What the frame around a body says is not known, so nothing is found.
    assert not (body_only and [one for one in open_on(site) if one[0] == "no-language"])


def test_hops_to_words_know_when_other_words_stand_there(editor: Editor) -> None:
    """Though no mark, link or number of words is another: URL Fragment Text Directives."""
    site = site_with(editor, {
        "a.html": "<a href='b.html#:~:text=winter%20moorings'>w</a>",
        "b.html": "<h2 id=b>B</h2><p>about winter moorings here</p>",
    })  # fmt: skip
    assert not {one for one in open_on(site) if one[0].startswith("words")}
    for words, rule in (("summer moorings here", "words-gone"),
                        ("winter moorings winter moorings", "words-twice")):  # fmt: skip
        markup = f"<h2 id=b>B</h2><p>about {words}</p>"
        piece = bring_ins.NewFile("b.html", markup.encode())
        for _ in bring_ins.bring_in(site, editor, [piece], 1, replace=True):
            pass
        found = {one[:2] for one in open_on(site) if one[0].startswith("words")}
        assert found == {(rule, "/a.html")}
        assert list(index.differences(site)) == []


def test_an_address_that_means_a_page_knows_which_ids_are_there(editor: Editor) -> None:
    """Of a link that is no hop of the site, what it likely means depends on its page too."""
    link = "<a href=https://staging.canal.example/b/#fees>the fees</a><a href=#own>own</a>"
    site = site_with(editor, {"index.html": link, "b.html": "<h1>B</h1><h2 id=fees>Fees</h2>"})
    row = Finding.objects.get(site=site, rule="preview-address")
    assert row.told["id"] == "fees"
    number = Page.objects.get(pk=row.told["page"]).marks.get(value="fees").number
    act = planned("take-away", Page.objects.get(pk=row.told["page"]), {"number": number})
    write.save(site, editor, act.message, act.plans, act.effects)
    assert Finding.objects.get(site=site, rule="preview-address").told["id"] == ""
    assert list(index.differences(site)) == []


FOOT = "<footer><h2>Reach us</h2><p>The Toll House, Marrowby Basin</p><a href=/>Home</a></footer>"


@pytest.mark.parametrize("meanwhile", ["nothing", "a hop"])
def test_what_was_found_ahead_is_kept_where_it_is_still_so(
    editor: Editor, monkeypatch: pytest.MonkeyPatch, meanwhile: str
) -> None:
    """A mark in a part of many pages, and another editor's change while it is prepared."""
    page = f"<main><h1>Page</h1><h2 id=old>Old</h2><p>x</main>{FOOT}"
    site = site_with(editor, {**{f"p{n}/index.html": page for n in range(25)},
                              "late/index.html": "<p>Go <a href=/p1/>there</a>"})  # fmt: skip
    first, late = page_at(site, "/p1/"), page_at(site, "/late/")
    unused = Finding.objects.filter(site=site, rule="unused-mark")
    assert set(unused.values_list("words", flat=True)) == {"Old"}

    def hold(site: Site, keys: Sequence[int]) -> dict[int, Page]:
        monkeypatch.setattr(write, "hold", held)
        if meanwhile == "a hop":
            end = {"page": first.pk, "id": "old"}
            act = planned("retarget", late, {"number": late.links.get().number, "end": end})
            write.save(site, editor, act.message, act.plans, act.effects)
        monkeypatch.setattr(index_findings, "renew", noted)
        return held(site, keys)

    def noted(site: Site, keys: Collection[int]) -> None:
        looked.extend(keys)
        renew(site, keys)

    looked: list[int] = []
    held, renew = write.hold, index_findings.renew
    monkeypatch.setattr(write, "hold", hold)
    number = first.regions.get(kind="footer").number + 1
    act = planned("mark", first, {"marks": [{"number": number, "id": "x"}]})
    change = write.save(site, editor, act.message, act.plans, act.effects)
    assert looked == ([first.pk] if meanwhile == "a hop" else [])
    assert first.marks.filter(value="x").count() == 1
    assert unused.filter(page=first).exists() == (meanwhile == "nothing")
    assert list(index.differences(site)) == []
    undo.undo(change)
    assert list(index.differences(site)) == []


@pytest.mark.parametrize(
    ("rule", "body"),
    [
        ("twice", "<p id=a>x</p>" + "<p id=a>Same words</p>" * 3),
        ("id-with-space", "<p id='a b'>x</p><p id='a  b'>y</p>"),
        ("id-with-hash", "<p id='#a'>x</p><p id=a>y</p><p id='##a'>z</p>"),
    ],
)
def test_many_alike_mended_at_once_get_names_of_their_own(
    editor: Editor, rule: str, body: str
) -> None:
    """Seen on a manual: two equal IDs on parts of the same words became two others."""
    site = site_with(editor, {"p.html": f"<title>T</title><h1>T</h1>{body}"})
    fix(site, editor, rule)
    assert not Finding.objects.filter(site=site, rule__in=("twice", rule)).exists()
    values = site.pages.get().marks.values_list("value", flat=True)
    assert len(values) == len(set(values))


def test_an_id_typed_with_its_hash_is_what_is_mended_and_its_hops_arrive(editor: Editor) -> None:
    """Seen: the hop was led to `/faq##pay` instead."""
    pages = {
        "faq.html": "<h1>F</h1><h2 id='#pay'>How to pay</h2>",
        "index.html": "<a href=faq.html#pay>p</a>",
    }
    site = site_with(editor, pages)
    (row,) = Finding.objects.filter(site=site, page__path="/", rule="id-off")
    assert "written with its #: the ID is to be mended" in findings.said(
        RULES["id-off"].why, row, {}
    )
    fix(site, editor, "id-with-hash")
    assert b"<h2 id='pay'>" in content(page_at(site, "/faq.html"))
    assert content(page_at(site, "/")) == pages["index.html"].encode()
    assert not Finding.objects.filter(site=site, rule__in=("id-with-hash", "id-off")).exists()


def test_each_missing_id_is_a_cause_of_its_own_with_what_it_likely_meant(editor: Editor) -> None:
    """Seen: four missing IDs were one row, and a heading with the link's words, on another
    page, was not offered."""
    missing = {"lost": "Lost and found", "dogs": "Bringing a dog", "oars": "Oars", "tolls": "x"}
    links = "".join(f"<a href=faq.html#{id_}>{words}</a> " for id_, words in missing.items())
    site = site_with(editor, {
        "index.html": f"<title>H</title><p>{links}", "faq.html": "<h1>F</h1><p id=other>x",
        "help.html": "<h1>Help</h1><h2 id=property>Lost and  found</h2><h2 id=o>Oars</h2>",
        "dog.html": "<title>Bringing a dog</title>",
    })  # fmt: skip
    groups = findings.groups(Finding.objects.filter(site=site, rule="no-id"), ["stuck"], 0, 9)
    titles = {one.title for one in groups.shown}
    assert titles == {f"Nothing on “F” has the ID {id_}" for id_ in missing}
    guesser, page = Guesser(site), page_at(site, "/")
    meant = {
        hop.link.text: [(one.page.path, one.id) for one in guesser.guesses(hop)]
        for hop in hops.out_of(page)
    }
    assert meant == {
        "Lost and found": [("/help.html", "property")], "Bringing a dog": [("/dog.html", "")],
        "Oars": [], "x": [],
    }  # fmt: skip
