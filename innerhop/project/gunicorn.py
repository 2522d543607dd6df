"""How gunicorn serves: few workers with threads, each renewed when it has grown. Python
gives little memory back, so one that has read pages of several megabytes would keep
what they took for good."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

from whitenoise.compress import Compressor

wsgi_app = "innerhop.project.wsgi"
workers = 2
threads = 4
timeout = 120
graceful_timeout = 30
loglevel = "warning"
accesslog = os.devnull

_LARGEST = 200 * 1024 * 1024


def on_starting(_server: Any) -> None:
    """Beside each built file a compressed one, which WhiteNoise sends to who takes it."""
    folder = Path(__file__).parents[2] / "static" / "dist"
    compressor = Compressor(quiet=True, use_brotli=False)
    for file in folder.rglob("*"):
        if file.is_file() and compressor.should_compress(file.name):
            list(compressor.compress(str(file)))


def post_request(worker: Any, _request: Any, _environment: Any, _answer: Any) -> None:
    """After each answer: a worker that holds too much ends once its others are given,
    and a new one takes its place."""
    if resident() > _LARGEST:
        worker.alive = False


def resident() -> int:
    """The memory that this process holds, in bytes."""
    with open("/proc/self/statm", encoding="ascii") as statm:
        return int(statm.read().split()[1]) * os.sysconf("SC_PAGE_SIZE")
