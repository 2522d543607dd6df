"""How gunicorn serves: few workers with threads, each renewed when it has grown. Python
gives little memory back, so one that has read pages of several megabytes would keep
what they took for good."""

from __future__ import annotations

import os
import tempfile
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

_ROOT = Path(__file__).parents[2]
_LARGEST = 200 * 1024 * 1024


class _Whole(Compressor):  # type: ignore[misc]
    """Puts a compressed file in its place when it is whole, and only where it is another one:
    a server that runs already may be sending the one that is there."""

    def write_data(self, path: str, data: bytes, suffix: str, _stat: os.stat_result) -> str:
        """Its name."""
        file = Path(f"{path}{suffix}")
        if not file.exists() or file.read_bytes() != data:
            handle, beside = tempfile.mkstemp(dir=_ROOT)  # where no server looks for files
            with os.fdopen(handle, "wb") as new:
                new.write(data)
            os.chmod(beside, 0o644)
            os.replace(beside, file)
        return str(file)


def on_starting(_server: Any) -> None:
    """Beside each built file a compressed one, which WhiteNoise sends to who takes it."""
    compressor = _Whole(quiet=True, use_brotli=False)
    for file in (_ROOT / "static" / "dist").rglob("*"):
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
