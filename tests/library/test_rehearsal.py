"""What browsers tell of pages, kept as hearsay: how they lie, and where readers ended."""

from __future__ import annotations

from typing import Any

import pytest
from django.test import Client

from innerhop.core import landings
from innerhop.core.refusals import Refusal
from innerhop.library import rehearsal
from innerhop.library.acts.table import planned
from innerhop.library.changes import write
from innerhop.library.models import Editor, Layout, Link, Page, Site
from innerhop.library.seek import hops
from innerhop.library.seek import landings as seek
from innerhop.screens.rehearsal import views
from innerhop.screens.rehearsal.views import WIDTHS
from tests.library.test_changes import page_at

pytestmark = pytest.mark.django_db
HANDBOOK = "/skippers-handbook/"


def told(**targets: float) -> dict[str, Any]:
    """A page 9,000 px long with a sticky header of 67 px, and marks so far down."""
    view = {"width": 1280, "height": 800, "page": 9_000, "padding": 0, "snap": "", "snaps": [],
            "covers": [[0, 0, 67, 0, 9_000]]}  # fmt: skip
    rows = {
        id_.replace("_", "-"): {"top": top, "margin": 0, "content": top, "line": 34, "heading": 0,
                                "boxes": [], "hidden": False, "opens": False}
        for id_, top in targets.items()
    }  # fmt: skip
    return {"view": view, "targets": rows}


@pytest.fixture
def handbook(site: Site) -> Page:
    return page_at(site, HANDBOOK)


def test_landings_are_known_once_a_page_is_measured(handbook: Page) -> None:
    found = hops.out_of(handbook)
    assert {row.worst for row in seek.of_hops(found, WIDTHS)} == {"nowhere", ""}
    sent = told(your_first_lock=3_000, what_to_bring=2_000)
    kept = rehearsal.keep_layout(handbook, handbook.revision, 1280, sent)
    assert kept.worst == landings.COVERED
    rows = {row.hop.link.href: row for row in seek.of_page(handbook, WIDTHS)}
    assert rows["#your-first-lock"].landings[1280][:5] == (3_000, 0, 67, landings.COVERED, 34)
    assert rehearsal.unmeasured(handbook, WIDTHS) == [390, 820]
    effect = seek.with_room(found, WIDTHS, 16, seek.ends_laid(found))
    assert effect.clear >= 2
    assert (effect.worse, effect.headers[1280]) == (0, 67)


def test_hops_are_listed_part_by_part_and_those_first_that_disagree(
    client: Client, site: Site, handbook: Page, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(views, "MOST_ROWS", 10)
    monkeypatch.setattr(views, "MOST_HOPS", 30)
    last = Link.objects.hops().filter(site=site).exclude(kind=hops.BROKEN).order_by("-page_id")[0]
    found = {"path": "/elsewhere/", "arrived": True}
    kept = rehearsal.keep_walk(last.page, last.page.revision, last.number, 390, found)
    assert not kept.agrees
    rows, more = [], 1
    while more:
        url = f"/{site.slug}/rehearsal/state/?from={len(rows)}"
        state = client.get(url).json()
        rows += state["rows"]
        more = state["more"]
        assert len(rows) + more == state["hops"]
    assert len({row["key"] for row in rows}) == len(rows) == state["hops"] > 60
    assert rows[0]["key"] == f"{last.page_id}-{last.number}"
    alone = client.get(f"/{site.slug}/rehearsal/state/?verdict=nowhere").json()["rows"]
    assert {row["worst"] for row in alone} == {"nowhere"}


def test_pages_whose_own_scripts_were_at_rest_are_told(client: Client, handbook: Page) -> None:
    sent = told(your_first_lock=3_000)
    url = f"/{handbook.site.slug}/rehearsal/state/?page={handbook.pk}"
    for unrun, pages in ((True, 1), (False, 0)):
        sent["view"]["unrun"] = unrun
        rehearsal.keep_layout(handbook, handbook.revision, 1280, sent)
        assert client.get(url).json()["unrun"] == pages


def test_what_is_told_of_another_text_is_late(handbook: Page) -> None:
    with pytest.raises(rehearsal.Late):
        rehearsal.keep_layout(handbook, handbook.revision + 1, 1280, told())
    rehearsal.keep_layout(handbook, handbook.revision, 1280, told(your_first_lock=3_000))
    Page.objects.filter(pk=handbook.pk).update(revision=handbook.revision + 1)
    assert seek.layouts([handbook.pk]) == {}


@pytest.mark.parametrize(
    "sent",
    [
        {},
        {"view": 5, "targets": {}},
        {"view": {}, "targets": [1]},
        {"view": {}, "targets": {"your-first-lock": "x"}},
    ],
)
def test_what_can_t_be_so_is_refused(handbook: Page, sent: dict[str, Any]) -> None:
    with pytest.raises(Refusal):
        rehearsal.keep_layout(handbook, handbook.revision, 1280, sent)


def test_hearsay_is_held_within_reason(handbook: Page) -> None:
    sent = told(your_first_lock=1e300, no_such_mark=5)
    sent["view"] |= {"padding": float("inf"), "covers": [[1, 2], ["x"] * 5], "snap": "<script>"}
    kept = rehearsal.keep_layout(handbook, handbook.revision, 1280, sent)
    assert list(kept.targets) == ["your-first-lock"]
    assert kept.targets["your-first-lock"]["top"] == 1e7
    assert (kept.view["padding"], kept.view["covers"], kept.view["snap"]) == (0, [[0.0] * 5], "")


@pytest.mark.parametrize(
    ("found", "trouble"),
    [
        ({"y": 3_001}, ""),
        ({"y": 3_001, "seen": False}, ""),  # the header covers it, as computed
        ({"seen": True}, "though a header was there"),
        ({"hash": ""}, "The address bar does not show #your-first-lock"),
        ({"opened": True}, "It opens in another tab"),
        ({"astray": True}, "The focus went to another part"),
        ({"y": 2_900}, "scrolled to 2900 px, not to 3000 px"),
        ({"arrived": False}, "another part, or none"),
        ({"path": "/about/"}, "It ends on /about/"),
        ({"trouble": "The page did not load."}, "did not load"),
    ],
)
def test_a_walk_is_held_against_what_was_computed(
    handbook: Page, found: dict[str, Any], trouble: str
) -> None:
    rehearsal.keep_layout(handbook, handbook.revision, 1280, told(your_first_lock=3_000))
    as_usual = {"path": HANDBOOK, "hash": "#your-first-lock", "arrived": True, "y": 3_000}
    link = handbook.links.filter(href="#your-first-lock").first()
    assert link is not None
    kept = rehearsal.keep_walk(handbook, handbook.revision, link.number, 1280, as_usual | found)
    assert trouble in kept.trouble
    assert kept.agrees == (trouble == "")
    rows = {row.hop.link.number: row for row in seek.of_page(handbook, WIDTHS)}
    assert rows[link.number].walks[1280] == kept
    # Of a page that changed, nothing is known any more.
    Page.objects.filter(pk=handbook.pk).update(revision=handbook.revision + 1)
    again = {row.hop.link.number: row for row in seek.of_page(page_again(handbook), WIDTHS)}
    assert again[link.number].walks == {}


def test_what_broken_hops_likely_mean_is_listed_once_and_most_of_them_first(
    client: Client, site: Site
) -> None:
    meant = client.get(f"/{site.slug}/rehearsal/state/").json()["mends"]["meant"]
    assert (meant[0]["href"], meant[0]["id"], meant[0]["count"]) == ("#book", "book", 7)
    assert len({one["href"] for one in meant}) == len(meant) == 5
    page = page_at(site, "/about/")
    alone = client.get(f"/{site.slug}/rehearsal/state/", {"page": page.pk}).json()["mends"]["meant"]
    assert {one["count"] for one in alone if one["href"] == "#book"} == {7}  # all are mended


def test_a_walk_is_held_against_what_was_measured_after_it(handbook: Page) -> None:
    found = {"path": HANDBOOK, "hash": "#your-first-lock", "arrived": True, "y": 2_900}
    link = handbook.links.filter(href="#your-first-lock").first()
    assert link is not None
    for top, agrees in ((3_000, False), (2_900, True), (3_000, False)):
        rehearsal.keep_layout(handbook, handbook.revision, 1280, told(your_first_lock=top))
        if not handbook.walks.exists():
            rehearsal.keep_walk(handbook, handbook.revision, link.number, 1280, found)
        kept = handbook.walks.get()
        assert (kept.agrees, "not to 3000 px" in kept.trouble) == (agrees, not agrees)


def page_again(page: Page) -> Page:
    return Page.objects.select_related("site").get(pk=page.pk)


def test_what_was_made_last_is_measured_first(
    client: Client, site: Site, editor: Editor, handbook: Page
) -> None:
    number = handbook.sections.filter(mark="")[0].number
    act = planned("mark", handbook, {"marks": [{"number": number, "id": "fresh"}]})
    write.save(site, editor, act.message, act.plans, act.effects)
    client.force_login(editor)
    lacking = client.get(f"/{site.slug}/rehearsal/unmeasured/").json()
    first, *others = [Page.objects.get(pk=row["page"]).path for row in lacking["pages"]]
    assert first == HANDBOOK
    assert others == sorted(others)


def test_the_screens_addresses(client: Client, site: Site, handbook: Page) -> None:
    lacking = client.get(f"/{site.slug}/rehearsal/unmeasured/").json()
    assert len(lacking["pages"]) == site.pages.count()
    one = next(row for row in lacking["pages"] if row["page"] == handbook.pk)
    sent = {**told(your_first_lock=3_000), "revision": one["revision"], "width": 1280}
    answer = client.post(f"{one['url']}layout/", sent, content_type="application/json")
    assert answer.status_code == 200
    assert Layout.objects.get(page=handbook).width == 1280
    state = client.get(f"/{site.slug}/rehearsal/state/?page={handbook.pk}").json()
    covered = next(row for row in state["rows"] if row["href"] == "#your-first-lock")
    assert covered["landings"]["1280"]["says"] == "covered by 34 px"
    late = client.post(f"{one['url']}layout/", {**sent, "revision": 99},
                       content_type="application/json")  # fmt: skip
    assert late.status_code == 409
    pages = client.get(f"/{site.slug}/").content.decode()
    assert "Worst landing" in pages
    assert "Landings not measured yet" in pages
