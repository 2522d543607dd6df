"""How gunicorn serves: few workers with threads, each renewed when it has grown. Python
gives little memory back, so one that has read pages of several megabytes would keep
what they took for good."""

from __future__ import annotations

import os
from typing import Any

wsgi_app = "innerhop.project.wsgi"
workers = 2
threads = 4
timeout = 120
graceful_timeout = 30
loglevel = "warning"
accesslog = os.devnull

_LARGEST = 200 * 1024 * 1024


def post_request(worker: Any, _request: Any, _environment: Any, _answer: Any) -> None:
    """After each answer: a worker that holds too much ends once its others are given,
    and a new one takes its place."""
    if resident() > _LARGEST:
        worker.alive = False


def resident() -> int:
    """The memory that this process holds, in bytes."""
    with open("/proc/self/statm", encoding="ascii") as statm:
        return int(statm.read().split()[1]) * os.sysconf("SC_PAGE_SIZE")
