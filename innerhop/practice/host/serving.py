"""The practice host's own server, and the page on which faults are ordered."""

from __future__ import annotations

import time
from html import escape
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from urllib.parse import parse_qs

from innerhop.practice.host import site
from innerhop.practice.host.orders import ORDERS, SLOW, Ordered
from innerhop.practice.host.site import Answer

NAME = "marrowby.localhost"
ORDERS_AT = "/-/orders"
_LONGEST = 10_000  # bytes of a form


class Host(ThreadingHTTPServer):
    """The demo site, live at a port of loopback."""

    daemon_threads = True

    def __init__(self, port: int) -> None:
        super().__init__(("127.0.0.1", port), _Handler)
        self.ordered = Ordered()
        self.origin = f"http://{NAME}:{self.server_port}"


class _Handler(BaseHTTPRequestHandler):
    """One request."""

    server: Host
    protocol_version = "HTTP/1.1"

    def do_GET(self) -> None:
        """A page or a file of the site, or the form for orders."""
        path = self.path.partition("?")[0]
        if path == ORDERS_AT:
            self._send(Answer(200, "text/html; charset=utf-8", _form(self.server.ordered)))
            return
        if SLOW in self.server.ordered:
            time.sleep(1)
        self._send(site.answer(path, self.server.origin, self.server.ordered))

    do_HEAD = do_GET  # noqa: N815  (the library's name)

    def do_POST(self) -> None:
        """What was ordered."""
        length = min(int(self.headers.get("Content-Length") or 0), _LONGEST)
        sent = parse_qs(self.rfile.read(length).decode("utf-8", "replace"))
        if self.path == ORDERS_AT:
            self.server.ordered.take(sent.get("order", []))
            self._send(Answer(303, "text/plain", b"", {"Location": ORDERS_AT}))
        else:
            self._send(Answer(405, "text/plain", b"Forms are not taken here."))

    def _send(self, answer: Answer) -> None:
        self.send_response(answer.status)
        self.send_header("Content-Type", answer.media_type)
        self.send_header("Content-Length", str(len(answer.body)))
        for name, value in answer.headers.items():
            self.send_header(name, value)
        self.end_headers()
        if self.command != "HEAD":
            self.wfile.write(answer.body)

    def log_message(self, format: str, *args: object) -> None:
        """Nothing is logged."""


def _form(ordered: Ordered) -> bytes:
    """The page on which faults are ordered."""
    rows = "".join(
        f'<p><label><input type="checkbox" name="order" value="{order.name}"'
        f"{' checked' if order.name in ordered else ''}> {escape(order.said)}</label></p>"
        for order in ORDERS
    )
    return (
        '<!doctype html><html lang="en"><meta charset="utf-8">'
        '<meta name="viewport" content="width=device-width">'
        "<title>Orders for the practice host</title>"
        '<body style="font:1rem/1.5 sans-serif;margin:3rem auto;max-width:36rem;padding:0 1rem">'
        "<h1>Orders for the practice host</h1>"
        "<p>This host serves the demo site as if it were live. What is ordered here happens at "
        'the next request. <a href="/">See the site</a></p>'
        f'<form method="post">{rows}<button>Order</button></form>'
    ).encode()
