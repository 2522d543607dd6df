"""The map of many hops: what is drawn as one, what is listed as one."""

from __future__ import annotations

import pytest
from django.test import Client

from innerhop.library import sites
from innerhop.library.models import Editor, Page
from innerhop.library.seek import hops, site_map
from innerhop.library.seek.causes import by_cause
from innerhop.library.seek.page_heights import heights
from innerhop.screens.map import drawing
from tests.library.test_hops import bring

HOPS = 120
TITLES = ("One", "Two", "Three")


@pytest.fixture
def crowded(editor: Editor) -> list[Page]:
    """Three pages that lead to one another's sections, and to one page that is gone."""
    site = sites.create("Crowded", "crowded.example", "en", editor)
    for title in TITLES:
        lines = "".join(f"<h2 id=s{n}>Part {n}</h2><p>{'Some words. ' * 40}" for n in range(9))
        others = [one for one in TITLES if one != title]
        links = "".join(
            f"<a href='/{one}/#s{n % 9}'>to {n}</a> <a href='/gone/#s{n}'>gone {n}</a> "
            for one in others
            for n in range(HOPS)
        )
        bring(site, editor, f"/{title}/", f"<title>{title}</title><h1>{title}</h1>{lines}{links}")
    return list(site.pages.select_related("site"))


def test_hops_between_two_pages_are_one_ribbon_with_its_count(crowded: list[Page]) -> None:
    whole = site_map.whole(crowded[0].site)
    drawn = drawing.draw(whole.pages, whole.hops, heights(whole.pages, 1280, places=True), None, {})
    keys = [one.pk for one in crowded]
    pairs = {(start, end) for start in keys for end in keys if start != end}
    assert {(one.starts, one.ends): one.count for one in drawn.ribbons} == dict.fromkeys(
        pairs, HOPS
    )
    # Pointed at, a ribbon shows its sections: all links stand in one, and lead to nine.
    assert all(1 < len(one.arcs) <= 9 for one in drawn.ribbons)
    assert not [one for one in drawn.arcs if one.kind == hops.THERE]
    # Their counts stand in the gaps between rulers, and not over each other.
    counts = [(one.x, one.y) for one in drawn.ribbons if one.has_room]
    assert len(counts) >= len(pairs) - 2
    assert len({(round(x / 8), round(y / 14)) for x, y in counts}) == len(counts)
    edges = [(one.x, one.x + drawing.RULER) for one in drawn.rulers]
    assert not [x for x, _ in counts if any(left < x < right for left, right in edges)]


def test_a_few_hops_between_two_pages_are_lines(crowded: list[Page]) -> None:
    whole = site_map.whole(crowded[0].site)
    long = heights(whole.pages, 1280, places=True)
    few = [one for one in whole.hops if one.kind == hops.THERE]
    pair = [
        one for one in few if (one.link.page_id, one.page) == (few[0].link.page_id, few[0].page)
    ]
    for many, ribbons in ((4, 0), (5, 1)):
        drawn = drawing.draw(whole.pages, pair[:many], long, None, {})
        assert (len(drawn.ribbons), len(drawn.arcs)) == (ribbons, 0 if ribbons else many)


def test_two_pages_alone_show_their_hops_one_by_one(crowded: list[Page], client: Client) -> None:
    one, two, _ = crowded
    alone = site_map.between(one, two)
    drawn = drawing.draw(alone.pages, alone.hops, heights(alone.pages, 1280, places=True), one, {})
    assert (len(alone.hops), len(drawn.ribbons), len(drawn.arcs)) == (2 * HOPS, 0, 2 * HOPS)
    shown = client.get(f"/{one.site.slug}/map/?page={one.pk}&with={two.pk}").content.decode()
    assert f"{one.title} and {two.title}" in shown
    assert client.get(f"/{one.site.slug}/map/?page={one.pk}&with=99999999").status_code == 404


def test_broken_hops_to_one_page_are_listed_once(crowded: list[Page]) -> None:
    rows = by_cause(site_map.whole(crowded[0].site).hops, 10_000)
    gone = [row for row in rows if row.hop.kind == hops.BROKEN]
    assert [(row.count, len(row.starts)) for row in gone] == [(6 * HOPS, 3)]
    assert len(rows) - len(gone) == 6 * HOPS
    assert len(by_cause(site_map.whole(crowded[0].site).hops, 5)) == 5
