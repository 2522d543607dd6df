"""Takes the pictures in docs/screenshots from the demo site. Run by bin/screenshots."""

from __future__ import annotations

import os
from pathlib import Path

import django

django.setup()
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"  # Playwright runs a loop in this thread

from django.db import connection  # noqa: E402  (models need Django set up)
from django.utils import timezone  # noqa: E402
from playwright.sync_api import Page, sync_playwright  # noqa: E402

from innerhop.core.addresses import urls  # noqa: E402
from innerhop.core.facts.page_facts import gather  # noqa: E402
from innerhop.core.site.sketch import sketch  # noqa: E402
from innerhop.core.source import file_encoding  # noqa: E402
from innerhop.core.source.tree import Source  # noqa: E402
from innerhop.library import doing  # noqa: E402
from innerhop.library.bring_in import bring_ins  # noqa: E402
from innerhop.library.index.texts import current  # noqa: E402
from innerhop.library.models import Editor, FoundThere, Job, Look, Seen, Site, Staged  # noqa: E402
from innerhop.practice import colleagues, demo, edited_there  # noqa: E402
from innerhop.practice.serving import fresh_database, serve  # noqa: E402

FOLDER = Path(__file__).parent / "screenshots"


def main() -> None:
    """One picture of each main view, at 1280 × 800."""
    fresh_database("innerhop_pictures")
    site = demo.load()
    pages = {page.path: page.get_absolute_url() for page in site.pages.all()}
    connection.close()
    with serve() as url, sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"]
        )
        tab = browser.new_page(viewport={"width": 1280, "height": 800})
        tab.goto(f"{url}/sign-in/")
        tab.get_by_role("button", name="Sign in as the demo editor").click()
        for address in pages.values():  # so that every ruler is measured
            open_page(tab, url + address)
            tab.wait_for_timeout(500)
        tab.goto(f"{url}/{site.slug}/rehearsal/")  # and every landing
        tab.get_by_role("button", name="Walk every hop").wait_for(timeout=120_000)
        tab.goto(f"{url}/{site.slug}/")
        take(tab, "pages")
        tab.goto(f"{url}/{site.slug}/bring-in/")
        take(tab, "bring-in")
        take_fetching(tab, url, site)
        take_page_screen(tab, url + pages["/skippers-handbook/"])
        take_marks(tab, url, pages)
        tab.goto(f"{url}/{site.slug}/map/")
        take(tab, "map")
        tab.goto(f"{url}/{site.slug}/menus/")
        tab.get_by_role("button", name="Book #book").click()
        tab.locator("button:enabled", has_text="Write it so on").wait_for()  # what is proposed
        take(tab, "menus")
        handbook = pages["/skippers-handbook/"].rstrip("/").rpartition("/")[2]
        tab.goto(f"{url}/{site.slug}/rehearsal/?page={handbook}")
        tab.get_by_role("button", name="Walk every hop").wait_for(timeout=120_000)
        take(tab, "rehearsal")
        tab.goto(f"{url}/{site.slug}/findings/")
        take(tab, "findings")
        tab.goto(f"{url}/{site.slug}/hand-over/copy-sheet/")
        take(tab, "copy-sheet")
        take_news(tab, url, site)
        tab.goto(f"{url}/{site.slug}/hand-over/")
        take(tab, "hand-over")
        take_live(tab, url, site)
        colleagues.join(site)
        renamed = site.changes.filter(act="rename")[0]
        connection.close()
        tab.goto(f"{url}/{site.slug}/history/?of=c{renamed.pk}")
        take(tab, "history")
        browser.close()


def take_page_screen(tab: Page, address: str) -> None:
    """The outline, a section being marked, a section with its hops, a hop being made."""
    open_page(tab, address)
    take(tab, "page-outline")
    tab.get_by_role("button", name="Contents list, 8 entries").click()
    tab.get_by_text("10 entries, 2 new IDs").wait_for()
    tab.wait_for_timeout(600)
    take(tab, "contents")
    to_outline(tab)
    tab.get_by_role("button", name="What visitors get").click()
    for name in ("Light up", "Small points", "A way back that stays"):
        tab.get_by_label(name).check()
    tab.get_by_text("What changes in the markup").locator("visible=true").wait_for()
    tab.wait_for_timeout(400)
    take(tab, "visitors")
    tab.get_by_role("button", name="Cancel").locator("visible=true").click()
    choose(tab, "Lifting bridges")
    take(tab, "page-mark")
    tab.get_by_role("button", name="Mark this section").click()
    tab.get_by_text("Marked “Lifting bridges” as").first.wait_for()
    tab.wait_for_timeout(400)
    choose(tab, "Your first lock")
    take(tab, "page-screen")
    to_outline(tab)
    tab.get_by_label("Link words on this page").fill("the lifebelt")
    tab.keyboard.press("Enter")
    tab.get_by_label("Where the hop ends").fill("water and")
    tab.keyboard.press("Enter")
    tab.get_by_text("What changes in the markup").locator("visible=true").wait_for()
    take(tab, "page-hop")
    tab.get_by_role("button", name="Save the hop").click()
    tab.wait_for_timeout(800)


def take_fetching(tab: Page, url: str, site: Site) -> None:
    """A fetch of which half of the pages have come."""
    pages = [one for one in demo.files() if one[0].endswith("index.html")]
    came = pages[: len(pages) - 3]
    job = Job.objects.create(
        site=site, editor=Editor.objects.get(), kind="fetch", state=Job.State.RUNS,
        asked={"address": site.address}, done=len(came), total=len(pages), beat=timezone.now(),
        said=f"{len(came)} pages and 4 files",
    )  # fmt: skip
    for number, (name, data) in enumerate(came, 1):
        address = site.address.rstrip("/") + urls.address_of_file(name)
        source = Source(file_encoding.decode(data)[0])
        found = sketch(source, gather(source), address)
        Staged.objects.create(job=job, number=number, kind="page", name=address, found=found)
    connection.close()
    tab.goto(f"{url}/{site.slug}/jobs/{job.pk}/")
    tab.wait_for_timeout(600)
    take(tab, "fetching")
    job.delete()
    connection.close()


def take_live(tab: Page, url: str, site: Site) -> None:
    """What was planned so far, as it would be seen with slips on the site: one ID in the class, and
    nothing on the pages that come last."""
    editor = Editor.objects.get()
    plan = [("/skippers-handbook/", "rings"), ("/moorings/", "places"), ("/lock-guide/", "gear")]
    made = []
    for path, id_ in plan:
        page = site.pages.get(path=path)
        number = page.sections.filter(mark="").first().number
        before = bytes(current(page).revision.content)
        doing.do(editor, "mark", page, {"marks": [{"number": number, "id": id_}]})
        made.append((page, id_, before))
    for (page, _, _), (end, id_, _) in zip(made[1:], made, strict=False):
        page.refresh_from_db()
        number = page.sections.order_by("number")[1].number
        sent = {"number": number, "side": "before", "words": f"See {end.title}",
                "end": {"page": end.pk, "id": id_}}  # fmt: skip
        doing.do(editor, "put-link", page, sent)
    for broken in (7, 7, 3, 3, 6):
        Look.objects.create(site=site, editor=editor, pages=10, broken=broken)
    page = made[0][0]
    why = "Somebody renamed it: “winter-stoppages” stands at the same heading."
    told = {"what": "broke", "page": page.pk, "title": page.title, "path": page.path,
            "words": "winter works", "href": "/stoppages/#winter-works", "why": why}  # fmt: skip
    look = Look.objects.create(site=site, editor=editor, pages=10, broken=4, changed=[told])
    FoundThere.objects.create(page=page, site=site, number=9, rule="no-id", words="winter works",
                              is_broken=True, since=look, broke=True, why=why,
                              href="/stoppages/#winter-works")  # fmt: skip
    Site.objects.filter(pk=site.pk).update(live_broke=1)
    for at, (page, id_, before) in enumerate(made):
        page.refresh_from_db()
        slip = current(page).text.replace(f'id="{id_}"', f'class="{id_}"').encode()
        there = slip if at == 0 else before
        Seen.objects.create(page=page, look=look, content=there, label="utf-8", codec="utf-8")
    connection.close()
    tab.goto(f"{url}/{site.slug}/live/")
    tab.locator(".live-row a[aria-label*='entered differently']").first.click()
    tab.wait_for_timeout(600)
    take(tab, "live")


def take_news(tab: Page, url: str, site: Site) -> None:
    """The site, brought in again as somebody has changed it meanwhile."""
    steps = bring_ins.bring_in(
        site, Editor.objects.get(), edited_there.pieces(), len(edited_there.pieces()), replace=True
    )
    for _ in steps:
        pass
    connection.close()
    tab.goto(f"{url}/{site.slug}/")
    tab.get_by_role("link", name="See what changed there").click()
    take(tab, "what-changed-there")


def take_marks(tab: Page, url: str, pages: dict[str, str]) -> None:
    """A rename looked at."""
    open_page(tab, url + pages["/skippers-handbook/"])
    choose(tab, "Winter on the cut")
    tab.get_by_role("button", name="Rename", exact=True).first.click()
    tab.get_by_label("Another ID for it").fill("winter-on-the-cut")
    tab.wait_for_timeout(1200)
    take(tab, "page-rename")


def open_page(tab: Page, address: str) -> None:
    tab.goto(address)
    tab.get_by_text("Reading the page").wait_for(state="hidden")
    tab.wait_for_timeout(700)


def to_outline(tab: Page) -> None:
    """Escape closes one thing after the other."""
    for _ in range(4):
        if not tab.get_by_role("heading", name="Outline", exact=True).is_visible():
            tab.keyboard.press("Escape")
            tab.wait_for_timeout(100)


def choose(tab: Page, title: str) -> None:
    to_outline(tab)
    tab.locator(".outline-row", has_text=title).click()
    tab.wait_for_timeout(700)


def take(tab: Page, name: str) -> None:
    tab.screenshot(path=FOLDER / f"{name}.png")


if __name__ == "__main__":
    main()
