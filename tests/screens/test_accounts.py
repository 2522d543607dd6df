"""Accounts: invited by mail, signed in by one step or two, set anew, and left."""

from __future__ import annotations

import base64
import contextlib
import hmac
import re
import struct
import time
from datetime import timedelta
from typing import Any

import pytest
from allauth.mfa.models import Authenticator
from allauth.usersessions.models import UserSession
from axes.models import AccessAttempt
from django.core import mail
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.urls import NoReverseMatch, get_resolver, reverse
from django.utils import timezone

from innerhop.library import doing
from innerhop.library.changes import undo
from innerhop.library.changes.undo import CannotUndo
from innerhop.library.models import Change, Editor, Finding, Invitation, Membership, Site
from innerhop.library.people import inviting, leaving
from innerhop.practice.demo import PASSWORD
from innerhop.screens.accounts import activity, tries
from tests.screens.test_history import marked, member, signed_in

pytestmark = pytest.mark.django_db
ROLE = Membership.Role
GOOD = "paddles-and-pawls-9"
ACCOUNT = {"called": "Jo Barrow", "name": "jo", "password": GOOD}


@pytest.fixture(autouse=True)
def _mails(settings: Any) -> None:
    settings.EDITOR_ADDRESS = "https://hops.example"


def nobody() -> Client:
    return Client(SERVER_NAME="127.0.0.1")


def link_in(letter: Any) -> str:
    (path,) = re.findall(r"https?://[^/\s]+(/-/\S+)", letter.body)
    return str(path)


def invited(client: Client, site: Site, **more: str) -> str:
    """The link that somebody gets who is invited from the screen."""
    sent = {"email": "jo@marrowby.example", "role": "editor", "hands_over": "on", **more}
    assert client.post(f"/{site.slug}/people/", sent).status_code == 302
    return link_in(mail.outbox[-1])


def test_who_is_invited_makes_an_account_and_is_in(
    client: Client, site: Site, editor: Editor
) -> None:
    link = invited(client, site)
    (letter,) = mail.outbox
    assert (letter.to, letter.subject) == (["jo@marrowby.example"],
                                           "Demo asks you to Marrowby Canal Trust")  # fmt: skip
    newcomer = nobody()
    assert "Demo asks you to" in newcomer.get(link).content.decode()
    answer = newcomer.post(link, ACCOUNT)
    assert (answer.status_code, answer["Location"]) == (302, f"/{site.slug}/")
    assert newcomer.get(f"/{site.slug}/").status_code == 200
    jo = Editor.objects.get(username="jo")
    assert (jo.called, jo.email) == ("Jo Barrow", "jo@marrowby.example")
    assert jo.emailaddress_set.get().verified  # type: ignore[attr-defined]
    assert Change.objects.latest("pk").message == "Let Jo Barrow in as an editor"
    assert nobody().get(link).status_code == 410
    assert nobody().post(link, ACCOUNT | {"name": "ju"}).status_code == 410


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ({"name": "demo"}, "Somebody signs in with this name"),
        ({"name": "DEMO"}, "Somebody signs in with this name"),
        ({"name": "jo barrow"}, "valid username"),
        ({"name": ""}, "Type a name"),
        ({"called": "\0"}, "Type a name"),
        ({"called": "x" * 61}, "up to 60"),
        ({"password": "password1"}, "too common"),
        ({"password": "short"}, "too short"),
    ],
)
def test_what_can_be_no_account_says_why(
    client: Client, site: Site, typed: dict[str, str], said: str
) -> None:
    link = invited(client, site)
    answer = nobody().post(link, ACCOUNT | typed)
    assert answer.status_code == 422
    assert said in answer.content.decode()
    assert not Editor.objects.exclude(username="demo").exists()
    assert nobody().post(link, ACCOUNT).status_code == 302, "the link works still"


def test_who_has_an_account_comes_in_with_it(client: Client, site: Site) -> None:
    link = invited(client, site, role="reader")
    jo = Editor.objects.create_user("jo")
    assert signed_in(jo).post(link).status_code == 302
    assert Membership.objects.get(site=site, editor=jo).role == ROLE.READER


def test_an_invitation_lasts_a_week_and_can_be_taken_back(client: Client, site: Site) -> None:
    first, link = invited(client, site), invited(client, site)
    assert nobody().get(first).status_code == 410, "another one was sent"
    found = Invitation.objects.get()
    Invitation.objects.update(made=timezone.now() - timedelta(days=7, minutes=1))
    assert nobody().get(link).status_code == 410
    Invitation.objects.update(made=timezone.now())
    client.post(f"/{site.slug}/people/", {"uninvite": found.pk})
    assert nobody().get(link).status_code == 410


def test_who_asked_and_owns_the_site_no_more_lets_nobody_in(
    client: Client, site: Site, editor: Editor
) -> None:
    link, jo = invited(client, site), member(site, "owner", ROLE.OWNER)
    doing.do(jo, "people", site, {"editor": editor.pk, "role": "editor", "hands_over": True})
    answer = nobody().post(link, ACCOUNT)
    assert answer.status_code == 422
    assert not Editor.objects.filter(username="jo").exists()


@pytest.mark.parametrize("email", ["", "jo", "jo@", "demo@marrowby.example"])
def test_nobody_is_invited_so(client: Client, site: Site, editor: Editor, email: str) -> None:
    editor.email = "demo@marrowby.example"
    editor.save()
    sent = {"email": email, "role": "editor"}
    assert client.post(f"/{site.slug}/people/", sent).status_code == 422
    assert not mail.outbox
    assert signed_in(member(site, "jo")).post(f"/{site.slug}/people/", sent).status_code == 403


def test_a_mail_that_can_not_be_sent_invites_nobody(
    client: Client, site: Site, monkeypatch: pytest.MonkeyPatch
) -> None:
    def refuse(*_args: object) -> None:
        raise ConnectionRefusedError

    monkeypatch.setattr(inviting.EmailMessage, "send", refuse)
    answer = client.post(f"/{site.slug}/people/", {"email": "a@b.example", "role": "editor"})
    assert "so nobody was invited" in answer.content.decode()
    assert not Invitation.objects.exists()


def totp(secret: str, now: float) -> str:
    """RFC 6238, with the usual 30 seconds and 6 digits."""
    counter = struct.pack(">Q", int(now) // 30)
    digest = hmac.digest(base64.b32decode(secret), counter, "sha1")
    at = digest[-1] & 15
    return f"{(struct.unpack('>I', digest[at : at + 4])[0] & 0x7FFFFFFF) % 10**6:06d}"


def test_our_numbers_are_those_of_the_standard() -> None:
    """RFC 6238, appendix B, its first line; of eight digits the last six."""
    assert totp(base64.b32encode(b"12345678901234567890").decode(), 59) == "287082"


def sign_in(client: Client, name: str, password: str) -> Any:
    return client.post("/sign-in/", {"username": name, "password": password})


def test_the_second_step(client: Client, site: Site, editor: Editor) -> None:
    at = "/-/account/2fa/"
    here = nobody()
    sign_in(here, "demo", PASSWORD)
    here.post("/-/account/reauthenticate/", {"password": PASSWORD})
    shown = here.get(f"{at}totp/activate/").content.decode()
    found = re.search(r"The secret: <span[^>]*>([A-Z2-7]+)", shown)
    assert found is not None
    secret = found.group(1)
    here.post(f"{at}totp/activate/", {"code": totp(secret, time.time())})
    kept = Authenticator.objects.get(user=editor, type="totp")
    assert secret not in str(kept.data), "a copy of the database tells nobody"
    codes = here.get(f"{at}recovery-codes/").content.decode()
    code = re.findall(r"<li>([0-9a-z ]{8,})</li>", codes)[0]
    other = nobody()
    assert sign_in(other, "demo", PASSWORD)["Location"].startswith(f"{at}authenticate/")
    assert other.get(f"/{site.slug}/").status_code == 302, "not in yet"
    assert other.post(f"{at}authenticate/", {"code": "000000"}).status_code == 200
    assert other.get(f"/{site.slug}/").status_code == 302
    assert other.post(f"{at}authenticate/", {"code": code}).status_code == 302
    assert other.get(f"/{site.slug}/").status_code == 200
    third = nobody()
    sign_in(third, "demo", PASSWORD)
    third.post(f"{at}authenticate/", {"code": code})
    assert third.get(f"/{site.slug}/").status_code == 302, "each code works once"


def test_a_forgotten_password_is_set_anew(site: Site, editor: Editor) -> None:
    jo = member(site, "jo")
    jo.email = "jo@marrowby.example"
    jo.set_password(GOOD)
    jo.save()
    held = signed_in(jo)
    nobody().post("/-/account/password/reset/", {"email": "jo@marrowby.example"})
    (letter,) = mail.outbox
    visitor = nobody()
    form = visitor.get(link_in(letter), follow=True)
    where = form.redirect_chain[-1][0]
    new = {"password1": "sluice-gates-77", "password2": "sluice-gates-77"}
    assert visitor.post(where, new, follow=True).status_code == 200
    assert sign_in(nobody(), "jo", "sluice-gates-77").status_code == 302
    assert held.get(f"/{site.slug}/").status_code == 302, "who was signed in is out"
    assert "not open any more" in nobody().get(link_in(letter), follow=True).content.decode()


def test_of_addresses_nothing_is_told(site: Site) -> None:
    one = nobody().post("/-/account/password/reset/", {"email": "no@marrowby.example"})
    assert one["Location"] == "/-/account/password/reset/done/"
    assert "There is none" in mail.outbox[0].body


def test_nobody_signs_up(site: Site) -> None:
    assert "by invitation" in nobody().get("/-/account/signup/").content.decode()
    nobody().post("/-/account/signup/", {"username": "x", "password1": GOOD, "password2": GOOD})
    assert Editor.objects.count() == 1


@pytest.mark.parametrize("path", ["", "password/change/", "email/", "2fa/", "sessions/", "leave/"])
def test_the_account_is_for_its_own(client: Client, path: str) -> None:
    assert client.get(f"/-/account/{path}", follow=True).status_code == 200
    assert "/sign-in/" in nobody().get(f"/-/account/{path}")["Location"]


def test_sessions_are_listed_and_ended(site: Site, editor: Editor) -> None:
    here, there = nobody(), nobody()
    for one in (here, there):
        sign_in(one, "demo", PASSWORD)
        one.get(f"/{site.slug}/")
    assert "Sign out everywhere else" in here.get("/-/account/sessions/").content.decode()
    here.post("/-/account/sessions/")
    assert there.get(f"/{site.slug}/").status_code == 302
    assert here.get(f"/{site.slug}/").status_code == 200


def test_when_somebody_was_here_is_noted_once_a_minute(
    client: Client, site: Site, monkeypatch: pytest.MonkeyPatch
) -> None:
    now = [1_000.0]
    monkeypatch.setattr(activity.time, "monotonic", lambda: now[0])

    def noted() -> bool:
        with CaptureQueriesContext(connection) as asked:
            client.get(f"/{site.slug}/")
        return any("usersession" in one["sql"] for one in asked)

    assert [noted(), noted()] == [True, False]
    now[0] += 61
    assert noted()
    assert UserSession.objects.count() == 1


def test_who_leaves_leaves_what_they_did(
    site: Site, editor: Editor, settings: Any, client: Client
) -> None:
    jo = member(site, "jo", ROLE.OWNER)
    jo.set_password(GOOD)
    jo.save()
    found = Finding.objects.filter(site=site)[0]
    aside = doing.do(jo, "set-aside", site, {"findings": [found.pk], "reason": "a label"})
    let_out = doing.do(editor, "people", site, {"editor": member(site, "mo").pk, "role": ""})
    undo.undo(aside)
    change, there = marked(site, jo, "one"), signed_in(jo)
    assert "not the password" in there.post("/-/account/leave/", {"password": "x"}).content.decode()
    assert there.post("/-/account/leave/", {"password": GOOD}).status_code == 302
    assert not Editor.objects.filter(username="jo").exists()
    assert there.get(f"/{site.slug}/").status_code == 302
    change.refresh_from_db()
    assert change.undone is None
    assert "somebody who left" in client.get(f"/{site.slug}/history/").content.decode()
    undo.redo(aside, editor)
    assert site.set_aside.get().editor is None
    Editor.objects.get(username="mo").delete()
    with pytest.raises(CannotUndo, match="has left"):
        undo.undo(let_out)
    settings.DEMO = False
    with pytest.raises(leaving.CannotLeave, match="only owner"):
        leaving.leave(editor)


def test_a_person_is_shut_out_by_nobody_else(site: Site, editor: Editor, settings: Any) -> None:
    """Behind a proxy of our own, an address is the one that it saw (RFC 7239)."""
    settings.ALLAUTH_TRUSTED_PROXY_COUNT = 1

    def try_from(address: str, password: str) -> int:
        sent = {"username": "demo", "password": password}
        seen = f"203.0.113.9, {address}"  # whose first part anybody can write
        return nobody().post("/sign-in/", sent, HTTP_X_FORWARDED_FOR=seen).status_code

    found = [try_from("198.51.100.1", "wrong") for _ in range(6)]
    assert found[-1] == 429
    assert try_from("198.51.100.2", PASSWORD) == 302
    sent = {"username": "demo", "password": "x"}
    shut = nobody().post("/sign-in/", sent, HTTP_X_FORWARDED_FOR="198.51.100.1")
    assert (shut.status_code, shut["Retry-After"]) == (429, "900")


def test_who_goes_through_many_names_is_shut_out_of_all(
    site: Site, settings: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    settings.ALLAUTH_TRUSTED_PROXY_COUNT = 1
    monkeypatch.setattr(tries, "MOST", 4)

    def try_from(address: str, name: str, password: str) -> int:
        sent = {"username": name, "password": password}
        return nobody().post("/sign-in/", sent, HTTP_X_FORWARDED_FOR=address).status_code

    found = [try_from("198.51.100.7", f"name-{n}", "summer-2026") for n in range(5)]
    assert (found[0], found[-1]) == (200, 429)
    assert try_from("198.51.100.7", "demo", PASSWORD) == 429
    assert try_from("198.51.100.8", "demo", PASSWORD) == 302
    old = timezone.now() - timedelta(minutes=16)
    AccessAttempt.objects.update(attempt_time=old)
    assert try_from("198.51.100.7", "demo", PASSWORD) == 302


def ways() -> list[str]:
    """The addresses of the package that keeps accounts, which ask for nothing in them."""
    names = [name for name in get_resolver().reverse_dict if isinstance(name, str)
             and name.startswith(("account_", "mfa_", "usersessions_"))]  # fmt: skip
    found = []
    for name in names:
        with contextlib.suppress(NoReverseMatch):
            found.append(reverse(name))
    return sorted(set(found))


def test_every_way_has_its_screen(site: Site, editor: Editor) -> None:
    assert len(ways()) > 12
    here = nobody()
    sign_in(here, "demo", PASSWORD)
    here.post("/-/account/reauthenticate/", {"password": PASSWORD})
    for client in (nobody(), here):
        for url in sorted(ways(), key=lambda one: "logout" in one):
            for answer in (client.get(url), client.post(url)):
                assert answer.status_code in (200, 302, 403, 404, 405), url


def test_an_address_is_known_to_be_ones_own_by_its_mail(site: Site, editor: Editor) -> None:
    here = nobody()
    sign_in(here, "demo", PASSWORD)
    here.post("/-/account/reauthenticate/", {"password": PASSWORD})
    here.post("/-/account/email/", {"action_add": "", "email": "demo@marrowby.example"})
    (letter,) = mail.outbox
    shown = here.get(link_in(letter)).content.decode()
    assert "demo@marrowby.example" in shown
    here.post(link_in(letter))
    found = editor.emailaddress_set.get()  # type: ignore[attr-defined]
    assert found.verified
