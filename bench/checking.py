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
    with tempfile.TemporaryDirectory() as folder, tempfile.TemporaryDirectory() as kept:
        texts = [page(26, 75, seed=seed) for seed in range(20)]
        for at in range(PAGES):
            (Path(folder) / f"p{at}.html").write_text(texts[at % 20], encoding="utf-8")
        size = sum(len(texts[at % 20]) for at in range(PAGES)) / 1_000_000
        bare = _bare(Path(folder))
        took = {}
        for run in ("first", "again", "after one page changed"):
            if run.startswith("after"):
                (Path(folder) / "p500.html").write_text(texts[1], encoding="utf-8")
            took[run] = _took(["check", folder, "--cache-dir", kept])
    what = f"check of {PAGES:,} files, {size:.0f} MB ÷ bare parse"
    return [(f"{what}, {run}", took[run] / bare, "×", most) for run, most in _BUDGETS.items()]


_BUDGETS = {"first": 15, "again": 3, "after one page changed": 4}


def _took(arguments: list[str]) -> float:
    begin = time.perf_counter()
    with contextlib.redirect_stdout(io.StringIO()):
        command.main(arguments)
    return time.perf_counter() - begin


def _bare(folder: Path) -> float:
    best = float("inf")
    for _ in range(3):
        begin = time.perf_counter()
        for path in folder.iterdir():
            turbohtml.parse(path.read_text(encoding="utf-8"), source_locations=True)
        best = min(best, time.perf_counter() - begin)
    return best
