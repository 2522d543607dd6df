"""A hop is “to nowhere” exactly when following it in Chromium leaves `:target` empty and the
page where it was (HTML Standard, “scroll to the fragment”)."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Page

from innerhop.core.findings.found import STUCK
from innerhop.core.findings.table import BROKEN_HOPS, RULES
from tests.core.site_of import site_of

FILL = "<p style='height: 1500px'>x</p>"
HREFS = (
    "#a", "#A", "##a", "#a%20b", "#b%C3%BC", "#bü", "#%41", "#top", "#TOP", "#", "#n", "#gone",
    "#shut", "#details", "#found", "#%", "#%00", "#empty", "#named", "#dup", "#in-template",
    "#  a", "#a:~:text=lock",
)  # fmt: skip
PAGE = (
    "<!doctype html><html lang=en><title>t</title>"
    + "".join(f"<p><a href='{href}'>hop {at}</a>" for at, href in enumerate(HREFS))
    + f"{FILL}<h2 id=a>A</h2><p id='bü'>ü</p><p id=A-2>x<p id=dup>x<p id=dup>y<a name=n>n</a>"
    f"<details><summary>s</summary><p id=details>d</details><div hidden><p id=shut>h</div>"
    f"<div hidden=until-found><p id=found>f</div><template><p id=in-template></template>"
    f"<a name=named></a><p>a lock</p>{FILL}"
)


@pytest.mark.harmful
def test_a_hop_is_to_nowhere_when_nothing_happens(tab: Page, tmp_path: Path) -> None:
    site = site_of({"page.html": PAGE})
    # What is hidden is `:target` all the same, though nobody gets to see it.
    names = {rule.name for rule in BROKEN_HOPS} - {"hidden-end"}
    stuck = {
        one.number for one in site.findings(0)
        if one.rule in names and RULES[one.rule].level == STUCK
    }  # fmt: skip
    links = [one.number for one in site.rows(0).links]
    (tmp_path / "page.html").write_text(PAGE, encoding="utf-8")
    wrong = []
    for at, number in enumerate(links):
        tab.goto(f"file://{tmp_path}/page.html")
        tab.evaluate("scrollTo(0, 40)")
        tab.get_by_role("link", name=f"hop {at}", exact=True).evaluate("one => one.click()")
        tab.wait_for_timeout(60)
        target, y = tab.evaluate("[document.querySelector(':target') !== null, scrollY]")
        is_nowhere = not target and y == 40
        if is_nowhere != (number in stuck):
            wrong.append((HREFS[at], is_nowhere, number in stuck))
    assert wrong == []
