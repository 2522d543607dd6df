"""Without a proxy in front: who sends or reads slowly costs a connection, and nobody's time."""

from __future__ import annotations

import contextlib
import socket
import time
from collections.abc import Iterator
from urllib.parse import urlsplit
from urllib.request import urlopen

import pytest

from innerhop.practice.serving import serve
from innerhop.project import buffered
from tests.server.test_on_a_server import ROOT

MANY = 200
_SCRIPT = max((ROOT / "static" / "dist").glob("*.js"), key=lambda file: file.stat().st_size)
LARGEST = f"/static/dist/{_SCRIPT.name}".encode()
BEGUN = {
    "a head that doesn't end": b"GET /sign-in/ HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Slow: ",
    "a body that doesn't come": b"POST /sign-in/ HTTP/1.1\r\nHost: 127.0.0.1\r\n"
    b"Content-Length: 1000\r\n\r\nusername=",
    "not a word": b"",
    "an answer that nobody reads": b"GET %s HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n" % LARGEST,
}


@pytest.fixture
def url(transactional_db: None) -> Iterator[str]:
    with serve() as found:
        yield found


def test_two_hundred_of_each_keep_nobody_waiting_and_are_let_go(url: str) -> None:
    there = urlsplit(url)
    with contextlib.ExitStack() as stack:
        open_: dict[str, list[socket.socket]] = {name: [] for name in BEGUN}
        for name, begun in BEGUN.items():
            for _ in range(MANY):
                one = socket.create_connection((there.hostname or "", there.port or 0), timeout=10)
                one.sendall(begun)
                open_[name].append(stack.enter_context(one))
        for _ in range(3):
            begin = time.monotonic()
            assert urlopen(f"{url}/sign-in/", timeout=20).status == 200
            assert time.monotonic() - begin < buffered.HEAD / 2, "not when they were let go"
        time.sleep(buffered.HEAD + 3)
        for one in open_["a head that doesn't end"]:
            with contextlib.suppress(ConnectionError):
                assert one.recv(1) == b"", "let go"
        for one in open_["a body that doesn't come"]:  # which has some more time
            one.setblocking(False)
            with pytest.raises(BlockingIOError):
                one.recv(1)


def test_a_body_has_time_as_it_comes() -> None:
    channel = object.__new__(buffered.Channel)
    channel.begun = 0.0

    class Request:
        headers_finished = True
        body_bytes_received = 100 * buffered.PACE

    channel.request = Request()
    assert not channel.is_too_slow(buffered.HEAD + buffered.BODY + 99)
    assert channel.is_too_slow(buffered.HEAD + buffered.BODY + 101)
    channel.request = None
    assert not channel.is_too_slow(10**9)
