"""What holds in every state of every screen (see `states`)."""

from __future__ import annotations

from typing import Any

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page

from tests.browser.conftest import Desk
from tests.browser.states import STATES

# Of axe-core's rules, the one that another look of the same screen can break.
_LOOKS_ONLY: dict[str, Any] = {"runOnly": ["color-contrast"]}


# The sheet holds a page of the site's in a sandbox that nobody looks into: axe-core would
# wait for an answer from there in vain.
_OURS: dict[str, Any] = {
    "iframes": False,
    "resultTypes": ["violations"],
    "preload": False,  # style sheets, which only rules look at that are off
    "rules": {"target-size": {"enabled": True}},  # WCAG 2.2, 2.5.8: off unless asked for
}


_AXE = Axe().axe_script
_RUN = """async ([inside, options]) => (await axe.run(inside, options)).violations.flatMap(
  ({ id, nodes }) => nodes.map((one) => [
    id, one.html.slice(0, 120), (one.failureSummary ?? '').slice(0, 200)]))"""


def axe(tab: Page, options: dict[str, Any] | None = None, inside: str = "") -> list[str]:
    """What axe-core finds against WCAG 2.2 A and AA and its best practices. inside: the
    selector of a part to look at alone."""
    if not tab.evaluate("Boolean(window.axe)"):  # it is long, and a state is looked at thrice
        tab.evaluate(_AXE)
    sent = [inside or "html", {**_OURS, **(options or {})}]
    found = tab.evaluate(_RUN, sent)
    return [f"{rule}: {html} {why}" for rule, html, why in found]


LOOKS: dict[str, dict[str, Any]] = {
    "light": {"color_scheme": "light", "forced_colors": "none"},
    "dark": {"color_scheme": "dark", "forced_colors": "none"},
    "forced colours": {"color_scheme": "light", "forced_colors": "active"},
}
USUAL: Any = {"width": 1280, "height": 800}
LOW: Any = {"width": 1280, "height": 400}
DESK = "[aria-label=Desk]"
# States of the page screen that show something beyond the desk.
BEYOND_DESK = {"outline", "keyboard shortcuts", "trouble", "move, by keys", "words for a hop"}
PARTS = 4  # so that several workers share them


@pytest.mark.harmful  # the browser logs the screen that is not there
@pytest.mark.parametrize("part", range(PARTS))
def test_axe_finds_nothing(desk: Desk, part: int) -> None:
    found = {}
    seen_whole = False
    for name in list(STATES)[part::PARTS]:
        STATES[name](desk)
        # On the page screen all but the desk is the same in every state: looked at once.
        is_page = desk.tab.locator(DESK).count() > 0
        inside = DESK if is_page and seen_whole and name not in BEYOND_DESK else ""
        seen_whole = seen_whole or is_page
        for look, how in LOOKS.items():
            desk.tab.emulate_media(**how)
            if problems := axe(desk.tab, None if look == "light" else _LOOKS_ONLY, inside):
                found[name, look] = problems
        desk.tab.emulate_media(**LOOKS["light"])
        if not inside:
            desk.tab.set_viewport_size(LOW)
            if problems := axe(desk.tab):
                found[name, "a low window"] = problems
            desk.tab.set_viewport_size(USUAL)
    assert found == {}
