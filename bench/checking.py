"""The check of files on the command line: a thousand pages, against the bare parse of the
same bytes by one process."""

from __future__ import annotations

import contextlib
import io
import tempfile
import time
from pathlib import Path

import turbohtml

from bench.pages import page
from innerhop.check import command

PAGES = 1_000
Figure = tuple[str, float, str, float]


def figures() -> list[Figure]:
    """How many times as long as the bare parse, start to end."""
    with tempfile.TemporaryDirectory() as folder:
        texts = [page(26, 75, seed=seed) for seed in range(20)]
        for at in range(PAGES):
            (Path(folder) / f"p{at}.html").write_text(texts[at % 20], encoding="utf-8")
        size = sum(len(texts[at % 20]) for at in range(PAGES)) / 1_000_000
        bare = _bare(Path(folder))
        begin = time.perf_counter()
        with contextlib.redirect_stdout(io.StringIO()):
            command.main(["check", folder])
        took = time.perf_counter() - begin
    return [(f"check of {PAGES:,} files, {size:.0f} MB ÷ bare parse", took / bare, "×", 6)]


def _bare(folder: Path) -> float:
    best = float("inf")
    for _ in range(3):
        begin = time.perf_counter()
        for path in folder.iterdir():
            turbohtml.parse(path.read_text(encoding="utf-8"), source_locations=True)
        best = min(best, time.perf_counter() - begin)
    return best
