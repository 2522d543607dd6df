"""The screen that says what of what was planned is on the site."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from django.http import HttpResponse
from django.test import Client
from django.urls import reverse
from django.utils import timezone
from lxml import etree

from innerhop.library import doing
from innerhop.library.index.texts import current
from innerhop.library.live import telling
from innerhop.library.live.standing import keep_steps
from innerhop.library.models import (
    Change,
    Editor,
    FoundThere,
    Job,
    Look,
    NewText,
    Page,
    Seen,
    Site,
    WalkedThere,
)
from tests.screens.test_access import stranger

pytestmark = pytest.mark.django_db
GONE = "The ID was taken off “Winter”."
HANDBOOK = "/skippers-handbook/"


@pytest.fixture
def planned(site: Site, editor: Editor) -> Page:
    """A page with a mark planned, as it was there when somebody looked: with a slip."""
    page = site.pages.select_related("site").get(path=HANDBOOK)
    number = page.sections.get(title="Lifting bridges").number
    doing.do(editor, "mark", page, {"marks": [{"number": number, "id": "bridges"}]})
    page.refresh_from_db()
    there = current(page).text.replace('id="bridges"', 'class="bridges"')
    look = Look.objects.create(site=site, editor=editor, pages=1)
    Seen.objects.create(page=page, look=look, content=there.encode(), label="utf-8", codec="utf-8")
    keep_steps(site)
    return page


def show(client: Client, site: Site, query: str = "") -> str:
    answer = client.get(reverse("live", args=[site.slug]) + query)
    assert answer.status_code == 200
    return answer.content.decode()


def test_nothing_planned_says_what_to_do(client: Client, site: Site) -> None:
    assert "Nothing planned yet" in show(client, site)


def test_what_was_entered_differently_says_how_and_what_to_do(
    client: Client, planned: Page
) -> None:
    shown = show(client, planned.site)
    assert "<b>0 of 1</b> thing planned here" in shown
    assert "<b>1</b> was entered differently." in shown
    step = shown.partition("&amp;step=")[2].partition('"')[0]
    desk = show(client, planned.site, f"?page={planned.pk}&step={step}")
    assert "The word went into the class" in desk
    assert "empty the field for the class" in desk
    assert ">bridges</button>" in desk
    for odd in ("?page=x", "?page=99999999999999999999", f"?page={planned.pk}&step=none"):
        assert "What was planned" in show(client, planned.site, odd)


def test_a_page_that_was_not_seen_says_why(client: Client, planned: Page) -> None:
    Seen.objects.update(why="it asks for a password <b>")
    assert "was not seen at the last look: it asks for a password &lt;b&gt;." in show(
        client, planned.site
    )


def test_looking_is_a_job_of_all_or_of_one_page(client: Client, planned: Page) -> None:
    url = reverse("look", args=[planned.site.slug])
    for sent, pages in (({}, []), ({"page": str(planned.pk)}, [planned.pk])):
        answer = client.post(url, sent)
        job = Job.objects.latest("pk")
        assert answer.headers["Location"] == reverse("job", args=[planned.site.slug, job.pk])
        assert (job.kind, job.asked) == ("look", {"pages": pages})
    assert client.post(url, {"page": "987654"}).status_code == 404


def test_what_is_there_can_be_kept_and_what_was_done_here_is_seen_first(
    client: Client, planned: Page
) -> None:
    answer = client.post(reverse("keep-there", args=[planned.site.slug, planned.pk]), follow=True)
    assert "What changed there" in answer.content.decode()
    assert NewText.objects.get().page == planned
    before = Change.objects.count()
    planned.refresh_from_db()
    assert 'id="bridges"' in current(planned).text  # until somebody says so
    assert Change.objects.count() == before


def test_it_is_there_for_the_sites_own_editors(planned: Page) -> None:
    other, slug = stranger(), planned.site.slug
    assert other.get(reverse("live", args=[slug])).status_code == 404
    assert other.post(reverse("look", args=[slug])).status_code == 404
    assert other.post(reverse("keep-there", args=[slug, planned.pk])).status_code == 404


def test_the_copy_sheet_says_what_was_seen_there(client: Client, planned: Page) -> None:
    Seen.objects.update(content=current(planned).text.encode())
    keep_steps(planned.site)
    shown = client.get(reverse("copy-sheet", args=[planned.site.slug])).content.decode()
    assert "seen on the site" in shown
    assert "checked disabled" in shown
    assert "There as planned" in show(client, planned.site)


@pytest.fixture
def broke(planned: Page, editor: Editor) -> Look:
    """A look at which a hop had broken."""
    told = {"what": "broke", "page": planned.pk, "title": "A & B", "path": HANDBOOK,
            "words": "winter <b>", "href": "#winter", "why": GONE}  # fmt: skip
    look = Look.objects.create(site=planned.site, pages=1, broken=3, changed=[told])
    for words in ("winter <b>", "more on winter"):
        FoundThere.objects.create(
            page=planned, site=planned.site, number=9, rule="no-id", words=words, since=look,
            is_broken=True, broke=True, why=GONE, todo="Give it back.", enter="winter",
            href="#winter", key=words, told={"on": planned.pk, "id": "winter", "href": "#winter",
                                             "then": ""},
        )  # fmt: skip
    Site.objects.filter(pk=planned.site_id).update(live_broke=2)
    return look


def settle(client: Client, site: Site, **sent: str) -> HttpResponse:
    answer = client.post(reverse("settle-live", args=[site.slug]), sent)
    site.refresh_from_db()
    return answer  # type: ignore[return-value]


def test_what_broke_is_counted_in_the_bar_and_told_by_its_cause(
    client: Client, broke: Look, planned: Page
) -> None:
    shown = show(client, planned.site)
    assert '2<span class="sr-only"> broke</span>' in shown
    assert shown.count("The ID was taken off “Winter”.") == 1  # two hops, one cause
    assert "winter &lt;b&gt;</a>" in shown
    asked = shown.partition("?broke=")[2].partition('"')[0]
    desk = show(client, planned.site, f"?broke={asked}")
    assert "Give it back." in desk
    assert ">winter</button>" in desk
    assert "to #winter: The ID" in show(client, planned.site, f"?look={broke.pk}")
    for odd in (
        "?broke=x",
        "?broke=99999999999999999999",
        "?look=1x",
        "?look=99999999999999999999",
        f"?broke={'9' * 5_000}",
        f"?look={'9' * 5_000}",
    ):
        assert "How this goes" in show(client, planned.site, odd)


def test_a_site_is_set_to_be_looked_at_every_morning(client: Client, site: Site) -> None:
    settle(client, site, set="daily")
    assert site.daily
    assert "The next one is" in show(client, site)
    settle(client, site, set="asked")
    assert not site.daily
    assert settle(client, site, set="else").status_code == 404


def test_mails_go_to_an_address_that_is_one(client: Client, site: Site, editor: Editor) -> None:
    for typed, said in (("", "Type the address"), ("jo@", "That is no mail address"),
                        (f"{'j' * 250}@canal.example", "up to 254")):  # fmt: skip
        answer = settle(client, site, set="mails", address=typed)
        assert said in answer.content.decode()
        assert not telling.mailing(editor, site)
    settle(client, site, set="mails", address="jo@canal.example")
    assert telling.mailing(editor, site)
    assert "You are written to" in show(client, site)
    settle(client, site, set="no-mails")
    assert not telling.mailing(editor, site)


def test_the_feed_is_an_atom_feed_for_whoever_knows_its_address(
    client: Client, broke: Look, planned: Page
) -> None:
    """RFC 4287: the schema of its appendix B, and what 4.1.1 and 4.1.2 ask beside it."""
    site = planned.site
    assert not site.feed_key
    settle(client, site, set="feed")
    first = reverse("feed", args=[site.feed_key])
    answer = Client(SERVER_NAME="127.0.0.1").get(first)
    assert answer["Content-Type"].startswith("application/atom+xml")
    feed = etree.fromstring(answer.content)
    schema = etree.RelaxNG(etree.parse(Path(__file__).parent / "data" / "atom.rng"))
    schema.assertValid(feed)
    names = {"a": "http://www.w3.org/2005/Atom"}
    ids = [one.text for one in feed.iterfind(".//a:id", names)]
    assert len(ids) == len(set(ids)) == 2
    assert site.feed_key not in "".join(str(one) for one in ids)
    (own,) = (one.get("href") for one in feed.iterfind("a:link[@rel='self']", names))
    assert str(own).endswith(first)
    assert "“winter &lt;b&gt;” on “A &amp; B”" in str(feed.findtext(".//a:summary", "", names))
    settle(client, site, set="feed")
    assert Client(SERVER_NAME="127.0.0.1").get(first).status_code == 404
    second = reverse("feed", args=[site.feed_key])
    settle(client, site, set="no-feed")
    assert Client(SERVER_NAME="127.0.0.1").get(second).status_code == 404


def test_the_demo_shows_its_mails(
    client: Client, broke: Look, editor: Editor, settings: Any, tmp_path: Path
) -> None:
    settings.EMAIL_BACKEND = "django.core.mail.backends.filebased.EmailBackend"
    settings.EMAIL_FILE_PATH = tmp_path
    assert "None yet" in client.get(reverse("mails")).content.decode()
    telling.set_mailing(editor, broke.site, True, "jo@canal.example")
    telling.tell_now(broke)
    shown = client.get(reverse("mails")).content.decode()
    assert "1 hop broke" in shown
    assert "to jo@canal.example" in shown
    assert "“winter &lt;b&gt;” on “A &amp; B”" in shown


def test_a_look_that_failed_is_said(client: Client, planned: Page) -> None:
    Job.objects.create(site=planned.site, kind="look", state=Job.State.FAILED,
                       message="Nobody answered.", ended=timezone.now())  # fmt: skip
    assert "was not made. Nobody answered." in show(client, planned.site)


def test_the_site_itself_stands_beside_what_is_here(
    client: Client, broke: Look, planned: Page, editor: Editor
) -> None:
    site = planned.site
    url = reverse("there", args=[site.slug])
    shown = client.get(url).content.decode()
    assert "Wrong there, wrong here" in shown
    assert "?rule=no-id&amp;mended" in shown  # found there alone
    places = client.get(url, {"rule": "no-id", "mended": ""}).content.decode()
    assert "“winter &lt;b&gt;”" in places
    for odd in ({"rule": "none"}, {"rule": "no-id\0"}, {"part": "x"}):
        assert client.get(url, odd).status_code == 200
    assert stranger().get(url).status_code == 404
    WalkedThere.objects.bulk_create(
        WalkedThere(page=planned, site=site, number=7, href="#winter", words="Ice", width=width,
                    verdict=verdict, says=verdict, trouble=trouble)
        for width, verdict, trouble in
        ((390, "covered", ""), (820, "clear", ""), (1280, "", "Nobody arrives."))
    )  # fmt: skip
    shown = client.get(url).content.decode()
    assert "1 not as they should be" in shown
    assert "covered" in shown
    assert "Nobody arrives." in shown


def test_hops_there_are_followed_by_a_worker(client: Client, site: Site) -> None:
    answer = client.post(reverse("walk-there", args=[site.slug]))
    job = Job.objects.get(kind="walk-there")
    assert answer.headers["Location"] == reverse("job", args=[site.slug, job.pk])
