"""Whole sites: brought in, changed on hundreds of pages at once, listed, mapped and
searched, with how much memory and time that takes."""

from __future__ import annotations

import os
import statistics
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection, transaction
from django.test import Client

from bench.pages import page
from innerhop.core.planners.selection import Point, Words
from innerhop.library import sites
from innerhop.library.acts import hop_acts, mark_acts
from innerhop.library.acts.ends import End
from innerhop.library.bring_in import bring_ins
from innerhop.library.changes import undo, write
from innerhop.library.index import verdicts
from innerhop.library.models import Editor, Link, Mark, Page, Revision, Section, Site
from innerhop.practice.serving import fresh_database

Figure = tuple[str, float, str, float]
PAGES, LINKS, MARKS = 10_000, 20, 12


def figures() -> list[Figure]:
    """Bringing in; a mark in a shared part; site-wide screens; one edit on a large site."""
    fresh_database("innerhop_bench")
    editor = Editor.objects.create_user("bench")
    return [*_bring_in(editor), *_shared_part(editor), *_many_links(editor), *_large(editor)]


def _brought(editor: Editor, name: str, files: list[tuple[str, str]]) -> tuple[Site, float, float]:
    """A site of these files; seconds until the first line of progress, and in all."""
    site = sites.create(name, f"{name}.example", "en", editor)
    pieces = [bring_ins.NewFile(path, text.encode()) for path, text in files]
    begin = time.process_time()
    steps = bring_ins.bring_in(site, editor, iter(pieces), len(pieces))
    next(steps)
    next(steps)
    first = time.process_time() - begin
    for _ in steps:
        pass
    return site, first, time.process_time() - begin


def _bring_in(editor: Editor) -> list[Figure]:
    texts = [page(26, 75, seed=seed) for seed in range(20)]
    files = [(f"p{n}/index.html", texts[n % 20]) for n in range(1_000)]
    with _wall() as wall:
        site, first, cpu = _brought(editor, "files", files)
    size = sum(len(text) for _, text in files) / 1_000_000
    assert site.pages.count() == 1_000
    return [
        (f"bring in 1,000 pages, {size:.0f} MB", wall[0], "s", 8),
        ("the same, CPU of the server", cpu, "s", 8),
        ("until the first line of progress, CPU", first, "s", 1),
    ]


@contextmanager
def _wall() -> Iterator[list[float]]:
    took: list[float] = []
    begin = time.perf_counter()
    yield took
    took.append(time.perf_counter() - begin)


def _shared_part(editor: Editor) -> list[Figure]:
    foot = "<footer><h2>Reach us</h2><p>The Toll House, Marrowby Basin</p></footer></body>"
    texts = [page(178, 75, seed=seed).replace("</body>", foot) for seed in range(10)]
    files = [(f"p{n}/index.html", texts[n % 10]) for n in range(500)]
    site, _, _ = _brought(editor, "shared", files)
    first = site.pages.select_related("site").order_by("pk")[0]
    footer = first.regions.get(kind="footer").number
    with _wall() as saving, _waiting(site) as waits:
        act = mark_acts.mark(first, [(footer + 1, "reach-us")])
        change = write.save(site, editor, act.message, act.plans)
    assert Mark.objects.filter(site=site, value="reach-us").count() == 500
    with _wall() as undoing:
        undo.undo(change)
    first.refresh_from_db()
    with _wall() as putting, _waiting(site) as waits_for_hop:
        words = Words(Point(footer + 2, 0, 4), Point(footer + 2, 0, 14))
        act = hop_acts.hop(first, words, End(first, "", None))
        write.save(site, editor, act.message, act.plans)
    assert Link.objects.filter(site=site, region="footer").count() == 500
    size = sum(len(text) for _, text in files) / 1_000_000
    return [
        (f"a mark on 500 pages of {size:.0f} MB, saved", saving[0], "s", 6),
        ("the longest that another change waits meanwhile", max(waits), "s", 1),
        ("the same undone", undoing[0], "s", 6),
        ("a hop put into the same pages", putting[0], "s", 6),
        ("the longest that another change waits meanwhile", max(waits_for_hop), "s", 1),
    ]


@contextmanager
def _waiting(site: Site) -> Iterator[list[float]]:
    """How long another takes, again and again, to hold one of the pages for a moment."""
    waits = [0.0]
    over = threading.Event()
    key = site.pages.order_by("-pk")[0].pk

    def ask() -> None:
        while not over.is_set():
            begin = time.perf_counter()
            with transaction.atomic():
                Page.objects.select_for_update().get(pk=key)
            waits.append(time.perf_counter() - begin)
            time.sleep(0.05)
        connection.close()

    thread = threading.Thread(target=ask)
    thread.start()
    try:
        yield waits
    finally:
        over.set()
        thread.join()


def _many_links(editor: Editor) -> list[Figure]:
    """Pages and Map of a site where every page links to every other's sections."""
    site = _indexed(editor, "linked", 500, 280)
    return [
        (
            "Pages of 500 pages with 140,000 links, first byte",
            _first_byte(editor, site, ""),
            "ms",
            300,
        ),
        ("Map of the same", _first_byte(editor, site, "map/"), "ms", 300),
        (
            "Findings of the same, a seventh of the hops broken",
            _first_byte(editor, site, "findings/"),
            "ms",
            300,
        ),
    ]


def _large(editor: Editor) -> list[Figure]:
    site = _indexed(editor, "large", PAGES, LINKS)
    _indexed(editor, "beside", 1_000, 1, marks=1_000)
    connection.cursor().execute("vacuum analyze")
    found = [
        ("Pages of 10,000 pages, first byte", _first_byte(editor, site, ""), "ms", 300),
        ("Map of the same", _first_byte(editor, site, "map/"), "ms", 300),
        ("Findings of the same", _first_byte(editor, site, "findings/"), "ms", 300),
        (
            "the finder, beside a million marks of other sites",
            _first_byte(editor, site, "find/?q=part-7&pages=1"),
            "ms",
            100,
        ),
    ]
    return [
        *found,
        (
            "one edit there, until all hops and findings are right again",
            _edit(editor, site),
            "ms",
            100,
        ),
    ]


def _edit(editor: Editor, site: Site) -> float:
    """Milliseconds for marks on a page that hops lead to, one after the other."""
    name = "/edited/index.html"
    text = page(12, 60).replace("<h1>", "<h2>Here</h2><h1>")
    for _ in bring_ins.bring_in(site, editor, [bring_ins.NewFile(name, text.encode())], 1):
        pass
    times = []
    for at in range(7):
        one = Page.objects.select_related("site").get(site=site, path="/edited/")
        number = one.sections.order_by("number")[0].number
        begin = time.perf_counter()
        if at % 2:
            act = mark_acts.take_away(one, number, mark_acts.BREAK)
        else:
            act = mark_acts.mark(one, [(number, "part-there")])
        write.save(site, editor, act.message, act.plans)
        times.append((time.perf_counter() - begin) * 1000)
    return statistics.median(times)


def _first_byte(editor: Editor, site: Site, path: str) -> float:
    """Milliseconds of the server for a screen, the median of nine."""
    client = Client(SERVER_NAME="127.0.0.1")
    client.force_login(editor, backend="innerhop.library.access.Backend")
    times = []
    for _ in range(11):
        begin = time.perf_counter()
        answer = client.get(f"/{site.slug}/{path}")
        times.append((time.perf_counter() - begin) * 1000)
        assert answer.status_code == 200
    return statistics.median(times[2:])


def _indexed(editor: Editor, name: str, count: int, links: int, marks: int = MARKS) -> Site:
    """A site as its index knows it: each page with sections, marks, and links to the next
    pages, some of them to a mark that is not there."""
    site = sites.create(name, f"{name}.example", "en", editor)
    Page.objects.bulk_create(
        [Page(site=site, path=f"/p{n}/", key=f"/p{n}", title=f"Page {n}", language="en",
              words=600, section_count=marks, marked_count=marks) for n in range(count)],
        2_000,
    )  # fmt: skip
    pages = list(site.pages.order_by("pk"))
    Revision.objects.bulk_create(
        (Revision(page=one, number=0, content=b"<p>x", label="utf-8", codec="utf-8")
         for one in pages),
        10_000,
    )  # fmt: skip
    Section.objects.bulk_create(
        (Section(page=one, site=site, number=at, level=2, depth=0, title=f"Part {at}",
                 mark=f"part-{at}", words=50) for one in pages for at in range(marks)),
        10_000,
    )  # fmt: skip
    Mark.objects.bulk_create(
        (Mark(page=one, site=site, number=at, attribute="id", value=f"part-{at}", tag="h2")
         for one in pages for at in range(marks)),
        10_000,
    )  # fmt: skip
    Link.objects.bulk_create(
        (Link(page=one, number=2_000 + at, href="x", text=f"Part {at}", site=site,
              key=f"/p{(n + at) % count}", fragment=f"part-{at % (marks + 2)}")
         for n, one in enumerate(pages) for at in range(links)),
        10_000,
    )  # fmt: skip
    with transaction.atomic():
        verdicts.renew_all(site, pages)
    connection.cursor().execute("analyze")
    return site


def memory() -> float:
    """What this process holds, in MB."""
    with open(f"/proc/{os.getpid()}/statm", encoding="ascii") as statm:
        return int(statm.read().split()[1]) * os.sysconf("SC_PAGE_SIZE") / 1_000_000
