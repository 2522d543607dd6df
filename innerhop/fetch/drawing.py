"""Pages that only their scripts draw, as Chromium has them once they are drawn. It goes to one host
alone, at the address that was judged, and to nothing else, whatever a page asks for."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import NamedTuple
from urllib.parse import urlsplit

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
    from playwright.sync_api import Error  # noqa: PLC0415  (not always installed)

    with browser.at_host(addresses[0], let_through) as chromium:
        for address in addresses:
            with chromium.context(agent) as context:
                tab = context.new_page()
                try:
                    tab.goto(address, timeout=_SECONDS * 1_000)
                    text = tab.evaluate(_WRITTEN)
                    is_there = urlsplit(tab.url).netloc == chromium.netloc
                    yield _found(address, text) if is_there else Drawn(address, "", _AWAY)
                except Error as problem:
                    is_away = "ERR_NAME_NOT_RESOLVED" in str(problem)
                    late = f"it was not drawn in {_SECONDS} seconds"
                    yield Drawn(address, "", _AWAY if is_away else late)


def _found(address: str, text: str) -> Drawn:
    if len(text.encode("utf-8", "replace")) > LARGEST_PAGE:
        limit = LARGEST_PAGE // MEGABYTE
        return Drawn(address, "", f"it is over {limit} MB, the limit for a page")
    return Drawn(address, text)
