"""The application on a real server, the demo site in it, and hands for the sheet."""

from __future__ import annotations

import time
from collections.abc import Iterator
from dataclasses import dataclass

import pytest
from django.conf import settings
from django.db import connection
from django.test import Client
from playwright.sync_api import Frame, Locator, Page, expect

from innerhop.library.bring_in import bring_ins
from innerhop.library.models import Editor, Site
from innerhop.practice import demo
from innerhop.practice.serving import serve
from tests import demo_again

BACKEND = "innerhop.library.access.Backend"


@pytest.fixture(scope="session")
def running(django_db_setup: None) -> Iterator[str]:
    """The application under gunicorn, as bin/start runs it, on the tests' database."""
    with serve() as url:
        yield url


@pytest.fixture
def server(running: str, transactional_db: None) -> Iterator[str]:
    """The editor's address of a running server; pages are shown under `localhost`."""
    yield running
    _wait_until_idle()


def _wait_until_idle() -> None:
    """Until the server has done what a closed tab still asked of it: its tables are emptied
    next, and a late request would wait for them while they wait for it."""
    idle = 0
    for _ in range(600):
        with connection.cursor() as cursor:
            cursor.execute(
                "SELECT count(*) FROM pg_stat_activity WHERE datname = current_database() "
                "AND pid <> pg_backend_pid() AND state <> 'idle'"
            )
            idle = 0 if cursor.fetchone()[0] else idle + 1
        if idle == 3:
            return
        time.sleep(0.04)


@pytest.fixture
def site(server: str) -> Site:
    return Site.objects.first() or demo_again.load()


def until(frame: Frame, holds: str) -> None:
    """Wait until something holds in a page. Playwright's own way of waiting is by `eval`, which
    the policy of the sheet forbids as soon as it doesn't hold at once."""
    end = time.monotonic() + 30
    while not frame.evaluate(holds):
        assert time.monotonic() < end, holds
        time.sleep(0.05)


def _range(words: str, at_end: bool) -> str:
    """Script for the range of the first or last letter of words in the sheet."""
    return (
        "const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);"
        f"const words = {words!r}; let at = -1;"
        "while (at < 0 && walk.nextNode()) at = walk.currentNode.data.indexOf(words);"
        f"if ({str(at_end).lower()}) at += words.length - 1;"
        "const range = document.createRange();"
        "range.setStart(walk.currentNode, at); range.setEnd(walk.currentNode, at + 1);"
    )


def _edge(x: str) -> str:
    return (
        f"const b = range.getBoundingClientRect();return {{ x: b.{x}, y: (b.top + b.bottom) / 2 }}"
    )


@dataclass
class Desk:
    """A signed-in editor in front of the page screen."""

    tab: Page
    server: str
    site: Site

    def home(self) -> Page:
        """The screen of all pages, where someone is after signing in."""
        self.tab.goto(f"{self.server}/marrowby-canal-trust/")
        return self.tab

    def open(self, path: str) -> None:
        """Open a page's screen and wait until its sheet has been measured."""
        page = self.site.pages.get(path=path)
        self.tab.goto(self.server + page.get_absolute_url())
        self.wait_for_sheet()

    def wait_for_sheet(self) -> None:
        self.tab.locator("[data-reading]").wait_for(state="hidden")
        self.sheet.locator("inner-hop-marks").wait_for(state="attached")
        self.sheet.wait_for_function(
            "document.readyState === 'complete' && [...document.images].every(i => i.complete)"
        )

    @property
    def sheet(self) -> Frame:
        frame = self.tab.wait_for_selector("iframe", state="attached")
        assert frame is not None
        inner = frame.content_frame()
        assert inner is not None
        return inner

    def place_of(self, find: str) -> tuple[float, float, float]:
        """Where something in the sheet stands on the screen, and the sheet's scale.

        find: a function's body in the sheet that returns a DOMRect.
        """
        seen, now = None, self._place(find)
        for _ in range(20):  # until late fonts and pictures have moved it for the last time
            if seen == now:
                break
            self.tab.wait_for_timeout(60)
            seen, now = now, self._place(find)
        return now

    def _place(self, find: str) -> tuple[float, float, float]:
        rect = self.sheet.evaluate(f"() => {{ {find} }}")
        box = self.tab.locator("iframe").bounding_box()
        assert box is not None
        scale = box["width"] / self.tab.evaluate("document.querySelector('iframe').offsetWidth")
        return box["x"] + scale * rect["x"], box["y"] + scale * rect["y"], scale

    def click(self, selector: str) -> None:
        """Click an element in the sheet with the mouse."""
        x, y, scale = self.place_of(
            f"const e = document.querySelector({selector!r});"
            "e.scrollIntoView({ block: 'center', behavior: 'instant' });"
            "return e.getBoundingClientRect().toJSON()"
        )
        self.tab.mouse.click(x + 12 * scale, y + 12 * scale)

    def select(self, words: str, until: str = "") -> None:
        """Drag over words in the sheet with the mouse, as a reader selects them."""
        scroll = "scrollIntoView({ block: 'center', behavior: 'instant' });"
        self.place_of(f"{_range(words, at_end=False)} range.startContainer.parentElement.{scroll}"
                      "return range.getBoundingClientRect().toJSON()")  # fmt: skip
        self.tab.wait_for_timeout(120)
        x, y, _ = self.place_of(_range(words, at_end=False) + _edge("left + 0.5"))
        to_x, to_y, _ = self.place_of(_range(until or words, at_end=True) + _edge("right - 0.5"))
        self.tab.mouse.move(x, y)
        self.tab.mouse.down()
        self.tab.mouse.move((x + to_x) / 2, (y + to_y) / 2)
        self.tab.mouse.move(to_x, to_y)
        self.tab.mouse.up()

    @property
    def side(self) -> Locator:
        """The desk, at the side of the screen."""
        return self.tab.get_by_role("region", name="Desk")

    def shown(self, text: str) -> Locator:
        """Words on the desk that can be seen: several of its forms share some."""
        return self.side.get_by_text(text).locator("visible=true").first

    def press(self, name: str) -> None:
        """Press a button on the desk, once what it would do has been looked at."""
        button = self.side.get_by_role("button", name=name, exact=True)
        expect(button).to_be_enabled()
        self.tab.wait_for_timeout(150)
        button.click()

    def settled(self) -> None:
        """Wait until nothing that was asked of the server is on its way any more, and
        what came of it is shown."""
        after = "new Promise((done) => requestAnimationFrame(() => setTimeout(done, 60)))"
        for _ in range(3):  # what one answer asks for next, too
            self.tab.evaluate(f"() => {after}")
            expect(self.tab.locator("body")).not_to_have_attribute("data-asking", "")

    def hears(self, words: str) -> None:
        """Wait for the line that says what was done."""
        message = self.tab.locator("[x-ref=message]").get_by_text(words)
        expect(message).to_be_visible()

    def paste(self, address: str, markup: str) -> None:
        """Have a whole document brought in as one that was pasted, and open its screen."""
        self.bring(address, markup)
        self.open(address)

    def bring(self, address: str, markup: str) -> None:
        """The same without its screen."""
        piece = bring_ins.NewFile("pasted", markup.encode(), address=address)
        for _ in bring_ins.bring_in(self.site, self.site.editors.get(), [piece], 1):
            pass

    def markup(self, path: str) -> str:
        """The page's text as it is kept now."""
        page = self.site.pages.get(path=path)
        return bytes(page.revisions.get(number=page.revision).content).decode()


@pytest.fixture
def desk(server: str, site: Site, tab: Page) -> Desk:
    # In this order, so that the tab closes before the database is emptied. How someone signs
    # in is tried where it matters; here the browser is given the cookie of one who has.
    client = Client()
    client.force_login(Editor.objects.get(username=demo.EDITOR), backend=BACKEND)
    session = client.cookies[settings.SESSION_COOKIE_NAME].value
    cookie = {"name": settings.SESSION_COOKIE_NAME, "value": session, "url": server}
    tab.context.add_cookies([cookie])  # type: ignore[list-item]
    return Desk(tab, server, site)


@pytest.fixture
def unmeasured(desk: Desk) -> None:
    """Nothing is measured in the background meanwhile, which would find more and more."""
    nothing = {"pages": [], "widths": []}
    desk.tab.route("**/unmeasured/*", lambda route: route.fulfill(json=nothing))
