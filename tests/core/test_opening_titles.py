"""Titles of parts that open are sections; what opens menus, lists of links and code isn't."""

from __future__ import annotations

import pytest

from innerhop.core.facts import page_facts
from innerhop.core.facts.sections import Section, sections
from innerhop.core.source.tree import Source
from tests.core.site_of import found as findings_of
from tests.core.site_of import site_of

PANEL = "<div id=p{0} hidden><p>Yes, on a lead.</div>"
BUTTON = "<button aria-expanded=false aria-controls=p{0}>May dogs come along?</button>"


def found(markup: str) -> list[Section]:
    source = Source(f"<!doctype html><title>t</title><main><h1>Q</h1>{markup}</main>")
    return sections(source, page_facts.gather(source))


@pytest.mark.parametrize(
    ("markup", "titles"),
    [
        ("<details id=a><summary>How do I <b>pay</b>?</summary>By card or cash.</details>",
         [("How do I pay?", "a")]),
        ("<details><summary id=b>Pay?</summary><p>By card or cash.</details>", [("Pay?", "b")]),
        (f"<div id=c>{BUTTON.format(1)}</div>{PANEL.format(1)}", [("May dogs come along?", "c")]),
        # A heading inside or around is the section.
        ("<details><summary><h3 id=d>Pay?</h3></summary><p>By card or cash.</details>",
         [("Pay?", "d")]),
        (f"<h3>{BUTTON.format(1)}</h3>{PANEL.format(1)}", [("May dogs come along?", "")]),
        # No text opens.
        ("<details><summary>Pages</summary><ul><li><a href=/>All of one</a></ul></details>", []),
        ("<details><summary>Pay?</summary></details>", []),
        (BUTTON.format(1), []),
        # The site's frame, and a tab.
        (f"<nav>{BUTTON.format(1)}{PANEL.format(1)}</nav>", []),
        (f"<div role=tablist>{BUTTON.format(1)}</div>{PANEL.format(1)}", []),
        # The same words again and again are a label.
        ("<details><summary>Show</summary><p>one two three</details>" * 4, []),
    ],
)  # fmt: skip
def test_titles_that_open_text(markup: str, titles: list[tuple[str, str]]) -> None:
    assert [(one.title, one.mark) for one in found(markup)] == titles


def test_they_lie_below_the_heading_before_them() -> None:
    one = "<details><summary>Pay?</summary><p>By card or cash.</details>"
    two = one.replace("Pay", "Cash")
    depths = [(row.title, row.depth) for row in found(f"<h2>Money</h2>{one}{two}<h2>Dogs</h2>")]
    assert depths == [("Money", 0), ("Pay?", 1), ("Cash?", 1), ("Dogs", 0)]


def test_no_finding_takes_them_for_bold_lines() -> None:
    one = "<details><summary>Pay?</summary><p>By card or cash.</details>"
    page = f"<!doctype html><html lang=en><title>Q</title><main><h1>Q</h1>{one}</main>"
    assert "bold-line" not in {rule for rule, _ in findings_of(site_of({"q.html": page}))}
