"""Lists of links in any spelling: whatever is done to their entries, the tags of those that stay
are the same bytes (rules.md of the design, "Edits": an edit changes the characters it must)."""

from __future__ import annotations

from collections.abc import Sequence

import pytest
from hypothesis import given
from hypothesis import strategies as st
from selectolax.lexbor import LexborHTMLParser

from innerhop.core.contents.kinds import WantedEntry
from innerhop.core.facts.page_facts import gather
from innerhop.core.menus import menus
from innerhop.core.planners import contents
from innerhop.core.planners import menus as menu_planner
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from tests.core.planned import after
from tests.core.test_contents import Read

UTF_8 = FileEncoding()
# How hands and systems write an entry: {} is its number.
SPELLINGS = (
    "<LI CLASS='a  b' DATA-x={0}><A HREF='#s{0}'>{1}</A></LI>",
    '<li ><a\nclass="x"  href="#s{0}" >{1}</a ></li >',
    "<li><p style=color:red><a href=#s{0}><B>{1}</B></a></p></li>",
    '<li id="i{0}"><a title=\'{1}, to read\' href="&#35;s{0}"><img src=x.png alt="">{1}</a></li>',
    "<li><a href=#s{0}>{1}</a>",
    "<li><a data-n='{0}' href='#s{0}'><span class=t>{1}</span></a>\n",
)
COUNT = len(SPELLINGS)
TITLES = ("Locks", "Bridges", "Rings & bollards", "Water", "Winter", "Handing back")


def written(order: Sequence[int], spaces: Sequence[str]) -> str:
    return "".join(f"{space}{SPELLINGS[at].format(at, TITLES[at].replace('&', '&amp;'))}"
                   for at, space in zip(order, spaces, strict=True))  # fmt: skip


def sections() -> str:
    return "".join(f"<h2 id=s{at}>{one.replace('&', '&amp;')}</h2><p>Some words of it."
                   for at, one in enumerate(TITLES))  # fmt: skip


def start_tags(source: Source, item: int, link: int) -> list[str]:
    """What stands from an entry's start tag to its link's, as it is written."""
    first, last = source.start_tag(item), source.start_tag(link)
    assert first is not None
    assert last is not None
    return [source.original(first), source.original(last)]


@st.composite
def wishes(draw: st.DrawFn) -> list[tuple[int | None, str]]:
    """Entries that stay, by number, and new ones, each with its words."""
    kept = draw(st.permutations(range(COUNT)).map(lambda all_: all_[: draw(st.integers(1, COUNT))]))
    words = [draw(st.sampled_from([TITLES[at], f"{TITLES[at]} again", "A < B"])) for at in kept]
    found: list[tuple[int | None, str]] = list(zip(kept, words, strict=True))
    for at in draw(st.lists(st.integers(0, len(found)), max_size=2)):
        found.insert(at, (None, "A new one"))
    return found


@given(st.sampled_from([" ", "\n  ", ""]), wishes())
def test_tags_of_entries_that_stay_are_the_same_bytes(
    space: str, wanted: list[tuple[int | None, str]]
) -> None:
    """The tree is read by another parser (lexbor)."""
    listed = f"<UL  class='toc'>{written(range(COUNT), [space] * COUNT)}\n</UL >"
    text = f"<!doctype html><title>T</title><main><h1>T</h1>{listed}{sections()}</main>"
    page = Read(text)
    (one,) = page.lists
    assert [entry.label for entry in one.entries] == list(TITLES)
    entries = [
        WantedEntry("#new", words, 2) if at is None
        else WantedEntry(one.entries[at].href, words, 2, link=one.entries[at].number)
        for at, words in wanted
    ]  # fmt: skip
    new = after(page.source, contents.plan_entries(page.source, one, entries, UTF_8))
    for at, _ in wanted:
        if at is not None:
            entry = one.entries[at]
            for tag in start_tags(page.source, entry.item, entry.number):
                assert tag in new
    links = LexborHTMLParser(new).css("ul.toc a")
    assert [" ".join(link.text().split()) for link in links] == [words for _, words in wanted]
    assert "<UL  class='toc'>" in new
    assert new.endswith(f"{sections()}</main>")


def test_one_entry_of_a_hand_made_list_is_relabelled_and_nothing_else() -> None:
    listed = "<UL><LI CLASS='a  b' DATA-x=1><A HREF='#s0'>Locks</A></LI><LI><A HREF='#s1'>Bridges"
    listed += "</A></LI><LI><A HREF='#s2'>Rings &amp; bollards</A></LI></UL>"
    page = Read(f"<!doctype html><title>T</title><main>{listed}{sections()}</main>")
    (one,) = page.lists
    wanted = [WantedEntry(entry.href, entry.label, 2, link=entry.number) for entry in one.entries]
    wanted[0] = WantedEntry("#s0", "Gates", 2, link=wanted[0].link)
    plan = contents.plan_entries(page.source, one, wanted, UTF_8)
    assert after(page.source, plan) == page.source.text.replace(">Locks</A>", ">Gates</A>")


def test_what_is_no_entry_and_lists_deep_in_one_stay_with_it() -> None:
    listed = (
        "<ul><li><details><summary><a href='#s0'>Locks</a></summary><OL><li><a href='#s1'>Bridges"
        "</a></li><li><a href='#s2'>Rings &amp; bollards</a></li></OL></details></li>"
        "<!-- kept --><script>let a;</script><li><a href='#s3'>Water</a></li></ul>"
    )
    page = Read(f"<!doctype html><title>T</title><main>{listed}{sections()}</main>")
    (one,) = page.lists
    by = {entry.label: entry for entry in one.entries}
    order = [("Water", 2), ("Locks", 2), ("Rings & bollards", 3), ("Bridges", 3)]
    wanted = [WantedEntry(by[w].href, w, level, link=by[w].number) for w, level in order]
    new = after(page.source, contents.plan_entries(page.source, one, wanted, UTF_8))
    assert "<summary><a href='#s0'>Locks</a></summary><OL><li><a href='#s2'>" in new
    assert "<!-- kept --><script>let a;</script>" in new
    assert new.count("<OL>") == 1


@pytest.mark.parametrize("order", [[2, 0, 1], [1, 2], [0, None, 1, 2]])
def test_menus_are_written_by_the_same_rules(order: list[int | None]) -> None:
    listed = written([0, 1, 3], ["\n"] * 3)
    source = Source(f"<!doctype html><title>T</title><nav><ul>{listed}</ul></nav><main>x</main>")
    menu = menu_of(source)
    items = [
        menu_planner.WantedItem(at, 0, *(("New", "/n/") if at is None else ())) for at in order
    ]
    new = after(source, menu_planner.plan(source, menu, items, UTF_8))
    for at in (one for one in order if one is not None):
        item = menu.items[at]
        assert all(tag in new for tag in start_tags(source, item.item, item.number))


def menu_of(source: Source) -> menus.Menu:
    (nav,) = source.of_tags("nav")
    where = [menus.Room(nav.number, nav.last, "nav")]
    (found,) = [one for one in menus.find(source, gather(source), where) if one.items]
    return found
