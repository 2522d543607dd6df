"""How connections are held: each whole request waits beside others until one of a few threads
takes it up, and each answer until its reader has it. Who sends or reads slowly costs a
connection, and no thread.

gunicorn starts the processes, waitress holds the connections:
https://docs.pylonsproject.org/projects/waitress/en/stable/design.html
"""

from __future__ import annotations

import logging
import os
import time
from typing import Any

from gunicorn.workers.base import Worker
from waitress import wasyncore
from waitress.adjustments import Adjustments
from waitress.channel import HTTPChannel
from waitress.server import TcpWSGIServer

HEAD = 10.0  # seconds in which the head of a request is sent
BODY = 30.0  # seconds for its body, and one more for each PACE of it that came
PACE = 4_000  # bytes
_IDLE = 60  # seconds that a connection stays open without a word
_LARGEST_HEAD, _LARGEST_BODY = 64 * 1024, 210 * 1024 * 1024  # bytes, as in deploy/nginx.conf
_CONNECTIONS = 900  # of one process: most systems give it 1,024 files
_LARGEST = 200 * 1024 * 1024  # bytes of memory, after which a process is renewed
_TURN = 0.5  # seconds

# A queue is what this is for; only what goes wrong is logged.
logging.getLogger("waitress.queue").setLevel(logging.ERROR)


class Channel(HTTPChannel):  # type: ignore[misc]
    """A connection. begun: when the request that is being sent now began to come."""

    begun = 0.0

    def received(self, data: bytes) -> Any:
        """Takes what was sent."""
        if self.request is None:
            self.begun = time.monotonic()
        return super().received(data)

    def is_too_slow(self, now: float) -> bool:
        """Whether a request has been coming for too long, as Apache's mod_reqtimeout tells it.
        now: of a clock that nobody sets.

        https://httpd.apache.org/docs/2.4/mod/mod_reqtimeout.html"""
        request = self.request
        if request is None:
            return False
        if not request.headers_finished:
            return now - self.begun > HEAD
        allowed: float = HEAD + BODY + request.body_bytes_received / PACE
        return now - self.begun > allowed


class Server(TcpWSGIServer):  # type: ignore[misc]
    """What listens, and lets go of who is too slow."""

    channel_class = Channel

    def maintenance(self, now: float) -> None:
        """Every other second."""
        super().maintenance(now)
        for channel in self.active_channels.values():
            if channel.is_too_slow(time.monotonic()):
                channel.will_close = True


class Buffered(Worker):  # type: ignore[misc]
    """A process of gunicorn's with threads that have whole requests only."""

    def run(self) -> None:
        """Serve until told to stop; then answer what was asked already."""
        connections: dict[int, Any] = {}
        # Looking ahead shows who has gone; what they asked for and nobody began isn't begun.
        held = Adjustments(
            threads=self.cfg.threads, ident=None, clear_untrusted_proxy_headers=False,
            channel_request_lookahead=1, channel_timeout=_IDLE, cleanup_interval=2,
            connection_limit=_CONNECTIONS, max_request_header_size=_LARGEST_HEAD,
            max_request_body_size=_LARGEST_BODY, log_socket_errors=False,
        )  # fmt: skip
        bound = self.sockets[0].sock
        told = bound.family, bound.type, bound.proto, bound.getsockname()
        server = Server(
            self.wsgi, connections, _sock=bound, adj=held, sockinfo=told, bind_socket=False
        )
        self.alive: bool
        while self.alive and self.ppid == os.getppid():
            self._turn(connections)
            if resident() > _LARGEST:  # which Python seldom gives back
                self.alive = False
        self._end(server, connections)

    def _turn(self, connections: dict[int, Any]) -> None:
        self.notify()
        wasyncore.poll2(_TURN, connections)

    def _end(self, server: Server, connections: dict[int, Any]) -> None:
        server.del_channel()  # and so listens no more
        until = time.monotonic() + self.cfg.graceful_timeout
        while time.monotonic() < until and any(
            one.requests or one.total_outbufs_len for one in server.active_channels.values()
        ):
            self._turn(connections)
        server.task_dispatcher.shutdown(timeout=1)


def resident() -> int:
    """The memory that this process holds, in bytes."""
    with open("/proc/self/statm", encoding="ascii") as statm:
        return int(statm.read().split()[1]) * os.sysconf("SC_PAGE_SIZE")
