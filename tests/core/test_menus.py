"""Menus: found on a page, known again on others, what their items do, and how they are
written."""

from __future__ import annotations

from collections.abc import Sequence

import html5lib
import pytest
from hypothesis import given
from hypothesis import strategies as st

from innerhop.core.addresses.link_ends import LinkEnds
from innerhop.core.facts import page_facts
from innerhop.core.formats.pieces import NotWhole
from innerhop.core.menus import item_rows, labels, menus, variants
from innerhop.core.menus.item_rows import ItemRow
from innerhop.core.menus.menus import BUTTON, BY_ARIA, BY_CLASS, BY_WORDS, LINK, WORDS, Menu
from innerhop.core.planners import menus as planner
from innerhop.core.planners.menus import CannotWriteMenu, WantedItem
from innerhop.core.proof import proved
from innerhop.core.site import hops, stations
from innerhop.core.site.stations import Way
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source

UTF_8 = FileEncoding("utf-8", "utf-8", b"")


def read(markup: str) -> tuple[Source, list[Menu]]:
    source = Source(markup)
    facts = page_facts.gather(source)
    return source, menus.find(source, facts, menus.places(facts, []))


def page(menu: str) -> str:
    return f"<!doctype html><title>T</title><header>{menu}</header><main><h1>T</h1><p>Words"


LIST = """<nav aria-label="Main"><ul class="bar">
  <li class="item"><a class="link" href="/a/">Boats</a></li>
  <li class="item current"><a class="link" href="/b/" aria-current="page"><span>Locks</span></a>
    <ul class="below">
      <li class="item"><a class="link" href="/b/#first">Your first</a></li>
    </ul>
  </li>
  <li class="item"><a class="link" href="#c">Book</a></li>
</ul></nav>"""


def told(menu: Menu) -> list[tuple[str, str, int]]:
    return [(one.label, one.href, one.depth) for one in menu.items]


@pytest.mark.parametrize(
    ("markup", "expected"),
    [
        (LIST, [("Boats", "/a/", 0), ("Locks", "/b/", 0), ("Your first", "/b/#first", 1),
                ("Book", "#c", 0)]),
        ("<nav><a href=/a/>Boats</a> | <a href=/b/>Locks</a></nav>",
         [("Boats", "/a/", 0), ("Locks", "/b/", 0)]),
        ("<UL><LI><A HREF=/a/>Boats</A><LI>Canal<UL><LI><A HREF=/b/>Locks</A></UL></UL>",
         [("Boats", "/a/", 0), ("Canal", "", 0), ("Locks", "/b/", 1)]),
        ("<ul><li><a href=/a/>Boats</a><li><button>More</button><li><a href=/b/>B</a></ul>",
         [("Boats", "/a/", 0), ("More", "", 0), ("B", "/b/", 0)]),
        ("<ul><li><a href=/a/><img alt='Boats' src=x></a><li><a href=/b/>B</a></ul>",
         [("Boats", "/a/", 0), ("B", "/b/", 0)]),
    ],
)  # fmt: skip
def test_lists_and_lines_of_links_are_read_as_items(
    markup: str, expected: list[tuple[str, str, int]]
) -> None:
    _, found = read(page(markup))
    assert [told(one) for one in found] == [expected]


@pytest.mark.parametrize(
    "markup",
    [
        "<a href=/>Home</a>",  # one link is no menu
        "<p>Read <a href=/a/>this</a> and then all of <a href=/b/>that</a>, since it is long</p>",
        '<ol data-hop-list="nested"><li><a href=#a>A</a><li><a href=#b>B</a></ol>',
        "<template><ul><li><a href=/a/>A</a><li><a href=/b/>B</a></ul></template>",
    ],
)
def test_what_is_no_menu(markup: str) -> None:
    assert read(page(markup))[1] == []


def test_a_list_in_the_content_is_no_menu() -> None:
    assert read(f"<main><h1>T</h1>{LIST}</main>")[1] == []


@pytest.mark.parametrize(
    ("own", "how"),
    [
        ('<li><a href=/b/ aria-current="page">B</a>', BY_ARIA),
        ('<li aria-current="true"><a href=/b/>B</a>', BY_ARIA),
        ('<li class="menu-item-active"><a href=/b/>B</a>', BY_CLASS),
        ("<li><strong>B</strong>", BY_WORDS),
        ('<li><a href=/b/ aria-current="false">B</a>', ""),
    ],
)
def test_the_item_of_the_open_page(own: str, how: str) -> None:
    """ARIA 1.2, aria-current; classes and words: common practice, no source."""
    _, found = read(page(f"<ul><li><a href=/a/>A</a>{own}<li><a href=/c/>C</a></ul>"))
    assert [one.current for one in found[0].items] == ["", how, ""]


def rows_of(menu: Menu, address: str = "https://site.example/a/") -> list[ItemRow]:
    resolve = LinkEnds(address, None).resolve
    return item_rows.rows(menu, resolve, resolve(""))


def test_a_menu_is_the_same_wherever_its_links_are_written_from() -> None:
    written = "<ul><li><a href={}>A</a><li><a href={}>B</a></ul>"
    first = rows_of(read(page(written.format("../b/#x", "#y")))[1][0])
    second = rows_of(read(page(f"<p>x{written.format('/b/#x', '#y')}"))[1][0],
                     "https://site.example/z/")  # fmt: skip
    assert [one.to for one in first] == ["/b/#x", "#y"]
    assert item_rows.digest(first) == item_rows.digest(second)
    assert item_rows.from_text(item_rows.to_text(first)) == first


def rows(*told: tuple[str, str], **more: object) -> list[ItemRow]:
    return [ItemRow(at, at, label, to, to, 0) for at, (label, to) in enumerate(told)]


BASE = rows(("Boats", "/a/"), ("Locks", "/b/"), ("Book", "#c"))


@pytest.mark.parametrize(
    ("other", "expected"),
    [
        (BASE, []),
        (BASE[:2], [(variants.LACKS, 2, None)]),
        ([*BASE, *rows(("Help", "/h/"))], [(variants.MORE, None, 3)]),
        (rows(("Boats", "/a/"), ("Gates", "/b/"), ("Book", "#c")), [(variants.SAID, 1, 1)]),
        (rows(("Boats", "/a/"), ("Locks", "/z/"), ("Book", "#c")), [(variants.LEADS, 1, 1)]),
        ([BASE[1], BASE[0], BASE[2]], [(variants.ORDER, None, None)]),
        # On its own page an item may be words; and a bare hash is the page's address with it.
        ([BASE[0], BASE[1]._replace(to="", kind=WORDS, current=BY_WORDS), BASE[2]], []),
        ([*BASE[:2], BASE[2]._replace(to="/here/#c")], []),
    ],
)
def test_how_a_page_differs(other: list[ItemRow], expected: list[tuple[object, ...]]) -> None:
    assert [tuple(one) for one in variants.differences(BASE, other, "/here/")] == expected


@pytest.mark.parametrize(
    ("way", "does"),
    [
        (Way(hops.MENU, "", True, True, True, False), stations.JUMPS),
        (Way(hops.MENU, "", True, False, True, False), stations.OPENS_JUMPS),
        (Way(hops.MENU, "", True, False, True, True), stations.OPENS),
        (Way(hops.NO_HOP, "", True, False, False, True), stations.OPENS),
        (Way(hops.NO_HOP, "", True, True, False, True), stations.THERE),
        (Way(hops.BROKEN, hops.NO_ID, True, True, True, True), stations.NOTHING),
        (Way(hops.BROKEN, hops.NO_ID, True, False, True, True), stations.LOST),
        (Way(hops.BROKEN, hops.NO_PAGE, True, False, True, True), stations.GONE),
        (Way(hops.NO_HOP, "", False, False, False, True), stations.AWAY),
    ],
)
def test_what_an_item_does(way: Way, does: str) -> None:
    assert stations.does(LINK, way) == does
    assert stations.does(BUTTON, None) == stations.SCRIPT


def test_a_thousand_pages_are_a_few_stations() -> None:
    alike = dict.fromkeys(range(1000), ("opens", "nothing"))
    found = stations.stations({**alike, 1_000: ("there", "jumps"), 1_001: ("opens", "jumps")})
    assert [len(one.pages) for one in found] == [1_000, 1, 1]
    few = stations.stations(dict.fromkeys(range(7), ("opens",)))
    assert [len(one.pages) for one in few] == [1] * 7
    # A menu of all pages is different on each in one item, its own.
    each = {page: tuple("there" if page == at else "opens" for at in range(60))
            for page in range(60)}  # fmt: skip
    (only,) = stations.stations(each)
    assert len(only.pages) == 60
    assert only.is_each
    assert set(only.states) == {"opens"}


def plan(markup: str, wanted: Sequence[WantedItem]) -> str:
    source, found = read(page(markup))
    return proved(source, planner.plan(source, found[0], wanted, UTF_8)).text


def stay(count: int) -> list[WantedItem]:
    depths = {2: 1}
    return [WantedItem(at, depths.get(at, 0)) for at in range(count)]


def test_one_item_changed_touches_nothing_else() -> None:
    wanted = stay(4)
    wanted[3] = WantedItem(3, 0, href="/#c")
    assert plan(LIST, wanted) == page(LIST.replace('"#c"', '"/#c"'))
    wanted[3] = WantedItem(3, 0, label="Book & pay")
    assert plan(LIST, wanted) == page(LIST.replace(">Book<", ">Book &amp; pay<"))
    wanted = [WantedItem(0, 0), WantedItem(1, 0, label="Gates"), *stay(4)[2:]]
    assert plan(LIST, wanted) == page(LIST.replace("<span>Locks<", "<span>Gates<"))


def test_an_item_more_is_written_like_its_neighbours() -> None:
    text = plan(LIST, [*stay(4), WantedItem(None, 0, "Help", "/h/#x")])
    neighbour, new = (f'<li class="item"><a class="link" href="{href}">{label}</a></li>'
                      for href, label in (("#c", "Book"), ("/h/#x", "Help")))  # fmt: skip
    assert f"{neighbour}\n  {new}\n</ul>" in text
    below = plan(LIST, [*stay(4)[:3], WantedItem(None, 1, "Gates", "/g/"), WantedItem(3, 0)])
    assert '\n      <li class="item"><a class="link" href="/g/">Gates</a></li>\n    </ul>' in below
    new = plan(LIST, [*stay(4), WantedItem(None, 1, "Prices", "/p/")])
    assert '<ul class="below">\n      <li class="item"><a class="link" href="/p/">' in new
    line = "<p><a class=x href=/a/>Boats</a> <b>·</b> <a class=x href=/b/>Locks</a></p>"
    more = plan(line, [WantedItem(0, 0), WantedItem(1, 0), WantedItem(None, 0, "Help", "/h/")])
    assert '<a class=x href=/b/>Locks</a> <b>·</b> <a class="x" href="/h/">Help</a></p>' in more


def test_what_is_no_item_stays_and_comments_do() -> None:
    markup = ("<ul><li class=sep></li><li><a href=/a/>A</a></li><!-- b --><li><a href=/b/>B</a>"
              "</li><li class=sep></li></ul>")  # fmt: skip
    text = plan(markup, [WantedItem(1, 0), WantedItem(0, 0)])
    assert text.count("class=sep") == 2
    assert text.count("<!-- b -->") == 1
    assert text.index(">B<") < text.index(">A<")


def test_the_item_of_the_open_page_is_marked_as_the_menu_does_it() -> None:
    markup = ('<ul><li class="on-now active"><a href=/a/ aria-current="page">A</a></li>'
              "<li><a href=/b/>B</a></li></ul>")  # fmt: skip
    text = plan(markup, [WantedItem(0, 0, current=False), WantedItem(1, 0, current=True)])
    assert '<li class="on-now"><a href=/a/>A</a></li>' in text
    assert '<li class="active"><a aria-current="page" href=/b/>B</a></li>' in text


def test_words_become_a_link() -> None:
    markup = "<ul><li><a href=/a/>A</a></li><li><strong>B</strong></li><li><a href=/c/>C</a></ul>"
    text = plan(markup, [WantedItem(0, 0), WantedItem(1, 0, href="/z/"), WantedItem(2, 0)])
    assert '<strong><a href="/z/">B</a></strong>' in text


@pytest.mark.parametrize(
    ("markup", "wanted", "problem"),
    [
        (LIST, [], CannotWriteMenu),
        ("<p><a href=/a/>A</a> <a href=/b/>B</a></p>", [WantedItem(0, 0), WantedItem(1, 1)],
         CannotWriteMenu),
        ("<div><ul><li><a href=/a/>A</a><li><a href=/b/>B</a></div>",
         [WantedItem(1, 0), WantedItem(0, 0)], NotWhole),
    ],
)  # fmt: skip
def test_what_can_t_be_written(
    markup: str, wanted: list[WantedItem], problem: type[Exception]
) -> None:
    with pytest.raises(problem):
        plan(markup, wanted)


ENDS = ("</li>", "")


@st.composite
def trees(draw: st.DrawFn) -> tuple[str, list[WantedItem]]:
    """A menu, nested, with and without end tags; and its items in another order and depth."""
    count, end = draw(st.integers(2, 6)), draw(st.sampled_from(ENDS))
    space = draw(st.sampled_from(("", "\n  ")))
    depths = [0, *(draw(st.integers(0, 2)) for _ in range(count - 1))]
    for at in range(1, count):
        depths[at] = min(depths[at], depths[at - 1] + 1)

    def listed(first: int, last: int, depth: int) -> str:
        found, at = "", first
        while at < last:
            below = at + 1
            while below < last and depths[below] > depth:
                below += 1
            sub = listed(at + 1, below, depth + 1)
            under = f"{space}<ul>{sub}{space}</ul>{space}" if sub else ""
            found += f"{space}<li><a href='/{at}/'>Item {at}</a>{under}{end}"
            at = below
        return found

    markup = f"<ul>{listed(0, count, 0)}{space}</ul>"
    order = draw(st.permutations(range(count)))
    kept = order[: draw(st.integers(1, count))]
    wanted = [WantedItem(at, draw(st.integers(0, 2))) for at in kept]
    for place in range(draw(st.integers(0, 2))):
        wanted.append(WantedItem(None, draw(st.integers(0, 2)), f"New {place}", f"/new-{place}/"))
    return markup, wanted


@given(trees())
def test_any_order_and_depth_is_written_and_read_again(found: tuple[str, list[WantedItem]]) -> None:
    """Read again by html5lib, another conforming parser, as planned: every item once; and
    the page differs inside the menu only."""
    markup, wanted = found
    text = plan(markup, wanted)
    head, tail = page("|").split("|")
    assert text.startswith(f"{head}<ul>")
    assert text.endswith(f"</ul>{tail}")
    labels_ = [f"Item {one.there}" if one.there is not None else one.label for one in wanted]
    _, again = read(text)
    if len(wanted) >= menus.FEWEST:
        assert [one.label for one in again[0].items] == labels_
        assert [one.depth for one in again[0].items] == closed([one.depth for one in wanted])
    tree = html5lib.parse(text, namespaceHTMLElements=False)
    assert [link.text for link in tree.iter("a")] == labels_


def closed(depths: list[int]) -> list[int]:
    """Depths without gaps, as nesting by level closes them up."""
    found: list[int] = []
    open_: list[int] = []
    for depth in depths:
        while open_ and open_[-1] >= depth:
            open_.pop()
        found.append(len(open_))
        open_.append(depth)
    return found


def test_what_is_said_of_words() -> None:
    many = rows(*((f"Item {at}", f"/{at}/") for at in range(9)))
    assert "9 items stand side by side" in labels.of_menu(many)[0]
    assert labels.of_menu(BASE) == []
    same = rows(("Boats", "/a/"), ("boats", "/b/"), ("Book", "/a/"))
    assert "same words" in labels.of_items(same)[0][0]
    assert labels.of_items(same)[2] == ["“Boats” leads to the same place."]


FRAME = "<!doctype html><title>T</title><body>\n  <header>\n    <h1>T</h1>\n  </header>\n  <main>\n"


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        (FRAME, '  </header>\n  <nav aria-label="Main & more">\n    <ul>\n      <li>'
                '<a href="/a/">A</a></li>\n      <li><a href="/b/#c">B</a></li>\n    </ul>\n'
                "  </nav>\n  <main>"),
        (FRAME.replace("\n", "").replace("  ", ""),
         '</header><nav aria-label="Main & more"><ul><li><a href="/a/">A</a></li>'
         '<li><a href="/b/#c">B</a></li></ul></nav><main>'),
    ],
)  # fmt: skip
def test_a_new_menu_is_written_as_the_page_is(text: str, expected: str) -> None:
    source = Source(text)
    [header] = source.of_tags("header")
    items = [("A", "/a/"), ("B", "/b/#c")]
    plan = planner.plan_new(
        source, header.number, "after", name="Main & more", items=items, encoding=UTF_8
    )
    found = proved(source, plan).text
    assert expected in found
    [menu] = read(found)[1]
    assert told(menu) == [("A", "/a/", 0), ("B", "/b/#c", 0)]


def test_a_menu_stands_in_the_frame_of_the_site() -> None:
    source = Source(f"{FRAME}<p>x")
    numbers = {tag: next(source.of_tags(tag)).number for tag in ("header", "main", "p", "h1")}
    can = {tag for tag, number in numbers.items() if planner.can_stand(source, number)}
    assert can == {"header", "h1"}


def test_a_menu_lights_up_or_not() -> None:
    source, [menu] = read(page(LIST))
    lit = proved(source, planner.plan_lit(source, menu.number, True, UTF_8)).text
    assert '<ul data-hop-menu="" class="bar">' in lit
    again, [there] = read(lit)
    assert proved(again, planner.plan_lit(again, there.number, False, UTF_8)).text == page(LIST)


@pytest.mark.parametrize(
    ("href", "to"),
    [
        ("#c", "#c"),
        ("/a/#c", "/a/#c"),
        ("../b/?q=1#c", "/b/?q=1#c"),
        ("https://site.example/b/", "/b/"),
        ("https://other.example/b/#c", "https://other.example/b/#c"),
        ("mailto:a@b.example", "mailto:a@b.example"),
        ("http://[/", "http://[/"),
    ],
)
def test_where_an_item_leads_is_told_alike_on_all_pages(href: str, to: str) -> None:
    resolve = LinkEnds("https://site.example/a/", None).resolve
    assert item_rows.leads(href, resolve, resolve("")) == to


def test_with_a_base_a_bare_hash_leaves_the_page() -> None:
    ends = LinkEnds("https://site.example/a/", "/other/")
    own = LinkEnds("https://site.example/a/", None).resolve("")
    assert item_rows.leads("#c", ends.resolve, own) == "/other/#c"


ITEMS = "<ul><li><a href=/a/>A</a><li><a href=/b/>B</a></ul>"


@pytest.mark.parametrize(
    ("markup", "name"),
    [
        (f"<nav aria-label=' Our  boats '>{ITEMS}</nav>", "Our boats"),
        (f"<h2 id=n>Boats</h2><nav aria-labelledby=n>{ITEMS}</nav>", "Boats"),
        (f"<b id=m>Our</b><h2 id=n>Boats</h2><nav aria-labelledby='m gone n'>{ITEMS}</nav>",
         "Our Boats"),
        (f"<nav aria-label=Boats><div aria-label=Locks>{ITEMS}</div></nav>", "Locks"),
        (f"<nav><h2>Boats</h2>{ITEMS}</nav>", "Boats"),
        (f"<nav><p>Where to go from here on</p>{ITEMS}</nav>", "Where to go from here on"),
        (f"<nav><p>Where to go from here on, said at length</p>{ITEMS}</nav>", ""),
        (f"<nav><div>Boats</div>{ITEMS}</nav>", ""),
        (f"<nav>{ITEMS}</nav>", ""),
    ],
)  # fmt: skip
def test_what_a_page_calls_a_menu(markup: str, name: str) -> None:
    [menu] = read(page(markup))[1]
    assert menu.name == name


def _depths(depths: str, labels: str = "abcdefgh") -> list[ItemRow]:
    return [ItemRow(at, at, labels[at], "/", "/", int(deep)) for at, deep in enumerate(depths)]


@pytest.mark.parametrize(
    ("one", "other", "is_so"),
    [
        ("0100", "0000", True),
        ("0100", "0010", True),
        ("0100", "0110", False),  # the same branch
        ("0101", "0000", False),  # two are open: all are
        ("0000", "0101", False),
        ("0100", "0101", False),
        ("0000", "0000", False),
    ],
)
def test_each_page_opens_the_branch_that_it_is_in(one: str, other: str, is_so: bool) -> None:
    assert variants.is_open_branch(_depths(one), _depths(other)) is is_so
