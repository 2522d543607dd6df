"""What was done on a site: told, found again, drawn, and taken back by who may."""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path

import pytest
from django.test import Client
from django.utils import timezone
from lxml import etree

from innerhop.library import doing
from innerhop.library.acts.table import ACTS, SITE_ACTS
from innerhop.library.changes import undo
from innerhop.library.history import entries, what_changed
from innerhop.library.history.entries import History, Search
from innerhop.library.history.kinds import KINDS
from innerhop.library.index.texts import current
from innerhop.library.models import Change, Editor, Membership, Page, Section, Site
from tests.library.test_changes import content

pytestmark = pytest.mark.django_db
NEW = b"since you were here</span>"
ROLE = Membership.Role
Asking = Callable[[str], bytes]


def member(site: Site, name: str, role: str = ROLE.EDITOR) -> Editor:
    editor = Editor.objects.create_user(name)
    Membership.objects.create(site=site, editor=editor, role=role)
    return editor


def marked(site: Site, who: Editor, id_: str, path: str = "") -> Change:
    """Another section of the site marked by somebody."""
    bare = Section.objects.filter(site=site, mark="").select_related("page__site")
    one = (bare.filter(page__path=path) if path else bare).first()
    assert one is not None
    return doing.do(who, "mark", one.page, {"marks": [{"number": one.number, "id": id_}]})


def signed_in(who: Editor) -> Client:
    client = Client(SERVER_NAME="127.0.0.1")
    client.force_login(who, backend="innerhop.library.access.Backend")
    return client


@pytest.fixture
def asked(
    client: Client, site: Site, django_capture_on_commit_callbacks: Callable[..., object]
) -> Asking:
    """The screen, as it is for the demo's editor."""

    def ask(query: str = "") -> bytes:
        with django_capture_on_commit_callbacks(execute=True):  # type: ignore[attr-defined]
            answer = client.get(f"/{site.slug}/history/{query}")
        assert answer.status_code == 200
        return answer.content

    return ask


def test_what_others_did_is_new_for_as_long_as_one_stays(
    asked: Asking, site: Site, editor: Editor
) -> None:
    other = member(site, "other")
    marked(site, other, "one")
    assert NEW not in asked(""), "who was never here"
    here = Membership.objects.filter(site=site, editor=editor)
    here.update(was_here=timezone.now() - timedelta(hours=3))
    marked(site, editor, "two")
    marked(site, other, "three")
    for _ in range(2):  # a row that is chosen loads the screen again
        shown = asked("")
        assert shown.count(NEW) == 2, "both of the other, none of one's own"
        assert "Since you were here · 2".encode() in shown
    assert b"#three" in asked("?show=new")
    assert b"#two" not in asked("?show=new")
    here.update(was_here=timezone.now() - timedelta(seconds=1) - timedelta(minutes=30))
    later = timezone.now() - timedelta(hours=1)
    Change.objects.filter(site=site).update(made=later)
    assert NEW not in asked("")


@pytest.mark.parametrize(
    ("wanted", "found"),
    [
        (Search(words="#warm-clothes"), {"#warm-clothes"}),
        (Search(words="warm-clothes"), {"#warm-clothes"}),
        (Search(words="/volunteer-days/"), {"#warm-clothes", "Brought in"}),
        (Search(words="Volunteer days"), {"#warm-clothes", "Brought in"}),
        (Search(words="OTHER"), {"#up"}),
        (Search(words="100%_"), set()),
        (Search(words="\0"), set()),
        (Search(kind="marks"), {"#warm-clothes", "#up"}),
        (Search(kind="brought-in"), {"Brought in"}),
        (Search(kind="menus"), set()),
        (Search(page=2**63 - 1), set()),
    ],
)
def test_it_is_found_by_id_words_address_person_and_kind(
    site: Site, editor: Editor, wanted: Search, found: set[str]
) -> None:
    marked(site, editor, "warm-clothes", "/volunteer-days/")
    marked(site, member(site, "other"), "up", "/skippers-handbook/")
    history = History(site, wanted)
    said = [one.message for one in history[:20]]
    assert len(history) == len(said) == len(found)
    assert all(any(part in one for one in said) for part in found)


def test_it_is_found_by_page_and_by_author(site: Site, editor: Editor) -> None:
    page = site.pages.get(path="/volunteer-days/")
    one, other = marked(site, editor, "one", page.path), member(site, "other")
    two = marked(site, other, "two", "/skippers-handbook/")
    on_page = [row.change for row in History(site, Search(page=page.pk))[:9]]
    assert on_page == [one, None], "and that it came in"
    assert [row.change for row in History(site, Search(author=other.pk))[:9]] == [two]


def test_every_act_is_of_one_kind() -> None:
    named = [act for kind in KINDS.values() for act in kind.acts]
    assert sorted(named) == sorted({*ACTS, *SITE_ACTS})


def test_a_change_is_drawn_where_it_stands(site: Site, editor: Editor) -> None:
    page = site.pages.get(path="/skippers-handbook/")
    sections = list(Section.objects.filter(page=page))
    last = next(one for one in reversed(sections) if not one.mark)
    act = {"marks": [{"number": last.number, "id": "far-down"}]}
    change = doing.do(editor, "mark", page, act)
    entry = entries.entry(site, "c", change.pk)
    assert entry is not None
    (at,) = entry.pages[0].places
    below = sum(one.words for one in sections[sections.index(last) :])
    assert at == pytest.approx(1 - below / page.words, abs=0.01)


def test_the_difference_is_what_was_written(site: Site, editor: Editor) -> None:
    change = marked(site, editor, "here", "/volunteer-days/")
    undo.undo(change)
    (found,) = what_changed.differences(change, 5)
    parts = [words for spot in found.spots for kind, words in spot.parts if kind == "new"]
    assert parts == [' id="here"'], "of what was undone too"


def test_of_a_whole_text_the_lines_that_differ_are_told(site: Site, editor: Editor) -> None:
    page = site.pages.get(path="/volunteer-days/")
    change = marked(site, editor, "here", page.path)
    new = current(page).text.replace("Gloves", "Mittens")
    revision = change.revisions.get(page=page)
    revision.edits, revision.content = None, new.encode()
    revision.save()
    (found,) = what_changed.differences(change, 5)
    said = "".join(words for spot in found.spots for kind, words in spot.parts if kind != "same")
    assert "Gloves" in said
    assert "Mittens" in said


def turned(client: Client, change: Change, *, undone: bool = True) -> int:
    sent = {"change": change.pk, "undone": undone}
    url = f"/{change.site.slug}/history/turn/"
    return client.post(url, sent, content_type="application/json").status_code


def test_everybody_takes_back_their_own_and_owners_all(site: Site, editor: Editor) -> None:
    other = member(site, "other")
    theirs, own = marked(site, other, "one"), marked(site, editor, "two")
    before = content(theirs.revisions.get().page)
    assert turned(signed_in(other), own) == 403
    assert turned(signed_in(other), theirs) == 200
    assert turned(signed_in(other), theirs, undone=False) == 200
    assert turned(signed_in(editor), theirs) == 200
    theirs.refresh_from_db()
    assert theirs.undoer == editor
    page = theirs.revisions.first()
    assert page is not None
    assert content(Page.objects.get(pk=page.page_id)) != before


def test_who_may_not_is_told_who_may(site: Site, editor: Editor) -> None:
    own = marked(site, editor, "two")
    answer = signed_in(member(site, "other")).get(f"/{site.slug}/history/?of=c{own.pk}")
    assert "On this site, that is for Demo to do." in answer.content.decode()
    assert "data-change" not in answer.content.decode()


@pytest.mark.parametrize("sent", [{}, {"change": True}, {"change": "1"}, {"change": 1.5},
                                  {"change": 1, "undone": "no"}])  # fmt: skip
def test_what_no_screen_sends_is_refused(client: Client, site: Site, sent: object) -> None:
    answer = client.post(f"/{site.slug}/history/turn/", sent, content_type="application/json")
    assert answer.status_code == 422


@pytest.mark.parametrize("of", ["", "c", "c0", "x1", "b999999", "c" + "9" * 40, "c-1", "c١"])
def test_what_is_not_there_is_not_shown(asked: Asking, of: str) -> None:
    assert b"Choose something that was done" in asked(f"?of={of}&part=99&page=x&who=%00&kind=no")


def test_what_stays_is_told_before(asked: Asking, site: Site, editor: Editor) -> None:
    change = marked(site, editor, "one", "/volunteer-days/")
    page = site.pages.get(path="/volunteer-days/")
    number = Section.objects.get(page=page, mark="one").number
    renamed = doing.do(editor, "rename", page, {"number": number, "id": "other"})
    shown = asked(f"?of=c{change.pk}").decode()
    assert "A later change touched the same words" in shown
    undo.undo(renamed)
    page.refresh_from_db()
    later = doing.do(editor, "rename", page, {"number": _other(page, number), "id": "apart"})
    shown = asked(f"?of=c{change.pk}").decode()
    assert "What was done on it since stays." in shown
    assert f"?of=c{later.pk}" in shown


def _other(page: Page, number: int) -> int:
    return Section.objects.filter(page=page).exclude(mark="").exclude(number=number)[0].number


def test_it_is_taken_as_a_file(client: Client, site: Site, editor: Editor) -> None:
    marked(site, editor, "one", "/volunteer-days/")
    table = client.get(f"/{site.slug}/history.csv?kind=marks").content.decode("utf-8-sig")
    (row,) = csv.DictReader(io.StringIO(table))
    assert (row["who"], row["kind"], row["on"]) == ("Demo", "IDs and headings", "/volunteer-days/")
    lines = client.get(f"/{site.slug}/history.jsonl").content.decode().splitlines()
    assert [json.loads(line)["kind"] for line in lines] == ["IDs and headings", "Brought in"]
    assert client.get(f"/{site.slug}/history.exe").status_code == 404


def test_the_feed_is_one(site: Site, editor: Editor, client: Client) -> None:
    """RFC 4287, by its schema."""
    marked(site, editor, "one")
    site.feed_key = "secret"
    site.save()
    shown = client.get(f"/{site.slug}/history/").content.decode()
    (where,) = re.findall(r'href="(/-/feeds/[^"]+)"', shown)
    anybody = Client(SERVER_NAME="127.0.0.1")
    feed = etree.fromstring(anybody.get(where).content)
    schema = etree.parse(Path(__file__).parent / "data" / "atom.rng")
    etree.RelaxNG(schema).assertValid(feed)
    assert len(feed.findall("{http://www.w3.org/2005/Atom}entry")) == 2
    for other in ("/-/feeds/secret/x/history.atom", where.replace("secret", "other")):
        assert anybody.get(other).status_code == 404, "who knows the feed of what broke, too"
