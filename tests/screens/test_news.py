"""The screen of what changed there: what is shown, chosen, taken in and left."""

from __future__ import annotations

import json

import pytest
from django.test import Client

from innerhop.library import doing
from innerhop.library.bring_in import bring_ins, news
from innerhop.library.models import BringIn, Editor, NewText, Page, Site
from innerhop.practice import edited_there
from tests.library.test_again import NEW, OLD, ice
from tests.library.test_changes import content
from tests.screens.test_access import stranger

__all__ = ("ice",)
pytestmark = pytest.mark.django_db
GONE = OLD.replace("<h2>Frost</h2><p>Thin.</p>", "")


def sent(client: Client, site: Site, markup: str, *, script: bool) -> str:
    """Where the answer to pasted markup leads."""
    data = {"kind": "whole", "address": "/ice/", "markup": markup, "taken": "replace"}
    accept = {"Accept": "application/json"} if script else {}
    answer = client.post(f"/{site.slug}/bring-in/markup/", data, headers=accept)
    if not script:
        return answer.headers["Location"]
    lines = [json.loads(line) for line in answer.getvalue().decode().splitlines()]
    url: str = lines[-1]["url"]
    return url


@pytest.mark.parametrize("script", [True, False])
def test_who_brings_a_page_in_again_sees_what_becomes_of_it(
    client: Client, ice: Page, site: Site, script: bool
) -> None:
    url = sent(client, site, NEW, script=script)
    shown = client.get(url).content.decode()
    assert "Take in 1 page" in shown
    assert "both kept" in shown
    assert "“Frost” is #frost" in shown
    assert "See what changed there" in client.get(f"/{site.slug}/").content.decode()
    done = client.post(f"{url}take-in/", {}, content_type="application/json").json()
    assert done["message"] == "Took in the new text of “Ice”"
    assert b"Thick." in content(ice)
    assert "Taken in." in client.get(url).content.decode()


def test_a_choice_is_kept_and_can_be_taken_back(client: Client, ice: Page, site: Site) -> None:
    url = sent(client, site, GONE, script=False)
    assert "to decide" in client.get(url).content.decode()
    refused = client.post(f"{url}take-in/", {}, content_type="application/json")
    assert refused.status_code == 422
    assert "“Ice”" in refused.json()["message"]
    row = NewText.objects.get(page=ice)
    for key in news.open_meetings(row):
        client.post(f"{url}choose/", {"page": ice.pk, "key": key, "choice": "there"})
    assert "decided" in client.get(url).content.decode()
    row.refresh_from_db()
    client.post(f"{url}choose/", {"page": ice.pk, "key": next(iter(row.choices)), "choice": ""})
    assert "to decide" in client.get(url).content.decode()


def test_what_is_no_choice_is_said_and_nothing_is_kept(
    client: Client, ice: Page, site: Site
) -> None:
    url = sent(client, site, NEW, script=False)
    answer = client.post(f"{url}choose/", {"page": ice.pk, "key": "9-9", "choice": "both"})
    assert answer.status_code == 409
    assert NewText.objects.get(page=ice).choices == {}
    for page in ("", "0", "x", "9" * 30):
        data = {"page": page, "key": "whole", "choice": "there"}
        assert client.post(f"{url}choose/", data).status_code == 404


def test_all_of_it_can_be_left_and_thought_of_again(client: Client, ice: Page, site: Site) -> None:
    url = sent(client, site, NEW, script=False)
    client.post(f"{url}leave/", {"left": "yes"})
    shown = client.get(url).content.decode()
    assert "stays as it is here" in shown
    assert "Take in" not in shown
    assert "See what changed there" not in client.get(f"/{site.slug}/").content.decode()
    client.post(f"{url}leave/", {"left": ""})
    assert "Take in 1 page" in client.get(url).content.decode()


def test_pages_that_are_new_and_pages_that_did_not_come_are_told(
    client: Client, site: Site, editor: Editor
) -> None:
    page = site.pages.get(path="/skippers-handbook/")
    number = page.sections.get(title="Lifting bridges").number
    doing.do(editor, "mark", page, {"marks": [{"number": number, "id": "lifting"}]})
    pieces = [one for one in edited_there.pieces() if not one.name.startswith("about")]
    for _ in bring_ins.bring_in(site, editor, pieces, len(pieces), replace=True):
        pass
    key = BringIn.objects.latest("pk").pk
    shown = client.get(f"/{site.slug}/bring-in/{key}/there/").content.decode()
    assert shown.count("a new page") == 1  # Open day
    assert shown.count("not among what came") == 1  # About
    assert "5 pages are as they were" in shown


def test_it_is_for_editors_of_the_site(client: Client, ice: Page, site: Site) -> None:
    url = sent(client, site, NEW, script=False)
    other = stranger()
    assert other.get(url).status_code == 404
    for name in ("choose", "leave", "take-in"):
        assert other.post(f"{url}{name}/", {}, content_type="application/json").status_code == 404
    assert (
        client.get(f"/{site.slug}/bring-in/{BringIn.objects.earliest('pk').pk}/there/").status_code
        == 404
    )
