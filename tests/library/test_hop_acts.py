"""Hops from any start, in any form, to any end: on the demo site and on small pages,
with what becomes of them when pages move and when forms change."""

from __future__ import annotations

import json
from collections.abc import Callable
from urllib.parse import quote

import pytest
from django.test import Client

from innerhop.core.addresses import address_forms, link_target
from innerhop.core.addresses.address_forms import ABSOLUTE, HASH, PATH, RELATIVE, CannotWrite
from innerhop.core.addresses.urls import NotAnAddress, resolve
from innerhop.core.facts import hidden_parts
from innerhop.core.planners import hopping
from innerhop.core.planners.wrapping import CannotLink
from innerhop.library.acts import convert_and_move, hop_acts
from innerhop.library.acts.base import Act
from innerhop.library.acts.ends import End, Outside
from innerhop.library.acts.hop_acts import Manner
from innerhop.library.changes import effects, moves, undo, write
from innerhop.library.hand_over import copy_sheet
from innerhop.library.index import index
from innerhop.library.index.rows import VERSION
from innerhop.library.index.texts import current
from innerhop.library.models import Change, Editor, Link, Page, Site
from innerhop.library.seek import hops, site_map, typed_addresses
from tests.library.test_changes import content, page_at, section, words_in
from tests.library.test_hops import bring
from tests.library.test_index import check


def save(page: Page, editor: Editor, act: Act) -> Change:
    return write.save(page.site, editor, act.message, act.plans, act.effects)


def arrivals_of(site: Site) -> dict[tuple[int, str], tuple[object, ...]]:
    """Where every hop of the site ends, by page and words."""
    return {
        (hop.link.page_id, hop.link.text): (hop.kind, hop.page and hop.page.pk, hop.end)
        for hop in hops.of_pages(list(site.pages.select_related("site")))
    }


@pytest.mark.parametrize(
    ("form", "href"),
    [
        ("", "/lock-guide/#summit"),
        (PATH, "/lock-guide/#summit"),
        (RELATIVE, "../lock-guide/#summit"),
        (ABSOLUTE, "https://marrowby.example/lock-guide/#summit"),
    ],
)
def test_each_form_leads_to_the_same(site: Site, editor: Editor, form: str, href: str) -> None:
    page, guide = page_at(site, "/moorings/"), page_at(site, "/lock-guide/")
    words = words_in(page, "honesty box")
    with pytest.raises(CannotWrite):
        hop_acts.hop(page, words, End(guide, "summit"), Manner(HASH))
    act = hop_acts.hop(page, words, End(guide, "summit"), Manner(form))
    assert act.href == href
    assert [one.href for one in act.forms if one.form == HASH] == [""]
    save(page, editor, act)
    hop = next(one for one in hops.out_of(page) if one.link.text == "honesty box")
    assert (hop.kind, hop.page, address_forms.form_of(hop.link.href)) == (
        hops.THERE,
        guide,
        form or PATH,
    )
    check(site)


def test_the_site_s_default_form(site: Site) -> None:
    site.hop_form = RELATIVE
    site.save()
    page, guide = page_at(site, "/moorings/"), page_at(site, "/lock-guide/")
    words = words_in(page, "honesty box")
    assert hop_acts.hop(page, words, End(guide, "summit")).href == "../lock-guide/#summit"
    assert hop_acts.hop(page, words, End(page, "fees")).href == "#fees"


def test_a_new_tab_is_warned_about_within_a_page_and_closed_off_to_other_sites(
    site: Site, editor: Editor
) -> None:
    page = page_at(site, "/moorings/")
    words = words_in(page, "honesty box")
    within = hop_acts.hop(page, words, End(page, "fees"), Manner(new_tab=True))
    assert link_target.IN_PAGE in within.notes
    away = hop_acts.hop(page, words, Outside("https://waterways.example/"), Manner(new_tab=True))
    save(page, editor, away)
    wanted = b'<a href="https://waterways.example/" target="_blank" rel="noopener">honesty box</a>'
    assert wanted in content(page)
    page.refresh_from_db()
    link = page.links.get(text="honesty box")
    assert link.new_tab
    save(page, editor, hop_acts.reopen(page, link, False))
    assert b'<a href="https://waterways.example/">honesty box</a>' in content(page)
    page.refresh_from_db()
    save(page, editor, hop_acts.reopen(page, page.links.get(text="honesty box"), True))
    assert b'<a target="_blank" rel="noopener" href="https://waterways' in content(page)
    check(site)


def test_what_is_said_while_a_hop_is_made(site: Site, editor: Editor) -> None:
    page = bring(
        site,
        editor,
        "/shut/",
        "<p>click here or hidden, opened <a href='#a'>Fees</a><details><summary>s</summary>"
        "<h2 id=a>A</h2></details><div hidden><h2 id=b>B</h2></div><h2>Fees</h2>",
    )
    act = hop_acts.hop(page, words_in(page, "click here"), End(page, "a"))
    assert "does not say where it leads" in act.notes[0]
    assert hidden_parts.MESSAGES[hidden_parts.OPENS] in act.notes
    hidden = hop_acts.hop(page, words_in(page, "hidden"), End(page, "b"))
    assert hidden.notes == [hidden_parts.MESSAGES[hidden_parts.HIDDEN]]
    save(page, editor, hidden)
    page.refresh_from_db()
    kinds = {hop.link.text: (hop.kind, hop.opens) for hop in hops.out_of(page)}
    assert kinds == {"hidden": (hops.BROKEN, False), "Fees": (hops.HERE, True)}
    again = hop_acts.element(page, section(page, "Fees").number, End(page, ""))
    assert "2 different places" in again.notes[0]


def test_a_part_and_a_new_link_start_hops(site: Site, editor: Editor) -> None:
    page = bring(
        site,
        editor,
        "/starts/",
        "<h1>T</h1><p><img src=a.png alt='A map'></p><p><a class=btn href=/about/>Us</a></p>",
    )
    guide = page_at(site, "/lock-guide/")
    heading = section(guide, "A note on paddle gear")
    source = current(page).source
    number = next(n for n, tag_ in enumerate(source.tags) if tag_ == "img")
    act = hop_acts.element(page, number, End(guide, "gear", heading.number))
    assert act.message.startswith("Linked the picture “A map” to /lock-guide/#gear and marked")
    change = save(page, editor, act)
    assert b"<a href=\"/lock-guide/#gear\"><img src=a.png alt='A map'></a>" in content(page)
    assert b'id="gear"' in content(guide)
    page.refresh_from_db()
    button = page.links.get(text="Us").number
    new = hop_acts.new_link(
        page, button, End(guide, "gear"), side="after", words="The gear", like=button
    )
    save(page, editor, new)
    assert b'</a> <a class="btn" href="/lock-guide/#gear">The gear</a></p>' in content(page)
    check(site)
    page.refresh_from_db()
    with pytest.raises(CannotLink, match="a link already"):
        hopping.require_start(current(page).source, page.links.get(text="Us").number)
    undo.undo(change)
    assert b"<p><img src=a.png alt='A map'></p>" in content(page)


def test_a_new_link_in_a_shared_part_is_put_on_all_its_pages(site: Site, editor: Editor) -> None:
    page = page_at(site, "/")
    footer = page.links.get(text="Read our accounts").number
    button = page.links.get(text="Book a boat").number
    new = {"side": "after", "words": "Fees"}
    with pytest.raises(CannotLink, match="outside it"):
        hop_acts.new_link(page, footer, End(page, ""), like=button, **new)
    act = hop_acts.new_link(page, footer, End(page_at(site, "/moorings/"), "fees"), **new)
    save(page, editor, act)
    assert len(act.plans) > 4
    for plan in act.plans:  # on the page it leads to as well: no bare hash in there
        assert plan.page.links.get(text="Fees").href == "/moorings/#fees"
    check(site)
    (step,) = [step for sheet in copy_sheet.of_site(site) for step in sheet.steps]
    assert step.within == (
        f"in the shared footer, the same on {len(act.plans)} pages: enter it once"
    )
    assert step.at == "right behind the link “Read our accounts”"


@pytest.mark.parametrize("form", [PATH, RELATIVE, ABSOLUTE])
def test_a_site_s_hops_are_written_anew_and_lead_where_they_did(
    site: Site, editor: Editor, form: str
) -> None:
    before = arrivals_of(site)
    pages = list(site.pages.select_related("site"))
    act = convert_and_move.convert(site, pages, convert_and_move.NAMING, form)
    if act.plans:
        change = save(pages[0], editor, act)
        assert arrivals_of(site) == before
        forms = {
            address_forms.form_of(one.href)
            for one in Link.objects.filter(site=site).exclude(key="")
            if not one.href.startswith("#") and site.pages.filter(key=one.key).exists()
        }
        assert forms == {form}
        check(site)
        undo.undo(change)
    assert arrivals_of(site) == before


def test_what_stands_behind_a_question_mark_is_kept(site: Site, editor: Editor) -> None:
    page = bring(site, editor, "/q/", "<p><a href='/moorings?boat=7#fees'>fees</a>")
    save(page, editor, convert_and_move.convert(site, [page], convert_and_move.NAMING, RELATIVE))
    assert b"<a href='../moorings/?boat=7#fees'>fees</a>" in content(page)


def test_one_page_is_converted_but_for_its_shared_parts(site: Site, editor: Editor) -> None:
    page = page_at(site, "/moorings/")
    act = convert_and_move.convert(site, [page], convert_and_move.NAMING, ABSOLUTE)
    assert "other pages share" in act.notes[0]
    save(page, editor, act)
    assert page.links.filter(href="https://marrowby.example/stoppages/").count() <= 1
    assert page.links.filter(region="nav", href__startswith="https:").count() == 0
    check(site)


def test_a_page_that_moves_takes_its_hops_along(site: Site, editor: Editor) -> None:
    page = bring(
        site,
        editor,
        "/guide/gates/",
        "<h1 id=a>Gates</h1><p><a href=#a>self</a> <a href=../../moorings/#fees>near</a>"
        " <a href=/moorings/#fees>root</a> <a href=/guide/gates/#a>own</a><img src=x.png>",
    )
    other = bring(
        site,
        editor,
        "/guide/x/",
        "<p><a href=../gates/#a>rel</a> <a href='https://marrowby.example/guide/gates/?q=1#a'>abs</a>"
        " <a href='/guide/gates'>page</a>",
    )
    before = arrivals_of(site)
    act = convert_and_move.move(page, "gates/")
    assert any("relative address" in note for note in act.notes)
    change = save(page, editor, act)
    page.refresh_from_db()
    assert page.path == "/gates/"
    assert arrivals_of(site) == before
    assert content(other) == (
        b"<p><a href=../../gates/#a>rel</a> <a href='https://marrowby.example/gates/?q=1#a'>abs</a>"
        b" <a href='/gates/'>page</a>"
    )
    # Read from the new place, `../..` goes no higher than the root (RFC 3986 5.2.4).
    assert b"<a href=#a>self</a> <a href=../../moorings/#fees>near</a>" in content(page)
    assert b"<a href=/gates/#a>own</a>" in content(page)
    check(site)
    assert [(one.old, one.page) for one in moves.of_site(site)] == [("/guide/gates/", page)]

    again = convert_and_move.move(page_at(site, "/gates/"), "/doors/")
    save(page, editor, again)
    assert [one.old for one in moves.of_site(site)] == ["/guide/gates/", "/gates/"]
    undo.undo(undo.next_to_undo(site, editor))  # type: ignore[arg-type]
    undo.undo(change)
    page.refresh_from_db()
    assert (page.path, moves.of_site(site)) == ("/guide/gates/", [])
    assert arrivals_of(site) == before
    check(site)
    undo.redo(change)
    page.refresh_from_db()
    assert (page.path, arrivals_of(site)) == ("/gates/", before)


def test_a_move_is_refused_plainly(site: Site, editor: Editor) -> None:
    page = page_at(site, "/about/")
    with pytest.raises(effects.AddressTaken, match="Lock guide"):
        convert_and_move.move(page, "/lock-guide")
    with pytest.raises(NotAnAddress, match="the address it has"):
        convert_and_move.move(page, "/about/")
    change = save(page, editor, convert_and_move.move(page, "/us/"))
    bring(site, editor, "/about/", "<h1>Other</h1>")
    with pytest.raises(undo.CannotUndo, match="has the address /about/"):
        undo.undo(change)
    page.refresh_from_db()
    assert page.path == "/us/"


UNDERSTOOD = [
    ("#fees", "/moorings/", "fees", True, "a mark on this page"),
    ("fees", "/moorings/", "fees", True, "The # is put in front"),
    ("##fees", "/moorings/", "", False, "stay where they are"),
    ("#Fees", "/moorings/", "", False, "stay where they are"),
    ("#", "/moorings/", "", True, "A # alone"),
    ("#top", "/moorings/", "", True, "has the ID “top”"),
    ("/lock-guide/#summit", "/lock-guide/", "summit", True, "a mark on that page"),
    ("https://marrowby.example/lock-guide?preview=1#summit", "/lock-guide/", "summit", True,
     "belongs to a preview"),
    ("../lock-guide/", "/lock-guide/", "", True, "the top of that page"),
    ("/lock-guide/summit", "/lock-guide/", "summit", True, "The # was missing: /lock-guide/#"),
    ("lock-guide/summit/", "/lock-guide/", "summit", True, "The # was missing: /lock-guide/#"),
    ("/lock-guide/#nope", "/lock-guide/", "", False, "it opens at its top"),
    ("lock-guide.html", "", "", False, "No page"),
    ("/lock-gide/#summit", "", "", False, "No page"),
    ("/lock-guide/#:~:text=stop%20planks", "/lock-guide/", "", True, "words on that page"),
]  # fmt: skip


@pytest.mark.parametrize("case", UNDERSTOOD)
def test_what_is_typed_is_understood(site: Site, case: tuple[str, str, str, bool, str]) -> None:
    text, path, id_, arrives, part = case
    found = typed_addresses.understand(page_at(site, "/moorings/"), text)
    assert found is not None
    assert part in found.message
    assert (found.arrives, found.id) == (arrives, id_)
    assert (found.page.path if found.page else "") == path


def test_what_was_likely_meant_is_offered(site: Site) -> None:
    page = page_at(site, "/moorings/")
    for text in ("##fees", "#Fees", "#fess"):
        found = typed_addresses.understand(page, text)
        assert found is not None
        assert [one.id for one in found.likely][:1] == ["fees"]
    near = typed_addresses.understand(page, "/lock-gide/#summit")
    assert near is not None
    assert [(one.page.path, one.id) for one in near.likely] == [("/lock-guide/", "summit")]
    assert typed_addresses.understand(page, "mooring fees") is None


@pytest.mark.parametrize("typed", [".dues", "#dues", "/pay/#dues"])
def test_a_class_typed_as_an_end_offers_the_part_that_has_it(
    site: Site, editor: Editor, client: Client, typed: str
) -> None:
    """CSS Selectors 4, class selectors; no browser looks there (HTML Standard, fragments)."""
    page = bring(site, editor, "/pay/", "<h2 class='big dues'>What it costs</h2><p>Six pounds.</p>")
    client.force_login(editor)
    url = f"/{site.slug}/find/?from={page.pk}&q={quote(typed)}"
    first = client.get(url).json()["found"][0]
    number = current(page).source.reading.of_tags(["h2"])[0]
    assert (first["kind"], first["title"], first["number"]) == ("section", "What it costs", number)
    assert "as a class" in first["why"]
    assert typed_addresses.understand(page, ".nope") is None


def test_a_mark_that_was_typed_is_one_row_and_menus_name_its_page(
    site: Site, editor: Editor, client: Client
) -> None:
    client.force_login(editor)
    page = page_at(site, "/moorings/")
    url = f"/{site.slug}/find/?from={page.pk}&q=%23fees"
    answer = client.get(url).json()
    rows = [one for one in answer["found"] if (one["page"], one["id"]) == (page.pk, "fees")]
    assert len(rows) == 1
    assert answer["message"] == "It leads to a mark on this page."
    answer = client.get(f"{url}&menu=1").json()
    assert answer["message"] == "It leads to a mark on “Moorings and charges”."


def test_a_base_address_makes_bare_hashes_leave(site: Site, editor: Editor) -> None:
    """HTML Standard #document-base-url; the hop is written so that it arrives all the same."""
    page = bring(site, editor, "/based/", "<base href=/moorings/><h2 id=a>A</h2><p>go <a href=#a>x")
    assert hops.out_of(page)[0].page == page_at(site, "/moorings/")
    found = typed_addresses.understand(page, "#a")
    assert found is not None
    assert "base address" in found.message
    assert found.page == page
    act = hop_acts.hop(page, words_in(page, "go"), End(page, "a"))
    read = resolve(act.href, page.base_address)
    assert (act.href, read and read.path) == ("/based/#a", "/based/")


def test_the_copy_sheet_lists_what_was_done_and_is_ticked_off(
    site: Site, editor: Editor, client: object
) -> None:
    page, guide = page_at(site, "/moorings/"), page_at(site, "/lock-guide/")
    assert copy_sheet.of_site(site) == []
    heading = section(guide, "A note on paddle gear")
    act = hop_acts.hop(page, words_in(page, "honesty box"), End(guide, "gear", heading.number))
    change = save(page, editor, act)
    sheets = {one.page.path: one for one in copy_sheet.of_site(site)}
    (id_step,) = sheets["/lock-guide/"].steps
    (link_step,) = sheets["/moorings/"].steps
    assert (id_step.kind, id_step.enter) == ("id", "gear")
    assert (link_step.kind, link_step.enter) == ("link", "/lock-guide/#gear")
    assert copy_sheet.tick(page, link_step.key, True, editor).left == 0
    assert [row["done"] for row in copy_sheet.rows(copy_sheet.of_site(site))] == [False, True]
    assert set(copy_sheet.rows(sheets.values())[0]) == set(copy_sheet.FIELDS)
    with pytest.raises(LookupError):
        copy_sheet.tick(page, "no such step", True, editor)
    assert copy_sheet.tick(page, link_step.key, False, editor).left == 1
    undo.undo(change)
    assert copy_sheet.of_site(site) == []


def test_an_older_index_is_caught_up_with(site: Site) -> None:
    Page.objects.filter(site=site).update(indexed=VERSION - 1)
    Link.objects.filter(site=site).update(new_tab=True)
    assert index.catch_up() == site.pages.count()
    check(site)


def _file(client: object, url: str) -> bytes:
    get: Callable[[str], object] = client.get  # type: ignore[attr-defined]
    return bytes(get(url).content)  # type: ignore[attr-defined]


def test_the_copy_sheet_as_files(site: Site, editor: Editor, client: object) -> None:
    page = page_at(site, "/moorings/")
    save(page, editor, hop_acts.hop(page, words_in(page, "honesty box"), End(page, "fees")))
    root = f"/{site.slug}/hand-over/copy-sheet"
    sheet = json.loads(_file(client, f"{root}.json"))
    assert sheet["fields"] == copy_sheet.FIELDS
    assert [step["enter"] for step in sheet["steps"]] == ["#fees"]
    rows = _file(client, f"{root}.csv").decode("utf-8-sig").splitlines()
    assert rows[0] == ",".join(copy_sheet.FIELDS)
    assert rows[1].startswith("Moorings and charges,https://marrowby.example/moorings/,1,link,")


def test_the_map_shows_a_page_between_its_neighbours(site: Site, editor: Editor) -> None:
    whole = site_map.whole(site)
    assert {page.path for page in whole.pages} >= {"/", "/about/", "/moorings/"}
    assert len(whole.hops) == len(hops.of_pages(whole.pages))
    for n in range(9):  # more neighbours than are shown at once
        bring(
            site, editor, f"/reach-{n}/", f"<h1>Reach {n}</h1><p><a href=/lock-guide/#summit>up</a>"
        )
    guide = page_at(site, "/lock-guide/")
    shown = site_map.around(guide)
    assert len(shown.pages) == site_map.NEIGHBOURS + 1
    assert shown.centre in shown.pages
    later = site_map.around(guide, 1)
    assert not {page.pk for page in later.pages} & {page.pk for page in shown.pages} - {guide.pk}
    menu_only = page_at(site, "/volunteer-days/")
    assert menu_only not in [page for page, _ in shown.more]
    assert site_map.first_centre(site) is not None
    assert [page.path for page in site_map.search(site, "reach-3")] == ["/reach-3/"]
