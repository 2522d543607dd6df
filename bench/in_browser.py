"""A page of 1 MB with 2,000 marks in Chromium: until its screen is ready, and until a
mark is saved; and how much is sent for a page of thousands of hops."""

from __future__ import annotations

import statistics
import time

from django.db import connection
from django.test import Client
from playwright.sync_api import Page as Tab
from playwright.sync_api import sync_playwright

from bench.pages import page
from innerhop.library import sites
from innerhop.library.bring_in import bring_ins
from innerhop.library.models import Editor
from innerhop.practice import demo
from innerhop.practice.serving import fresh_database, serve

Figure = tuple[str, float, str, float]
HOPS = 17_000


def figures() -> list[Figure]:
    """Seconds until ready and until saved, medians; and megabytes sent."""
    fresh_database("innerhop_bench")
    demo.load()
    editor = Editor.objects.get(username=demo.EDITOR)
    large = _page(editor, "large", page(2000, 75))
    links = "".join(f'<a href="#part-{n % 50}">see {n}</a> ' for n in range(HOPS))
    linked = _page(editor, "linked", page(50, 60).replace("</main>", f"<p>{links}</main>"))
    client = Client(SERVER_NAME="127.0.0.1")
    client.force_login(editor, backend="innerhop.library.access.Backend")
    sent = len(client.get(linked).content) / 1_000_000
    connection.close()
    with serve(workers=2) as url, sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"]
        )
        tab = browser.new_page(viewport={"width": 1280, "height": 800})
        tab.goto(f"{url}/sign-in/")
        tab.get_by_role("button", name="demo editor").click()
        tab.get_by_role("button", name="Sign out").wait_for()
        ready = [_ready(tab, url + large) for _ in range(5)]
        saved = [_saved(tab, turn) for turn in range(5)]
        browser.close()
    return [
        ("page of 1 MB / 2,000 marks, ready in Chromium", statistics.median(ready), "s", 2),
        ("a mark saved there", statistics.median(saved), "s", 1),
        (f"page with {HOPS:,} hops, what is sent", sent, "MB", 0.5),
    ]


def _page(editor: Editor, name: str, text: str) -> str:
    site = sites.create(name, f"{name}.example", "en", editor)
    for _ in bring_ins.bring_in(site, editor, [bring_ins.NewFile("index.html", text.encode())], 1):
        pass
    return str(site.pages.get().get_absolute_url())


def _ready(tab: Tab, url: str) -> float:
    """Until ruler and outline can be worked on. The sheet is beside them by then, and
    Chromium is still laying it out, which takes it a second for such a page."""
    tab.goto(url[: url.index("/", 8) + 1])  # taking the page before apart is not measured
    begin = time.perf_counter()
    tab.goto(url, wait_until="domcontentloaded")
    tab.locator(".ruler-section").nth(100).wait_for(state="attached", timeout=60_000)
    return time.perf_counter() - begin


def _saved(tab: Tab, turn: int) -> float:
    """From the key that saves until the line that says so, on one paragraph after another.
    The waits are those of a person who reads and types; they aren't counted."""
    field = tab.locator("#section-id")
    lead = f"document.querySelectorAll('p.lead')[{turn}]"
    frame = tab.frames[1]
    frame.evaluate(f"{lead}.scrollIntoView({{block: 'center'}})")
    tab.wait_for_timeout(900)
    # The sheet is drawn smaller than it is, which Playwright's own click leaves out.
    box = tab.locator("iframe").bounding_box()
    assert box is not None
    scale = box["width"] / tab.evaluate("document.querySelector('iframe').offsetWidth")
    at = frame.evaluate(f"{lead}.getBoundingClientRect().toJSON()")
    tab.mouse.click(box["x"] + scale * (at["x"] + 4), box["y"] + scale * (at["y"] + 4))
    field.wait_for()
    tab.wait_for_timeout(1_500)
    field.fill(f"new-{turn}")
    tab.wait_for_timeout(800)
    begin = time.perf_counter()
    field.press("Enter")
    # Looked for in one place: searching thousands of parts again and again takes time too.
    tab.wait_for_function(
        "(words) => document.querySelector('[x-text=message]').textContent.includes(words)",
        arg=f"as #new-{turn}",
        timeout=60_000,
    )
    return time.perf_counter() - begin
