"""Long work on its screens: what is shown of it, what can be done to it, and by whom."""

from __future__ import annotations

import json
import threading
from datetime import timedelta
from typing import Any

import pytest
from django.db import connection
from django.http import HttpRequest
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from innerhop.library.bring_in import many
from innerhop.library.jobs import acting, kinds
from innerhop.library.models import Editor, Job, Site, Staged
from innerhop.screens.access import editor_of
from innerhop.screens.jobs import views
from tests.library.test_bring_ins import zipped
from tests.screens.test_access import stranger

pytestmark = pytest.mark.django_db
State = Job.State
ASKED = {"address": "http://marrowby.example/", "part": "whole", "most": "50"}


@pytest.fixture
def job(site: Site, client: Client) -> Job:
    """A fetch that waits for a worker."""
    answer = client.post(reverse("fetch", args=[site.slug]), ASKED)
    found = Job.objects.get()
    assert answer.headers["Location"] == reverse("job", args=[site.slug, found.pk])
    return found


def staged(job: Job, number: int = 1) -> None:
    Staged.objects.create(
        job=job, number=number, kind="page", name="http://marrowby.example/a/b/", content=b"",
        found={"title": "A & <b>", "words": 900, "sections": [[1, 100, False], [2, 700, True]]},
    )  # fmt: skip


def turn(client: Client, job: Job, what: str) -> Any:
    return client.post(reverse("job-turn", args=[job.site.slug, job.pk]), {"what": what})


def test_what_is_asked_is_kept_as_it_was_typed(job: Job) -> None:
    assert job.asked == {"address": "http://marrowby.example/", "below": "/", "most": 50,
                         "is_guess": False}  # fmt: skip
    assert job.state == State.WAITS


@pytest.mark.parametrize(
    ("sent", "said"),
    [
        ({"address": "http://10.0.0.1/"}, "inside a network"),
        ({"address": "http://other.example/"}, "another site than marrowby.example"),
        ({"address": "\0"}, "such as marrowby.example"),
        ({"most": "0"}, "Ask for 1 to 10,000 pages"),
        ({"most": "9" * 40}, "Ask for 1 to 10,000 pages"),
        ({"most": "a lot"}, "Ask for 1 to 10,000 pages"),
    ],
)
def test_what_cannot_be_fetched_is_said_and_what_was_typed_stays(
    site: Site, client: Client, sent: dict[str, str], said: str
) -> None:
    answer = client.post(reverse("fetch", args=[site.slug]), {**ASKED, "part": "below", **sent})
    shown = answer.content.decode()
    assert answer.status_code == 422
    assert said in shown
    assert 'value="below" checked' in shown
    assert not Job.objects.exists()


def test_it_is_shown_in_the_frame_in_the_list_and_by_itself(client: Client, job: Job) -> None:
    staged(job)
    for url in (reverse("pages", args=[job.site.slug]), reverse("jobs", args=[job.site.slug])):
        assert "Fetching marrowby.example" in client.get(url).content.decode()
    shown = client.get(reverse("job", args=[job.site.slug, job.pk])).content.decode()
    assert "A &amp; &lt;b&gt;" in shown
    assert "/a/b/" in shown
    assert "Waits for its turn" in shown
    now = client.get(reverse("job-now", args=[job.site.slug, job.pk])).json()
    (strip,) = now["strips"]
    assert "2 sections, 1 marked" in strip
    assert "A &amp; &lt;b&gt;" in strip
    assert now["last"] == 1
    later = client.get(reverse("job-now", args=[job.site.slug, job.pk]) + "?after=1").json()
    assert later["strips"] == []
    odd = client.get(reverse("job-now", args=[job.site.slug, job.pk]) + "?after=" + "9" * 40)
    assert odd.status_code == 200
    at_hand = client.get(reverse("jobs-now", args=[job.site.slug])).json()["jobs"]
    assert [one["pk"] for one in at_hand] == [job.pk]


def test_where_no_worker_is_that_is_said(client: Client, job: Job) -> None:
    Job.objects.update(made=timezone.now() - timedelta(minutes=1))
    shown = client.get(reverse("job", args=[job.site.slug, job.pk])).content.decode()
    assert "No worker has taken it up" in shown


def test_what_can_be_done_to_it_depends_on_where_it_is(client: Client, job: Job) -> None:
    def can() -> set[str]:
        shown = client.get(reverse("job", args=[job.site.slug, job.pk])).content.decode()
        return {what for what in ("stop", "enough", "go-on", "drop") if f'value="{what}"' in shown}

    assert can() == {"stop"}
    assert turn(client, job, "go-on").status_code == 409
    assert turn(client, job, "drop").status_code == 409
    turn(client, job, "stop")
    assert can() == {"go-on", "drop"}
    staged(job)
    assert can() == {"enough", "go-on", "drop"}
    turn(client, job, "enough")
    job.refresh_from_db()
    assert (job.state, job.asked["enough"]) == (State.WAITS, True)
    turn(client, job, "stop")
    assert turn(client, job, "drop").headers["Location"] == reverse("jobs", args=[job.site.slug])
    assert not Job.objects.exists()
    assert not Staged.objects.exists()


def test_its_end_is_told_until_it_was_seen(client: Client, job: Job) -> None:
    Job.objects.update(state=State.FAILED, message="Nothing came in.")
    pages = reverse("pages", args=[job.site.slug])
    told = '>Not done<span class="sr-only">: fetching'
    assert told in client.get(pages).content.decode()
    assert turn(client, job, "see").headers["Location"] == reverse(
        "job", args=[job.site.slug, job.pk]
    )
    shown = client.get(reverse("job", args=[job.site.slug, job.pk])).content.decode()
    assert "Nothing came in." in shown
    assert told not in client.get(pages).content.decode()


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize("name", ["jobs", "job", "job-now"])
def test_two_who_look_at_its_end_at_once_both_see_it(
    client: Client, job: Job, monkeypatch: pytest.MonkeyPatch, name: str
) -> None:
    Job.objects.update(state=State.DONE, message="Done.")

    def meanwhile() -> None:
        Job.objects.update(seen=True)
        connection.close()

    def looks(request: HttpRequest) -> Editor:
        other = threading.Thread(target=meanwhile)  # in another tab
        other.start()
        other.join()
        return editor_of(request)

    monkeypatch.setattr(views, "editor_of", looks)
    asked = [job.site.slug] if name == "jobs" else [job.site.slug, job.pk]
    assert client.get(reverse(name, args=asked)).status_code == 200
    job.refresh_from_db()
    assert job.seen


def test_jobs_are_there_for_the_sites_own_editors(job: Job) -> None:
    other, slug = stranger(), job.site.slug
    for name, where in (("jobs", [slug]), ("jobs-now", [slug]), ("job", [slug, job.pk]),
                        ("job-now", [slug, job.pk])):  # fmt: skip
        assert other.get(reverse(name, args=where)).status_code == 404
    for name, where in (("fetch", [slug]), ("measure-all", [slug]), ("job-turn", [slug, job.pk])):
        assert other.post(reverse(name, args=where), {"what": "stop"}).status_code == 404
    job.refresh_from_db()
    assert job.state == State.WAITS


def test_measuring_is_offered_where_it_can_be_done(
    site: Site, client: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    rehearsal, url = (
        reverse("rehearsal", args=[site.slug]),
        reverse("measure-all", args=[site.slug]),
    )
    for can in (True, False):
        monkeypatch.setattr(kinds, "is_possible", lambda name, can=can: can)
        assert ("Measure every page" in client.get(rehearsal).content.decode()) is can
        assert client.post(url).status_code == (302 if can else 404)
    assert Job.objects.get().kind == "measure"


def test_very_many_files_become_a_job(site: Site, client: Client) -> None:
    made = {f"n/{at}.html": b"<h1>Note %d</h1>" % at for at in range(many.MANY + 1)}
    archive = zipped(made)
    archive.name = "notes.zip"
    archive.seek(0)
    url = reverse("send-files", args=[site.slug])
    answer = client.post(url, {"files": archive}, headers={"accept": "application/json"})
    *steps, last = [json.loads(line) for line in answer.getvalue().decode().splitlines()]
    job = Job.objects.get()
    assert last == {"url": reverse("job", args=[site.slug, job.pk])}
    assert steps[-1] == {"done": 100, "total": many.MANY + 1}
    archive.seek(0)
    assert client.post(url, {"files": archive}).status_code == 302  # without scripts


def test_an_act_on_very_many_pages_becomes_a_job(
    site: Site, client: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(acting, "MANY", 0)
    page = site.pages.get(path="/skippers-handbook/")
    number = page.sections.filter(mark="").values_list("number", flat=True)[0]
    sent = {"revision": page.revision, "marks": [{"number": number, "id": "first"}]}
    url = reverse("act", args=[site.slug, page.pk, "mark"])
    answer = client.post(url, json.dumps(sent), "application/json").json()
    job = Job.objects.get()
    assert answer["jobUrl"] == reverse("job", args=[site.slug, job.pk])
    assert not page.marks.filter(value="first").exists()
    assert (job.asked["act"], job.asked["page"]) == ("mark", page.pk)
