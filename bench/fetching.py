"""A site fetched by its address, from a host in a process of its own, without pauses, and taken
in; and how the memory of the process that fetches grows with the pages."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import threading
import time
from pathlib import Path
from urllib.request import urlopen

from django.conf import settings

from bench.page_host import PAGES
from innerhop.library import sites
from innerhop.library.fetching import fetching
from innerhop.library.jobs import jobs, running
from innerhop.library.models import Editor, Job
from innerhop.practice.serving import free_port, fresh_database

Figure = tuple[str, float, str, float]
FEW = 250
_NAME = "bench.localhost"


def figures() -> list[Figure]:
    """From the address to the pages; and the memory that it takes."""
    fresh_database("innerhop_bench")
    editor = Editor.objects.create_user("bench")
    port = free_port()
    settings.FETCH_LETS_THROUGH = {f"{_NAME}:{port}": "127.0.0.1"}
    settings.FETCH_PAUSE = 0
    host = subprocess.Popen([sys.executable, "-m", "bench.page_host", str(port)])
    try:
        _wait(port)
        with tempfile.TemporaryDirectory() as folder:
            settings.FETCH_FOLDER = Path(folder)
            _, few = _fetched(editor, port, FEW)
            seconds, many = _fetched(editor, port, PAGES)
    finally:
        host.terminate()
        host.wait()
    return [
        ("1,000 pages fetched without pauses, and taken in", seconds, "s", 60),
        ("memory of the process that fetches, 1,000 ÷ 250 pages", many / few, "×", 1.3),
    ]


def _wait(port: int) -> None:
    for _ in range(100):
        try:
            urlopen(f"http://127.0.0.1:{port}/").close()
            return
        except OSError:
            time.sleep(0.1)


def _fetched(editor: Editor, port: int, most: int) -> tuple[float, int]:
    """How long it took, and the most memory that the process that fetches held, in bytes."""
    address = f"http://{_NAME}:{port}/"
    site = sites.create(f"fetched-{most}", address, "en", editor)
    asked = fetching.read_asked(site, address, most, is_whole=True)
    job = jobs.begin(site, editor, fetching.KIND, asked)
    peak = [0]
    over = threading.Event()
    watcher = threading.Thread(target=_watch, args=[peak, over])
    watcher.start()
    begin = time.perf_counter()
    running.run(job.pk)
    seconds = time.perf_counter() - begin
    over.set()
    watcher.join()
    assert Job.objects.get(pk=job.pk).state == Job.State.DONE
    assert site.pages.count() >= most - 2  # some of their links lead nowhere
    return seconds, peak[0]


def _watch(peak: list[int], over: threading.Event) -> None:
    while not over.wait(0.1):
        found = subprocess.run(["pgrep", "-P", str(os.getpid()), "-f", "innerhop.fetch"],
                               capture_output=True, text=True, check=False)  # fmt: skip
        for pid in found.stdout.split():
            try:
                pages = int(Path(f"/proc/{pid}/statm").read_text(encoding="ascii").split()[1])
            except (OSError, IndexError):
                continue
            peak[0] = max(peak[0], pages * os.sysconf("SC_PAGE_SIZE"))
