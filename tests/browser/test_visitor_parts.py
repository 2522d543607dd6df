"""What goes out with pages, in Chromium as a visitor has it: the section one is in, the
keyboard, the history, less motion, a strict Content-Security-Policy, no scripts at all."""

from __future__ import annotations

import gzip
from typing import Any

import pytest
from playwright.sync_api import Page as Tab
from playwright.sync_api import expect

from innerhop.core.contents.kinds import KINDS
from innerhop.library.acts.table import planned
from innerhop.library.changes import our_files, undo, write
from innerhop.library.index.texts import current
from innerhop.library.models import Change, Page
from tests.browser.conftest import Desk
from tests.browser.test_every_state import axe
from tests.library.test_contents_acts import parts

SECTIONS = 12
WORDS = "Mind the lock gates, keep to the right and wave. " * 60
LONG = (
    "<!doctype html><html lang=en><head><title>Long</title><meta name=viewport content="
    "'width=device-width'></head><body><main style='max-width: 600px; font: 16px/1.5 serif'>"
    "<h1>Long</h1>"
    + "".join(f"<h2 id=s{n}>Part {n}</h2><p>{WORDS}</p>" for n in range(SECTIONS))
    + "</main></body></html>"
)


def do(desk: Desk, page: Page, name: str, **sent: Any) -> Change:
    act = planned(name, page, sent)
    editor = desk.site.editors.get()
    return write.save(desk.site, editor, act.message, act.plans, act.effects)


@pytest.fixture
def long(desk: Desk) -> Page:
    desk.bring("/long/", LONG)
    return Page.objects.select_related("site").get(site=desk.site, path="/long/")


def visited(desk: Desk, page: Page, **how: Any) -> Tab:
    context = desk.tab.context.browser.new_context(  # type: ignore[union-attr]
        storage_state=desk.tab.context.storage_state(), **how
    )
    tab = context.new_page()
    tab.goto(f"{desk.server}{page.get_absolute_url()}visit/")
    tab.wait_for_load_state("load")
    return tab


def now(page: Page) -> Page:
    return Page.objects.select_related("site").get(pk=page.pk)


def test_the_files_are_small_and_leave_nothing_behind(desk: Desk, long: Page) -> None:
    files = [our_files.content(path) for path in our_files.TYPES]
    assert sum(len(gzip.compress(data)) for data in files) <= 3 * 1024
    before = current(long).text
    change = do(desk, long, "visitor-parts", focus=True, up=2, points=True, signs=True)
    assert set(desk.site.assets.filter(path__startswith="/hops/").values_list("path", flat=True)
               ) == {"/hops/hops.js", "/hops/hops.css"}  # fmt: skip
    tab = visited(desk, now(long))
    names = tab.evaluate(
        "() => { const f = document.createElement('iframe'); document.body.append(f);"
        " const own = Object.keys(window).filter((k) => !(k in f.contentWindow));"
        " f.remove(); return own.filter((k) => !/^\\d+$/.test(k)); }"
    )
    assert names == []  # no globals
    undo.undo(change)
    assert current(now(long)).text == before
    assert not desk.site.assets.filter(path__startswith="/hops/").exists()


# At every place: what is lit in the list and in the points, and what should be.
_LIT = """async () => {
  const drawn = () => new Promise((done) => requestAnimationFrame(done));
  const heads = [...document.querySelectorAll('h2[id]')];
  const lit = (where) => [...document.querySelectorAll(`[${where}] [aria-current=location]`)]
    .map((a) => a.hash.slice(1));
  const found = [];
  for (let y = 0; ; y += 97) {
    window.scrollTo({ top: y, behavior: 'instant' });
    await drawn();
    await drawn();
    const atEnd = scrollY + innerHeight > document.documentElement.scrollHeight - 2;
    const above = heads.filter((h) => h.offsetTop - scrollY < 2).map((h) => h.id);
    const wanted = atEnd ? heads.at(-1).id : above.at(-1) ?? null;
    found.push([lit('data-hop-list=nested'), lit('data-hop-points'), wanted]);
    if (atEnd) return found;
  }
}"""
_SMALL = """() => {
  const names = ['list] a', 'points] a', 'up] a', 'sign]'].map((one) => `[data-hop-${one}`);
  const boxes = [...document.querySelectorAll(names.join())]
    .filter((a) => a.checkVisibility()).map((a) => a.getBoundingClientRect());
  return boxes.filter((b) => b.width < 24 || b.height < 24).length;
}"""


def test_the_section_one_is_in_is_lit_wherever_the_page_is_scrolled_to(
    desk: Desk, long: Page
) -> None:
    do(desk, long, "contents", kind="nested", levels="h2", entries=parts(long, "h2"))
    do(desk, now(long), "visitor-parts", lit=True, points=True)
    tab = visited(desk, now(long), viewport={"width": 1280, "height": 800})
    seen = tab.evaluate(_LIT)
    assert len(seen) > 60
    for lit, points, wanted in seen:
        assert lit == points == ([wanted] if wanted else [])


def test_the_keyboard_goes_with_a_hop_and_the_history_is_as_chosen(desk: Desk, long: Page) -> None:
    """WCAG 2.4.3: the focus moves where the reader was taken."""
    do(desk, long, "contents", kind="nested", levels="h2", entries=parts(long, "h2"))
    do(desk, now(long), "visitor-parts", focus=True, replaces=True)
    tab = visited(desk, now(long))
    before = tab.evaluate("history.length")
    for n in (3, 7):
        tab.get_by_role("link", name=f"Part {n}", exact=True).click()
        expect(tab.locator(f"#s{n}")).to_be_focused()
        assert tab.evaluate("document.querySelector(':target').id") == f"s{n}"
    assert tab.evaluate("history.length") == before
    do(desk, now(long), "visitor-parts", focus=True)
    tab = visited(desk, now(long))
    before = tab.evaluate("history.length")
    tab.get_by_role("link", name="Part 4", exact=True).click()
    expect(tab.locator("#s4")).to_be_focused()
    assert tab.evaluate("history.length") == before + 1


def test_a_way_back_comes_after_some_screens_and_covers_nothing(desk: Desk, long: Page) -> None:
    """At three widths: neither the last line nor a bar at the foot of the view."""
    bar = "<div style='position:fixed;inset:auto 0 0 0;height:64px;background:#ddd'>Cookies</div>"
    desk.paste("/bar/", LONG.replace("</main>", f"<p id=end>The last line</p></main>{bar}"))
    for path in ("/long/", "/bar/"):
        page = Page.objects.select_related("site").get(site=desk.site, path=path)
        do(desk, page, "visitor-parts", up=2)
        tab = visited(desk, now(page))
        for width in (390, 820, 1280):
            tab.set_viewport_size({"width": width, "height": 700})
            tab.evaluate("window.scrollTo({ top: 0, behavior: 'instant' })")
            up = tab.locator("[data-hop-up]")
            expect(up).to_be_hidden()
            tab.evaluate("window.scrollTo({ top: 2.1 * innerHeight, behavior: 'instant' })")
            expect(up).to_be_visible()
            tab.evaluate("window.scrollTo({ top: 1e6, behavior: 'instant' })")
            tab.wait_for_function(
                "scrollY + innerHeight > document.documentElement.scrollHeight - 2"
            )
            tab.wait_for_timeout(60)
            box, last = up.bounding_box(), tab.locator("main > :last-child").bounding_box()
            assert box is not None
            assert last is not None
            assert box["y"] >= last["y"] + last["height"] - 1, (path, width)
            if path == "/bar/":
                assert box["y"] + box["height"] <= 700 - 64, width
        tab.context.close()


@pytest.mark.parametrize("scripts", [True, False])
def test_everything_arrives_with_scripts_on_and_off_under_a_strict_policy(
    desk: Desk, long: Page, scripts: bool
) -> None:
    do(desk, long, "contents", kind="folding", levels="h2", entries=parts(long, "h2"),
       where="sections")  # fmt: skip
    do(desk, now(long), "visitor-parts", focus=True, up=1, points=True, signs=True, snap=True)
    tab = visited(desk, now(long), java_script_enabled=scripts)
    refused: list[str] = []
    tab.on(
        "console", lambda one: refused.append(one.text) if "Content Security" in one.text else None
    )

    def strict(route: Any) -> None:
        answer = route.fetch()
        policy = "default-src 'none'; style-src 'self'; script-src 'self'; img-src 'self'"
        route.fulfill(
            response=answer, headers={**answer.headers, "content-security-policy": policy}
        )

    plain = LONG.replace(" style='max-width: 600px; font: 16px/1.5 serif'", "")
    assert plain != LONG
    tab.route("**/long/*", strict)
    tab.goto(tab.url)
    for at in (2, 9):
        tab.locator("[data-hop-list] a").nth(at).click()
        expect(tab.locator(f"#s{at}")).to_be_in_viewport()
        assert tab.url.endswith(f"#s{at}")
    assert [one for one in refused if "inline style" not in one] == []


def test_less_motion_is_respected(desk: Desk, long: Page) -> None:
    do(desk, long, "visitor-parts", lit=True, snap=True, points=True)
    for motion, snap in (("reduce", "none"), ("no-preference", "y")):
        tab = visited(desk, now(long), reduced_motion=motion)
        assert tab.evaluate("getComputedStyle(document.documentElement).scrollSnapType") == snap


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_each_kind_arrives_is_found_good_by_axe_and_has_targets_large_enough(
    desk: Desk, long: Page, kind: str
) -> None:
    """HTML Standard, `:target`: the element that the fragment indicates. WCAG 2.2: 2.4.1,
    1.4.3 by axe-core; 2.5.8 measured at three widths."""
    do(desk, long, "contents", kind=kind, levels="h2", entries=parts(long, "h2"), title="Parts",
       title_level=2, where="sections", to_list=True)  # fmt: skip
    do(desk, now(long), "visitor-parts", focus=True, up=1, points=True, signs=True)
    tab = visited(desk, now(long), viewport={"width": 390, "height": 800})
    if kind == "folding":
        tab.locator("summary").first.click()
    for width in (390, 820, 1280):
        tab.set_viewport_size({"width": width, "height": 800})
        assert tab.evaluate(_SMALL) == 0
    assert axe(tab) == []
    links = tab.locator(f"[data-hop-list={kind}] a")
    expect(links).to_have_count(SECTIONS)
    for at in range(SECTIONS):
        links.nth(at).click()
        expect(tab.locator(":target")).to_have_id(f"s{at}")
    ways = tab.get_by_role("link", name="Back to top")
    ways.nth(3).click()
    expect(tab.locator(":target")).to_have_id("contents")


def test_the_desk_says_what_a_way_back_in_view_would_meet(desk: Desk) -> None:
    """Measured in Chromium at each width: a bar that only phones have is said for them."""
    bar = "<div class=bar>Cookies, and more of them</div>"
    style = (
        "<style>.bar { display: none } @media (max-width: 600px) { .bar { display: block;"
        " position: fixed; inset: auto 0 0 0; height: 64px } }</style>"
    )
    desk.paste("/long/", LONG.replace("</head>", f"{style}</head>").replace("<main", f"{bar}<main"))
    desk.press("What visitors get")
    desk.side.get_by_label("A way back that stays in view").check()
    said = "Phone 390: “Cookies, and more of them” stays at the view’s foot, 64 px high."
    expect(desk.shown(said)).to_be_visible()
    expect(desk.shown("Tablet 820, Laptop 1280: nothing stays")).to_be_visible()


MANY = LONG.replace(
    "</main>",
    "".join(f"<h2 id=t{n}>More {n}</h2><p>{WORDS[:300]}</p>" for n in range(33)) + "</main>",
)
# Text of a page as it is cut into boxes, less what is ours.
_TEXTS = """() => {
  const range = document.createRange();
  return [...document.querySelectorAll('h1, h2, p')].filter((one) => !one.closest('[data-hop-up]'))
    .flatMap((one) => { range.selectNodeContents(one); return [...range.getClientRects()]; })
    .map((box) => [box.left, box.top, box.right, box.bottom]);
}"""
_TABBABLE = "() => [...document.querySelectorAll('a[href]')].filter((a) => a.tabIndex >= 0).length"


def box_of(tab: Tab, selector: str) -> tuple[float, float, float, float]:
    box = tab.locator(selector).first.bounding_box()
    assert box is not None
    return box["x"], box["y"], box["x"] + box["width"], box["y"] + box["height"]


def overlaps(one: Any, other: Any) -> bool:
    return bool(one[0] < other[2] and other[0] < one[2] and one[1] < other[3] and other[1] < one[3])


@pytest.fixture
def everything(desk: Desk) -> Page:
    """A page of 45 sections with all that there is."""
    desk.bring("/many/", MANY)
    page = Page.objects.select_related("site").get(site=desk.site, path="/many/")
    do(desk, page, "contents", kind="nested", levels="h2", entries=parts(page, "h2"),
       where="sections")  # fmt: skip
    do(desk, now(page), "visitor-parts", focus=True, lit=True, up=1, points=True, signs=True)
    return now(page)


def test_of_many_sections_all_points_are_in_view_and_one_way_to_each_takes_the_keyboard(
    desk: Desk, everything: Page
) -> None:
    tab = visited(desk, everything, viewport={"width": 1280, "height": 800})
    tab.evaluate("window.scrollTo({ top: 3000, behavior: 'instant' })")
    tab.wait_for_timeout(100)
    points = tab.locator("[data-hop-points] a")
    expect(points).to_have_count(45)
    boxes = [one.bounding_box() for one in points.all()]
    assert all(box and box["y"] >= 0 and box["y"] + box["height"] <= 800 for box in boxes)
    assert 700 < box_of(tab, "[data-hop-up] a")[1] < 800  # a bar at the foot is no point of ours
    assert tab.evaluate(_TABBABLE) == 45 + 45 + 1  # entries, ways back, the one in view
    # WCAG 2.2, 1.4.13: what a pointer shows can be pointed at, and goes with Escape.
    points.nth(40).hover()
    label = points.nth(40).locator("span")
    expect(label).to_have_css("opacity", "1")
    tab.mouse.move(label.bounding_box()["x"] + 4, label.bounding_box()["y"] + 6, steps=6)  # type: ignore[index]
    expect(label).to_have_css("opacity", "1")
    tab.keyboard.press("Escape")
    expect(label).to_have_css("opacity", "0")
    tab.emulate_media(forced_colors="active")
    fill = "(a) => getComputedStyle(a, '::before').backgroundColor"
    lit = tab.locator("[data-hop-points] [aria-current]").evaluate(fill)
    assert lit != points.nth(40).evaluate(fill)
    tab.emulate_media(media="print")
    expect(tab.locator("[data-hop-up], [data-hop-points]").first).to_be_hidden()
    expect(tab.locator("[data-hop-back]").first).to_be_hidden()
    assert tab.evaluate("getComputedStyle(document.body).paddingBottom") == "0px"


def test_a_way_back_in_view_covers_no_words(desk: Desk, everything: Page) -> None:
    tab = visited(desk, everything)
    for width in (320, 390, 640, 820, 1000):
        tab.set_viewport_size({"width": width, "height": 700})
        for top in (1_500, 3_333, 1_000_000):
            tab.evaluate(f"window.scrollTo({{ top: {top}, behavior: 'instant' }})")
            tab.wait_for_timeout(80)
            up = box_of(tab, "[data-hop-up] a")
            assert not any(overlaps(up, one) for one in tab.evaluate(_TEXTS)), (width, top)
        assert 0 < up[1] < 700, width


def test_points_stand_beside_the_text_in_any_direction_or_not_at_all(desk: Desk) -> None:
    bare = LONG.replace("<main style='max-width: 600px; font: 16px/1.5 serif'>", "<div class=a>")
    bare = bare.replace("</main>", "</div>")
    narrow = "<style>.a { max-width: 700px }</style></head>"
    shapes = {"wide": bare, "slim": bare.replace("</head>", narrow),
              "rtl": bare.replace("</head>", narrow).replace("<html", "<html dir=rtl")}  # fmt: skip
    for name, text in shapes.items():
        desk.bring(f"/{name}/", text)
        page = Page.objects.select_related("site").get(site=desk.site, path=f"/{name}/")
        do(desk, page, "visitor-parts", points=True)
        tab = visited(desk, now(page), viewport={"width": 1280, "height": 800})
        point = tab.locator("[data-hop-points] a").nth(3)
        if name == "wide":
            expect(point).to_be_hidden()
            continue
        point.hover()
        label = box_of(tab, "[data-hop-points] a:hover span")
        assert 0 <= label[0] < label[2] <= 1280
        own = box_of(tab, "[data-hop-points]")
        assert not any(overlaps(own, one) for one in tab.evaluate(_TEXTS))
        tab.context.close()


def test_words_of_another_language_say_so(desk: Desk) -> None:
    """WCAG 2.2, 3.1.2. Nobody here knows what Basque readers are used to click."""
    desk.bring("/euskara/", LONG.replace("lang=en", "lang=eu"))
    page = Page.objects.select_related("site").get(site=desk.site, path="/euskara/")
    do(desk, page, "visitor-parts", up=1, points=True, signs=True)
    text = current(now(page)).text
    assert 'lang="en">Back to top</a>' in text
    assert 'aria-label="Link to this section" lang="en">#</a>' in text
    assert '<ol lang="eu">' in text
