"""How gunicorn serves: few processes with threads (`buffered`), each renewed when it has
grown. Python gives little memory back, so one that has read pages of several megabytes would
keep what they took for good."""

from __future__ import annotations

import os
import shutil
import tempfile
from pathlib import Path
from typing import Any

from whitenoise.compress import Compressor

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

_ROOT = Path(__file__).parents[2]


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


# What each process counts, where any of them can tell all of it.
os.environ.setdefault("PROMETHEUS_MULTIPROC_DIR", tempfile.mkdtemp(prefix="inner-hop-"))


def child_exit(_server: Any, worker: Any) -> None:
    """A process that ended counts no more."""
    from prometheus_client import multiprocess  # noqa: PLC0415  (which looks for the folder)

    multiprocess.mark_process_dead(worker.pid)  # type: ignore[no-untyped-call]


def on_exit(_server: Any) -> None:
    """Nothing is left behind."""
    shutil.rmtree(os.environ["PROMETHEUS_MULTIPROC_DIR"], ignore_errors=True)


def on_starting(_server: Any) -> None:
    """Beside each built file a compressed one, which WhiteNoise sends to who takes it."""
    compressor = _Whole(quiet=True, use_brotli=False)
    for file in (_ROOT / "static" / "dist").rglob("*"):
        if file.is_file() and compressor.should_compress(file.name):
            list(compressor.compress(str(file)))
