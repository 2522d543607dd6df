"""Hosts on loopback that answer as a table says, for fetching from them."""

from __future__ import annotations

import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import NamedTuple

from innerhop.fetch.asked import Asked
from innerhop.fetch.records import Record
from innerhop.fetch.running import Fetch

NAME = "canal.localhost"


class Answer(NamedTuple):
    """What is answered; `drip` seconds between two bytes."""

    body: bytes = b""
    status: int = 200
    kind: str = "text/html; charset=utf-8"
    headers: Mapping[str, str] = {}
    drip: float = 0


Given = Answer | Callable[[], Answer]


class Host(ThreadingHTTPServer):
    """answers: by path with its query. asked: how often each was asked for. agents: who asked."""

    daemon_threads = True

    def __init__(self, answers: Mapping[str, Given]) -> None:
        super().__init__(("127.0.0.1", 0), _Handler)
        self.answers = answers
        self.asked: Counter[str] = Counter()
        self.agents: set[str] = set()
        self.cookies: list[str] = []

    @property
    def origin(self) -> str:
        return f"http://{NAME}:{self.server_port}"

    @property
    def let_through(self) -> dict[str, str]:
        return {f"{NAME}:{self.server_port}": "127.0.0.1"}


class _Handler(BaseHTTPRequestHandler):
    server: Host
    protocol_version = "HTTP/1.1"

    def do_GET(self) -> None:
        host = self.server
        host.asked[self.path] += 1
        host.agents.add(self.headers.get("User-Agent", ""))
        host.cookies += self.headers.get_all("Cookie") or []
        given = host.answers.get(self.path, Answer(b"Nothing here.", 404))
        answer = given() if callable(given) else given
        self.send_response(answer.status)
        self.send_header("Content-Type", answer.kind)
        self.send_header("Content-Length", str(len(answer.body)))
        for name, value in answer.headers.items():
            self.send_header(name, value)
        self.end_headers()
        try:
            for at in range(0, len(answer.body), 1 if answer.drip else max(1, len(answer.body))):
                self.wfile.write(answer.body[at : at + 1] if answer.drip else answer.body)
                time.sleep(answer.drip)
        except OSError:
            pass  # who asked has gone

    def log_message(self, format: str, *args: object) -> None:
        pass


@contextmanager
def serving(answers: Mapping[str, Given]) -> Iterator[Host]:
    host = Host(answers)
    threading.Thread(target=host.serve_forever, args=[0.05], daemon=True).start()
    try:
        yield host
    finally:
        host.shutdown()
        host.server_close()


def fetched(host: Host, folder: Path, path: str = "/", **more: object) -> list[Record]:
    """What a fetch of a host tells."""
    asked = Asked(host.origin + path, let_through=host.let_through, pause=0, **more)  # type: ignore[arg-type]
    fetch = Fetch(asked, folder)
    try:
        return list(fetch.records())
    finally:
        fetch.close()


def page(body: str, head: str = "") -> Answer:
    """A page with some words of its own, so that no two are alike."""
    return Answer(f"<!doctype html><html lang=en><title>{body[:30]}</title>{head}{body}".encode())
