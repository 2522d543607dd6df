"""Which broken hops are asked about anew when IDs come or go: all of which anything else is told
then, held against looking at the whole page again."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from innerhop.core.findings import look
from innerhop.core.findings.other_ids import OtherIds
from innerhop.core.findings.whole_site import WholeSite
from innerhop.core.site.hops import BROKEN
from tests.core.site_of import site_of

_NAMES = ["fares", "fare", "Fares", "day-tickets", "day_tickets", "moorings", "morings", "no"]
_WORDS = ["Day tickets", "Moorings", "Winter"]
_HREFS = [f"#{one}" for one in (*_NAMES, "#fares", "fares ", "winter", "day-tickets2", "xyz")]
names = st.lists(st.sampled_from([*_NAMES, "winter", ""]), min_size=3, max_size=3)
hops = st.lists(st.tuples(st.sampled_from(_HREFS), st.sampled_from(_WORDS)), max_size=8)


def page(ids: list[str], links: list[tuple[str, str]]) -> WholeSite:
    starts = [f'<h2 id="{id_}">' if id_ else "<h2>" for id_ in ids]
    heads = "".join(f"{start}{words}</h2>" for start, words in zip(starts, _WORDS, strict=True))
    hops = "".join(f'<p><a href="{href}">{words}</a>' for href, words in links)
    return site_of({"page.html": f"<title>t</title><h1>t</h1>{heads}{hops}"})


@given(names, names, hops)
def test_all_that_another_thing_is_told_of_is_asked_about(
    before: list[str], after: list[str], links: list[tuple[str, str]]
) -> None:
    old, new = page(before, links), page(after, links)
    told = {one.number: one for one in look.of_hops(old.rows(0), old)}
    now = {one.number: one for one in look.of_hops(new.rows(0), new)}
    sections = [
        one for one, was in zip(new.rows(0).sections, old.rows(0).sections, strict=True)
        if one.mark != was.mark
    ]  # fmt: skip
    pairs = [pair for pair in zip(before, after, strict=True) if pair[0] != pair[1]]
    values = {one for pair in pairs for one in pair if one}
    news = OtherIds(values, sections, new.naming(0))
    broken = [one for one in new.rows(0).links if one.kind == BROKEN and one.number in told]
    for link in [one for one in broken if not news.may_concern(one)]:
        assert now[link.number] == told[link.number], link.href
