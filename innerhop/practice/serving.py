"""The application under gunicorn, as bin/start runs it, on a database of one's
own: for tests in a real browser, for measuring, and for the README's pictures."""

from __future__ import annotations

import contextlib
import os
import socket
import subprocess
import sys
import time
from collections.abc import Iterator, Mapping
from urllib.parse import urlsplit
from urllib.request import urlopen

from django.conf import settings
from django.core.management import call_command
from django.db import connection


def fresh_database(name: str, like: str = "") -> None:
    """Make an empty database of that name, dropping an old one, and use it from here on.
    like: an empty one that is there, of which it is made in a moment."""
    quoted = connection.ops.quote_name(name)
    if connection.settings_dict["NAME"] == name:  # the one in use can't be dropped
        connection.close()
        connection.settings_dict["NAME"] = "postgres"
    with connection.cursor() as cursor:
        cursor.execute(f"drop database if exists {quoted} with (force)")
        template = f" template {connection.ops.quote_name(like)}" if like else ""
        cursor.execute(f"create database {quoted}{template}")
    connection.close()
    settings.DATABASES["default"]["NAME"] = connection.settings_dict["NAME"] = name
    if not like:
        call_command("migrate", verbosity=0)


@contextlib.contextmanager
def serve(workers: int = 1) -> Iterator[str]:
    """Serve the database in use on a free port of loopback; gives the address."""
    with serve_process(workers) as (url, _):
        yield url


@contextlib.contextmanager
def serve_process(
    workers: int = 1, settings_: Mapping[str, str] | None = None
) -> Iterator[tuple[str, int]]:
    """The same; gives the number of the process too, whose children are the workers. settings_:
    what of its environment is another."""
    port = free_port()
    process = subprocess.Popen(
        [sys.executable, "-m", "gunicorn", "--config", "python:innerhop.project.gunicorn",
         "--bind", f"127.0.0.1:{port}", "--workers", str(workers), "--threads", "6"],
        env={**environment(), **(settings_ or {})},
    )  # fmt: skip
    url = f"http://127.0.0.1:{port}"
    try:
        for _ in range(600):
            with contextlib.suppress(OSError), urlopen(f"{url}/static/icon.svg"):
                break
            if process.poll() is not None:
                raise RuntimeError("gunicorn did not start")
            time.sleep(0.1)
        yield url, process.pid
    finally:
        process.terminate()
        process.wait()


def environment() -> dict[str, str]:
    """That of a process that uses the database in use."""
    name = connection.settings_dict["NAME"]
    database = urlsplit(os.environ["DATABASE_URL"])._replace(path=f"/{name}")
    return {**os.environ, "DATABASE_URL": database.geturl()}


@contextlib.contextmanager
def working() -> Iterator[subprocess.Popen[bytes]]:
    """A worker that carries out the jobs of the database in use; gives its process."""
    process = subprocess.Popen(
        [sys.executable, settings.BASE_DIR / "manage.py", "procrastinate", "worker",
         "--concurrency", "2", "--delete-jobs", "always"],
        env=environment(), stderr=subprocess.DEVNULL,
    )  # fmt: skip
    try:
        yield process
    finally:
        process.terminate()
        process.wait()


def free_port() -> int:
    """A port of loopback that nobody listens on."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        return int(free.getsockname()[1])
