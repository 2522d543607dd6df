"""The same on pages that people and generators wrote: manuals that Debian packages. Generated
pages flatter. What is not installed is left out, and said."""

from __future__ import annotations

import shutil
import subprocess
import sys
import tempfile
import time

from django.db.models import Count

from innerhop.core.source.content_models import BLOCKS
from innerhop.library import sites
from innerhop.library.acts import mark_acts
from innerhop.library.bring_in import bring_ins
from innerhop.library.changes import undo, write
from innerhop.library.index.texts import current
from innerhop.library.models import Editor, Region, Site
from innerhop.practice.serving import fresh_database
from judging.corpora import MANUALS, Corpus

Figure = tuple[str, float, str, float]
_WANTED = ("django", "apache")
_PAGES = 500
_RUNS = 3


def figures() -> list[Figure]:
    """Bringing in, a mark in a part that 500 pages share, and the check, of two manuals."""
    found: list[Figure] = []
    for corpus in MANUALS:
        if corpus.name in _WANTED and corpus.is_here:
            found += [*_brought(corpus), *_checked(corpus)]
        elif corpus.name in _WANTED:
            print(f"{corpus.package} is not installed, so nothing is measured on it")
    return found


def _brought(corpus: Corpus) -> list[Figure]:
    fresh_database("innerhop_bench")
    editor = Editor.objects.create_user("bench")
    files = corpus.files[:_PAGES]
    site = sites.create(corpus.name, f"{corpus.name}.example", "en", editor)
    pieces = [bring_ins.NewFile(one.name, one.read()) for one in files]
    size = sum(len(one.data) for one in pieces) / 1_000_000
    begin = time.process_time()
    for _ in bring_ins.bring_in(site, editor, iter(pieces), len(pieces)):
        pass
    a_megabyte = (time.process_time() - begin) / size
    what = f"{len(pieces)} pages of {corpus.package}, {size:.0f} MB"
    lines: list[Figure] = [(f"bring in {what}: CPU a MB", a_megabyte, "s", 0.25)]
    return [*lines, *_marked(site, editor, what)]


def _marked(site: Site, editor: Editor, what: str) -> list[Figure]:
    """The part that most pages share, marked and undone."""
    counts = (
        Region.objects.filter(site=site).values("digest").annotate(n=Count("page", distinct=True))
    )
    most = counts.order_by("-n", "digest")[0]["digest"]
    rows = Region.objects.filter(site=site, digest=most).select_related("page__site")
    region = rows.order_by("page", "number")[0]
    source = current(region.page).source
    free = next(one for one in source.element(region.number).inside if one.attr("id") is None
                and one.tag in BLOCKS | {"a"})  # fmt: skip
    act = mark_acts.mark(region.page, [(free.number, "bench-mark")])
    begin = time.perf_counter()
    change = write.save(site, editor, act.message, act.plans)
    saved = time.perf_counter() - begin
    begin = time.perf_counter()
    undo.undo(change)
    undone = time.perf_counter() - begin
    return [
        (f"a mark on {len(act.plans)} of {what}, saved", saved, "s", 8),
        ("the same undone", undone, "s", 8),
    ]


def _checked(corpus: Corpus) -> list[Figure]:
    """The check against a script that only looks for broken fragments, both as processes; and
    once more, when nothing has changed."""
    script = [sys.executable, "-m", "bench.fragment_script", str(corpus.folder)]
    ours = [sys.executable, "-m", "innerhop.check", str(corpus.folder)]
    took = {}
    kept = tempfile.mkdtemp()
    again = [*ours, "--cache-dir", kept]
    subprocess.run(again, stdout=subprocess.DEVNULL, check=False)
    for name, asked in (("script", script), ("ours", [*ours, "--no-cache"]), ("again", again)):
        best = float("inf")
        for _ in range(_RUNS):
            begin = time.perf_counter()
            subprocess.run(asked, stdout=subprocess.DEVNULL, check=False)
            best = min(best, time.perf_counter() - begin)
        took[name] = best
    shutil.rmtree(kept)
    what = f"check of {corpus.package} ÷ a script for broken fragments"
    return [
        (what, took["ours"] / took["script"], "×", 3.5),
        (f"{what}, again", took["again"] / took["script"], "×", 1),
    ]
