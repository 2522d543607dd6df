"""Menus as an editor has them changed: on every page that has them, as one change, in each
page's own markup, and undone to the byte."""

from __future__ import annotations

import re
from typing import Any

import pytest

from innerhop.core.facts import page_facts
from innerhop.core.menus import menus as core_menus
from innerhop.core.refusals import Refusal
from innerhop.core.site import stations
from innerhop.core.source.tree import Source
from innerhop.library import doing, sites
from innerhop.library.acts.table import planned
from innerhop.library.bring_in import bring_ins
from innerhop.library.changes import undo, write
from innerhop.library.hand_over import copy_sheet, differences
from innerhop.library.index import index
from innerhop.library.index.texts import current
from innerhop.library.models import Change, Editor, Page, Site
from innerhop.library.seek import menu_plans, menus
from innerhop.library.seek.menus import NoMenu, SiteMenu
from tests.library.test_changes import content, page_at
from tests.library.test_contents_acts import do

pytestmark = pytest.mark.django_db
HANDBOOK, HOME, ABOUT = "/skippers-handbook/", "/", "/about/"


def main(site: Site) -> SiteMenu:
    return menus.of_site(site)[0]


def wrong(site: Site, at: int) -> int:
    """On how many pages an item of the main menu leads nowhere."""
    return stations.wrong([states[at] for states in menus.run(main(site)).vectors.values()])


def labels(site: Site) -> list[tuple[str, int]]:
    return [(one.label, one.depth) for one in main(site).items]


def change(site: Site, editor: Editor, items: list[dict[str, Any]], name: str = "menu") -> Change:
    row = main(site).row
    return do(row.page, editor, name, number=row.number, items=items)


def stay(count: int = 5) -> list[dict[str, Any]]:
    return [{"item": at, "depth": 0} for at in range(count)]


def texts(site: Site) -> dict[str, bytes]:
    return {page.path: content(page) for page in site.pages.all()}


def end(page: Page, id_: str = "", **more: Any) -> dict[str, Any]:
    return {"page": page.pk, "id": id_, **more}


def test_the_demo_s_menus_and_that_a_bare_hash_in_one_works_at_home_only(site: Site) -> None:
    found = menus.of_site(site)
    assert [(one.name, one.pages, len(one.items)) for one in found] == [
        ("Main", 8, 5), ("Notes", 1, 3),
    ]  # fmt: skip
    running = menus.run(found[0])
    assert wrong(site, 3) == 7
    home = site.pages.get(path=HOME)
    assert running.vectors[home.pk][3] == stations.JUMPS
    assert running.vectors[page_at(site, HANDBOOK).pk][0] == stations.THERE


def test_what_is_wrong_is_mended_on_all_pages_and_undone_to_the_byte(
    site: Site, editor: Editor
) -> None:
    before = texts(site)
    items = stay()
    items[3]["end"] = end(page_at(site, HOME), "book")
    done = change(site, editor, items)
    assert done.message == "“Book” in the menu “Main” leads to /#book now on 8 pages"
    assert wrong(site, 3) == 0
    for path, old in before.items():
        assert content(page_at(site, path)) == re.sub(
            rb'(<(?:LI|li)><[Aa] (?:HREF|href)=")#book', rb"\1/#book", old
        )
    assert list(index.differences(site)) == []
    undo.undo(done)
    assert texts(site) == before
    assert list(index.differences(site)) == []


def test_an_item_more_marks_its_end_and_stands_in_each_pages_own_markup(
    site: Site, editor: Editor
) -> None:
    before = texts(site)
    handbook = page_at(site, HANDBOOK)
    bridges = handbook.sections.get(title="Lifting bridges")
    new = {"item": None, "depth": 1, "label": "Bridges & co",
           "end": end(handbook, "bridges", number=bridges.number, mark=True)}  # fmt: skip
    done = change(site, editor, [stay()[0], new, *stay()[1:]])
    assert "marked “Lifting bridges”" in done.message
    assert labels(site)[:2] == [("Handbook", 0), ("Bridges & co", 1)]
    about = content(page_at(site, ABOUT)).decode("windows-1252")
    assert '<LI><A HREF="/skippers-handbook/">Handbook</A>\r\n  <ul>\r\n' in about
    assert wrong(site, 1) == 0
    assert list(index.differences(site)) == []
    undo.undo(done)
    assert texts(site) == before


def test_items_are_moved_and_taken_out(site: Site, editor: Editor) -> None:
    before = texts(site)
    moved = change(site, editor, [stay()[4], *stay()[:4]])
    assert labels(site)[0] == ("Help", 0)
    under = change(site, editor, [{"item": 0, "depth": 0}, {"item": 1, "depth": 1}, *stay()[2:]])
    assert labels(site)[:2] == [("Help", 0), ("Handbook", 1)]
    gone = change(site, editor, stay()[1:])
    assert "“Help” taken out" in gone.message
    assert [label for label, _ in labels(site)] == ["Handbook", "Locks", "Moorings", "Book"]
    for one in (gone, under, moved):
        undo.undo(one)
    assert texts(site) == before


def bring_page(site: Site, editor: Editor, path: str, markup: str) -> Page:
    piece = bring_ins.NewFile("pasted", markup.encode(), address=path)
    for _ in bring_ins.bring_in(site, editor, [piece], 1, replace=True):
        pass
    return site.pages.get(path=path)


OTHER = """<!doctype html><title>Other</title><header><nav aria-label="Main"><ul>
<li class="now"><b>Handbook</b></li>
<li><a href="/lock-guide/">Locks</a></li><li><a href="/extra/">Extra</a></li>
<li><a href="/moorings/#visitor-moorings">Moorings</a></li>
</ul></nav></header><main><h1>Other</h1><p>Words.</p></main>"""


def test_a_page_that_differs_is_named_kept_and_brought_in_line(site: Site, editor: Editor) -> None:
    other = bring_page(site, editor, "/other/", OTHER)
    menu = main(site)
    assert menu.pages == 9
    kinds = [one.kind for one in menus.run(menu).unlike[other.pk]]
    assert kinds == ["lacks", "lacks", "more"]
    # A change of what it has is written there too, and what is its own stays.
    change(site, editor, [{"item": 0, "depth": 0}, {"item": 1, "depth": 0, "label": "Gates"},
                          *stay()[2:]])  # fmt: skip
    text = content(other_now := page_at(site, "/other/")).decode()
    assert '<li><a href="/lock-guide/">Gates</a></li><li><a href="/extra/">Extra</a></li>' in text
    assert '<li class="now"><b>Handbook</b></li>' in text
    row = main(site).row
    done = do(row.page, editor, "menu-in-line", number=row.number)
    assert main(site).pages == 9
    assert menus.run(main(site)).unlike == {}
    assert "Extra" not in content(page_at(site, "/other/")).decode()
    undo.undo(done)
    assert content(other_now).decode() == text
    assert list(index.differences(site)) == []


def test_the_open_pages_item_says_so_to_screen_readers(site: Site, editor: Editor) -> None:
    """ARIA 1.2, aria-current: one element of a set, and its value for a page is "page"."""
    row = main(site).row
    do(row.page, editor, "menu-current", number=row.number)
    for path in (HANDBOOK, HOME, ABOUT):
        found = re.findall(rb"<a[^>]* aria-current=\"page\"[^>]*>([^<]*)", content(
            page_at(site, path)), re.IGNORECASE)  # fmt: skip
        assert found == ([b"Handbook"] if path == HANDBOOK else [])
    # Led elsewhere, it is the open page's no more.
    items = stay()
    items[0]["end"] = end(page_at(site, ABOUT))
    change(site, editor, items)
    assert b"aria-current" not in content(page_at(site, HANDBOOK))
    assert b'aria-current="page"' in content(page_at(site, ABOUT))


def test_a_menu_twice_on_a_page_is_kept_alike(site: Site, editor: Editor) -> None:
    twice = OTHER.replace("</nav>", '</nav><nav class="wide"><ul>'
                          + "".join(re.findall("<li.*</li>", OTHER)) + "</ul></nav>")  # fmt: skip
    other = bring_page(site, editor, "/other/", twice)
    change(site, editor, [{"item": 0, "depth": 0}, {"item": 1, "depth": 0, "label": "Gates"},
                          *stay()[2:]])  # fmt: skip
    assert content(page_at(site, other.path)).decode().count(">Gates</a>") == 2


def test_add_to_the_menu_from_a_page(site: Site, editor: Editor) -> None:
    about = page_at(site, ABOUT)
    act = planned("menu-add", about, {"menu": "main", "label": "Trustees",
                                      "end": end(about, "trustees")})  # fmt: skip
    write.save(site, editor, act.message, act.plans)
    assert labels(site)[-1] == ("Trustees", 0)


def test_several_sections_go_into_the_menu_at_once_in_the_order_of_the_page(
    site: Site, editor: Editor
) -> None:
    guide = page_at(site, "/skippers-handbook/")
    sections = current(guide).sections
    at = next(at for at, one in enumerate(sections) if not one.mark)
    before, chosen, after = sections[at - 1 : at + 2]
    sent = {
        "menu": "main", "label": "Chosen", "sections": [after.number, before.number],
        "end": {"page": guide.pk, "id": "chosen-one", "number": chosen.number, "mark": True},
    }  # fmt: skip
    act = planned("menu-add", guide, sent)
    write.save(site, editor, act.message, act.plans)
    titles = [before.title, "Chosen", after.title]
    assert [words for words, _ in labels(site)[-3:]] == titles
    now = {one.title: one.mark for one in current(page_at(site, guide.path)).sections}
    assert now[chosen.title] == "chosen-one"
    assert now[before.title]
    assert now[after.title]
    assert list(index.differences(site)) == []


def test_a_new_menu_beside_a_part(site: Site, editor: Editor) -> None:
    bare = "<!doctype html><title>Bare</title>\n<div class=top>Canal</div>\n<main><h1>Bare</h1>"
    page = bring_page(site, editor, "/bare/", bare)
    items = [{"item": None, "depth": 0, "label": one.title, "end": end(one)}
             for one in site.pages.order_by("path")[:3]]  # fmt: skip
    top = next(n for n, tag in enumerate(["html", "head", "title", "body", "div"]) if tag == "div")
    sent = {"number": top, "side": "after", "name": "Places", "items": items}
    act = planned("menu-new", page, sent)
    done = write.save(site, editor, act.message, act.plans)
    assert "menu “Places” of 3 items" in done.message
    assert '<nav aria-label="Places">' in content(page_at(site, "/bare/")).decode()
    assert menus.at(page_at(site, "/bare/"), top + 2).name in ("Main", "Places")
    bare = page_at(site, "/bare/")
    with pytest.raises(Refusal, match="outside a page’s own content"):
        planned("menu-new", bare, {**sent, "number": current(bare).facts.headings[0].number})


@pytest.mark.parametrize(
    ("items", "problem"),
    [
        ([], "without items"),
        ([{"item": 0, "depth": 0}, {"item": 0, "depth": 1}], "twice, or under itself"),
        ([{"item": 9, "depth": 0}], "changed meanwhile"),
        ([{"item": 0, "depth": 0, "label": " "}], "needs words"),
        ([{"item": 0, "depth": 9}], "four levels"),
        ([{"item": None, "depth": 0, "label": "New"}], "where the new item leads"),
        ([{"item": 0, "depth": 0, "label": "x" * 201}], "at most 200"),
        ([{"item": 0, "depth": 0}] * 1_001, "more than 1000"),
        (stay(), "like that already"),
        (
            [{"item": 0, "depth": 0, "end": {"outside": "https://x.example/"}, "form": "hash"}],
            None,
        ),
    ],
)
def test_bad_input(site: Site, items: list[dict[str, Any]], problem: str | None) -> None:
    row = main(site).row
    if problem is None:
        assert planned("menu", row.page, {"number": row.number, "items": items}).plans
        return
    with pytest.raises(Refusal, match=problem):
        planned("menu", row.page, {"number": row.number, "items": items})


def test_an_end_that_was_deleted_and_a_bare_hash_that_would_break(site: Site) -> None:
    row = main(site).row
    home = page_at(site, HOME)
    for wanted, form, problem in (
        ("no-such", "", "has the ID “no-such” any more"),
        ("book", "hash", "not every page"),
    ):
        items = stay()
        items[3] |= {"end": end(home, wanted), "form": form}
        with pytest.raises(Refusal, match=problem):
            planned("menu", row.page, {"number": row.number, "items": items})
    items = stay()
    items[3] |= {"end": end(home), "form": "hash"}  # the top of whatever page it is
    assert planned("menu", row.page, {"number": row.number, "items": items}).href == "#top"


def test_two_editors_reorder_at_once(site: Site, editor: Editor) -> None:
    row = main(site).row
    late = planned("menu", row.page, {"number": row.number, "items": [stay()[1], stay()[0]]})
    change(site, editor, [stay()[4], *stay()[:4]])
    with pytest.raises(write.MovedOn):
        write.save(site, editor, late.message, late.plans)
    assert labels(site)[0] == ("Help", 0)


def test_a_button_is_left_alone(site: Site, editor: Editor) -> None:
    bring_page(site, editor, "/solo/", OTHER)
    for page in site.pages.exclude(path="/solo/"):
        page.delete()
    bring_page(site, editor, "/solo/", OTHER.replace("<b>Handbook</b>", "<button>More</button>"))
    items = stay(4)
    items[0]["label"] = "Less"
    with pytest.raises(Refusal, match="only a script knows"):
        change(site, editor, items)
    change(site, editor, [stay(4)[1], stay(4)[0], *stay(4)[2:]])
    assert labels(site)[1] == ("More", 0)


ONE_PAGE = """<!doctype html><html><head><title>One</title></head><body>
<header><nav aria-label="Places"><ul><li><a href="#a">One</a></li><li><a href="#b">Two</a></li>
</ul></nav></header><main><h1>One page</h1><h2 id=a>One</h2><p>x</p><h2 id=b>Two</h2></main>"""


def test_a_one_page_sites_menu_lights_up_the_section_one_is_in(site: Site, editor: Editor) -> None:
    page = bring_page(site, editor, "/one/", ONE_PAGE)
    row = page.menus.get()
    done = do(page, editor, "menu-lit", number=row.number, on=True)
    text = content(page_at(site, "/one/")).decode()
    assert '<ul data-hop-menu="">' in text
    assert '<script src="/hops/hops.js" defer=""></script>' in text
    assert page.menus.get().lit
    assert list(index.differences(site)) == []
    undo.undo(done)
    assert content(page_at(site, "/one/")).decode() == ONE_PAGE
    row = main(site).row
    with pytest.raises(Refusal, match="no page does this menu jump"):
        planned("menu-lit", row.page, {"number": row.number, "on": True})


def test_an_item_whose_section_was_called_otherwise_before(site: Site, editor: Editor) -> None:
    page = bring_page(site, editor, "/one/", ONE_PAGE)
    assert menus.earlier_words(page, "b") == set()
    bring_page(site, editor, "/one/", ONE_PAGE.replace("<h2 id=b>Two", "<h2 id=b>The second"))
    assert menus.earlier_words(page_at(site, "/one/"), "b") == {"two"}


def test_no_menu_there(site: Site) -> None:
    with pytest.raises(NoMenu):
        planned("menu", page_at(site, HOME), {"number": 0, "items": stay()})


def plan(site: Site, editor: Editor, items: list[dict[str, Any]], key: int | None = None) -> Change:
    act = planned("keep-plan", page_at(site, HOME),
                  {"plan": key, "name": "Elsewhere", "items": items})  # fmt: skip
    return write.save(site, editor, act.message, act.plans, act.effects)


def test_a_menu_of_another_system_is_a_plan_with_a_copy_sheet(site: Site, editor: Editor) -> None:
    handbook, home = page_at(site, HANDBOOK), page_at(site, HOME)
    bridges = handbook.sections.get(title="Lifting bridges")
    items = [
        {"depth": 0, "label": "Handbook", "end": end(handbook)},
        {"depth": 1, "label": "Bridges", "end": end(handbook, "bridges", number=bridges.number,
                                                    mark=True)},
        {"depth": 0, "label": "Book", "end": end(home, "book")},
    ]  # fmt: skip
    made = plan(site, editor, items)
    kept = site.menu_plans.get()
    (found,) = copy_sheet.menus(site)
    assert [(one.item.label, one.item.address, one.place, one.under) for one in found[1]] == [
        ("Handbook", "/skippers-handbook/", 1, ""),
        ("Bridges", "/skippers-handbook/#bridges", 1, "Handbook"),
        ("Book", "/#book", 2, ""),
    ]
    does = menu_plans.vectors(site, menu_plans.items_of(kept))
    assert does[handbook.pk] == [stations.THERE, stations.JUMPS, stations.OPENS_JUMPS]
    assert does[home.pk] == [stations.OPENS, stations.OPENS_JUMPS, stations.JUMPS]
    changed = plan(site, editor, items[:1], kept.pk)
    assert [row["label"] for row in site.menu_plans.get().items] == ["Handbook"]
    with pytest.raises(Refusal):  # someone else changed it meanwhile
        undo.undo(made)
    undo.undo(changed)
    assert len(site.menu_plans.get().items) == 3
    undo.undo(made)
    assert copy_sheet.menus(site) == []
    assert not page_at(site, HANDBOOK).marks.filter(value="bridges").exists()


@pytest.mark.parametrize(
    ("items", "problem"),
    [
        ([{"depth": 0, "label": "", "end": None}], "needs words"),
        ([{"depth": 0, "label": "New", "end": None}], "Choose where “New” leads"),
    ],
)
def test_what_no_plan_can_be(
    site: Site, editor: Editor, items: list[dict[str, Any]], problem: str
) -> None:
    with pytest.raises(Refusal, match=problem):
        plan(site, editor, items)


def test_bodies_are_seen_and_handed_over_in_the_sites_frame(site: Site, editor: Editor) -> None:
    handbook = page_at(site, HANDBOOK)
    piece = bring_ins.NewFile("post", b"<h2>News</h2><p>Words", body_only=True, address="/news/")
    for _ in bring_ins.bring_in(site, editor, [piece], 1):
        pass
    news = page_at(site, "/news/")
    plan(site, editor, [{"depth": 0, "label": "Handbook", "end": end(handbook)},
                        {"depth": 1, "label": "News & more", "end": end(news)}])  # fmt: skip
    before = differences.file_of(news)[1]
    assert before == b"<h2>News</h2><p>Words"
    frame = sites.frame(site, site.menu_plans.get().pk, "Toll House", out=True)
    change = doing.do(editor, "settings", site, {"frame": frame})
    news = page_at(site, "/news/")
    framed = differences.file_of(news)[1].decode()
    assert "<main><h2>News</h2><p>Words</main><footer><p>Toll House</p></footer>" in framed
    assert '<a href="/news/" aria-current="page">News &amp; more</a>' in framed
    assert [menu.name for menu in menus_of(framed)] == ["Elsewhere"]
    undo.undo(change)
    assert differences.file_of(page_at(site, "/news/"))[1] == before


def menus_of(markup: str) -> list[core_menus.Menu]:
    source = Source(markup)
    facts = page_facts.gather(source)
    return core_menus.find(source, facts, core_menus.places(facts, []))


def test_a_page_whose_markup_is_broken_is_named_and_nothing_is_changed(
    site: Site, editor: Editor
) -> None:
    before = texts(site)
    bring_page(site, editor, "/other/", OTHER.replace("</ul>", "").replace("</nav>", ""))
    with pytest.raises(Refusal, match="On “Other” the markup leaves open"):
        change(site, editor, [stay()[1], stay()[0], *stay()[2:]])
    assert texts(site) == before | {"/other/": content(page_at(site, "/other/"))}


def test_taking_the_last_link_to_a_page_out_of_the_menu_says_so(site: Site, editor: Editor) -> None:
    bring_page(
        site, editor, "/alone/", "<!doctype html><title>Alone</title><main><h1>A</h1></main>"
    )
    alone = page_at(site, "/alone/")
    add = planned("menu-add", page_at(site, ABOUT), {"menu": "main", "label": "Alone",
                                                     "end": end(alone)})  # fmt: skip
    write.save(site, editor, add.message, add.plans)
    menu = menus.of_site(site)[0]
    items = [{"item": at, "depth": one.depth} for at, one in enumerate(menu.items)][:-1]
    act = planned("menu", menu.row.page, {"number": menu.row.number, "items": items})
    said = "No link of the site leads to “A” (/alone/) any more then."
    assert said in act.notes
    # A link elsewhere is one, and so is an item that stays.
    text = "<!doctype html><title>B</title><main><h1>B</h1><a href=/alone/>Alone</a></main>"
    bring_page(site, editor, "/beside/", text)
    act = planned("menu", menu.row.page, {"number": menu.row.number, "items": items})
    assert said not in act.notes
