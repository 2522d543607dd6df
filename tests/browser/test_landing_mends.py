"""What is mended is measured again at once: the finding is gone when the list is shown, and
back when it is undone."""

from __future__ import annotations

from playwright.sync_api import expect

from innerhop.library.models import Layout
from tests.browser.conftest import Desk
from tests.browser.test_findings import row
from tests.library.test_findings import site_with

STYLE = "<style>body{margin:0}header{position:sticky;top:0;height:90px;background:#fff}</style>"
PARTS = "".join(
    f"<h2 id=lock-{at}>Lock {at}</h2><p style='height:700px'>Two gates." for at in range(6)
)


def test_nothing_is_measured_while_another_tab_is_in_front(desk: Desk) -> None:
    """Page Visibility: a hidden document is laid out for nobody."""
    site = site_with(desk.site.editors.get(), {"locks.html": f"<title>Locks</title>{PARTS}"})
    tab = desk.tab
    tab.add_init_script(
        "let away = true;"
        "Object.defineProperty(document, 'hidden', { get: () => away });"
        "window.comeBack = () => { away = false;"
        " document.dispatchEvent(new Event('visibilitychange')); };"
    )
    tab.goto(f"{desk.server}/{site.slug}/findings/")
    expect(tab.get_by_text("Measuring landings: 0 of 3")).to_be_visible()
    tab.wait_for_timeout(600)
    assert not Layout.objects.filter(page__site=site).exists()
    tab.evaluate("window.comeBack()")
    tab.get_by_text("Landings are measured").wait_for()
    assert Layout.objects.filter(page__site=site).count() == 3


def test_room_that_was_made_is_seen_without_measuring_by_hand(desk: Desk) -> None:
    links = "".join(f"<p><a href=#lock-{at}>Lock {at}</a>" for at in range(6))
    page = f"<title>Locks</title>{STYLE}<header>Trust</header><h1>Locks</h1>{links}{PARTS}"
    editor = desk.site.editors.get()
    site = site_with(editor, {"locks.html": page})
    tab = desk.tab
    tab.goto(f"{desk.server}/{site.slug}/findings/")
    tab.get_by_text("Landings are measured, and what is found is below").wait_for()
    covered = row(desk, "What stays in view hides the heading")
    covered.get_by_role("button", name="Leave room for it").first.click()
    tab.get_by_text("Mended “What stays in view").wait_for()
    expect(covered).to_have_count(0)
    expect(tab.get_by_text("Measuring landings")).to_have_count(1)
    expect(tab.get_by_text("Measuring landings")).to_be_hidden()
    tab.get_by_role("button", name="Undo").click()
    tab.get_by_text("Undone: Mended").wait_for()
    expect(covered).to_have_count(1)
