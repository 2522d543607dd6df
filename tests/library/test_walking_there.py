"""Hops of the site itself followed in Chromium. Where a view stops is Chromium's own; where it
should is CSSOM View, "scroll an element into view"."""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import pytest
from django.db import connections

from innerhop.core.findings.table import RULES
from innerhop.library import doing, sites
from innerhop.library.jobs import jobs, running
from innerhop.library.live import beside, looking, walking
from innerhop.library.models import Editor, Job, Site, WalkedThere
from tests.fetch.hosts import Answer, Host, page
from tests.library import live_site

pytestmark = pytest.mark.django_db(transaction=True)
WORDS = "<p>" + "Twelve locks in two miles, and a kettle at each of them. " * 160
STYLE = ("<style>header { position: sticky; top: 0; height: 80px; background: #fff }"
         "#room { scroll-margin-top: 90px }</style>")  # fmt: skip
PAGES = {
    "/": page(f"{STYLE}<header><nav><a href=/locks/#flight>Flight</a></nav></header><h1>Home</h1>"
              '<a href="#under">under</a> <a href="#room">room</a> <a href="#gone">gone</a>'
              f'{WORDS}<h2 id=under>Under</h2>{WORDS}<h2 id=room>Room</h2>{WORDS}'),
    "/locks/": page("<header><nav><a href=/locks/#flight>Flight</a></nav></header><h1>Locks</h1>"
                    f'{WORDS}<h2 id=flight>The flight</h2>{WORDS}<a href="/#room">home</a>'),
}  # fmt: skip


@pytest.fixture
def live(site: Site, settings: Any, tmp_path: Path) -> Iterator[Host]:
    with live_site.served(PAGES, settings, tmp_path) as host:
        yield host


@pytest.fixture
def seen(live: Host, editor: Editor) -> Site:
    """A site from there, as it is there."""
    found = live_site.brought(PAGES, live, editor)
    done(found, editor, looking.KIND)
    return found


def done(site: Site, editor: Editor, kind: str) -> Job:
    job = jobs.begin(site, editor, kind, {})

    def work() -> None:
        assert running.run(job.pk)
        connections.close_all()

    with ThreadPoolExecutor(1) as thread:  # another test's browser has this one's loop
        thread.submit(work).result()
    job.refresh_from_db()
    return job


def walked(site: Site) -> dict[tuple[str, str, int], tuple[str, str, bool]]:
    rows = WalkedThere.objects.filter(site=site)
    return {(one.page.path, one.href, one.width): (one.verdict, one.trouble, one.is_copy)
            for one in rows.select_related("page")}  # fmt: skip


def test_every_hop_is_followed_at_the_three_widths(seen: Site, live: Host, editor: Editor) -> None:
    job = done(seen, editor, walking.KIND)
    assert job.message == "4 hops of 2 pages followed at three widths."
    found = walked(seen)
    for width in (390, 820, 1280):
        assert found["/", "#under", width] == ("covered", "", False)
        assert found["/", "#room", width] == ("clear", "", False)
        assert found["/", "/locks/#flight", width] == ("clear", "", False)
        assert found["/locks/", "/#room", width] == ("clear", "", False)
        assert ("/locks/", "/locks/#flight", width) not in found  # the menu's, followed once
        assert ("/", "#gone", width) not in found  # it leads nowhere, which its text tells


def test_where_the_site_lets_no_browser_in_its_copy_is_walked(
    seen: Site, live: Host, editor: Editor
) -> None:
    live.answers["/"] = Answer(b"No.", 403)  # type: ignore[index]
    done(seen, editor, walking.KIND)
    found = walked(seen)
    assert found["/", "#under", 1280] == ("covered", "", True)
    assert found["/", "/locks/#flight", 1280] == ("clear", "", True)
    assert not found["/locks/", "/#room", 1280][2]


def test_what_the_site_does_otherwise_is_told(seen: Site, live: Host, editor: Editor) -> None:
    jumping = (
        PAGES["/"].body.replace(b"</html>", b"", 1)
        + b"<script>addEventListener('hashchange', () => scrollTo(0, 7))</script>"
    )
    live.answers["/"] = Answer(jumping.replace(b"id=room", b"id=other"))  # type: ignore[index]
    done(seen, editor, walking.KIND)
    found = walked(seen)
    assert "px above where the page says it should" in found["/", "#under", 1280][1]
    assert found["/", "#room", 1280][1].startswith("Nobody arrives")


def test_nothing_looked_at_is_nothing_to_follow(live: Host, editor: Editor) -> None:
    bare = sites.create("Bare", live.origin, "en", editor)
    assert "Have the site looked at first" in done(bare, editor, walking.KIND).message
    assert not WalkedThere.objects.exists()


def test_what_is_mended_here_and_not_there_yet(seen: Site, editor: Editor) -> None:
    def row(name: str) -> tuple[int, int, int, int]:
        found = {one.rule.name: tuple(one)[1:] for one in beside.by_rule(seen)}
        return found[name]  # type: ignore[return-value]

    home = seen.pages.get(path="/")
    broken = home.findings.get(words="gone")
    assert RULES[broken.rule].recognise is not None
    assert row(broken.rule) == (1, 1, 0, 0)
    end = {"page": home.pk, "id": "room"}
    doing.do(editor, "mend", home, {"number": broken.number, "end": end})
    assert row(broken.rule) == (1, 0, 1, 0)
    (place,) = beside.places(seen, broken.rule, is_mended=True)
    assert place.words == "gone"
