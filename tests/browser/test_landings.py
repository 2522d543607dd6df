"""The computed landing against the real one: what the sheet's script measures, what the core
makes of it, and where Chromium scrolls when the hash is followed. Within 1 px, at the three
widths.

CSSOM View, "scroll an element into view"; CSS Scroll Snap 1; CSS Positioned Layout 3, sticky
positioning; HTML Standard, "ancestor revealing algorithm"; as Chromium carries them out.
"""

from __future__ import annotations

import random
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings
from playwright.sync_api import Page

from innerhop.core import landings, widths
from innerhop.core.landings import Landing
from innerhop.library.seek.landings import Laid, read

SHEET = Path(settings.BASE_DIR) / "static" / "dist" / "sheet.js"
ASK = """ids => new Promise(done => {
  addEventListener('message', ({ data }) => data.innerHop === 'told layout' && done(data.layout));
  postMessage({ innerHop: 'layout', marks: ids });
})"""
FILL = "<p style='height: 700px'>x</p>"
TALL = f"{FILL}<h2 id=a>A heading</h2><p>Words</p>{FILL}<h2 id=b>B</h2><p>Words</p>{FILL * 3}"
HEADER = "<header style='position: {how}; top: 0; height: 80px; width: 100%; background: #ddd'>x"


def page(body: str, style: str = "", more: str = "") -> str:
    return (f"<!doctype html><html {more}><head><style>body {{ margin: 0 }} {style}</style>"
            f"<body>{body}")  # fmt: skip


STICKY, FIXED = (f"{HEADER.format(how=how)}</header>" for how in ("sticky", "fixed"))
BAR = "<aside style='position: fixed; bottom: 0; left: 0; right: 0; height: 90px'>Cookies</aside>"
END = f"{FILL * 3}<h2 id=a>A</h2>"
CASES = {
    "nothing in the way": page(TALL),
    "a sticky header": page(STICKY + TALL),
    "no doctype": page(STICKY + TALL).removeprefix("<!doctype html>"),
    "a fixed header": page(FIXED + TALL),
    "two stacked": page(
        f"{STICKY}<nav style='position: sticky; top: 80px; height: 40px; background: #eee'>x</nav>"
        + TALL
    ),
    "a header on wide screens only": page(
        STICKY + TALL, "@media (max-width: 600px) { header { position: static !important } }"
    ),
    "a sticky header of one section": page(
        f"<section>{STICKY}<p style='height: 900px'>x</p></section>{TALL}"
    ),
    "scroll-margin in px": page(TALL, "#a { scroll-margin-top: 90px }"),
    "scroll-margin in rem": page(TALL, "h2 { scroll-margin-top: 5rem }"),
    "scroll-padding in px": page(STICKY + TALL, "html { scroll-padding-top: 96px }"),
    "scroll-padding in per cent": page(TALL, "html { scroll-padding-top: 12% }"),
    "scroll-padding in vh": page(TALL, "html { scroll-padding-top: 10vh }"),
    "both": page(TALL, "html { scroll-padding-top: 3em } h2 { scroll-margin-top: 20px }"),
    "the page's end": page(f"{FILL * 3}<h2 id=a>A</h2><p>x</p><h2 id=b>B</h2>"),
    "a bar at the bottom": page(END + BAR),
    "a scrolling box": page(
        f"{FILL}<div style='height: 300px; overflow: auto'>{TALL}</div>{FILL * 3}"
    ),
    "closed details": page(
        f"{FILL}<details><summary>More</summary><h2 id=a>A</h2>{FILL}</details><h2 id=b>B</h2>"
        f"{FILL * 3}"
    ),
    "snapping, mandatory": page(
        "".join(f"<section id={one}><h2>{one}</h2></section>" for one in "xayb"),
        "html { scroll-snap-type: y mandatory }section { height: 100vh; scroll-snap-align: start }",
    ),
    "snapping, when near": page(
        f"<section>{TALL}</section>",
        "html { scroll-snap-type: y proximity } #b { scroll-snap-align: start }",
    ),
    "names that hide what a document has": page(
        f"<img name=getElementById><img name=body><form name=documentElement></form>{TALL}"
    ),
    "right to left": page(TALL, "", "dir=rtl"),
    "zoomed": page(TALL, "body { zoom: 1.5 }"),
    "columns that stack": page(
        f"<div class=two><div>{TALL}</div><div><h2 id=c>C</h2>{FILL * 2}</div></div>",
        "@media (min-width: 700px) { .two { display: grid; grid-template-columns: 1fr 1fr } }",
    ),
}


def laid_out(tab: Page, width: widths.Width, markup: str) -> Laid:
    tab.set_viewport_size({"width": width.width, "height": width.view})
    tab.set_content(markup)
    tab.add_script_tag(path=SHEET)
    found: dict[str, Any] = tab.evaluate(ASK, ["a", "b", "c"])
    found["view"]["width"] = width.width
    return read(found["view"], found["targets"])


def walked(tab: Page, markup: str, id_: str) -> float:
    """Where the page is when its hash has been followed."""
    tab.set_content(markup)
    tab.evaluate(f"location.hash = {id_!r}")
    tab.evaluate("new Promise(done => requestAnimationFrame(() => setTimeout(done, 50)))")
    y: float = tab.evaluate("scrollY")
    tab.evaluate("location.hash = ''")
    return y


@pytest.mark.parametrize("name", CASES)
def test_the_computed_landing_is_where_chromium_scrolls(tab: Page, name: str) -> None:
    tab.goto("about:blank")
    markup = CASES[name]
    for width in widths.ALL:
        laid = laid_out(tab, width, markup)
        assert laid.targets
        for id_, target in laid.targets.items():
            y, _ = landings.scrolled_to(laid.view, target)
            assert abs(y - walked(tab, markup, id_)) <= 1, (name, width.name, id_)


def told(tab: Page, width: widths.Width, markup: str = "") -> dict[str, Any]:
    """What our script tells of a visitor's page, given that width, or loaded anew at it."""
    tab.set_viewport_size({"width": width.width, "height": width.view})
    if markup:
        tab.set_content(markup)
        tab.evaluate(SHEET.read_text())
    found: dict[str, Any] = tab.evaluate(ASK, ["a", "b", "c"])
    return found


SLOW = page(f"{STICKY}{TALL}", "header, h2 { transition: all 3s } @media (max-width: 600px) "
            "{ header { height: 200px !important } h2 { margin-top: 90px } }")  # fmt: skip


@pytest.mark.parametrize("name", [*CASES, "what changes slowly"])
def test_a_page_given_another_width_lies_as_if_it_had_been_loaded_at_it(
    tab: Page, name: str
) -> None:
    tab.goto("about:blank")
    markup = CASES.get(name, SLOW)
    given = [told(tab, one, "" if at else markup) for at, one in enumerate(widths.ALL)]
    assert all(one["steady"] for one in given)
    assert given == [told(tab, one, markup) for one in widths.ALL]


@pytest.mark.parametrize(
    "more",
    ["<script>1</script>", "<p onclick='x()'>x</p>", "<img srcset='a.png 2x'>",
     "<iframe></iframe>", "<img loading=lazy src=a.png>", "<picture></picture>",
     "<form onreset=x()><input name=attributes>"],
)  # fmt: skip
def test_a_page_that_the_window_may_change_is_loaded_for_each_width(tab: Page, more: str) -> None:
    tab.goto("about:blank")
    assert not told(tab, widths.PHONE, page(TALL + more))["steady"]


def landing(tab: Page, markup: str, id_: str = "a") -> Landing:
    laid = laid_out(tab, widths.LAPTOP, markup)
    shut = landings.SHUT if id_ in laid.hidden else ""
    return landings.landing(laid.view, laid.targets.get(id_), shut)


MARKER = f"{FILL}<h2>A heading</h2><span id=a></span><p>Words</p>{FILL * 4}"
SPACED = f"{FILL}<div id=a style='padding-top: 200px'><h2>A heading</h2></div>{FILL * 4}"


@pytest.mark.parametrize(
    ("markup", "verdict", "mend"),
    [
        (CASES["a sticky header"], landings.COVERED, "html { scroll-padding-top: 96px }"),
        (CASES["two stacked"], landings.COVERED, "html { scroll-padding-top: 136px }"),
        (page(MARKER), landings.CUT, "#a { scroll-margin-top: 80px }"),
        (page(SPACED), landings.GAP, "#a { padding-top: 0 !important }"),
        (page(f"<div hidden><h2 id=a>A</h2></div>{FILL * 4}"), landings.SHUT,
         "div { display: block !important }"),
        (CASES["the page's end"], landings.SHORT, ""),
        (CASES["a bar at the bottom"], landings.COVERED, "body { padding-bottom: 100vh }"),
        (page(END + BAR.replace("height", "display: none; height")), landings.SHORT, ""),
        (CASES["nothing in the way"], landings.CLEAR, ""),
        (page(f"{FILL}<h2 id=other>A</h2>"), landings.NOWHERE, ""),
    ],
)  # fmt: skip
def test_a_planted_fault_is_found_and_its_mend_makes_it_clear(
    tab: Page, markup: str, verdict: str, mend: str
) -> None:
    """WCAG 2.2, 2.4.11 "Focus Not Obscured (Minimum)"."""
    tab.goto("about:blank")
    assert landing(tab, markup).verdict == verdict
    if mend:
        mended = markup.replace("</style>", f"{mend}</style>")
        assert landing(tab, mended).verdict == landings.CLEAR


def test_a_landing_that_moves_once_pictures_have_loaded_is_named(tab: Page) -> None:
    tab.goto("about:blank")
    tab.route("**/slow.png", lambda route: None)  # it never comes
    late = f"{FILL * 9}<img src='http://127.0.0.1:9/slow.png' loading=lazy>{TALL}"
    found = landing(tab, page(late))
    assert found.moves
    assert "until pictures above have loaded" in landings.says(found)
    assert not landing(tab, page(TALL)).moves


MANUALS = {
    "developers-reference": Path("/usr/share/developers-reference"),
    "git-doc": Path("/usr/share/doc/git/html"),
}
HOPS, A_PAGE = 100, 10


@pytest.mark.harmful  # manuals ask for files that are not there
@pytest.mark.parametrize("package", MANUALS)
def test_hops_of_manuals_that_nobody_here_wrote(tab: Page, package: str) -> None:
    """Some hundred hops of each of Debian's two packages, drawn at random."""
    root = MANUALS[package]
    if not root.is_dir():
        pytest.skip(f"Debian's package {package} is not installed.")
    seed = random.randrange(10_000)
    print(f"drawn with seed {seed}")
    draw = random.Random(seed)
    files = [one for one in sorted(root.rglob("*.html")) if b'href="#' in one.read_bytes()]
    draw.shuffle(files)
    walked_hops = 0
    for file in files:
        if walked_hops >= HOPS:
            break
        width = draw.choice(widths.ALL)
        tab.set_viewport_size({"width": width.width, "height": width.view})
        tab.goto(file.as_uri())
        ids = tab.evaluate(
            "[...new Set([...document.querySelectorAll('a[href^=\"#\"]')]"
            ".map(a => a.getAttribute('href').slice(1)))].filter(id => document.getElementById(id))"
        )
        if not ids:
            continue
        tab.add_script_tag(path=SHEET)
        found = tab.evaluate(ASK, ids)
        found["view"]["width"] = width.width
        laid = read(found["view"], found["targets"])
        for id_ in draw.sample(sorted(laid.targets), k=min(A_PAGE, len(laid.targets))):
            y, _ = landings.scrolled_to(laid.view, laid.targets[id_])
            tab.evaluate(f"location.hash = {id_!r}")
            tab.evaluate("new Promise(done => requestAnimationFrame(() => setTimeout(done, 20)))")
            real = tab.evaluate("scrollY")
            assert abs(y - real) <= 1, (file.name, id_, width.name, seed)
            walked_hops += 1
    assert walked_hops > 20
