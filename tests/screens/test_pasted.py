"""Markup pasted by hand: taken for what it is, at an address made of its title."""

from __future__ import annotations

import pytest
from django.test import Client

from innerhop.library.models import BringIn, Site

pytestmark = pytest.mark.django_db
BODY = "<h1>Volunteer days</h1><p>Come along.</p>"


def paste(client: Client, site: Site, **sent: str) -> BringIn:
    url = f"/{site.slug}/bring-in/markup/"
    answer = client.post(url, {"kind": "body", "taken": "keep", "address": "", **sent})
    assert answer.status_code == 302, answer.content
    found = BringIn.objects.filter(site=site).latest("pk")
    assert client.get(answer.headers["Location"]).status_code == 200
    return found


@pytest.mark.parametrize(
    ("sent", "came", "said"),
    [
        ({"markup": BODY, "address": "/v/", "title": "V"}, ("/v/", True), []),
        ({"markup": BODY, "title": "Work parties"}, ("/work-parties/", True), ["/work-parties/,"]),
        ({"markup": BODY}, ("/volunteer-days-2/", True), ["/volunteer-days-2/,"]),
        ({"markup": f"<!-- x --> <!DOCTYPE html><title>A day</title>{BODY}"}, ("/a-day/", False),
         ["begins as a whole document", "/a-day/,"]),
        ({"markup": f"<html lang=en>{BODY}", "address": "/x/"}, ("/x/", False), ["begins as"]),
        ({"markup": f"<header>{BODY}", "address": "/x/"}, ("/x/", True), []),
    ],
)  # fmt: skip
def test_what_is_pasted_is_taken_for_what_it_is(
    client: Client, site: Site, sent: dict[str, str], came: tuple[str, bool], said: list[str]
) -> None:
    """Seen: a whole document, pasted as a body, was shown inside another page's head."""
    account = paste(client, site, **sent)
    page = account.pages.get()
    assert (page.path, page.body_only) == came
    assert len(account.notes) == len(said)
    assert all(one in note for one, note in zip(said, account.notes, strict=True))


def test_an_address_is_suggested_as_the_site_writes_its_own(client: Client, site: Site) -> None:
    url = f"/{site.slug}/bring-in/address/"
    assert client.get(url, {"title": "Über uns"}).json() == {"address": "/uber-uns/"}
    assert client.get(url, {"title": " \0"}).json() == {"address": ""}
    for page in site.pages.exclude(path="/"):
        page.path = page.path.rstrip("/")
        page.save(update_fields=["path"])
    assert client.get(url, {"title": "Fees"}).json() == {"address": "/fees"}


def test_nothing_to_make_an_address_of_is_said(client: Client, site: Site) -> None:
    url = f"/{site.slug}/bring-in/markup/"
    answer = client.post(url, {"kind": "body", "markup": "<p>x", "address": ""})
    assert (answer.status_code, b"needs an address" in answer.content) == (422, True)


def test_what_came_in_is_a_link_to_what_is_to_be_done(client: Client, site: Site) -> None:
    twice = "<title>T</title><h2 id=a>One</h2><h2 id=a>Two</h2>"
    account = paste(client, site, markup=twice, address="/t/", kind="whole")
    shown = client.get(f"/{site.slug}/bring-in/{account.pk}/").content.decode()
    assert f'href="{account.pages.get().get_absolute_url()}">T</a>' in shown
    assert "findings/?level=misled" in shown
