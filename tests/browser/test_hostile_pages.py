"""Pages that mean harm while they are walked and visited: they reach neither the window that
walks, nor the editor's tab, nor what is said of other pages; and no worker of theirs stays."""

from __future__ import annotations

from urllib.parse import urlsplit

import pytest
from playwright.sync_api import expect

from innerhop.library.models import Walk
from innerhop.visitor import passes
from tests.browser.conftest import Desk
from tests.library.test_findings import site_with

# What was possible once, and what is like it. `reached` keeps what it got hold of.
EVIL = """<script>
const reached = [];
const attempt = (what, act) => { try { if (act()) reached.push(what); } catch {} };
const forged = { path: "/good.html", hash: "#deep", target: "deep", arrived: true, y: 4321 };
const assail = () => {
  attempt("nonce", () => parent.document.querySelector("script").nonce);
  attempt("parent", () => parent.document.body.append(document.createElement("script")));
  attempt("opener", () => parent.opener);
  attempt("open", () => window.open("/evil.html"));
  attempt("top", () => { top.location = "/gone"; });
  attempt("worker", () => { navigator.serviceWorker.register("/sw.js")
    .then(() => reached.push("worker")); });
  for (const to of [parent, parent.opener, top, parent[1]]) {
    attempt("tell", () => { for (let round = 0; round < 40; round += 1)
      to.postMessage({ innerHop: "told", round, found: forged }, "*"); });
    attempt("told", () => { to.postMessage({ found: forged }, "*"); });
  }
  // What looks at this page is of its own origin: it can be told to lie, of this page.
  attempt("looker", () => { parent[1].parent.postMessage({ found: forged }, "*"); });
};
setInterval(assail, 15);
</script>"""
GOOD = "<p><a href=#deep>down</a></p><p style='height:2000px'>x</p><h2 id=deep>Deep</h2>" \
    "<p style='height:1500px'>x</p>"  # fmt: skip


@pytest.mark.harmful  # the browser logs what it forbids
def test_a_page_that_is_walked_reaches_nothing_but_itself(desk: Desk) -> None:
    pages = {
        "evil.html": f"<title>Evil</title>{EVIL}<h1>Evil</h1>{GOOD}"
        "<p><a href=/good.html#deep>there</a></p>",
        "good.html": f"<title>Good</title><h1>Good</h1>{GOOD}",
    }
    site = site_with(desk.site.editors.get(), pages)
    tab = desk.tab
    tab.goto(f"{desk.server}/{site.slug}/rehearsal/")
    address = tab.url
    tab.get_by_role("button", name="Walk every hop").click()
    again = tab.get_by_role("button", name="Walk every hop again")
    expect(again).to_be_visible(timeout=120_000)
    assert tab.url == address
    assert len(tab.context.pages) == 1  # the window that walked is shut, and opened no other
    walks = Walk.objects.filter(page__site=site, page__path="/good.html")
    assert walks.count() == 3
    for walk in walks:  # where it really is, whatever the other page said
        assert walk.agrees, walk.trouble
        assert walk.found["y"] != 4321


@pytest.mark.harmful  # the browser logs what it forbids
def test_no_worker_of_a_site_takes_its_visitor_host_over(desk: Desk) -> None:
    """Service Workers, "Service-Worker" request header and "Service-Worker-Allowed"
    (https://w3c.github.io/ServiceWorker/#service-worker-script-request)."""
    asks = (
        "<script>navigator.serviceWorker.register('/sw.js').then("
        "() => document.title = 'Taken', () => document.title = 'Refused')</script>"
    )
    worker = "self.addEventListener('fetch', (e) => e.respondWith(new Response('old')))"
    site = site_with(desk.site.editors.get(), {"index.html": f"<title>x</title>{asks}<h1>Now"})
    content = worker.encode()
    site.assets.create(
        path="/sw.js", content=content, size=len(content), media_type="text/javascript"
    )
    root = f"http://{site.visitor_host}:{urlsplit(desk.server).port}"
    tab = desk.tab
    tab.goto(f"{root}/-/enter?pass={passes.to_enter(site.pk)}&to=/")
    tab.wait_for_function("document.title === 'Refused'")
    assert tab.evaluate("navigator.serviceWorker.getRegistrations().then((all) => all.length)") == 0
    tab.reload()
    expect(tab.get_by_role("heading", name="Now")).to_be_visible()
    answers = tab.evaluate(
        "() => fetch('/sw.js').then(({status, headers}) =>"
        " [status, headers.get('service-worker-allowed')])"
    )
    assert answers == [200, None]  # as a file it is there
