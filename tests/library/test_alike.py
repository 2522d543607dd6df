"""The same words in many places, led to one end as one change."""

from __future__ import annotations

import re
from dataclasses import asdict

import pytest

from innerhop.library.acts import alike
from innerhop.library.acts.base import Act
from innerhop.library.acts.table import planned
from innerhop.library.changes import locked_parts, undo
from innerhop.library.models import Editor, LockedPart, Page, Site
from tests.library.test_changes import content, words_in
from tests.library.test_hop_acts import save
from tests.library.test_hops import bring
from tests.library.test_index import check

PAGE = """<!doctype html><html lang=en><title>Ice</title><main><h1>Ice on the cut</h1>
<p>Stop planks hold the water. Ask for stop
planks, not for stop planking.</p><p><code>stop planks</code> <b>stop</b> planks
<h2>Frost</h2><p>Our stop planks are oak, and stop planks last.</p>
<p><a href="#planks">Stop planks</a> again.</p>
<h2 id=planks>Stop planks</h2><p>All about stop planks.</p>
<h2>Thaw</h2><p>Take the STOP PLANKS out.</p></main>"""
OTHER = """<!doctype html><html lang=en><title>Tools</title><main><h1>Tools</h1>
<p>Planks, a windlass and stop planks.</p></main>"""


@pytest.fixture
def ice(site: Site, editor: Editor) -> Page:
    return bring(site, editor, "/ice/", PAGE)


def asked(page: Page, where: str, *, one_a_section: bool = False) -> Act:
    """All like the first “Stop planks”, to the section about them."""
    words = words_in(page, "Stop planks")
    sent = {
        "start": asdict(words.start), "stop": asdict(words.end), "where": where,
        "end": {"page": page.pk, "id": "planks"}, "one_a_section": one_a_section,
    }  # fmt: skip
    return planned("hop", page, sent)


def linked(page: Page) -> list[str]:
    """The words of the links to the section, in their order."""
    page.refresh_from_db()
    found = re.findall(r'<a href="[^"]*#planks">(.*?)</a>', content(page).decode(), re.DOTALL)
    return [" ".join(one.split()) for one in found]


@pytest.mark.parametrize(
    ("where", "one_a_section", "expected"),
    [
        (alike.HERE, False, ["Stop planks", "Stop planks"]),
        # Not in code, not half bold, not inside a longer word, not where it would end.
        (alike.PAGE, False,
         ["Stop planks", *["stop planks"] * 3, "Stop planks", "STOP PLANKS"]),
        # Frost has such a hop already.
        (alike.PAGE, True, ["Stop planks", "Stop planks", "STOP PLANKS"]),
    ],
)  # fmt: skip
def test_all_alike_on_a_page(
    ice: Page, editor: Editor, where: str, one_a_section: bool, expected: list[str]
) -> None:
    before = content(ice)
    change = save(ice, editor, asked(ice, where, one_a_section=one_a_section))
    assert linked(ice) == expected
    check(ice.site)
    undo.undo(change)
    ice.refresh_from_db()
    assert content(ice) == before


def test_all_alike_on_the_site(ice: Page, site: Site, editor: Editor) -> None:
    tools = bring(site, editor, "/tools/", OTHER)
    act = asked(ice, alike.SITE)
    assert act.message.endswith("and in 5 other places on 2 pages")
    save(ice, editor, act)
    assert (
        '<p>Planks, a windlass and <a href="/ice/#planks">stop planks</a>.'
        in content(tools).decode()
    )
    check(site)


def test_what_is_locked_stays(ice: Page, editor: Editor) -> None:
    act = asked(ice, alike.PAGE)
    assert act.message.endswith("and in 4 other places")
    frost = words_in(ice, "Our stop planks")
    LockedPart.objects.create(page=ice, number=frost.start.number, last=frost.start.number)
    assert locked_parts.of([ice])
    assert asked(ice, alike.PAGE).message.endswith("and in 2 other places")


def test_a_site_too_large_is_told_so(ice: Page, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(alike, "MOST_PAGES", 2)
    with pytest.raises(alike.TooManyPages, match="page by page"):
        asked(ice, alike.SITE)
