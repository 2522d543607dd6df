"""Fifty editors at ten sites for three minutes, by themselves and beside what could slow them: how
long 95 of 100 of their requests take at most, by screen. Exits with 1 when that is over a second
by themselves, one fails, or what is beside them makes a screen more than twice as slow.

    bin/load
    bin/load --seconds 60 --only alone pooled
"""

from __future__ import annotations

import argparse
import contextlib
import csv
import json
import os
import socket
import subprocess
import sys
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any, NamedTuple

import django
import psutil

django.setup()

from django.conf import settings  # noqa: E402
from django.db import connection  # noqa: E402

from innerhop.library import sites  # noqa: E402
from innerhop.library.bring_in import bring_ins, many  # noqa: E402
from innerhop.library.models import Editor, Site  # noqa: E402
from innerhop.library.steps import finished  # noqa: E402
from innerhop.practice import demo  # noqa: E402
from innerhop.practice.serving import (  # noqa: E402
    environment,
    fresh_database,
    serve_process,
    working,
)  # fmt: skip
from tests.load.pooled import pool  # noqa: E402
from tests.sessions import cookie_of  # noqa: E402

SITES, EDITORS = 10, 50
MOST = 1_000  # milliseconds, of the 95th of a hundred
CSRF = "load" * 8


class Row(NamedTuple):
    """What was asked for: how often, in vain, and in how many milliseconds 95 of 100."""

    count: int
    failed: int
    most: float


def make() -> list[dict[str, Any]]:
    """The sites and who works at them, as `editors` reads them."""
    found = []
    for at in range(SITES):
        site = _site(f"Canal {at}", Editor.objects.create_user(f"owner-{at}"))
        pages = list(site.pages.order_by("path"))
        for n in range(EDITORS // SITES):
            editor = Editor.objects.create_user(f"editor-{at}-{n}")
            site.membership_set.create(editor=editor)
            own = pages[n % len(pages)]
            free = own.sections.filter(mark="").values_list("number", flat=True).first()
            found.append({
                "slug": site.slug, "pages": [page.pk for page in pages],
                "own": [own.pk, free], "csrf": CSRF,
                "cookie": f"{cookie_of(editor)}; {settings.CSRF_COOKIE_NAME}={CSRF}",
            })  # fmt: skip
    return found


def _site(name: str, editor: Editor) -> Site:
    site = sites.create(name, "https://marrowby.example", "en", editor)
    pieces = [bring_ins.NewFile(path, data) for path, data in demo.files()]
    list(bring_ins.bring_in(site, editor, pieces, len(pieces)))
    return site


def drive(who: list[dict[str, Any]], addresses: list[str], seconds: int) -> dict[str, Row]:
    """Have them work; what each screen took. Says what the driving took of the processors."""
    with tempfile.TemporaryDirectory() as folder:
        told = Path(folder) / "who.json"
        shared = [{**one, "host": addresses[at % len(addresses)]} for at, one in enumerate(who)]
        told.write_text(json.dumps(shared), "utf-8")
        process = psutil.Popen(
            [sys.executable, "-m", "locust", "--locustfile", "tests/load/editors.py", "--headless",
             "--users", str(len(who)), "--spawn-rate", "10", "--run-time", f"{seconds}s",
             "--host", addresses[0], "--csv", f"{folder}/told", "--only-summary",
             "--reset-stats", "--exit-code-on-error", "0", "--stop-timeout", "10"],
            env={**os.environ, "INNERHOP_LOAD": str(told)},
            stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        )  # fmt: skip
        used = 0.0
        while process.poll() is None:
            with contextlib.suppress(psutil.Error):
                used = sum(process.cpu_times()[:2])
                process.wait(timeout=0.5)
        print(f"  the load generator used {used:.0f} s of a processor's {seconds}")
        with open(f"{folder}/told_stats.csv", encoding="utf-8", newline="") as table:
            said = [one for one in csv.DictReader(table) if int(one["Request Count"])]
            return {one["Name"]: _row(one) for one in said}


def _row(said: dict[str, str]) -> Row:
    return Row(int(said["Request Count"]), int(said["Failure Count"]), float(said["95%"]))


@contextlib.contextmanager
def pages_come_in() -> Iterator[None]:
    """5,000 pages at a site of their own, by a worker."""
    editor = Editor.objects.create_user("brings-in")
    site = sites.create("Five thousand", "https://many.example", "en", editor)
    words = b"<p>Words about locks, boats and winter works." * 40
    pieces = [bring_ins.NewFile(f"n/{at}.html", b"<h1 id=a>Note %d</h1>" % at + words)
              for at in range(5_000)]  # fmt: skip
    upload = bring_ins.Upload(len(pieces), iter(pieces), [], len(pieces))
    job = finished(many.staged(site, editor, upload, replace=False, notes=()))
    with working():
        yield
        job.refresh_from_db()
        print(f"  beside: {job.state}, {site.pages.count()} pages in")
    job.delete()


@contextlib.contextmanager
def connections(address: str) -> Iterator[None]:
    """200 that say nothing, and 200 that never finish what they begin."""
    host, port = address.removeprefix("http://").split(":")
    with contextlib.ExitStack() as stack:
        for at in range(400):
            one = stack.enter_context(socket.create_connection((host, int(port)), timeout=10))
            if at % 2:
                one.sendall(b"GET /sign-in/ HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Slow: ")
        yield


@contextlib.contextmanager
def alone() -> Iterator[list[str]]:
    """Two web processes a processor."""
    with serve_process(2 * (os.cpu_count() or 1)) as (url, _):
        yield [url]


@contextlib.contextmanager
def beside_pages() -> Iterator[list[str]]:
    """The same, while 5,000 pages come in."""
    with alone() as found, pages_come_in():
        yield found


@contextlib.contextmanager
def beside_connections() -> Iterator[list[str]]:
    """The same, with 400 connections that come to nothing."""
    with alone() as found, connections(found[0]):
        yield found


@contextlib.contextmanager
def pooled() -> Iterator[list[str]]:
    """Two web servers with addresses of their own, as on two machines, which share a few
    connections to the database through PgBouncer."""
    with pool(environment()["DATABASE_URL"]) as there, contextlib.ExitStack() as stack:
        own = {"DATABASE_URL": there, "DATABASE_POOLED": "1"}
        yield [stack.enter_context(serve_process(1, own))[0] for _ in range(2)]


KINDS: dict[str, Callable[[], contextlib.AbstractContextManager[list[str]]]] = {
    "alone": alone, "pages": beside_pages, "connections": beside_connections, "pooled": pooled,
}  # fmt: skip


def main() -> int:
    """How many figures are over."""
    reader = argparse.ArgumentParser(prog="bin/load", description=__doc__)
    reader.add_argument("--seconds", type=int, default=180)
    reader.add_argument("--only", nargs="*", choices=list(KINDS), default=list(KINDS))
    asked = reader.parse_args()
    fresh_database("innerhop_load")
    who = make()
    over = 0
    usual: dict[str, Row] = {}
    for name in asked.only:
        print(f"{name}: {(KINDS[name].__doc__ or '').strip()}", flush=True)
        with KINDS[name]() as addresses:
            rows = drive(who, addresses, asked.seconds)
        if name == "alone":
            usual = rows
        for screen, row in rows.items():
            # Nobody minds twice of next to nothing.
            beside = name != "alone" and screen in usual
            limit = max(MOST, 2 * usual[screen].most) if beside else MOST
            is_over = row.failed > 0 or row.most > limit
            over += is_over
            print(f"  {screen:<24} {row.count:>6} asked, {row.failed} failed, 95 of 100 in "
                  f"{row.most:>5.0f} ms{'  OVER' if is_over else ''}", flush=True)  # fmt: skip
    connection.close()
    return over


sys.exit(int(main() > 0))
