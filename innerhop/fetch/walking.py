"""Hops of a live site followed in a browser, as its readers do, at several widths of the window;
on a copy of the page where the site doesn't let a browser in."""

from __future__ import annotations

import contextlib
import time
from collections import defaultdict
from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import TYPE_CHECKING, Any, NamedTuple
from urllib.parse import urlsplit

from innerhop.core.widths import Width
from innerhop.fetch import browser

if TYPE_CHECKING:
    from playwright.sync_api import BrowserContext, Route
    from playwright.sync_api import Page as Tab

_SECONDS = 20  # for a page to come
_PAUSE, _MOST = 0.04, 150  # seconds between two looks; looks
_LIES = "[Math.round(scrollY), document.documentElement.scrollHeight]"
# At the top, with no fragment.
_AS_JUST_COME = """() => {
  history.replaceState(history.state, '', location.pathname + location.search);
  scrollTo({ top: 0, behavior: 'instant' });
}"""
# A page may keep messages to itself: then nobody knows how it lies.
LAYOUT_ASKED = """ids => new Promise(done => {
  setTimeout(() => done(null), 10_000);
  addEventListener('message', ({ data }) => data?.innerHop === 'told layout' && done(data.layout));
  postMessage({ innerHop: 'layout', marks: ids }, '*');
})"""


class HopToWalk(NamedTuple):
    """A hop. href: as it is written; nth: of the links of its page that have it. end: the whole
    address of the page that it leads to. id: what it asks for there, "" for the top."""

    href: str
    nth: int
    end: str
    id: str


class Tour(NamedTuple):
    """The hops of a page that are followed."""

    address: str
    steps: Sequence[HopToWalk]


class FetchedCopy(NamedTuple):
    """What an address gave when it was fetched."""

    content: bytes
    kind: str  # its media type, with its encoding


class Tools(NamedTuple):
    """measuring, following: our own scripts. copy_of: what an address gave when it was fetched,
    None where that isn't known. pause: seconds between two pages."""

    measuring: str
    following: str
    copy_of: Callable[[str], FetchedCopy | None]
    pause: float = 0


class Walked(NamedTuple):
    """What became of a reader who followed a hop. at: the page, and which of its hops. told: what
    was seen, as the scripts tell it; "away" where it led to another host. laid: how the page lies
    on which the hop ends, None where that isn't known. is_copy: whether it was walked on a copy."""

    address: str
    at: int
    width: int
    told: Mapping[str, Any]
    laid: Mapping[str, Any] | None
    is_copy: bool


def walked(
    tours: Sequence[Tour], sizes: Sequence[Width], agent: str, let_through: Mapping[str, str],
    tools: Tools,
) -> Iterator[Walked]:  # fmt: skip
    """Every hop at every width. Raises browser.NoBrowser, and NotPublic where the host is none to
    be gone to."""
    wanted: dict[str, set[str]] = defaultdict(set)
    for tour in tours:
        for step in tour.steps:
            wanted[step.end].add(step.id)
    laid: Laid = {}
    with browser.at_host(tours[0].address, let_through) as chromium:
        for tour in tours:
            for is_copy in (False, True):
                given = _copies(tools) if is_copy else (lambda _route: False)
                with chromium.context(agent, given) as context:
                    walker = Walker(context, tools, wanted, laid)
                    if is_copy or walker.is_let_in(tour.address):
                        yield from walker.walk(tour, sizes, is_copy)
                        break


# How pages lie, by their address and the width, and whether they are copies.
Laid = dict[tuple[str, int, bool], Mapping[str, Any] | None]


def _copies(tools: Tools) -> Callable[[Route], bool]:
    def given(route: Route) -> bool:
        found = tools.copy_of(route.request.url.partition("#")[0])
        if found is None:
            return False
        route.fulfill(body=found.content, content_type=found.kind)
        return True

    return given


class Walker:
    """A reader in a window. wanted: by the address of a page, the IDs that hops ask for there."""

    def __init__(
        self, context: BrowserContext, tools: Tools, wanted: Mapping[str, set[str]], laid: Laid
    ) -> None:
        self.context, self.tools, self.wanted, self.laid = context, tools, wanted, laid
        self.tab = self._new_tab()

    def _new_tab(self) -> Tab:
        tab = self.context.new_page()
        tab.set_default_timeout(_SECONDS * 1_000)
        return tab

    def is_let_in(self, address: str) -> bool:
        """Whether the site gives a browser that page."""
        from playwright.sync_api import Error  # noqa: PLC0415  (not always installed)

        try:
            answer = self.tab.goto(address, wait_until="load")
        except Error:
            return False
        same = _page_of(self.tab.url) == _page_of(address)
        return answer is not None and answer.ok and same

    def walk(self, tour: Tour, sizes: Sequence[Width], is_copy: bool) -> Iterator[Walked]:
        """The hops of one page. Those that lead to other pages last, since they leave it."""
        leaves = [step.end != tour.address for step in tour.steps]
        for size in sizes:
            self.tab.set_viewport_size({"width": size.width, "height": size.view})
            self._load(tour.address)
            for at in sorted(range(len(leaves)), key=leaves.__getitem__):
                told = self._followed(tour.address, tour.steps[at])
                has_arrived = "trouble" not in told and not told.get("away")
                laid = self._lies(tour.steps[at].end, size, is_copy) if has_arrived else None
                yield Walked(tour.address, at, size.width, told, laid, is_copy)

    def _load(self, address: str) -> None:
        from playwright.sync_api import Error  # noqa: PLC0415  (not always installed)

        time.sleep(self.tools.pause)
        with contextlib.suppress(Error):  # what doesn't come is seen by who follows
            self.tab.goto(address, wait_until="load")
        until_still(self.tab)

    def _followed(self, address: str, step: HopToWalk) -> dict[str, Any]:
        from playwright.sync_api import Error  # noqa: PLC0415  (not always installed)

        if _page_of(self.tab.url) != _page_of(address):
            self._load(address)
        try:
            self.tab.evaluate(_AS_JUST_COME)
            hop = {"href": step.href, "nth": step.nth}
            told = self._ask("hop => innerHopFollowing.follow(window, hop)", hop)
            if told is None:
                return {"trouble": "The link is not on the page that visitors get."}
            until_still(self.tab)
            if urlsplit(self.tab.url).netloc != urlsplit(address).netloc:
                return {**told, "away": True}
            return {**told, **self._ask("id => innerHopFollowing.look(window, id)", step.id)}
        except Error as problem:
            return {"trouble": f"The page did not let it be followed: {_said(problem)}"}

    def _lies(self, address: str, size: Width, is_copy: bool) -> Mapping[str, Any] | None:
        """How the page lies that a hop leads to: measured once, in a tab of its own."""
        from playwright.sync_api import Error  # noqa: PLC0415  (not always installed)

        key = (address, size.width, is_copy)
        if key not in self.laid:
            tab = self._new_tab()
            try:
                tab.set_viewport_size({"width": size.width, "height": size.view})
                tab.goto(address, wait_until="load")
                until_still(tab)
                tab.evaluate(self.tools.measuring)
                self.laid[key] = tab.evaluate(LAYOUT_ASKED, sorted(self.wanted[address] - {""}))
            except Error:
                self.laid[key] = None
            finally:
                tab.close()
        return self.laid[key]

    def _ask(self, what: str, sent: object) -> Any:
        self.tab.evaluate(self.tools.following)
        return self.tab.evaluate(what, sent)


def until_still(tab: Tab, looks: int = 4) -> None:
    """Wait until nothing has moved for so many looks in a row."""
    from playwright.sync_api import Error  # noqa: PLC0415  (not always installed)

    before, still = "", 0
    for _ in range(_MOST):
        time.sleep(_PAUSE)
        now = ""
        with contextlib.suppress(Error):  # another page is just coming
            tab.wait_for_load_state("load")
            now = f"{tab.url} {tab.evaluate(_LIES)}"
        still = still + 1 if now and now == before else 0
        before = now
        if still == looks:
            return


def _page_of(address: str) -> str:
    return address.partition("#")[0]


def _said(problem: Exception) -> str:
    return str(problem).partition("\n")[0][:200]
