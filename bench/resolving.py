"""Resolving every link of a large site from the index, and that ten times the pages
take ten times the time."""

from __future__ import annotations

import time

from innerhop.library import sites
from innerhop.library.models import Editor, Link, Mark, Page, Site
from innerhop.library.seek import hops
from innerhop.practice.serving import fresh_database

PAGES, FEWER, LINKS, MARKS = 10_000, 1_000, 20, 12
Figure = tuple[str, float, str, float]


def figures() -> list[Figure]:
    """Seconds to resolve all links of 10,000 pages, and growth from 1,000 pages."""
    fresh_database("innerhop_bench")
    editor = Editor.objects.create_user("bench")
    few, many = (_resolve(_site(editor, f"s{count}", count)) for count in (FEWER, PAGES))
    growth = (many / PAGES) / (few / FEWER)
    return [
        (f"resolve {PAGES * LINKS:,} links on {PAGES:,} pages", many, "s", 20),
        (f"time for a page, {PAGES:,} pages ÷ {FEWER:,} pages", growth, "×", 1.5),
    ]


def _site(editor: Editor, name: str, count: int) -> Site:
    """A site as its index knows it: each page with marks, and links to the next pages,
    eight in twenty of them to a mark that is not there."""
    site = sites.create(name, f"{name}.example", "en", editor)
    Page.objects.bulk_create(
        [Page(site=site, path=f"/p{n}/", key=f"/p{n}", title=f"Page {n}", language="en")
         for n in range(count)],
        2_000,
    )  # fmt: skip
    pages = list(site.pages.order_by("pk"))
    marks = (
        Mark(page=page, number=at, attribute="id", value=f"part-{at}", tag="h2")
        for page in pages
        for at in range(MARKS)
    )
    Mark.objects.bulk_create(marks, 5_000)
    links = (
        Link(page=page, number=100 + at, href="x", text="x", site=site,
             key=f"/p{(n + at) % count}", fragment=f"part-{at}")
        for n, page in enumerate(pages)
        for at in range(LINKS)
    )  # fmt: skip
    Link.objects.bulk_create(links, 5_000)
    return site


def _resolve(site: Site) -> float:
    pages = list(site.pages.select_related("site"))
    start = time.perf_counter()
    found = hops.broken_counts(pages)
    took = time.perf_counter() - start
    assert sum(found.values()) == len(pages) * (LINKS - MARKS)
    return took
