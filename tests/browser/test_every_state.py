"""What holds in every state of every screen (see `states`)."""

from __future__ import annotations

from typing import Any

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page

from tests.browser.conftest import Desk
from tests.browser.states import STATES


def axe(tab: Page) -> list[str]:
    """What axe-core finds against WCAG 2.2 A and AA and its best practices."""
    found = Axe().run(tab)
    return [
        f"{one['id']}: {node['html'][:120]} {node.get('failureSummary', '')[:200]}"
        for one in found.response["violations"]
        for node in one["nodes"]
    ]


LOOKS = {
    "light": {"color_scheme": "light"},
    "dark": {"color_scheme": "dark"},
    "forced colours": {"forced_colors": "active"},
}


@pytest.mark.harmful  # the browser logs the screen that is not there
@pytest.mark.parametrize("look", LOOKS)
def test_axe_finds_nothing(desk: Desk, look: str) -> None:
    how: dict[str, Any] = LOOKS[look]
    desk.tab.emulate_media(**how)
    found = {}
    for name, reach in STATES.items():
        reach(desk)
        if problems := axe(desk.tab):
            found[name] = problems
    assert found == {}
