"""A host of generated pages, each with links to the next ten: python -m bench.page_host PORT."""

from __future__ import annotations

import sys
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

from bench.pages import page

PAGES = 1_000
_TEXTS = [page(26, 75, seed=seed) for seed in range(20)]


_LETTERS = "abcdefghij"  # for figures: addresses that differ in these alone are a trap


def _named(number: int) -> str:
    return "".join(_LETTERS[int(figure)] for figure in str(number))


_NUMBERS = {_named(number): number for number in range(PAGES)}


class _Handler(BaseHTTPRequestHandler):
    protocol_version = "HTTP/1.1"

    def do_GET(self) -> None:
        """A page."""
        number = _NUMBERS.get(self.path.strip("/") or _LETTERS[0])
        found = number is not None
        text = b"" if number is None else _text(number)
        self.send_response(200 if found else 404)
        self.send_header("Content-Type", "text/html; charset=utf-8")
        self.send_header("Content-Length", str(len(text)))
        self.end_headers()
        self.wfile.write(text)

    def log_message(self, format: str, *args: object) -> None:
        """Nothing is logged."""


def _text(number: int) -> bytes:
    links = "".join(f'<a href="/{_named(number + at)}/">on</a> ' for at in range(1, 11))
    own = f"<p>{number} {links}</body>"
    return _TEXTS[number % 20].replace("</body>", own).encode()


if __name__ == "__main__":
    ThreadingHTTPServer(("127.0.0.1", int(sys.argv[1])), _Handler).serve_forever()
