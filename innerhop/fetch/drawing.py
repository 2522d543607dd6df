"""Pages that only their scripts draw, as Chromium has them once they are drawn. It goes to one host
alone, at the address that was judged, and to nothing else, whatever a page asks for."""

from __future__ import annotations

import contextlib
import os
import socket
from collections.abc import Iterator, Mapping, Sequence
from typing import NamedTuple
from urllib.parse import urlsplit

from innerhop.core.addresses import public
from innerhop.core.addresses.public import NotPublic
from innerhop.fetch import browser
from innerhop.fetch.asked import LARGEST_PAGE, MEGABYTE

_SECONDS = 20  # for a page to be drawn
_STILL = 1_500  # ms in which nothing more is drawn
# Written out as it stands now; what scripts have put in has no text of its own otherwise.
_WRITTEN = """() => new Promise(done => {
  const write = () => done('<!doctype html>\\n' + document.documentElement.outerHTML);
  let timer = setTimeout(write, STILL);
  new MutationObserver(() => { clearTimeout(timer); timer = setTimeout(write, STILL); })
    .observe(document, { subtree: true, childList: true, characterData: true });
  setTimeout(write, MOST);
})""".replace("STILL", str(_STILL)).replace("MOST", str(_SECONDS * 1_000))


_AWAY = "it leads away from the site"


class Drawn(NamedTuple):
    """A page as it is drawn. text: its markup, "" where it wasn't drawn; why not."""

    address: str
    text: str
    why: str = ""


def drawn(addresses: Sequence[str], agent: str, let_through: Mapping[str, str]) -> Iterator[Drawn]:
    """Pages of one host, as they are drawn, one after the other. let_through: as `Asked` has it.
    Raises browser.NoBrowser, and NotPublic where the host is none to be gone to."""
    browser.require()
    from playwright.sync_api import Error, sync_playwright  # noqa: PLC0415  (not always installed)

    parts = urlsplit(addresses[0])
    judged = _judged(addresses[0], let_through)
    rules = f"MAP {parts.hostname} {judged}, MAP * ~NOTFOUND"
    with sync_playwright() as playwright:
        chromium = playwright.chromium.launch(
            executable_path=browser.CHROMIUM,
            chromium_sandbox=os.geteuid() != 0,  # which has none for root
            args=["--disable-gpu", "--disable-quic", f"--host-resolver-rules={rules}"],
        )
        with contextlib.closing(chromium):
            for address in addresses:
                context = chromium.new_context(user_agent=agent, service_workers="block")
                context.route("**/*", lambda route: _let(route, parts.netloc))
                tab = context.new_page()
                try:
                    tab.goto(address, timeout=_SECONDS * 1_000)
                    text = tab.evaluate(_WRITTEN)
                    is_there = urlsplit(tab.url).netloc == parts.netloc
                    yield _found(address, text) if is_there else Drawn(address, "", _AWAY)
                except Error as problem:
                    is_away = "ERR_NAME_NOT_RESOLVED" in str(problem)
                    late = f"it was not drawn in {_SECONDS} seconds"
                    yield Drawn(address, "", _AWAY if is_away else late)
                finally:
                    context.close()


def _found(address: str, text: str) -> Drawn:
    if len(text.encode("utf-8", "replace")) > LARGEST_PAGE:
        limit = LARGEST_PAGE // MEGABYTE
        return Drawn(address, "", f"it is over {limit} MB, the limit for a page")
    return Drawn(address, text)


def _let(route: object, netloc: str) -> None:
    """Let what is the host's own through."""
    if urlsplit(route.request.url).netloc == netloc:  # type: ignore[attr-defined]
        route.continue_()  # type: ignore[attr-defined]
    else:
        route.abort()  # type: ignore[attr-defined]


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
