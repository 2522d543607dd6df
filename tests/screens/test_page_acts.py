"""The page screen's acts, as its script asks for them."""

from __future__ import annotations

import inspect
import json
from collections.abc import Callable
from typing import Any
from unittest.mock import MagicMock

import pytest
from django.test import Client
from django.urls import reverse

from innerhop.library.acts.forms import AskingForm
from innerhop.library.acts.table import ACTS, SITE_ACTS
from innerhop.library.index.texts import current
from innerhop.library.models import Editor, Page, Site
from innerhop.screens.acts.questions import QUESTIONS
from innerhop.screens.acts.views import urls_of
from innerhop.visitor.dressing import NUMBER
from tests.library.test_changes import words_in
from tests.library.test_hops import bring


@pytest.fixture
def page(site: Site) -> Page:
    return site.pages.get(path="/moorings/")


def camel(name: str) -> str:
    first, *rest = name.split("-")
    return first + "".join(part.capitalize() for part in rest)


def ask(client: Client, name: str, page: Page, sent: Any) -> tuple[int, dict[str, Any]]:
    urls = urls_of(page)
    url = urls.get(name) or urls[camel(name)]
    answer = client.post(url, sent, "application/json", headers={"accept": "application/json"})
    return answer.status_code, json.loads(answer.content)


def number(page: Page, title: str) -> int:
    return page.sections.get(title=title).number


@pytest.mark.parametrize(
    ("typed", "message", "fix"),
    [
        (None, "", ""),
        ("fees", "The section “Fees for a year” has this ID", "fees-2"),
        ("contact", "A heading in the shared footer has this ID", "contact-2"),
        ("the waiting list", "spaces", "the-waiting-list"),
    ],
)
def test_an_id_is_checked_as_it_is_typed(
    client: Client, page: Page, typed: str | None, message: str, fix: str
) -> None:
    sent = {"number": number(page, "The waiting list"), "typed": typed}
    status, found = ask(client, "check-id", page, sent)
    assert status == 200
    assert message in found["message"]
    assert found["fix"] == fix
    assert found["id"] == (typed or "the-waiting-list")


def test_a_second_editor_is_told_and_loses_nothing(client: Client, page: Page) -> None:
    where = {"number": number(page, "The waiting list"), "revision": 1}
    status, done = ask(client, "mark", page, {**where, "marks": [{**where, "id": "waiting"}]})
    assert status == 200
    assert done["state"]["revision"] == 2
    other = Client(SERVER_NAME="127.0.0.1")
    second = Editor.objects.create_user("Ana")
    page.site.membership_set.create(editor=second)
    other.force_login(second, backend="innerhop.library.access.Backend")
    status, found = ask(other, "mark", page, {**where, "marks": [{**where, "id": "list"}]})
    assert status == 409
    assert "demo changed “Moorings and charges” while you worked" in found["message"]


SCRIPT = {"Accept": "application/json"}  # as our script asks
NAMES = [*ACTS, *QUESTIONS, "measure"]


NONSENSE: list[Any] = [
    b"not json",
    [1],
    {},
    {"number": "x", "revision": 1, "id": "y"},
    {"number": 10**30, "revision": 1, "id": "y"},
    {"number": 99_999, "revision": 1, "id": "y"},
    {"number": True, "revision": 1, "id": "y"},
    {"start": {"number": 1}, "stop": 4, "revision": 1},
    {"start": {"number": 1, "child": 99, "offset": 0},
     "stop": {"number": 9**9, "child": 0, "offset": 0}, "revision": 1, "end": {"page": 1}},
    {"number": 99_999, "revision": 1, "to": 3, "side": "under", "word": 5, "marks": [5]},
    {"number": 99_999, "revision": 1, "to": 3, "id": "new", "level": 99, "typed": "x",
     "word": "none", "on": True, "marks": [{"number": 99_999, "id": "new"}]},
]  # fmt: skip


@pytest.mark.parametrize(
    ("form", "answer"),
    [*((one.form, one.plan) for one in (*ACTS.values(), *SITE_ACTS.values())),
     *((one.form, one.answer) for one in QUESTIONS.values())],
)  # fmt: skip
def test_what_a_form_gives_is_what_its_act_or_question_takes(
    form: Callable[..., AskingForm], answer: Callable[..., object]
) -> None:
    read = form({}, MagicMock())
    read.cleaned_data = {name: MagicMock() for name in read.fields}
    inspect.signature(answer).bind("page", **read.parameters())


@pytest.mark.parametrize("name", NAMES)
def test_nonsense_is_told_plainly_and_changes_nothing(
    client: Client, page: Page, name: str
) -> None:
    for sent in NONSENSE:
        status, found = ask(client, name, page, sent)
        if status == 200:  # some need nothing but a page, and ask only
            assert name in QUESTIONS or set(ACTS[name].form.base_fields) <= {"all"}
            continue
        assert status in (404, 409, 422), sent
        assert found["message"]
    if name in ACTS and set(ACTS[name].form.base_fields) <= {"all"}:
        return
    page.refresh_from_db()
    assert page.revision == 1


def test_every_number_in_the_state_is_in_the_sheet(client: Client, page: Page) -> None:
    url = reverse("catch-up", args=[page.site.slug, page.pk])
    sent = {"revision": page.revision, "numbers": [2, 99_999]}
    told = client.post(url, sent, content_type="application/json").json()
    assert told["now"] == {"2": 2, "99999": None}
    state = told["state"]
    path = state["sheet"].removeprefix("http://localhost")
    sheet = Client(SERVER_NAME="localhost").get(path).content.decode()
    for row in (*state["sections"], *state["marks"]):
        assert f'{NUMBER}="{row["number"]}"' in sheet
    for row in state["hops"]:
        assert f'{NUMBER}="{row["number"]}"' in sheet


def test_the_measure_is_kept_for_the_small_rulers(client: Client, page: Page) -> None:
    tops = {str(number(page, "Winter moorings")): 700, "77777": 3}
    sent: dict[str, Any] = {"width": 1280, "height": 1600, "tops": tops, "header": 60, "padding": 0}
    assert ask(client, "measure", page, sent)[0] == 200
    assert list(page.measures.get().tops.values()) == [700]
    assert ask(client, "measure", page, {"width": 999, "height": 1, "tops": {}})[0] == 422
    listed = client.get(reverse("pages", args=[page.site.slug])).content.decode()
    assert "2.0 screens" in listed
    copy_sheet = reverse("copy-sheet", args=[page.site.slug])
    # Nobody asked for it; the body of a post has no head to save it in here.
    assert "scroll-" not in client.get(copy_sheet).content.decode()
    Page.objects.filter(pk=page.pk).update(body_only=True)
    assert "html { scroll-padding-top: 76px }" in client.get(copy_sheet).content.decode()
    ask(client, "measure", page, {**sent, "padding": 80, "smooth": True})
    assert "scroll-" not in client.get(copy_sheet).content.decode()


@pytest.mark.parametrize(
    ("asked", "first"),
    [
        ("winter", ("Winter moorings", "/moorings/")),  # this page before all others
        ("#tunnels", ("Going through a tunnel", "/skippers-handbook/")),
        ("stop planks", ("Stop planks", "/lock-guide/")),
        ("volunteer", ("Volunteer days", "/volunteer-days/")),
    ],
)
def test_finding_is_nearest_first(
    client: Client, page: Page, asked: str, first: tuple[str, str]
) -> None:
    url = reverse("find", args=[page.site.slug])
    found = client.get(url, {"q": asked, "near": page.pk, "pages": "1"}).json()["found"]
    assert (found[0]["title"], found[0]["path"]) == first


def test_files_come_in_with_progress_and_end_at_their_account(
    client: Client, site: Site, tmp_path: Any
) -> None:
    file = tmp_path / "extra.html"
    file.write_bytes(b"<h1>Extra</h1><h2>One</h2>")
    with file.open("rb") as opened:
        answer = client.post(
            reverse("send-files", args=[site.slug]), {"files": opened}, headers=SCRIPT
        )
    lines = [json.loads(line) for line in b"".join(answer.streaming_content).splitlines()]  # type: ignore[attr-defined]
    assert lines[0] == {"done": 0, "total": 1}
    account = client.get(lines[-1]["url"]).content.decode()
    assert "1 page came in" in account
    page = site.pages.get(path="/extra.html")
    taken = client.post(lines[-1]["url"], {f"path-{page.pk}": "/moorings/"})
    assert taken.status_code == 422
    assert "Moorings and charges" in taken.content.decode()
    client.post(lines[-1]["url"], {f"path-{page.pk}": "extra/"})
    assert site.pages.filter(path="/extra/").exists()


def test_pasted_markup_keeps_its_characters(client: Client, site: Site) -> None:
    markup = "<h2>One</h2>\r\n<p>ü</p>"  # as a form sends it
    sent = {"markup": markup, "address": "/post/", "title": "A post", "kind": "body"}
    answer = client.post(reverse("send-markup", args=[site.slug]), sent, headers=SCRIPT)
    assert b"url" in b"".join(answer.streaming_content)  # type: ignore[attr-defined]
    page = site.pages.get(path="/post/")
    assert page.title == "A post"
    file = client.get(reverse("page-file", args=[site.slug, page.pk]))
    assert file.content == "<h2>One</h2>\n<p>ü</p>".encode()
    for wrong in ({**sent, "markup": " "}, {**sent, "address": "https://o.example/x"}):
        answer = client.post(reverse("send-markup", args=[site.slug]), wrong, headers=SCRIPT)
        assert answer.status_code == 422


def test_an_element_is_described_for_the_desk(client: Client, page: Page) -> None:
    heading = number(page, "Fees for a year")
    looks = {str(heading): {"top": 900, "heading": heading, "headingTop": 900}, "x": 5}
    sent = {"number": heading, "looks": looks, "revision": 1}
    status, found = ask(client, "look-at", page, sent)
    assert status == 200
    assert [one["kind"] for one in found["line"]] == ["heading", "section block", "main part"]
    assert found["line"][0]["message"] == "A hop lands with this heading at the top of the view."
    assert (found["isHeading"], found["levels"], found["shared"]) == (True, [2, 3], 0)
    footer = page.regions.get(kind="footer").number
    status, found = ask(client, "look-at", page, {"number": footer + 2, "revision": 1})
    assert found["shared"] == 7
    assert ask(client, "lock", page, {"number": footer, "on": True, "revision": 1})[0] == 200
    status, found = ask(client, "look-at", page, {"number": footer + 2, "revision": 1})
    assert found["locked"] == footer
    assert [one["value"] for one in found["before"]] == ["fees", "contact"]
    assert found["words"].startswith(":~:text=")


def test_what_was_looked_at_is_what_is_done(client: Client, page: Page) -> None:
    """A rename is refused when any of its pages changed after it was shown."""
    hardship = number(page, "The hardship fund")
    sent = {"number": hardship, "id": "help", "revision": 1}
    status, looked = ask(client, "rename", page, {**sent, "look": True})
    assert (status, looked["pages"], len(looked["spots"])) == (200, 1, 2)
    other = page.site.pages.get(path="/about/")
    assert ask(client, "rename", page, {**sent, "stamp": "another"})[0] == 409
    page.refresh_from_db()
    assert page.revision == 1
    status, done = ask(client, "rename", page, {**sent, "stamp": looked["stamp"]})
    assert (status, done["message"]) == (200, "Renamed #hardship-fund to #help with 1 hop")
    assert other.revision == 1


def test_a_site_s_settings(client: Client, site: Site) -> None:
    url = reverse("settings", args=[site.slug])
    assert b"a to z" in client.get(url).content
    sent = {"name": "The Trust", "language": "de", "letters": "own", "hop_form": "relative",
            "air": 24}  # fmt: skip
    assert client.post(url, sent).status_code == 302
    site.refresh_from_db()
    assert (site.name, site.language, site.own_letters) == ("The Trust", "de", True)
    assert (site.hop_form, site.air) == ("relative", 24)
    assert client.post(url, {**sent, "back-de": "  Ganz nach  oben "}).status_code == 302
    site.refresh_from_db()
    assert site.back_words == {"de": "Ganz nach oben"}
    answer = client.post(url, {**sent, "name": "", "letters": "none"})
    assert b"This field is required" in answer.content
    site.refresh_from_db()
    assert site.name == "The Trust"


def test_a_page_that_no_link_leads_to_moves_and_comes_back(
    client: Client, site: Site, editor: Editor
) -> None:
    lone = bring(site, editor, "/lone/", "<h1>Lone</h1>")
    status, answer = ask(client, "move-page", lone, {"revision": 1, "path": "/alone/"})
    assert (status, answer["state"]["pages"][str(lone.pk)]["path"]) == (200, "/alone/")
    assert ask(client, "undo", lone, {})[0] == 200
    lone.refresh_from_db()
    assert lone.path == "/lone/"


@pytest.mark.parametrize(
    "case",
    [
        ("hop", {"end": {"outside": "javascript:alert(1)"}}, "is a program"),
        ("hop", {"end": {"outside": "/moorings/"}}, "on this site"),
        ("hop", {"form": "sideways"}, "can't be read"),
        ("hop", {"form": "hash", "end": {"page": 0, "id": "summit"}}, "another page"),
        ("put-link", {"side": "on", "words": "x"}, "can't be read"),
        ("put-link", {"side": "after", "words": " "}, "Give the words"),
        ("put-link", {"side": "after", "words": 7}, "can't be read"),
        ("retarget", {"number": 999}, "no longer there"),
        ("link-part", {"number": 0}, "the whole page"),
        ("convert", {"form": "sideways"}, "can't be read"),
        ("move-page", {"path": "/lock-guide/"}, "has the address"),
        ("move-page", {"path": "https://elsewhere.example/"}, "another site"),
    ],
)
def test_what_can_t_be_done_with_a_hop_is_told(
    client: Client, site: Site, page: Page, case: tuple[str, dict[str, Any], str]
) -> None:
    name, sent, message = case
    text = current(page).source
    words = words_in(page, "honesty box")
    point = {"number": words.start.number, "child": words.start.child, "offset": words.start.offset}
    guide = site.pages.get(path="/lock-guide/")
    whole = {
        "revision": page.revision,
        "number": next(n for n, tag_ in enumerate(text.tags) if tag_ == "p"),
        "start": point,
        "stop": {**point, "offset": words.end.offset},
        "end": {"page": page.pk, "id": "fees"},
        **sent,
    }
    if whole["end"].get("page") == 0:
        whole["end"] = {**whole["end"], "page": guide.pk}
    status, answer = ask(client, name, page, whole)
    assert status == (409 if "has the address" in message else 422)
    assert message in answer["message"]
    page.refresh_from_db()
    assert page.revision == whole["revision"]


def test_undo_names_the_pages_that_are_not_in_view(
    client: Client, site: Site, editor: Editor, page: Page
) -> None:
    client.force_login(editor)
    guide = site.pages.get(path="/lock-guide/")
    sent = {"marks": [{"number": guide.sections.filter(mark="").first().number, "id": "up"}]}
    _, made = ask(client, "mark", guide, {**sent, "revision": guide.revision})
    _, taken = ask(client, "undo", page, {"change": made["change"]})
    assert taken["message"] == f"Undone: {made['message']} (on “Lock guide”)"
    _, again = ask(client, "redo", guide, {"change": made["change"]})
    assert again["message"] == f"Done again: {made['message']}"
