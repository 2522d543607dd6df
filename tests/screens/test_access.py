"""Who gets in, and to what."""

from __future__ import annotations

import pytest
from django.conf import LazySettings
from django.db import OperationalError, connection
from django.test import Client
from django.urls import reverse

from innerhop.library.acts.table import ACTS
from innerhop.library.models import Editor, Site
from innerhop.practice import demo
from innerhop.screens.acts.questions import QUESTIONS
from innerhop.screens.frame import faults
from innerhop.visitor import passes

pytestmark = pytest.mark.django_db


def stranger() -> Client:
    client = Client(SERVER_NAME="127.0.0.1")
    client.force_login(
        Editor.objects.create_user("stranger"),
        backend="innerhop.library.access.Backend",
    )
    return client


def test_a_site_is_there_for_its_own_editors_only(site: Site, client: Client) -> None:
    page = site.pages.first()
    assert page is not None
    other = stranger()
    nobody = Client(SERVER_NAME="127.0.0.1")
    for name in (
        "pages",
        "findings",
        "findings-aside",
        "rules",
        "history",
        "bring-in",
        "hand-over",
        "site-file",
        "find",
        "settings",
    ):
        url = reverse(name, args=[site.slug])
        assert client.get(url).status_code == 200
        assert other.get(url).status_code == 404
        assert nobody.get(url).headers["Location"].startswith("/sign-in/")
    for name in ("page", "visit", "difference", "page-file"):
        url = reverse(name, args=[site.slug, page.pk])
        assert client.get(url).status_code in (200, 302)
        assert other.get(url).status_code == 404
    acts = [reverse("act", args=[site.slug, page.pk, name]) for name in ACTS]
    acts += [reverse("ask", args=[site.slug, page.pk, name]) for name in QUESTIONS]
    for name in ("catch-up", "undo", "redo", "measure", "tick"):
        acts.append(reverse(name, args=[site.slug, page.pk]))
    for url in acts:
        assert other.post(url, {}, content_type="application/json").status_code == 404


def test_too_many_wrong_passwords_shut_the_way_in(site: Site) -> None:
    client = Client(SERVER_NAME="127.0.0.1")
    sent = {"username": demo.EDITOR, "password": "guess"}
    for _ in range(4):
        assert b"belong together" in client.post("/sign-in/", sent).content
    assert client.post("/sign-in/", sent).status_code == 429
    right = {**sent, "password": demo.PASSWORD}
    assert client.post("/sign-in/", right).status_code == 429


def test_a_right_password_lets_in_and_is_kept_by_argon2(site: Site) -> None:
    client = Client(SERVER_NAME="127.0.0.1")
    sent = {"username": demo.EDITOR, "password": demo.PASSWORD}
    assert client.post("/sign-in/", sent).status_code == 302
    assert Editor.objects.get(username=demo.EDITOR).password.startswith("argon2$")


def test_one_click_in_exists_on_a_demo_start_only(site: Site, settings: LazySettings) -> None:
    client = Client(SERVER_NAME="127.0.0.1")
    settings.DEMO = False
    assert client.post("/sign-in/demo/").status_code == 404
    assert b"demo editor" not in client.get("/sign-in/").content
    settings.DEMO = True
    assert client.post("/sign-in/demo/").status_code == 302


def test_a_new_site_is_its_maker_s(db: None) -> None:
    client = stranger()
    sent = {"name": "Hatch Lane School", "address": "hatch.example", "language": "en"}
    assert client.post("/", sent).headers["Location"] == "/hatch-lane-school/bring-in/"
    wrong = client.post("/", {**sent, "address": "hatch.example/page/"})
    assert b"without a page behind it" in wrong.content
    assert Site.objects.get(slug="hatch-lane-school").visitor_host == "hatch-lane-school.localhost"


def test_pages_are_shown_to_browsers_with_a_pass_only(site: Site, client: Client) -> None:
    visitor = Client(SERVER_NAME="localhost")
    refused = visitor.get("/lock-guide/")
    assert refused.status_code == 403
    assert b'<a href="http://127.0.0.1/">' in refused.content  # the way to the screens
    assert visitor.get("/styles/site.css").status_code == 403
    assert visitor.get("/-/enter?pass=made-up&to=/").status_code == 403
    other = passes.to_enter(site.pk + 1)
    assert visitor.get(f"/-/enter?pass={other}&to=/").status_code == 403
    page = site.pages.get(path="/lock-guide/")
    way = client.get(reverse("visit", args=[site.slug, page.pk]) + "?to=summit")
    assert way.headers["Location"].startswith("http://localhost/-/enter?")
    inside = visitor.get(way.headers["Location"].removeprefix("http://localhost"))
    assert inside.headers["Location"] == "/lock-guide/#summit"
    assert visitor.get("/lock-guide/").status_code == 200


@pytest.mark.parametrize("to", ["//evil.example/", "/\\evil.example", "https://evil.example"])
def test_the_way_in_leads_to_the_site_and_nowhere_else(site: Site, to: str) -> None:
    visitor = Client(SERVER_NAME="localhost")
    answer = visitor.get("/-/enter", {"pass": passes.to_enter(site.pk), "to": to})
    assert answer.headers["Location"] == "/"


def test_each_host_answers_its_own_addresses_only(site: Site, client: Client) -> None:
    assert client.get("/-/sheet.js").status_code == 404
    assert Client(SERVER_NAME="localhost").get("/sign-in/").status_code == 403
    assert Client(SERVER_NAME="elsewhere.example").get("/").status_code == 400
    assert Client(SERVER_NAME="other.localhost").get("/").status_code == 404


def test_the_published_account_is_shut_where_the_demo_does_not_run(
    site: Site, client: Client, settings: LazySettings
) -> None:
    assert client.get("/").status_code in (200, 302)
    settings.DEMO = False
    assert (
        client.get(reverse("pages", args=[site.slug])).headers["Location"].startswith("/sign-in/")
    )
    sent = {"username": demo.EDITOR, "password": demo.PASSWORD}
    assert b"belong together" in Client(SERVER_NAME="127.0.0.1").post("/sign-in/", sent).content


def test_without_its_database_a_screen_says_so(site: Site, client: Client) -> None:
    def away(*_args: object) -> None:
        raise OperationalError("the server closed the connection unexpectedly")

    client.raise_request_exception = False
    url = reverse("pages", args=[site.slug])
    with connection.execute_wrapper(away):
        shown = client.get(url)
        told = client.get(url, headers={"Accept": "application/json"})
    assert (shown.status_code, told.status_code) == (503, 503)
    assert faults.AWAY in shown.content.decode()
    assert told.json() == {"message": faults.AWAY}
    assert client.get(url).status_code == 200


@pytest.mark.parametrize(
    ("wanted", "to"),
    [
        ("/marrowby-canal-trust/map/", "/marrowby-canal-trust/map/"),
        ("https://elsewhere.example/", "/"),
        ("//elsewhere.example/", "/"),
        ("", "/"),
    ],
)
def test_after_signing_in_one_is_where_one_was(site: Site, wanted: str, to: str) -> None:
    client = Client(SERVER_NAME="127.0.0.1")
    shown = client.get("/marrowby-canal-trust/map/", follow=True)
    assert 'name="next" value="/marrowby-canal-trust/map/"' in shown.content.decode()
    assert client.post("/sign-in/demo/", {"next": wanted}).headers["Location"] == to
