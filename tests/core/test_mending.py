"""What the mends of links decide, for the screens and for the command line alike."""

from __future__ import annotations

import pytest

from innerhop.core.planners import mending
from innerhop.core.planners.mending import Lead
from innerhop.core.site.hops import NO_ID, NO_PAGE
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from tests.core.planned import after

UTF_8 = FileEncoding()


@pytest.mark.parametrize(
    ("why", "is_its_page", "id_", "is_shared", "keeps"),
    [
        (NO_ID, True, "fees", False, True),
        (NO_PAGE, True, "fees", False, False),
        (NO_ID, False, "fees", False, False),
        (NO_ID, True, "", False, False),
        (NO_ID, True, "fees", True, False),
    ],
)
def test_the_page_in_front_stays_as_it_is_written(
    why: str, is_its_page: bool, id_: str, is_shared: bool, keeps: bool
) -> None:
    assert mending.keeps_its_page(why, is_its_page, id_, is_shared) is keeps


@pytest.mark.parametrize(
    ("why", "is_there", "keeps"),
    [(NO_PAGE, True, True), (NO_PAGE, False, False), (NO_ID, True, False)],
)
def test_the_id_stays_where_the_right_page_has_it(why: str, is_there: bool, keeps: bool) -> None:
    assert mending.keeps_its_id(why, is_there) is keeps


@pytest.mark.parametrize(
    ("leads", "hrefs"),
    [
        ([Lead(id="a b"), None], ["../x.html#a%20b", "/y/#two"]),
        ([None, Lead(href="/z/#w")], ["../x.html#one", "/z/#w"]),
        ([Lead(id="n"), Lead(href="#here")], ["../x.html#n", "#here"]),
        ([Lead(href="/p/"), Lead(href="/q/")], ["/p/", "/q/"]),
    ],
)
def test_links_lead_elsewhere(leads: list[Lead | None], hrefs: list[str]) -> None:
    source = Source("<p><a href=../x.html#one>1</a><a href='/y/#two'>2</a>")
    links = [one.number for one in source.of_tags("a")]
    wanted = {number: one for number, one in zip(links, leads, strict=True) if one is not None}
    text = after(source, mending.plan_leads(source, wanted, UTF_8))
    assert [one.attr("href") for one in Source(text).of_tags("a")] == hrefs
    assert "<a href=../x.html#one>" in text or leads[0] is not None


@pytest.mark.parametrize(
    ("tag", "new_tab", "outside", "after_"),
    [
        ("<a href=#a target=_blank>", False, False, "<a href=#a>"),
        ("<a href=#a>", True, False, '<a target="_blank" href=#a>'),
        ("<a href=https://b.example/>", True, True,
         '<a target="_blank" rel="noopener" href=https://b.example/>'),
    ],
)  # fmt: skip
def test_a_link_opens_in_a_new_tab_or_in_the_same(
    tag: str, new_tab: bool, outside: bool, after_: str
) -> None:
    source = Source(f"<p>{tag}a</a>")
    [link] = source.of_tags("a")
    plan = mending.plan_reopened(source, link.number, new_tab, outside, UTF_8)
    assert after(source, plan) == f"<p>{after_}a</a>"
