"""Time to the first byte of each screen, over HTTP on loopback from the
application as bin/start runs it, with the demo site and a page of 1 MB."""

from __future__ import annotations

import statistics
import time
from http.client import HTTPConnection
from urllib.parse import urlsplit

from django.conf import settings
from django.db import connection
from django.test import Client
from django.urls import reverse

from bench.pages import page
from innerhop.library import sites
from innerhop.library.bring_in import bring_ins
from innerhop.library.models import Editor
from innerhop.practice import demo
from innerhop.practice.serving import fresh_database, serve

REQUESTS = 60
Figure = tuple[str, float, str, float]


def figures() -> list[Figure]:
    """Time to the first byte of each screen, 95th percentile."""
    fresh_database("innerhop_bench")
    addresses, big, cookie = _load()
    connection.close()
    with serve(workers=2) as url:
        small = [time for address in addresses for time in _times(url, address, cookie)]
        large = _times(url, big, cookie)
    return [
        ("first byte, screens of the demo site, 95th percentile", _p95(small), "ms", 100),
        ("first byte, page screen of 1 MB with 2,000 marks, 95th", _p95(large), "ms", 300),
    ]


def _load() -> tuple[list[str], str, str]:
    """The demo and a large page; the addresses of its screens, and a signed-in cookie."""
    site = demo.load()
    editor = Editor.objects.get(username=demo.EDITOR)
    screens = [reverse(name, args=[site.slug]) for name in ("pages", "bring-in", "hand-over")]
    screens += [one.get_absolute_url() for one in site.pages.all()]
    large = sites.create("Large", "large.example", "en", editor)
    piece = bring_ins.NewFile("large.html", page(2000, 75).encode())
    for _ in bring_ins.bring_in(large, editor, [piece], 1):
        pass
    client = Client(SERVER_NAME="127.0.0.1")
    client.force_login(editor, backend="innerhop.library.access.Backend")
    cookie = client.cookies[settings.SESSION_COOKIE_NAME]
    big = large.pages.get().get_absolute_url()
    return screens, big, f"{settings.SESSION_COOKIE_NAME}={cookie.value}"


def _times(url: str, address: str, cookie: str) -> list[float]:
    """Milliseconds to the first byte of the answer, request by request."""
    host = urlsplit(url).netloc
    times = []
    for number in range(REQUESTS + 5):
        http = HTTPConnection(host)
        start = time.perf_counter()
        http.request("GET", address, headers={"Cookie": cookie})
        answer = http.getresponse()
        took = (time.perf_counter() - start) * 1000
        assert answer.status == 200, (address, answer.status)
        answer.read()
        http.close()
        if number >= 5:  # the first few find cold caches
            times.append(took)
    return times


def _p95(times: list[float]) -> float:
    return statistics.quantiles(times, n=20)[-1]
