"""The browser that is driven from here, where it is installed: Debian's Chromium, by Playwright.
It goes to one host alone, at the address that was judged, and to nothing else, whatever a page
asks for."""

from __future__ import annotations

import contextlib
import importlib.util
import os
import socket
from collections.abc import Callable, Iterator, Mapping
from pathlib import Path
from typing import TYPE_CHECKING
from urllib.parse import urlsplit

from innerhop.core.addresses import public
from innerhop.core.addresses.public import NotPublic
from innerhop.core.refusals import Refusal

if TYPE_CHECKING:
    from playwright.sync_api import Browser, BrowserContext, Route

CHROMIUM = "/usr/bin/chromium"


class NoBrowser(Refusal):
    """No browser can be driven from here."""


def is_there() -> bool:
    """Whether a browser can be driven from here."""
    return Path(CHROMIUM).exists() and importlib.util.find_spec("playwright") is not None


def require() -> None:
    """Raise NoBrowser where none can."""
    if not is_there():
        raise NoBrowser(
            "Chromium or Playwright is missing where Inner Hop runs. Whoever runs it installs "
            "them:  sudo apt-get install chromium; pip install playwright"
        )


class AtHost:
    """A browser for one host."""

    def __init__(self, chromium: Browser, netloc: str) -> None:
        self.netloc = netloc
        self._chromium = chromium

    @contextlib.contextmanager
    def context(
        self, agent: str, given: Callable[[Route], bool] = lambda _route: False
    ) -> Iterator[BrowserContext]:
        """A context without anything from before. given: answers a request by itself, or tells
        that it does not."""
        context = self._chromium.new_context(user_agent=agent, service_workers="block")

        def answer(route: Route) -> None:
            if not given(route):
                self._let(route)

        context.route("**/*", answer)
        try:
            yield context
        finally:
            context.close()

    def _let(self, route: Route) -> None:
        """Let what is the host's own through."""
        if urlsplit(route.request.url).netloc == self.netloc:
            route.continue_()
        else:
            route.abort()


@contextlib.contextmanager
def at_host(address: str, let_through: Mapping[str, str]) -> Iterator[AtHost]:
    """A browser for the host of an address. let_through: as `Asked` has it. Raises NoBrowser, and
    NotPublic where the host is none to be gone to."""
    require()
    from playwright.sync_api import sync_playwright  # noqa: PLC0415  (not always installed)

    parts = urlsplit(address)
    judged = _judged(address, let_through)
    rules = f"MAP {parts.hostname} {judged}, MAP * ~NOTFOUND"
    with sync_playwright() as playwright:
        chromium = playwright.chromium.launch(
            executable_path=CHROMIUM,
            chromium_sandbox=os.geteuid() != 0,  # which has none for root
            args=["--disable-gpu", "--disable-quic", f"--host-resolver-rules={rules}"],
        )
        with contextlib.closing(chromium):
            yield AtHost(chromium, parts.netloc)


def _judged(address: str, let_through: Mapping[str, str]) -> str:
    """The IP address to go to for a host. Raises NotPublic."""
    public.require(address, frozenset(let_through))
    parts = urlsplit(address)
    if parts.netloc in let_through:
        return let_through[parts.netloc]
    try:
        rows = socket.getaddrinfo(parts.hostname, parts.port or 443, type=socket.SOCK_STREAM)
    except OSError:
        raise NotPublic(f"no such name as {parts.hostname} can be found") from None
    found = [str(row[4][0]) for row in rows]
    inside = [one for one in found if not public.is_public(one)]
    if inside:
        raise NotPublic(f"{parts.hostname} stands for {inside[0]}, which is inside a network")
    return f"[{found[0]}]" if ":" in found[0] else found[0]
