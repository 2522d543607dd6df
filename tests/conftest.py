"""What tests share: the demo site, editors, and a real browser on a real server."""

from __future__ import annotations

import os
import re
from collections.abc import Iterator, Sequence
from pathlib import Path

import pytest
from django.db.backends.postgresql.operations import DatabaseOperations
from django.test import Client
from hypothesis import settings

# Playwright runs an event loop of its own in this thread; the ORM is not used from it.
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

from playwright.sync_api import Browser, ConsoleMessage, Page, expect, sync_playwright
from pytest_django.plugin import DjangoDbBlocker

from innerhop.library.models import Editor, Site
from innerhop.practice import demo
from tests import demo_again

# A slow machine is no mistake in what is tried.
settings.register_profile("any machine", deadline=None)
settings.load_profile("any machine")
expect.set_options(timeout=30_000)

# Debian's Chromium; where its build without a window of its own is there, that one, which
# opens a tab in half the time.
_SHELL = Path("/usr/bin/chromium-headless-shell")
EXECUTABLE = str(_SHELL) if _SHELL.exists() else "/usr/bin/chromium"
CHROMIUM = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


def _deletes(
    operations: DatabaseOperations, _style: object, tables: Sequence[str], **_: object
) -> list[str]:
    """What empties small tables: many times as fast as TRUNCATE, which makes a new file for
    each. References are looked at when all are empty, at the end of the transaction."""
    return [f"DELETE FROM {operations.quote_name(table)};" for table in tables]


# What takes minutes and needs no database of ours begins first, so that no worker is left with
# it when all else is done.
_LONG = ("tests/judging/test_floor.py", "tests/endurance/")


@pytest.hookimpl(trylast=True)
def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """The longest first; else as they are."""
    items.sort(key=lambda one: not one.nodeid.startswith(_LONG))


@pytest.fixture(scope="session")
def django_db_setup(django_db_setup: None, django_db_blocker: DjangoDbBlocker) -> None:
    """The demo site is loaded once; each test's transaction begins with it. Tests
    without one leave an empty database behind, and run after all the others."""
    DatabaseOperations.sql_flush = _deletes
    with django_db_blocker.unblock():
        demo.load()
        demo_again.keep()


@pytest.fixture
def site(db: None) -> Site:
    """The demo site, as a first start loads it."""
    return Site.objects.first() or demo_again.load()


@pytest.fixture
def editor(site: Site) -> Editor:
    """The demo site's editor."""
    return Editor.objects.get(username=demo.EDITOR)


@pytest.fixture
def client(editor: Editor) -> Client:
    """A browser without scripts in which the demo editor is signed in."""
    client = Client(SERVER_NAME="127.0.0.1")
    client.force_login(editor, backend="innerhop.library.access.Backend")
    return client


@pytest.fixture(scope="session")
def chromium() -> Iterator[Browser]:
    """Debian's Chromium."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=EXECUTABLE, args=CHROMIUM)
        yield browser
        browser.close()


def _matters(line: ConsoleMessage) -> bool:
    """An error, but for the icon that a browser asks every site for: a visitor's has none."""
    return line.type == "error" and not line.location["url"].endswith("/favicon.ico")


def _line(line: ConsoleMessage) -> str:
    return f"{line.text} {line.location['url']}"


@pytest.fixture
def tab(chromium: Browser, request: pytest.FixtureRequest) -> Iterator[Page]:
    """A fresh tab of 1280 × 800. Any error on its console fails the test, unless
    the test is marked `harmful`: then the browser is meant to complain."""
    context = chromium.new_context(viewport={"width": 1280, "height": 800})
    context.grant_permissions(["clipboard-read", "clipboard-write"])
    context.set_default_timeout(60_000)
    page = context.new_page()
    problems: list[str] = []
    page.on("pageerror", lambda error: problems.append(str(error)))
    page.on("console", lambda line: problems.append(_line(line)) if _matters(line) else None)
    yield page
    context.close()
    if request.node.get_closest_marker("harmful") is None:
        assert [one for one in problems if not _REFUSED.match(one)] == []


# A refusal in plain words shows in the console too, by these names (RFC 9110, 15.5).
_REFUSED = re.compile(
    r"Failed to load resource: the server responded with a status of "
    r"(409 \(Conflict\)|422 \(Unprocessable (Content|Entity)\)) "
    r"http://127\.0\.0\.1:\d+/[\w-]+/(\d+/(act|ask)/[\w-]+|\d+/(undo|redo)|bring-in/\w+|findings/set-aside)/$"
)
