"""Bringing the contents lists of a whole site up to date, as one change; that four times the
pages take four times the time; and how large what goes out with pages is."""

from __future__ import annotations

import gzip
import time

from bench.pages import page
from innerhop.library import sites
from innerhop.library.acts import contents_acts
from innerhop.library.bring_in import bring_ins
from innerhop.library.changes import our_files, write
from innerhop.library.models import Editor
from innerhop.practice.serving import fresh_database

PAGES, FEWER, SECTIONS = 1_000, 250, 20
LIST = '<nav data-hop-list="nested" data-hop-levels="h2"><ul>{}</ul></nav>'
Figure = tuple[str, float, str, float]


def figures() -> list[Figure]:
    """Seconds for 1,000 lists, growth from 250, and kilobytes."""
    fresh_database("innerhop_bench")
    editor = Editor.objects.create_user("bench")
    few = _updated(editor, "few", FEWER)
    many = _updated(editor, "many", PAGES)
    growth = (many / PAGES) / (few / FEWER)
    size = sum(len(gzip.compress(our_files.content(path), 9)) for path in our_files.TYPES)
    return [
        (f"contents lists of {PAGES:,} pages brought up to date", many, "s", 30),
        (f"time for a page, {PAGES:,} pages ÷ {FEWER} pages", growth, "×", 1.5),
        ("the visitor’s script and style, gzipped", size / 1024, "kB", 3),
    ]  # fmt: skip


def _updated(editor: Editor, name: str, count: int) -> float:
    """Seconds from the act to the end of its transaction. Each list lacks three sections,
    two of which have no ID yet."""
    site = sites.create(name, f"{name}.example", "en", editor)
    entries = "".join(
        f'<li><a href="#part-{n}">Part {n}</a></li>\n' for n in range(0, SECTIONS, 2) if n != 4
    )
    body = page(SECTIONS, 60).replace(
        "<h1>Made up</h1>\n", f"<h1>Made up</h1>{LIST.format(entries)}\n"
    )
    body = body.replace("</main>", "<h2>One more</h2><p>x</p><h2>And another</h2><p>x</p></main>")
    pieces = [bring_ins.NewFile(f"page-{n}/index.html", body.encode()) for n in range(count)]
    for _ in bring_ins.bring_in(site, editor, pieces, len(pieces)):
        pass
    off = list(site.pages.filter(lists_off=3).select_related("site"))
    assert len(off) == count
    start = time.perf_counter()
    act = contents_acts.update(off)
    write.save(site, editor, act.message, act.plans)
    took = time.perf_counter() - start
    assert not site.pages.filter(lists_off__gt=0).exists()
    return took
