"""Pages measured and hops walked by Chromium from the command line, in visitors' views: what
the rehearsal does in an editor's own browser. Playwright drives it where it is installed."""

from __future__ import annotations

import contextlib
import os
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any
from urllib.parse import urlsplit

from django.conf import settings

from innerhop.core.widths import Width
from innerhop.fetch import browser
from innerhop.fetch.walking import LAYOUT_ASKED, until_still
from innerhop.library import rehearsal
from innerhop.library.models import Page, Site, Walk
from innerhop.library.seek.landings import LandingRow
from innerhop.practice.serving import serve
from innerhop.visitor import passes

if TYPE_CHECKING:
    from playwright.sync_api import Page as Tab

_BUILT = Path(settings.BASE_DIR) / "static" / "dist"
_SHEET, _FOLLOWING = _BUILT / "sheet.js", _BUILT / "following.js"
_LOOK = "id => innerHopFollowing.look(window, id)"
_STILL = 5  # looks in a row at which nothing moved
_LOADED = 3  # looks at a page that has just been loaded, whose scripts may add to it


@contextlib.contextmanager
def visiting(site: Site) -> Iterator[Visitor]:
    """A visitor of a site in Chromium, the application served beside it for as long. Raises
    browser.NoBrowser."""
    browser.require()
    from playwright.sync_api import sync_playwright  # noqa: PLC0415  (not always installed)

    # Playwright runs an event loop of its own in this thread; the ORM is not used from it.
    os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
    host = site.visitor_host
    with serve() as url, sync_playwright() as playwright:
        chromium = playwright.chromium.launch(
            executable_path=browser.CHROMIUM,
            args=["--no-sandbox", "--disable-gpu", f"--host-resolver-rules=MAP {host} 127.0.0.1"],
        )
        tab = chromium.new_page()
        root = f"http://{host}:{urlsplit(url).port}"
        tab.goto(f"{root}/-/enter?pass={passes.to_enter(site.pk)}&to=/")
        yield Visitor(tab, root)
        chromium.close()


class Visitor:
    """A browser that is let in. root: the site's under its visitor host."""

    def __init__(self, tab: Tab, root: str) -> None:
        self.tab = tab
        self.root = root

    def _open(self, page: Page, width: int, height: int) -> None:
        self.tab.set_viewport_size({"width": width, "height": height})
        # An address without a hash is always loaded anew (HTML Standard, "navigate").
        self.tab.goto(f"{self.root}{page.path}", wait_until="load")
        until_still(self.tab, _LOADED)

    def measure(self, page: Page, screens: Sequence[Width]) -> Iterator[Width]:
        """Measure a page at these widths, with its own scripts running; yields each when it is
        kept. A page without scripts lies at any width as if it had been loaded there (`isSteady`
        in our script), and is loaded once. Raises rehearsal.NoLayout."""
        marks = list(page.marks.values_list("value", flat=True).distinct())
        is_open = False
        for one in screens:
            if is_open:
                self.tab.set_viewport_size({"width": one.width, "height": one.view})
            else:
                self._open(page, one.width, one.view)
                # Put in by the browser itself, so that no policy of the page's forbids it.
                self.tab.evaluate(_SHEET.read_text())
            told: dict[str, Any] = self.tab.evaluate(LAYOUT_ASKED, marks) or {}
            is_open = bool(told.get("steady"))
            rehearsal.keep_layout(page, page.revision, one.width, told)
            yield one

    def walk(self, row: LandingRow, nth: int, id_: str, width: int, height: int) -> Walk:
        """Follow a hop at one width, and keep what became of its reader."""
        link = row.hop.link
        self._open(link.page, width, height)
        hop = {"href": link.href, "nth": nth}
        found: dict[str, Any] = {"trouble": "The link is not on the page that visitors get."}
        told = self._ask("hop => innerHopFollowing.follow(window, hop)", hop)
        if told is not None:
            until_still(self.tab, _STILL)
            is_away = not self.tab.url.startswith(self.root)
            seen = {"away": True} if is_away else self._ask(_LOOK, id_)
            found = {**told, **seen}
        return rehearsal.keep_walk(link.page, link.page.revision, link.number, width, found)

    def _ask(self, what: str, sent: object) -> Any:
        """What our script for following hops answers. It is put in anew for each page."""
        self.tab.evaluate(_FOLLOWING.read_text())
        return self.tab.evaluate(what, sent)


def in_words(walks: Sequence[Walk]) -> str:
    """How a rehearsal went, in one line."""
    off = sum(not one.agrees for one in walks)
    return f"{len(walks)} walked, {len(walks) - off} as computed, {off} not"
