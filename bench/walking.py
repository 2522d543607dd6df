"""Pages measured and hops walked by Chromium, as the command line does it."""

from __future__ import annotations

import time

from bench.pages import page
from innerhop.core import widths
from innerhop.library import sites
from innerhop.library.bring_in import bring_ins
from innerhop.library.models import Editor, Layout, Site
from innerhop.library.seek import hops
from innerhop.library.seek import landings as seek
from innerhop.practice.chromium import visiting
from innerhop.practice.serving import fresh_database

PAGES, WALKS = 100, 60
Figure = tuple[str, float, str, float]


def figures() -> list[Figure]:
    """Seconds to measure pages at three widths; seconds that walking one hop takes."""
    fresh_database("innerhop_bench")
    site = _site(Editor.objects.create_user("bench"))
    with visiting(site) as visitor:
        begin = time.perf_counter()
        for one in site.pages.select_related("site"):
            for _ in visitor.measure(one, widths.ALL):
                pass
        measured = time.perf_counter() - begin
        assert Layout.objects.count() == PAGES * len(widths.ALL)
        rows = seek.of_hops(hops.of_site(site, WALKS), [widths.LAPTOP.width])
        which = seek.nths(rows)
        begin = time.perf_counter()
        for row in rows:
            nth = which[row.hop.link.page_id, row.hop.link.number]
            walk = visitor.walk(row, nth, seek.id_of(row.hop), widths.LAPTOP.width, 800)
            assert walk.agrees, walk.trouble
        walked = (time.perf_counter() - begin) / len(rows)
    return [
        (f"measuring {PAGES} pages at three widths", measured, "s", 100),
        ("walking a hop", walked, "s", 1),
    ]


def _site(editor: Editor) -> Site:
    site = sites.create("walks", "walks.example", "en", editor)
    pieces = [bring_ins.NewFile(f"page-{n}/index.html", page(20, 60, seed=n).encode())
              for n in range(PAGES)]  # fmt: skip
    for _ in bring_ins.bring_in(site, editor, pieces, len(pieces)):
        pass
    return site
