"""A site fetched by its address, in a real browser, by a real worker, from the practice host, and
what becomes of it when one of these is killed; and looked at there."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
import urllib.parse
import urllib.request
from collections.abc import Iterator

import pytest
from django.conf import settings
from playwright.sync_api import Page, expect

from innerhop.library import doing, sites
from innerhop.library.jobs import jobs
from innerhop.library.models import BringIn, Editor, Job, Site, WalkedThere
from innerhop.practice.serving import environment, free_port, serve, serve_process, working
from tests.browser.conftest import _wait_until_idle

State = Job.State


@pytest.fixture(scope="module")
def practice() -> Iterator[tuple[str, int]]:
    """A server of the application, and the port of the practice host that it lets through."""
    port = free_port()
    before = {name: os.environ.get(name) for name in ("PRACTICE_PORT", "JOBS_LOST_AFTER")}
    os.environ |= {"PRACTICE_PORT": str(port), "JOBS_LOST_AFTER": "3", "FETCH_PAUSE": "0"}
    with serve() as url:
        yield url, port
    for name, value in before.items():
        os.environ.pop(name)
        if value is not None:
            os.environ[name] = value


@pytest.fixture
def server(practice: tuple[str, int], transactional_db: None) -> Iterator[str]:
    yield practice[0]
    _wait_until_idle()


class Live:
    """The practice host, in a process of its own."""

    def __init__(self, port: int) -> None:
        self.port = port
        self.origin = f"http://marrowby.localhost:{port}"
        self.start()

    def start(self) -> None:
        self.process = subprocess.Popen(
            [sys.executable, settings.BASE_DIR / "manage.py", "practice_host", str(self.port)],
            env=environment(),
        )
        for _ in range(100):
            try:
                urllib.request.urlopen(f"http://127.0.0.1:{self.port}/robots.txt").close()
                return
            except OSError:
                time.sleep(0.1)

    def order(self, *names: str) -> None:
        sent = urllib.parse.urlencode([("order", name) for name in names or ("none",)])
        urllib.request.urlopen(f"http://127.0.0.1:{self.port}/-/orders", sent.encode()).close()


@pytest.fixture
def live(practice: tuple[str, int]) -> Iterator[Live]:
    host = Live(practice[1])
    yield host
    host.process.kill()
    host.process.wait()


@pytest.fixture
def empty(site: Site) -> Site:
    editor = Editor.objects.get(username=settings.DEMO_EDITOR)
    return sites.create("Live", "https://marrowby.localhost", "en", editor)


@pytest.fixture
def at(server: str, tab: Page, empty: Site, live: Live) -> Page:
    """An editor in front of Bring in."""
    tab.goto(f"{server}/sign-in/")
    tab.get_by_role("button", name="demo").click()
    tab.goto(f"{server}/{empty.slug}/bring-in/")
    return tab


def ask(tab: Page, address: str) -> Job:
    tab.get_by_label("Address of the site").fill(address)
    tab.get_by_role("button", name="Fetch", exact=True).click()
    tab.wait_for_url("**/jobs/*/")
    return Job.objects.get()


def until(job: Job, *states: str, pages: int = 0) -> Job:
    for _ in range(400):
        job.refresh_from_db()
        if job.state in states or (pages and job.staged.filter(kind="page").count() >= pages):
            return job
        time.sleep(0.1)
    raise AssertionError((job.state, job.said, job.message))


def test_pages_appear_as_they_come_and_the_end_is_told(at: Page, live: Live, empty: Site) -> None:
    live.order("slow")
    with working():
        job = ask(at, live.origin)
        strips = at.locator("[data-strips] li")
        expect(strips.first).to_contain_text("sections marked")
        expect(at.get_by_role("button", name="Stop")).to_be_visible()
        live.order()
        # Elsewhere a bar says how far it is, and then that it is done.
        at.goto(f"{at.url.partition('/jobs/')[0]}/map/")
        bar = at.locator("[data-job]")
        expect(bar).to_contain_text("Fetching marrowby.localhost")
        until(job, State.DONE)
        expect(bar).to_contain_text("Done")
        at.reload()
        bar.get_by_role("button", name="See").click()
        expect(at.get_by_role("heading", name="10 pages came in")).to_be_visible()
        assert bar.count() == 0
    assert empty.pages.count() == 10


def test_stopped_what_came_can_be_taken_in(at: Page, live: Live, empty: Site) -> None:
    live.order("slow")
    with working():
        job = ask(at, live.origin)
        until(job, pages=2)
        at.get_by_role("button", name="Stop").click()
        until(job, State.STOPPED)
        at.get_by_role("button", name="Take in what came").click()
        at.wait_for_url("**/bring-in/**")
    expect(at.get_by_role("heading", name="came in")).to_be_visible()
    assert 2 <= empty.pages.count() < 10


def test_a_worker_that_is_killed_loses_nothing_and_does_nothing_twice(
    at: Page, live: Live, empty: Site
) -> None:
    live.order("slow")
    with working() as first:
        job = ask(at, live.origin)
        until(job, pages=2)
        os.kill(first.pid, signal.SIGKILL)
    came = job.staged.filter(kind="page").count()
    live.order()
    with working():
        until(job, State.DONE)
    assert came >= 2
    assert empty.pages.count() == 10
    assert BringIn.objects.filter(site=empty).count() == 1


def test_a_host_that_goes_in_the_middle_is_gone_on_with(at: Page, live: Live, empty: Site) -> None:
    live.order("slow")
    with working():
        job = ask(at, live.origin)
        until(job, pages=2)
        live.process.kill()
        live.process.wait()
        until(job, State.FAILED)
        assert "broke off" in job.message
        assert not empty.pages.exists()
        live.start()
        at.get_by_role("button", name="Go on").click()
        until(job, State.DONE)
    assert empty.pages.count() == 10


@pytest.mark.harmful  # its tab misses it
def test_a_web_process_that_is_killed_is_not_missed(
    practice: tuple[str, int], at: Page, live: Live, empty: Site
) -> None:
    live.order("slow")
    with working(), serve_process() as (url, pid):
        at.goto(f"{url}/{empty.slug}/bring-in/")
        job = ask(at, live.origin)
        until(job, pages=1)
        own = [int(one) for one in _children(pid)]
        for one in (pid, *own):
            os.kill(one, signal.SIGKILL)
        live.order()
        until(job, State.DONE)
    assert empty.pages.count() == 10


def _children(pid: int) -> list[str]:
    found = subprocess.run(["pgrep", "-P", str(pid)], capture_output=True, text=True, check=False)
    return found.stdout.split()


def test_three_workers_share_the_sites_and_do_each_once(at: Page, live: Live, empty: Site) -> None:
    editor = Editor.objects.get(username=settings.DEMO_EDITOR)
    made = [sites.create(f"Live {n}", live.origin, "en", editor) for n in range(4)]
    asked = {"address": f"{live.origin}/", "below": "/", "most": 50}
    begun = [jobs.begin(one, editor, "fetch", asked) for one in (*made, made[0])]
    with working(), working(), working():
        for job in begun:
            until(job, State.DONE)
    assert len({job.runner for job in begun}) == len(begun)
    for one in made:
        assert one.pages.count() == 10
    assert [BringIn.objects.filter(site=one).count() for one in made] == [2, 1, 1, 1]


def plan(site: Site) -> None:
    """Three marks, and a hop to the first of them from another page."""
    editor = Editor.objects.get(username=settings.DEMO_EDITOR)
    page, other = site.pages.get(path="/skippers-handbook/"), site.pages.get(path="/moorings/")
    numbers = list(page.sections.filter(mark="").values_list("number", flat=True)[:3])
    marks = [{"number": one, "id": f"planned-{nth}"} for nth, one in enumerate(numbers)]
    doing.do(editor, "mark", page, {"marks": marks})
    sent = {"number": other.sections.order_by("number")[1].number, "side": "before",
            "words": "See the first", "end": {"page": page.pk, "id": "planned-0"}}  # fmt: skip
    doing.do(editor, "put-link", other, sent)


def look(tab: Page) -> None:
    tab.get_by_role("button", name="Look now").click()
    tab.wait_for_url("**/jobs/*/")
    until(Job.objects.latest("pk"), State.DONE)
    tab.goto(f"{tab.url.partition('/jobs/')[0]}/live/")


def test_planned_entered_broken_told_and_followed(at: Page, live: Live, empty: Site) -> None:
    with working():
        until(ask(at, live.origin), State.DONE)
        plan(empty)
        at.goto(f"{at.url.partition('/jobs/')[0]}/live/")
        expect(at.get_by_text("4 things planned here.", exact=False)).to_be_hidden()
        look(at)
        expect(at.get_by_text("0 of 4 things planned here are on the site.")).to_be_visible()
        expect(at.get_by_text("1 waits for")).to_be_visible()
        expect(at.get_by_role("heading", name="Publish first")).to_be_visible()
        # Somebody enters it, with slips: the first is right, the second in the class.
        live.order("entered")
        look(at)
        expect(at.get_by_text("2 of 4 things planned here are on the site.")).to_be_visible()
        at.get_by_role("link", name="entered differently").first.click()
        expect(at.get_by_text("The word went into the class.", exact=False)).to_be_visible()
        at.get_by_role("button", name="planned-1", exact=True).click()
        expect(at.get_by_text("Copied planned-1")).to_be_visible()
        assert at.evaluate("navigator.clipboard.readText()") == "planned-1"
        # What broke is told by its cause, and counted in the bar.
        live.order("breaks")
        look(at)
        renamed = at.locator(".live-broke", has_text="winter-works")
        expect(renamed).to_contain_text("“winter-stoppages” stands at the same heading")
        expect(at.locator(".live-broke", has_text="hardship")).to_contain_text("was taken off")
        bar = at.get_by_role("navigation", name="Screens")
        expect(bar.get_by_role("link", name="Live")).to_contain_text("broke")
        renamed.get_by_role("link").click()
        expect(at.get_by_text("Give that part its ID back", exact=False)).to_be_visible()
        at.get_by_role("link", name="Back to the pages").click()
        at.get_by_role("button", name="every morning").click()
        expect(at.get_by_text("The next one is", exact=False)).to_be_visible()
        # Its hops, followed at three widths.
        at.get_by_role("link", name="What is wrong there").click()
        expect(at.get_by_role("rowheader", name="Nothing has this ID", exact=True)).to_be_visible()
        at.get_by_role("button", name="Follow every hop there").click()
        at.wait_for_url("**/jobs/*/")
        job = Job.objects.latest("pk")
        for _ in range(200):
            if WalkedThere.objects.filter(site=empty).exists():
                break
            at.wait_for_timeout(1_000)
        at.get_by_role("button", name="Stop").click()
        until(job, State.STOPPED)
        at.goto(f"{at.url.partition('/jobs/')[0]}/live/there/?all")
        expect(at.get_by_role("cell", name="covered", exact=False).first).to_be_visible()
