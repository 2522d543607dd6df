"""The list of findings as it is asked for: parts, levels, places, files; and what is sent that
no browser would."""

from __future__ import annotations

import json
from typing import Any

import pytest
from django.http import HttpResponse
from django.test import Client
from django.urls import reverse

from innerhop.core.findings.found import BETTER, LEVELS, MISLED, NOTE, STUCK
from innerhop.core.findings.table import RULES
from innerhop.core.widths import LAPTOP
from innerhop.library import doing, sites
from innerhop.library.bring_in import bring_ins
from innerhop.library.index import index
from innerhop.library.models import Editor, Finding, Page, Section, Site
from innerhop.library.seek import findings
from innerhop.library.seek.page_heights import PageHeight
from innerhop.screens.findings import drawing, views

pytestmark = pytest.mark.django_db
ALL = [STUCK, MISLED, BETTER]


def ask(client: Client, site: Site, name: str, *more: Any, **query: Any) -> HttpResponse:
    return client.get(reverse(name, args=[site.slug, *more]), query)


def send(client: Client, site: Site, name: str, sent: Any) -> HttpResponse:
    url = reverse(name, args=[site.slug])
    return client.post(url, json.dumps(sent), content_type="application/json")


# How findings are grouped.


def test_groups_hold_each_finding_once_and_the_worst_come_first(site: Site) -> None:
    rows = findings.open_on(site)
    found = findings.groups(rows, ALL, 0, 999)
    assert found.total == len(found.shown)
    assert sum(one.count for one in found.shown) == findings.counted(site) > 0
    order = [LEVELS.index(one.rule.level) for one in found.shown]
    assert order == sorted(order)
    for one in found.shown:
        own = rows.filter(rule=one.rule.name, cause=one.cause)
        assert (one.count, one.pages) == (own.count(), own.values("page").distinct().count())
        assert "{" not in one.title + one.why + one.fix


@pytest.mark.parametrize("most", [1, 3, 7])
def test_parts_of_the_list_make_up_the_whole(site: Site, most: int) -> None:
    rows = findings.open_on(site)
    whole = [one.first.pk for one in findings.groups(rows, ALL, 0, 999).shown]
    parts: list[int] = []
    while len(parts) < len(whole):
        part = findings.groups(rows, ALL, len(parts), most)
        assert part.total == len(whole)
        parts += [one.first.pk for one in part.shown]
    assert parts == whole
    for at, key in enumerate(whole):
        assert findings.place_of(rows, ALL, Finding.objects.get(pk=key)) == at


def test_the_list_opens_at_the_part_that_holds_a_finding(site: Site, client: Client) -> None:
    rows = findings.open_on(site)
    last = findings.groups(rows, ALL, 0, 999).shown[-1].first
    answer = ask(client, site, "findings", see=last.pk)
    assert last.pk in [row.group.first.pk for row in answer.context["rows"]]
    assert answer.context["seen"] == last


@pytest.mark.parametrize("level", LEVELS)
def test_one_level_alone(site: Site, client: Client, level: str) -> None:
    answer = ask(client, site, "findings", level=level)
    told = {row.group.rule.level for row in answer.context["rows"]}
    assert told == {level}
    assert level == NOTE or f"level={level}" in answer.content.decode()


def test_one_page_alone(site: Site, client: Client) -> None:
    page = Finding.objects.filter(site=site, rule="no-hash").get().page
    answer = ask(client, site, "findings", page=page.pk)
    rows = answer.context["rows"]
    assert sum(row.group.count for row in rows) == findings.by_page([page])[page.pk]
    assert {strip.page for row in rows for strip in row.strips} == {page}


# Their places.


def test_places_come_some_at_a_time(site: Site, client: Client) -> None:
    rows = Finding.objects.filter(site=site, rule="unmarked", aside=None)
    asked = {"rule": "unmarked", "cause": ""}
    first = ask(client, site, "finding-places", **asked).json()
    late = ask(client, site, "finding-places", **asked, **{"from": 3}).json()
    assert len(first["places"]) + first["more"] == rows.count() > 4
    assert late["places"][:2] == first["places"][3:5]


def test_pages_with_one_title_are_told_apart_by_their_addresses(site: Site, client: Client) -> None:
    """On strips, and where a sentence names a page."""
    found = Finding.objects.filter(site=site, rule="no-id").order_by("pk")
    one = found.select_related("page")[0]
    two = found.select_related("page").exclude(page=one.page)[0]
    Page.objects.filter(pk__in=[one.page_id, two.page_id]).update(title="The same")
    rows = ask(client, site, "findings").context["rows"]
    names = {strip.called for row in rows for strip in row.strips}
    assert names >= {one.page.path, two.page.path}
    assert "The same" not in names
    assert "Moorings" in " ".join(names)
    titles = [row.group.title for row in rows if row.group.rule.name == "no-id"]
    assert any(f"“{one.page.path}”" in title for title in titles)


def test_a_place_leads_to_what_mends_it(site: Site) -> None:
    """A link to its hop, another element to its place, a page without a contents list to the
    maker of lists."""
    page = site.pages.first()
    assert page is not None
    for rule, number, hash_ in [("no-id", 12, "#hop-12"), ("unmarked", 12, "#n12"),
                                ("no-way-back", 0, ""), ("no-list", 0, "#list"),
                                ("left over", 12, "#n12")]:  # fmt: skip
        row = Finding(pk=7, page=page, site=site, rule=rule, number=number)
        assert drawing.place_url(page, row) == f"{page.get_absolute_url()}?finding=7{hash_}"


@pytest.mark.parametrize(
    ("asked", "query", "code"),
    [
        (["findings"], {"page": 10**9}, 404),
        (["findings"], {"part": "-1", "level": "no such", "see": "x", "page": "²"}, 200),
        (["findings"], {"part": "9" * 400}, 200),
        (["findings"], {"part": "4000"}, 200),
        (["finding-places"], {}, 404),
        (["finding-places"], {"rule": "no such"}, 404),
        (["finding-places"], {"rule": "unmarked", "cause": "\0", "from": "9" * 17}, 200),
        (["findings-aside"], {"part": "x"}, 200),
        (["rule", "no-such-rule"], {}, 404),
    ],
)
def test_what_no_browser_asks(
    site: Site, client: Client, asked: list[str], query: dict[str, Any], code: int
) -> None:
    assert ask(client, site, *asked, **query).status_code == code


# What is set aside.


@pytest.mark.parametrize("name", ["set-aside", "take-back"])
@pytest.mark.parametrize(
    "sent",
    [
        [], "x", {}, {"findings": "all"}, {"findings": [10**30]}, {"findings": [None]},
        {"rule": "no such"}, {"rule": "\0"}, {"rule": ["no-id"]}, {"aside": "1"},
        {"aside": 10**30}, {"rule": "no-id", "reason": "\ud800"},
        {"rule": "no-id", "reason": "a" * 5_000}, {"findings": [1], "reason": {}},
    ],
)  # fmt: skip
def test_what_can_t_be_set_aside_changes_nothing(
    site: Site, client: Client, name: str, sent: Any
) -> None:
    count = findings.counted(site)
    answer = send(client, site, name, sent)
    assert answer.status_code in (400, 409, 422)
    assert answer.json()["message"]
    assert (findings.counted(site), site.set_aside.count()) == (count, 0)


def test_another_site_s_findings_are_out_of_reach(site: Site, editor: Editor) -> None:
    stranger = Editor.objects.create_user("stranger")
    other = sites.create("Other", "other.example", "en", stranger)
    row = Finding.objects.filter(site=site).first()
    assert row is not None
    doing.do(editor, "set-aside", site, {"rule": "no-id"})
    own = Client(SERVER_NAME="127.0.0.1")
    own.force_login(stranger, backend="innerhop.library.access.Backend")
    assert ask(own, site, "findings").status_code == 404
    assert send(own, other, "set-aside", {"findings": [row.pk]}).status_code == 409
    key = site.set_aside.get().pk
    assert send(own, other, "take-back", {"aside": key}).status_code == 422
    assert site.set_aside.filter(pk=key).exists()


@pytest.mark.parametrize("name", RULES)
def test_each_rule_has_its_page(site: Site, client: Client, name: str) -> None:
    said = ask(client, site, "rule", name).content.decode()
    assert RULES[name].source.url in said
    assert "<svg" in said
    assert "{" not in ask(client, site, "rule", name).context["why"]


# How they are drawn.


def strip_of(height: float, tops: list[float], scale: float = 0.1) -> drawing.FindingStrip:
    """A strip with a finding at each top. Sections stand where they are told to."""
    sections = [Section(number=at + 1) for at in range(len(tops))]
    long = PageHeight(height, True, sections, tops, len(tops) + 1)
    page = Page(pk=1, site=Site(slug="s"))
    rows = [Finding(pk=at, page=page, number=at, rule="unmarked", words=f"w{at}")
            for at in range(1, len(tops) + 1)]  # fmt: skip
    return drawing.strip(page, "Page", long, rows, scale)


def test_pins_too_near_to_be_pointed_at_are_one_target() -> None:
    """WCAG 2.2, 2.5.8: 24 CSS pixels."""
    one = strip_of(3_000, [100, 200, 300, 2_000])
    assert [list(pin.places) for pin in one.pins] == [[10.0, 20.0, 30.0], [200.0]]
    assert [pin.words for pin in one.pins] == ["w1 and 2 more near it", "w4"]
    assert all(pin.width >= 24 for pin in one.pins)
    for pin in one.pins:
        assert pin.left <= pin.places[0] <= pin.places[-1] <= pin.left + pin.width


@pytest.mark.parametrize(
    ("height", "width", "shortened"),
    [(3_000, 300.0, False), (30_000, drawing.WIDTH, True), (10, 24, False)],
)
def test_how_long_a_strip_is(height: float, width: float, shortened: bool) -> None:
    one = strip_of(height, [0.0])
    assert (one.width, one.is_shortened) == (width, shortened)


def test_there_is_a_tick_for_each_screen_as_long_as_there_is_room() -> None:
    assert strip_of(LAPTOP.view * 4, [0.0]).ticks.count("M") == 4
    crowded = strip_of(LAPTOP.view * 400, [0.0]).ticks
    assert 0 < crowded.count("M") <= drawing.WIDTH / 6


def test_one_page_of_hundreds_of_screens_does_not_make_all_others_small() -> None:
    usual = [PageHeight(2_000, True, [], [], 1)] * 4
    alone = drawing.scale_of(usual)
    outlier = drawing.scale_of([*usual, PageHeight(400_000, True, [], [], 1)])
    assert alone == drawing.WIDTH / 2_000
    assert outlier == pytest.approx(alone / 5)
    assert drawing.scale_of([]) > 0


# Words that could be hops.


def test_pages_are_looked_through_some_at_a_time(
    site: Site, client: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(views, "_READ_AT_ONCE", 3)
    after: int | None = 0
    pages: list[dict[str, Any]] = []
    while after is not None:
        found = json.loads(ask(client, site, "offers", after=after).content)
        pages += found["pages"]
        after = found["next"]
    assert len({one["page"] for one in pages}) == len(pages) == found["total"] == site.pages.count()
    offered = [one for page in pages for one in page["offers"]]
    named = {section.title for section in Section.objects.filter(site=site)}
    assert offered
    assert {one["title"] for one in offered} <= named
    alone = json.loads(ask(client, site, "offers", page=pages[0]["page"]).content)
    assert (alone["pages"], alone["next"]) == (pages[:1], None)


# What is a matter of taste.


@pytest.fixture
def plain(editor: Editor) -> Site:
    """A site that has asked for nothing: a long page whose sections have no marks."""
    site = sites.create("Plain", "plain.example", "en", editor)
    parts = "".join(f"<h2>Part {at}</h2><p>{'Some words. ' * 200}" for at in range(4))
    page = f"<html lang=en><title>Long</title><h1>Long</h1>{parts}<p id=''>x"
    for _ in bring_ins.bring_in(site, editor, [bring_ins.NewFile("a.html", page.encode())], 1):
        pass
    return site


def rules_of(site: Site) -> set[str]:
    return set(Finding.objects.filter(site=site).values_list("rule", flat=True))


@pytest.mark.parametrize("rule", ["unmarked", "empty-id"])
def test_taste_is_looked_for_once_it_is_asked_for(plain: Site, client: Client, rule: str) -> None:
    assert rule not in rules_of(plain)
    shown = ask(client, plain, "findings").content.decode()
    assert "Looked for when you ask" in shown
    answer = send(client, plain, "ask-for", {"rule": rule, "on": True})
    lines = [json.loads(one) for one in b"".join(answer.streaming_content).splitlines()]  # type: ignore[attr-defined]
    assert lines[-1]["message"].endswith("is looked for now")
    assert rule in rules_of(plain)
    plain.refresh_from_db()
    assert list(index.differences(plain)) == []
    # What a page brought in later has of it is found too.
    more = bring_ins.NewFile("b.html", b"<title>B</title><h1>B</h1><h2>Bare</h2><p id=''>x")
    for _ in bring_ins.bring_in(plain, plain.editors.get(), [more], 1):
        pass
    assert Finding.objects.filter(site=plain, rule=rule, page__path="/b.html").exists()
    answer = send(client, plain, "ask-for", {"rule": rule, "on": False})
    b"".join(answer.streaming_content)  # type: ignore[attr-defined]
    assert rule not in rules_of(plain)
    plain.refresh_from_db()
    assert list(index.differences(plain)) == []


@pytest.mark.parametrize("sent", [{"rule": "no-id", "on": True}, {"rule": "nothing", "on": True},
                                  {"rule": "unmarked"}, {}, []])  # fmt: skip
def test_only_taste_can_be_asked_for(plain: Site, client: Client, sent: Any) -> None:
    before = rules_of(plain)
    answer = send(client, plain, "ask-for", sent)
    said = b"".join(answer) if answer.streaming else answer.content
    assert answer.status_code >= 400 or sent == {"rule": "unmarked"}
    assert said
    assert rules_of(plain) == before
