"""A page screen over a slow line: 400 kbit/s, and 400 ms there and back, as Chromium's own
network conditions make it. What is counted ends when the page can be worked on: its ruler
drawn and its sheet measured."""

from __future__ import annotations

import time

from django.db import connection
from playwright.sync_api import CDPSession, sync_playwright
from playwright.sync_api import Page as Tab

from innerhop.library.models import Page
from innerhop.practice import demo
from innerhop.practice.serving import fresh_database, serve

Figure = tuple[str, float, str, float]
LINE = {
    "offline": False,
    "latency": 400,
    "downloadThroughput": 400_000 / 8,
    "uploadThroughput": 400_000 / 8,
}


def figures() -> list[Figure]:
    """Seconds for the first page screen of somebody new, and for the next; and what was
    sent for each, in kilobytes."""
    fresh_database("innerhop_bench")
    demo.load()
    first, second = (
        Page.objects.get(path=path).get_absolute_url()
        for path in ("/moorings/", "/skippers-handbook/")
    )
    connection.close()
    with serve(workers=2) as url, sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"]
        )
        context = browser.new_context(viewport={"width": 1280, "height": 800})
        tab = context.new_page()
        tab.goto(f"{url}/sign-in/")
        tab.get_by_role("button", name="demo editor").click()
        tab.get_by_role("button", name="Sign out").wait_for()
        line = context.new_cdp_session(tab)
        line.send("Network.enable")
        line.send("Network.clearBrowserCache")
        line.send("Network.emulateNetworkConditions", LINE)
        taken = [_opened(tab, line, url + address) for address in (first, second)]
        browser.close()
    (once, size), (again, more) = taken
    return [
        ("first page screen at 400 kbit/s, 400 ms", once, "s", 5),
        ("what is sent for it", size, "kB", 220),
        ("the next page screen there", again, "s", 2),
        ("what is sent for that", more, "kB", 60),
    ]


def _opened(tab: Tab, line: CDPSession, url: str) -> tuple[float, float]:
    sent: list[float] = []
    line.on("Network.loadingFinished", lambda event: sent.append(event["encodedDataLength"]))
    begin = time.perf_counter()
    tab.goto(url, wait_until="commit")
    tab.locator(".ruler-section").first.wait_for(state="attached", timeout=60_000)
    tab.get_by_text("Reading the page").wait_for(state="hidden", timeout=60_000)
    return time.perf_counter() - begin, sum(sent) / 1_000
