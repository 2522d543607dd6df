"""How gunicorn serves: few processes with threads (`buffered`), each renewed when it has
grown. Python gives little memory back, so one that has read pages of several megabytes would
keep what they took for good."""

from __future__ import annotations

import itertools
import os
import shutil
import tempfile
from typing import Any

from prometheus_client import values

wsgi_app = "innerhop.project.wsgi"
worker_class = "innerhop.project.buffered.Buffered"
preload_app = True  # the memory of what all read alike is theirs together
# Two a processor: while one computes for somebody, those who ask another for little get it.
workers = int(os.environ.get("WEB_PROCESSES", "0")) or min(2 * (os.cpu_count() or 1), 8)
threads = 4
timeout = 120
graceful_timeout = 30
loglevel = "warning"
accesslog = os.devnull

# What each process counts stands where any of them can tell all of it: in a file for each place
# in the row of processes, so that one that takes another's place counts on there.
# https://prometheus.github.io/client_python/multiprocess/
_counts = tempfile.mkdtemp(prefix="inner-hop-")
os.environ["PROMETHEUS_MULTIPROC_DIR"] = _counts
_place = 0  # the master's own
values.ValueClass = values.MultiProcessValue(lambda: _place)  # type: ignore[no-untyped-call]


def pre_fork(server: Any, worker: Any) -> None:
    """A process gets the first place that none has."""
    taken = {one.place for one in server.WORKERS.values()}
    worker.place = next(place for place in itertools.count(1) if place not in taken)


def post_fork(_server: Any, worker: Any) -> None:
    """It knows its place."""
    global _place  # noqa: PLW0603  (of this process, and asked for by the package's own function)
    _place = worker.place


def on_exit(_server: Any) -> None:
    """Nothing is left behind."""
    shutil.rmtree(_counts, ignore_errors=True)
