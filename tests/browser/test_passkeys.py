"""Passkeys, made and used by Chromium's own authenticator for tests.

https://www.w3.org/TR/webauthn-3/#sctn-automation
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, expect

from innerhop.library.models import Editor
from innerhop.practice.demo import PASSWORD
from innerhop.practice.serving import serve_process
from tests.browser.test_every_state import axe

DEVICE = {
    "protocol": "ctap2", "transport": "internal", "hasResidentKey": True,
    "hasUserVerification": True, "isUserVerified": True, "automaticPresenceSimulation": True,
}  # fmt: skip


@pytest.fixture
def there(transactional_db: None) -> Iterator[str]:
    """The screens under a name, which passkeys belong to; 127.0.0.1 is none."""
    Editor.objects.create_user("jo", password=PASSWORD)
    own = {"EDITOR_HOSTS": "127.0.0.1,localhost", "VISITOR_HOSTS": "*.pages.localhost"}
    with serve_process(1, own) as (url, _):
        yield url.replace("127.0.0.1", "localhost")


@pytest.fixture
def at(chromium: Browser, there: str) -> Iterator[Page]:
    """A browser with such a device."""
    context = chromium.new_context(base_url=there)
    page = context.new_page()
    device: Any = context.new_cdp_session(page)
    device.send("WebAuthn.enable")
    device.send("WebAuthn.addVirtualAuthenticator", {"options": DEVICE})
    yield page
    context.close()


def sign_in(at: Page, host: str = "") -> None:
    at.goto(f"{host}/sign-in/")
    at.fill("[name=username]", "jo")
    at.fill("[name=password]", PASSWORD)
    at.press("[name=password]", "Enter")


def say_again_who_it_is(at: Page) -> None:
    expect(at.locator("h1")).to_have_text("Is it you?")
    at.fill("[name=password]", PASSWORD)
    at.press("[name=password]", "Enter")


def sign_out(at: Page) -> None:
    at.context.clear_cookies()


def test_a_passkey_is_the_second_step(at: Page) -> None:
    sign_in(at)
    at.goto("/-/account/2fa/")
    assert axe(at) == []
    at.click("text=Add one")
    say_again_who_it_is(at)
    expect(at.locator("[name=name]")).to_have_value("Passkey")
    at.fill("[name=name]", "The office computer")
    assert axe(at) == []
    at.click("text=Make it")
    expect(at.locator("h1")).to_contain_text("lost")  # codes for when it is
    sign_out(at)

    sign_in(at)
    expect(at.locator("h1")).to_have_text("The second step")
    assert axe(at) == []
    at.click("text=Use a passkey")
    expect(at).to_have_url(f"{at.url.split('/-/')[0].rstrip('/')}/")
    at.goto("/-/account/2fa/webauthn/")
    expect(at.locator("li b")).to_have_text("The office computer")
    assert axe(at) == []
    at.click("text=Call it otherwise")
    at.click("text=With a passkey")
    assert axe(at) == []
    at.click("text=Use a passkey")
    at.fill("[name=name]", "The lock-keeper's phone")
    at.click("text=Save")
    expect(at.locator("li b")).to_have_text("The lock-keeper's phone")
    at.click("text=Take it out")
    assert axe(at) == []
    at.click("button:has-text('Take it out')")
    expect(at.locator("text=You have none.")).to_be_visible()
    sign_out(at)

    sign_in(at)
    expect(at.locator("h1")).not_to_have_text("The second step")


def test_an_address_that_is_a_number_is_said_to_make_none(at: Page, there: str) -> None:
    sign_in(at, there.replace("localhost", "127.0.0.1"))
    at.goto(f"{there.replace('localhost', '127.0.0.1')}/-/account/2fa/webauthn/add/")
    say_again_who_it_is(at)
    at.click("text=Make it")
    expect(at.locator("[role=alert]")).to_contain_text("this address is a number")


def test_what_comes_of_nothing_is_said(at: Page) -> None:
    sign_in(at)
    at.goto("/-/account/2fa/webauthn/add/")
    say_again_who_it_is(at)
    refuses = "async () => { throw new DOMException('', 'NotAllowedError') }"
    at.evaluate(f"() => {{ navigator.credentials.create = {refuses} }}")
    at.click("text=Make it")
    expect(at.locator("[role=alert]")).to_contain_text("Nothing came of it")
    at.evaluate("delete PublicKeyCredential.parseCreationOptionsFromJSON")
    at.click("text=Make it")
    expect(at.locator("[role=alert]")).to_contain_text("knows no passkeys")
