"""What was once answered with a bare 500, each by its own cause."""

from __future__ import annotations

import json
from typing import Any
from urllib.parse import quote

import pytest
from django.test import Client
from django.urls import reverse

from innerhop.library.acts.table import planned
from innerhop.library.bring_in import bring_ins
from innerhop.library.changes import undo, write
from innerhop.library.index.texts import current
from innerhop.library.models import Editor, Page, Site
from innerhop.screens.hand_over.downloads import csv_file
from innerhop.visitor import passes
from tests.library.test_findings import site_with

pytestmark = pytest.mark.django_db


@pytest.fixture
def bare(client: Client) -> Client:
    """A signed-in browser to which a fault is an answer like any other."""
    client.raise_request_exception = False
    return client


def send(client: Client, page: Page, name: str, sent: dict[str, Any], kind: str = "act") -> Any:
    url = reverse(kind, args=[page.site.slug, page.pk, name])
    return client.post(url, json.dumps(sent), "application/json",
                       headers={"accept": "application/json"})  # fmt: skip


@pytest.mark.parametrize("name", ["a\0b", "\0", "\ud800", "x" * 10_000])
def test_signing_in_under_any_name(site: Site, name: str) -> None:
    client = Client(SERVER_NAME="127.0.0.1", raise_request_exception=False)
    body = f"username={quote(name, errors='surrogatepass')}&password=x%00y"
    answer = client.post("/sign-in/", body, "application/x-www-form-urlencoded")
    assert answer.status_code in (200, 403, 429)


# Bytes that the page's encoding can't explain, in an ID and in a link to it.
UNEXPLAINED = (
    "utf-8", "utf-16", "euc-kr", "big5", "gb18030", "shift_jis", "windows-1252", "windows-874",
)  # fmt: skip
PLACES = (
    b"<title>Odd</title><h1>Odd</h1><p><a href='#caf%(b)s'>there</a> <a href='#x%(b)s'>gone</a></p>"
    b"<h2 id='caf%(b)s'>Caf%(b)s</h2><p class='x%(b)s'>tea</p>"
)
BYTES = {"utf-8": b"\xe9", "windows-1252": b"\x81", "windows-874": b"\xdb"}


def odd_page(editor: Editor, encoding: str) -> Page:
    odd = BYTES.get(encoding, b"\xff")
    if encoding == "utf-16":  # half of a pair
        text = (PLACES % {b"b": b"%"}).decode().replace("%", "\ud800")
        data = b"\xff\xfe" + text.encode("utf-16-le", "surrogatepass")
    else:
        data = b"<meta charset=%s>%s" % (encoding.encode(), PLACES % {b"b": odd})
    site = site_with(editor, {"index.html": "<h1>Home</h1>"})
    for _ in bring_ins.bring_in(site, editor, iter([bring_ins.NewFile("odd.html", data)]), 1):
        pass
    return site.pages.get(path="/odd.html")


@pytest.mark.parametrize("encoding", UNEXPLAINED)
def test_what_an_encoding_cant_explain_is_renamed_led_elsewhere_and_undone(
    bare: Client, editor: Editor, encoding: str
) -> None:
    page = odd_page(editor, encoding)
    before = bytes(current(page).revision.content)
    assert bare.get(page.get_absolute_url()).status_code == 200
    mark = page.marks.get(tag="h2")
    first, second = page.links.order_by("number")
    acts: list[tuple[str, dict[str, Any]]] = [
        ("rename", {"number": mark.number, "id": "cafe"}),
        ("retarget", {"number": second.number, "end": {"page": page.pk, "id": "cafe"}}),
        ("retarget", {"number": first.number, "end": {"page": page.pk, "id": mark.value}}),
        ("mark", {"marks": [{"number": page.sections.order_by("number")[0].number, "id": "odd"}]}),
        ("take-away", {"number": mark.number, "then": "break"}),
    ]
    for name, sent in acts:
        page.refresh_from_db()
        revision = page.revision
        for kind, more in (("act", {"look": True}), ("act", {})):
            answer = send(bare, page, name, {**sent, "revision": revision, **more}, kind)
            assert answer.status_code in (200, 409, 422), (name, answer.content[:300])
        assert bare.get(page.get_absolute_url()).status_code == 200
        url = reverse("difference", args=[page.site.slug, page.pk])
        assert bare.get(url).status_code == 200
    for change in page.site.changes.filter(undone=None).order_by("-pk"):
        undo.undo(change)
    page.refresh_from_db()
    assert bytes(current(page).revision.content) == before


def test_hearsay_of_browsers_may_be_of_any_size(bare: Client, site: Site) -> None:
    page = site.pages.get(path="/skippers-handbook/")
    link = page.links.hops().first()
    assert link is not None
    url = reverse("walked", args=[site.slug, page.pk])
    for found in (
        {"path": "/" + "ä" * 5_000, "hash": "#" + "x" * 5_000, "y": 10**400},
        {"trouble": "é" * 5_000},
        {"y": -(10**400), "view": 10**30, "page": 1e308},
    ):
        sent = {"revision": page.revision, "number": link.number, "width": 390, "found": found}
        answer = bare.post(url, json.dumps(sent), "application/json")
        assert answer.status_code == 200, answer.content[:300]
    view = {"width": 390, "height": 10**400, "page": 10**400, "covers": [[10**400] * 5]}
    sent = {"revision": page.revision, "width": 390, "view": view, "targets": {"tolls": view}}
    layout = reverse("layout", args=[site.slug, page.pk])
    assert bare.post(layout, json.dumps(sent), "application/json").status_code == 200
    # Nobody looks at a width that nobody asked for.
    sent = {"revision": page.revision, "number": link.number, "width": 777, "found": {}}
    assert bare.post(url, json.dumps(sent), "application/json").status_code == 422


@pytest.mark.parametrize("cell", ["=1+1", "＝1+1", "＋1", "－1", "＠x", "@x", "\t=1", "-1"])
def test_no_cell_of_a_file_is_taken_for_a_formula(cell: str) -> None:
    """OWASP, CSV Injection."""
    assert csv_file(["words"], [[cell]]).decode("utf-8-sig").splitlines()[1].strip('"')[0] == "'"


@pytest.mark.parametrize("ending", ["%00", "exe", "html%00", "", "txt/..", "%F0%9F%9A%A4"])
def test_a_copy_sheet_comes_in_its_forms_alone(bare: Client, site: Site, ending: str) -> None:
    assert bare.get(f"/{site.slug}/hand-over/copy-sheet.{ending}").status_code == 404


@pytest.mark.parametrize(
    "path", ["%00", "a%00b", "%ff%fe", "-/sheet/x%00/", "-/sheet/x/%00", "%ED%A0%80"]
)
def test_any_path_under_a_visitor_host(site: Site, path: str) -> None:
    client = Client(SERVER_NAME="localhost", raise_request_exception=False)
    client.get("/-/enter", {"pass": passes.to_enter(site.pk), "to": "/"})
    assert client.get(f"/{path}").status_code in (403, 404)


def test_undo_of_what_somebody_undid_meanwhile(
    bare: Client, site: Site, editor: Editor, monkeypatch: pytest.MonkeyPatch
) -> None:
    page = site.pages.get(path="/moorings/")
    heading = page.sections.filter(mark="").first()
    assert heading is not None
    sent = {"marks": [{"number": heading.number, "id": "once"}]}
    act = planned("mark", page, sent)
    change = write.save(site, editor, act.message, act.plans)
    undo.undo(change)  # by another, after this one had looked at whether it stands
    monkeypatch.setattr(undo, "_require", lambda *_: None)
    url = reverse("undo", args=[site.slug, page.pk])
    sent = {"change": change.pk, "revision": page.revision + 1}
    answer = bare.post(url, json.dumps(sent), "application/json")
    assert answer.status_code == 409
