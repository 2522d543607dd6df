"""Renaming one ID that hops on every page of a site lead to, with the hops and
the index, as one change; and that twice the pages take twice the time."""

from __future__ import annotations

import time
import tracemalloc

from bench.pages import page
from innerhop.library import sites
from innerhop.library.acts import mark_acts
from innerhop.library.bring_in import bring_ins
from innerhop.library.changes import write
from innerhop.library.models import Editor, Link, Page, Site
from innerhop.practice.serving import fresh_database

PAGES, FEWER, HOPS = 2_000, 250, 5
Figure = tuple[str, float, str, float]


def figures() -> list[Figure]:
    """Seconds for 10,000 hops on 2,000 pages, growth from 250 pages, memory."""
    fresh_database("innerhop_bench")
    editor = Editor.objects.create_user("bench")
    few = _rename(_site(editor, "few", FEWER))
    many = _site(editor, "many", PAGES)
    full = _rename(many)
    tracemalloc.start()
    _rename(many, "again")
    memory = tracemalloc.get_traced_memory()[1] / 1_000_000
    tracemalloc.stop()
    growth = (full / PAGES) / (few / FEWER)
    return [
        (f"rename an ID with {PAGES * HOPS:,} hops on {PAGES:,} pages", full, "s", 30),
        (f"time for a page, {PAGES:,} pages ÷ {FEWER} pages", growth, "×", 1.5),
        ("memory for that rename", memory, "MB", 100),
    ]


def _site(editor: Editor, name: str, count: int) -> Site:
    site = sites.create(name, f"{name}.example", "en", editor)
    hops = "<p>" + " ".join(f'<a href="/guide/#target">see {n}</a>' for n in range(HOPS))
    body = page(12, 60).replace("</main>", f"{hops}</main>")
    pieces = [bring_ins.NewFile(f"page-{n}/index.html", body.encode()) for n in range(count - 1)]
    guide = body.replace("<h1>", '<h2 id="target">The target</h2><h1>')
    pieces.append(bring_ins.NewFile("guide/index.html", guide.encode()))
    for _ in bring_ins.bring_in(site, editor, pieces, len(pieces)):
        pass
    return site


def _rename(site: Site, new: str = "renamed") -> float:
    """Seconds from the act to the end of its transaction."""
    editor = site.editors.get()
    guide = Page.objects.select_related("site").get(site=site, path="/guide/")
    target = guide.marks.get(value="target" if new == "renamed" else "renamed")
    start = time.perf_counter()
    act = mark_acts.rename(guide, target.number, new)
    write.save(site, editor, act.message, act.plans)
    took = time.perf_counter() - start
    assert Link.objects.filter(site=site, fragment=new).count() == HOPS * site.pages.count()
    return took
