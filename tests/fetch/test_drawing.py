"""Pages as their scripts draw them, in a real browser, which goes to their own host alone."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor

import pytest

from innerhop.core.addresses.public import NotPublic
from innerhop.fetch.drawing import drawn
from tests.fetch.hosts import Answer, page, serving

DRAWN = "document.getElementById('root').innerHTML = '<h1 id=drawn>Drawn</h1>';"
# Every way out that a page's script has.
OUT = """
fetch('{inside}/fetched').catch(() => 0); new Image().src = '{inside}/picture';
new WebSocket('{inside}/socket'.replace('http', 'ws')); navigator.sendBeacon('{inside}/beacon');
for (const led of ['/led', '/led-too']) {{
  const script = document.createElement('script'); script.src = led; document.head.append(script);
  const frame = document.createElement('iframe'); frame.src = led; document.body.append(frame);
}}"""


def test_it_is_read_as_drawn_and_nothing_else_is_gone_to() -> None:
    with serving({}) as inside:
        root = f"http://127.0.0.1:{inside.server_port}"
        led = Answer(status=302, headers={"Location": f"{root}/led"})
        answers = {
            "/": page("<div id=root></div><script src=/app.js></script>"),
            "/app.js": Answer((DRAWN + OUT.format(inside=root)).encode(), kind="text/javascript"),
            "/led": led,
            "/led-too": Answer(status=307, headers={"Location": f"http://localhost:1/{root}"}),
            "/away": led,
        }
        with serving(answers) as host:
            addresses = [f"{host.origin}/", f"{host.origin}/away"]
            with ThreadPoolExecutor(1) as thread:  # another test's browser has this one's loop
                read = thread.submit(lambda: list(drawn(addresses, "InnerHop", host.let_through)))
                there, away = read.result()
        assert '<h1 id="drawn">Drawn</h1>' in there.text
        assert (away.text, away.why) == ("", "it leads away from the site")
        assert not inside.asked


@pytest.mark.parametrize("address", ["http://127.0.0.1/", "http://localhost/", "ftp://a.example/"])
def test_a_host_inside_a_network_is_not_gone_to(address: str) -> None:
    with pytest.raises(NotPublic):
        next(drawn([address], "InnerHop", {}))
