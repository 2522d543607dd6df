"""The site itself looked at: what was planned here, held against what is there, page by page."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import pytest

from innerhop.core.live.order import order
from innerhop.core.live.station import DIFFERENTLY, NOT_YET, THERE, UNSEEN, WAITS
from innerhop.fetch.records import Record
from innerhop.library import doing, removal, sites
from innerhop.library.changes import undo
from innerhop.library.hand_over import copy_sheet
from innerhop.library.index.texts import current
from innerhop.library.jobs import jobs, running
from innerhop.library.live import looking, mornings, telling
from innerhop.library.live.standing import SiteStanding
from innerhop.library.models import Editor, FoundThere, Job, Look, Page, Site
from tests.fetch.hosts import Answer, Host, page
from tests.library import live_site

pytestmark = pytest.mark.django_db(transaction=True)
WORDS = "<p>" + "Twelve locks in two miles, and a kettle at each of them. " * 6
FEES = "<p>" + "Forty pounds a night from March on, and half of that in winter. " * 6
GERMAN = "<p>" + "Zwölf Schleusen auf drei Kilometern, und an jeder steht ein Kessel. " * 6
PAGES = {
    "/": page(f"<h1>Home</h1><h2>Ways</h2>{WORDS}<a href=/locks/>on</a><a href=/fees/>fees</a>"),
    "/locks/": page(f"<h1>Locks</h1><h2>The flight</h2>{WORDS}<h2>The summit</h2>{WORDS}"),
    "/fees/": page(f"<h1>Fees</h1><h2>Boats</h2>{WORDS}"),
}  # fmt: skip


@pytest.fixture
def live(site: Site, settings: Any, tmp_path: Path) -> Iterator[Host]:
    with live_site.served(PAGES, settings, tmp_path) as host:
        yield host


@pytest.fixture
def planned(live: Host, editor: Editor) -> Site:
    """A site from there, with two marks and a hop to each planned here."""
    found = live_site.brought(PAGES, live, editor)
    mark(found, editor, "/locks/", "The flight", "flight")
    mark(found, editor, "/fees/", "Boats", "boats")
    hop(found, editor, "/", "/locks/", "flight")
    hop(found, editor, "/locks/", "/fees/", "boats")
    return found


def mark(site: Site, editor: Editor, path: str, title: str, id_: str) -> None:
    at = site.pages.get(path=path)
    number = at.sections.get(title=title).number
    doing.do(editor, "mark", at, {"marks": [{"number": number, "id": id_}]})


def hop(site: Site, editor: Editor, path: str, to: str, id_: str) -> None:
    at, end = site.pages.get(path=path), site.pages.get(path=to)
    number = at.sections.order_by("number")[0].number
    sent = {"number": number, "side": "after", "words": f"To {id_}",
            "end": {"page": end.pk, "id": id_}}  # fmt: skip
    doing.do(editor, "put-link", at, sent)


def look(site: Site, editor: Editor, *pages: Page) -> Job:
    job = jobs.begin(site, editor, looking.KIND, {"pages": [one.pk for one in pages]})
    assert running.run(job.pk)
    job.refresh_from_db()
    return job


def states(site: Site) -> dict[str, list[str]]:
    return {one.page.path: [stop.state for stop in one.stops] for one in SiteStanding(site).pages}


def publish(site: Site, live: Host, path: str, *changes: tuple[str, str]) -> None:
    """What was planned for a page is entered there."""
    text = current(site.pages.get(path=path)).text
    for old, new in changes:
        assert old in text
        text = text.replace(old, new)
    live.answers[path] = Answer(text.encode())  # type: ignore[index]


def test_nothing_is_said_before_somebody_looks(planned: Site) -> None:
    assert states(planned) == {"/": [UNSEEN], "/fees/": [UNSEEN], "/locks/": [UNSEEN, UNSEEN]}


def test_what_leads_to_marks_of_other_pages_waits_until_they_are_there(
    planned: Site, live: Host, editor: Editor
) -> None:
    assert look(planned, editor).state == Job.State.DONE
    assert states(planned) == {"/": [WAITS], "/fees/": [NOT_YET], "/locks/": [NOT_YET, WAITS]}
    rounds = [[[one.page.path for one in group] for group in groups]
              for groups in SiteStanding(planned).rounds]  # fmt: skip
    assert rounds == [[["/fees/"]], [["/locks/"]], [["/"]]]
    publish(planned, live, "/fees/")
    look(planned, editor)
    assert states(planned) == {"/": [WAITS], "/fees/": [THERE], "/locks/": [NOT_YET, NOT_YET]}
    publish(planned, live, "/locks/", ('id="flight"', 'class="flight"'))
    look(planned, editor)
    assert states(planned) == {"/": [WAITS], "/fees/": [THERE], "/locks/": [DIFFERENTLY, THERE]}
    publish(planned, live, "/locks/")
    publish(planned, live, "/")
    look(planned, editor)
    standing = SiteStanding(planned)
    assert standing.rounds == []
    assert len(standing.ready) == 3
    figures = Look.objects.order_by("pk").values_list("there", "differently", "not_yet", "waits")
    assert list(figures) == [(0, 0, 2, 2), (1, 0, 2, 1), (2, 1, 0, 1), (4, 0, 0, 0)]


def test_what_is_there_is_ticked_on_the_copy_sheet_by_itself(
    planned: Site, live: Host, editor: Editor
) -> None:
    publish(planned, live, "/locks/", ('id="flight"', ""))
    look(planned, editor)
    locks = planned.pages.get(path="/locks/")
    sheet = copy_sheet.of_page(locks)
    assert [(step.kind, done, seen) for step, done, seen in sheet.rows] == [
        ("id", False, False), ("link", True, True),
    ]  # fmt: skip
    there = next(step for step, _, seen in sheet.rows if seen)
    assert copy_sheet.tick(locks, there.key, False, editor).left == 1  # it is there, all the same
    live.answers["/locks/"] = Answer(b"")  # type: ignore[index]
    look(planned, editor)
    assert "hardly anything" in planned.pages.get(path="/locks/").seen.why
    assert states(planned)["/locks/"] == [NOT_YET, THERE]  # what was seen before stands


def test_one_page_is_looked_at_alone(planned: Site, live: Host, editor: Editor) -> None:
    publish(planned, live, "/fees/")
    publish(planned, live, "/locks/")
    before = live.asked["/locks/"]
    look(planned, editor, planned.pages.get(path="/fees/"))
    assert states(planned)["/fees/"] == [THERE]
    assert states(planned)["/locks/"] == [UNSEEN, UNSEEN]
    assert live.asked["/locks/"] == before


@pytest.mark.parametrize(
    ("given", "why"),
    [
        (Answer(b"<h1>Oh no</h1><p>Something went wrong here."), "hardly anything of this page"),
        (page(f"<h1>Fees</h1><h2>Boats</h2>{FEES}"), "what is there is “Fees”"),  # swapped
        (page(f"<h1>Schleusen</h1><h2>Die Treppe</h2>{GERMAN}"), "hardly anything of this page"),
        (Answer(b"", 500), "failed at it"),
        (Answer(b"", 401), "password"),
        (Answer(b"", 404), "nothing there"),
        (Answer(status=301, headers={"Location": "/fees/"}), "leads readers on to"),
        (Answer(b"\x89PNG\0", kind="text/html"), "no text has"),
    ],
)
def test_a_page_that_is_not_itself_is_not_judged(
    planned: Site, live: Host, editor: Editor, given: Answer, why: str
) -> None:
    live.answers["/locks/"] = given  # type: ignore[index]
    look(planned, editor, planned.pages.get(path="/locks/"), planned.pages.get(path="/fees/"))
    assert why in planned.pages.get(path="/locks/").seen.why
    assert states(planned)["/locks/"] == [UNSEEN, UNSEEN]


def test_a_site_that_is_not_there_leaves_all_as_it_was(
    planned: Site, live: Host, editor: Editor
) -> None:
    live.answers = {}
    job = look(planned, editor)
    assert job.state == Job.State.FAILED
    assert "None of the pages could be looked at" in job.message
    assert not Look.objects.exists()


def test_a_site_without_pages_is_nothing_to_look_at(live: Host, editor: Editor) -> None:
    bare = sites.create("Bare", live.origin, "en", editor)
    assert "no pages here yet" in look(bare, editor).message


def test_an_act_undone_is_no_longer_looked_for(planned: Site, live: Host, editor: Editor) -> None:
    look(planned, editor)
    change = planned.changes.filter(act="mark").latest("pk")
    undo.undo(planned.changes.latest("pk"))
    undo.undo(planned.changes.filter(undone=None, act="put-link").latest("pk"))
    undo.undo(change)
    assert [path for path, found in states(planned).items() if found] == ["/locks/"]


def test_pages_that_wait_for_each_other_go_together() -> None:
    assert order({"a": {"b"}, "b": {"a"}, "c": {"a"}, "d": set()}) == [
        [{"a", "b"}, {"d"}], [{"c"}],
    ]  # fmt: skip


def test_what_breaks_between_two_looks_is_told_and_mailed(
    planned: Site, live: Host, editor: Editor, mailoutbox: Any
) -> None:
    telling.set_mailing(editor, planned, True, "jo@canal.example")
    for path in PAGES:
        publish(planned, live, path)
    look(planned, editor)
    first = planned.looks.latest("pk")
    assert (first.broken, first.changed) == (0, [])  # nobody knows how it was before
    publish(planned, live, "/locks/", ('id="flight"', 'id="the-flight"'))
    look(planned, editor)
    second = planned.looks.latest("pk")
    (told,) = second.changed
    assert (second.broken, told["what"], told["path"]) == (1, "broke", "/")
    assert told["why"] == "Somebody renamed it: “the-flight” stands at the same heading."
    planned.refresh_from_db()
    assert planned.live_broke == 1
    (mail,) = mailoutbox
    assert mail.to == ["jo@canal.example"]
    assert mail.subject == "Live: 1 hop broke"
    assert "“To flight” on “Home” (/) to /locks/#flight: Somebody renamed it" in mail.body
    look(planned, editor)  # told once, and counted as long as it is so
    assert planned.looks.latest("pk").changed == []
    assert FoundThere.objects.get(site=planned, broke=True).since == second
    publish(planned, live, "/locks/")
    look(planned, editor)
    planned.refresh_from_db()
    assert planned.live_broke == 0
    (told,) = planned.looks.latest("pk").changed
    assert (told["what"], told["why"]) == ("mended", "It leads somewhere again.")
    assert len(mailoutbox) == 1


def test_a_page_that_is_gone_breaks_its_hops_and_one_that_fails_does_not(
    planned: Site, live: Host, editor: Editor
) -> None:
    for path in PAGES:
        publish(planned, live, path)
    look(planned, editor)
    live.answers["/locks/"] = Answer(b"", 500)  # type: ignore[index]
    look(planned, editor)
    assert planned.looks.latest("pk").broken == 0
    live.answers["/locks/"] = Answer(b"", 410)  # type: ignore[index]
    look(planned, editor)
    whys = {one["why"] for one in planned.looks.latest("pk").changed}
    assert whys == {"The page that it leads to is not there any more."}


def test_mails_that_do_not_go_out_undo_no_look(
    planned: Site, live: Host, editor: Editor, settings: Any
) -> None:
    settings.EMAIL_BACKEND = "django.core.mail.backends.smtp.EmailBackend"
    settings.EMAIL_HOST, settings.EMAIL_PORT = "127.0.0.1", 9  # discard: nobody is there
    telling.set_mailing(editor, planned, True, "jo@canal.example")
    for path in PAGES:
        publish(planned, live, path)
    look(planned, editor)
    publish(planned, live, "/locks/", ('id="flight"', ""))
    assert look(planned, editor).state == Job.State.DONE


def test_a_look_that_is_stopped_keeps_what_it_saw(
    planned: Site, live: Host, editor: Editor, monkeypatch: pytest.MonkeyPatch
) -> None:
    publish(planned, live, "/")
    for path in ("/locks/", "/fees/"):
        live.answers[path] = Answer(PAGES[path].body, drip=0.2)  # type: ignore[index]
    job = jobs.begin(planned, editor, looking.KIND, {})
    take = looking.Seeing.take

    def stopping(self: looking.Seeing, record: Record) -> None:
        take(self, record)
        jobs.stop(job)

    monkeypatch.setattr(looking.Seeing, "take", stopping)
    assert running.run(job.pk)
    job.refresh_from_db()
    assert job.state == Job.State.STOPPED
    assert job.message == "Stopped. 1 page looked at. 2 pages not looked at."
    assert states(planned)["/"] != [UNSEEN]
    assert states(planned)["/fees/"] == [UNSEEN]
    assert "stopped before" in planned.pages.get(path="/fees/").seen.why


def test_each_morning_every_site_that_wants_it_is_looked_at_once(site: Site) -> None:
    def clock(day: int, hour: int) -> datetime:
        return datetime(2031, 5, day, hour, tzinfo=UTC)

    assert mornings.begin(clock(1, 6)) == []
    mornings.set_daily(site, True)
    Site.objects.update(daily_from=clock(1, 10))
    assert mornings.begin(clock(1, 23)) == []  # from the next morning on
    assert mornings.begin(clock(2, 4)) == []
    (job,) = mornings.begin(clock(2, 9))  # later, where no worker was there at five
    assert (job.site, job.editor, job.kind) == (site, None, looking.KIND)
    assert mornings.begin(clock(2, 10)) == []
    assert len(mornings.begin(clock(3, 6))) == 1
    mornings.set_daily(site, False)
    assert mornings.begin(clock(4, 6)) == []


def test_a_look_that_nobody_asked_for_is_made_and_not_told_in_the_bar(
    planned: Site, live: Host, editor: Editor
) -> None:
    job = jobs.begin_unasked(planned, looking.KIND, {})
    assert running.run(job.pk)
    job.refresh_from_db()
    assert (job.state, job.seen) == (Job.State.DONE, True)
    removal.remove_site(planned, editor)
    gone = jobs.begin_unasked(planned, looking.KIND, {})
    running.run(gone.pk)
    gone.refresh_from_db()
    assert gone.state == Job.State.FAILED


def test_a_hop_to_a_mark_that_is_not_there_yet_says_so_where_it_is_made(
    planned: Site, live: Host, editor: Editor
) -> None:
    home, locks = planned.pages.get(path="/"), planned.pages.get(path="/locks/")
    (link, *_) = home.links.filter(href="/locks/")
    sent = {"number": link.number, "end": {"page": locks.pk, "id": "flight"}}

    def said() -> str:
        return " ".join(doing.planned(editor, "retarget", home, sent).notes)

    assert "does not have" not in said()  # nobody has looked
    look(planned, editor)
    assert "On the site itself “Locks” does not have #flight yet" in said()
    own = {"number": link.number, "end": {"page": home.pk, "id": "x"}}
    section = home.sections.get(title="Ways")
    doing.do(editor, "mark", home, {"marks": [{"number": section.number, "id": "x"}]})
    home.refresh_from_db()
    notes = doing.planned(editor, "retarget", home, own).notes
    assert not any("does not have" in one for one in notes)  # they go out together
    publish(planned, live, "/locks/")
    look(planned, editor)
    assert "does not have" not in said()
