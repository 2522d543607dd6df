"""What names stand for is judged where they are looked up, by a real resolver at a real server of
names on loopback (RFC 1035); and the certificates of real servers."""

from __future__ import annotations

import socket
import ssl
import struct
import subprocess
import sys
import threading
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path

import pytest
from twisted.internet.address import IPv4Address

from innerhop.fetch.asked import Asked
from innerhop.fetch.records import Out, read
from innerhop.fetch.resolver import Judge, refused
from tests.fetch.hosts import Host, fetched, page, serving

# By name, what it stands for.
NAMES = {
    "inside.example": "10.0.0.7",
    "loop.example": "127.0.0.1",
    "shared.example": "100.64.0.1",
}


class Names:
    """A server of names."""

    def __init__(self) -> None:
        self.socket = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
        self.socket.bind(("127.0.0.1", 0))
        self.port = self.socket.getsockname()[1]

    def serve(self) -> None:
        while True:
            try:
                query, sender = self.socket.recvfrom(512)
            except OSError:
                return
            self.socket.sendto(self._answer(query), sender)

    def _answer(self, query: bytes) -> bytes:
        labels, at = [], 12
        while query[at]:
            labels.append(query[at + 1 : at + 1 + query[at]].decode())
            at += 1 + query[at]
        (kind,) = struct.unpack(">H", query[at + 1 : at + 3])
        known = NAMES.get(".".join(labels).lower())
        found = [known] if known and kind in (1, 255) else []  # an address, or anything
        code = 0x8180 if known else 0x8183  # RFC 1035, 4.1.1: no error, and no such name
        head = query[:2] + struct.pack(">HHHHH", code, 1, len(found), 0, 0)
        rows = b"".join(
            b"\xc0\x0c" + struct.pack(">HHIH", 1, 1, 0, 4) + socket.inet_aton(one) for one in found
        )
        return head + query[12 : at + 5] + rows


@contextmanager
def names() -> Iterator[Names]:
    server = Names()
    threading.Thread(target=server.serve, daemon=True).start()
    try:
        yield server
    finally:
        server.socket.close()


@pytest.mark.parametrize(
    ("name", "why"),
    [
        ("inside.example", "inside.example stands for 10.0.0.7, which is inside a network"),
        ("loop.example", "loop.example stands for 127.0.0.1, which is inside a network"),
        ("shared.example", "shared.example stands for 100.64.0.1, which is inside a network"),
        ("none.example", "no such name as none.example can be found"),
    ],
)
def test_what_a_name_stands_for_is_judged(tmp_path: Path, name: str, why: str) -> None:
    Asked(f"http://{name}/", pause=0).keep(tmp_path)
    with names() as server:
        fetch = subprocess.Popen(
            [sys.executable, "-m", "tests.fetch.fetching_with_names", tmp_path, str(server.port)],
            stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True,
        )  # fmt: skip
        with fetch:
            assert fetch.stdout is not None
            out = [one for line in fetch.stdout if isinstance(one := read(line), Out)]
    assert [one.why for one in out] == [why]


class Gathering:
    """Who wants to know what a name stands for."""

    def __init__(self) -> None:
        self.found: list[str] = []
        self.is_over = False

    def resolutionBegan(self, resolution: object) -> None:  # noqa: N802
        pass

    def addressResolved(self, address: IPv4Address) -> None:  # noqa: N802
        self.found.append(address.host)

    def resolutionComplete(self) -> None:  # noqa: N802
        self.is_over = True


class Saying:
    """A resolver whose every look finds the next that it is to say."""

    def __init__(self, looks: Sequence[Sequence[str]]) -> None:
        self.looks = iter(looks)
        self.nameResolver = self

    def resolveHostName(self, receiver: Gathering, *_: object) -> None:  # noqa: N802
        receiver.resolutionBegan(self)
        for address in next(self.looks):
            receiver.addressResolved(IPv4Address("TCP", address, 80))
        receiver.resolutionComplete()


def test_one_address_inside_a_network_is_enough_and_each_look_is_judged_anew() -> None:
    public, inside = "93.184.216.34", "192.168.0.9"
    judge = Judge(Saying([[public], [public, inside], [inside], [public]]), {})
    found = []
    for _ in range(4):
        gathering = Gathering()
        judge.resolveHostName(gathering, "turns.example", 80)
        assert gathering.is_over
        found.append(gathering.found)
    # What is connected to is what this very look gave.
    assert found == [[public], [], [], [public]]
    assert refused["turns.example"] == inside


def test_a_certificate_that_nobody_vouches_for(tmp_path: Path) -> None:
    key, certificate = tmp_path / "key.pem", tmp_path / "certificate.pem"
    subprocess.run(
        ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-keyout", key,
         "-out", certificate, "-subj", "/CN=canal.localhost"],
        check=True, capture_output=True,
    )  # fmt: skip
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    context.load_cert_chain(certificate, key)
    with serving({"/": page("<h1>Canal</h1>")}) as host:
        host.socket = context.wrap_socket(host.socket, server_side=True)
        out = [one for one in fetched(_secure(host), tmp_path / "fetch") if isinstance(one, Out)]
    assert [one.why for one in out] == ["the certificate of canal.localhost can't be trusted"]


def _secure(host: Host) -> Host:
    """The same, asked for by https."""
    host.__class__ = type("Secure", (Host,), {
        "origin": property(lambda self: f"https://canal.localhost:{self.server_port}")
    })  # fmt: skip
    return host
