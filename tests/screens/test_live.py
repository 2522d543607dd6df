"""The screen that says what of what was planned is on the site."""

from __future__ import annotations

import pytest
from django.test import Client
from django.urls import reverse

from innerhop.library import doing
from innerhop.library.index.texts import current
from innerhop.library.live.standing import keep_found
from innerhop.library.models import Change, Editor, Job, Look, NewText, Page, Seen, Site
from tests.screens.test_access import stranger

pytestmark = pytest.mark.django_db
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
    keep_found(site)
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
    keep_found(planned.site)
    shown = client.get(reverse("copy-sheet", args=[planned.site.slug])).content.decode()
    assert "seen on the site" in shown
    assert "checked disabled" in shown
    assert "There as planned" in show(client, planned.site)
