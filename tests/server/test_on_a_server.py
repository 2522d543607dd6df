"""On a server, as docs/on-a-server.md has it: nginx in front of what the units start, on
loopback, with names and certificates of the tests' own making."""

from __future__ import annotations

import contextlib
import http.client
import json
import os
import re
import socket
import ssl
import subprocess
import time
from collections import Counter
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID
from prometheus_client.parser import text_string_to_metric_families

from innerhop.library.models import Editor, Site
from innerhop.practice.serving import environment, free_port

ROOT = Path(__file__).parents[2]
HOST = "hops.example.org"
GOOD, KEY = "paddles-and-pawls-9", "a-key-of-the-watch"
Answer = tuple[int, dict[str, str], bytes]


def certificate(folder: Path) -> None:
    """One that nobody but these tests believes."""
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, HOST)])
    now = datetime.now(UTC)
    made = x509.CertificateBuilder().subject_name(name).issuer_name(name)
    made = made.public_key(key.public_key()).serial_number(x509.random_serial_number())
    made = made.not_valid_before(now - timedelta(hours=1)).not_valid_after(now + timedelta(days=1))
    signed = made.sign(key, hashes.SHA256())
    (folder / "inner-hop.pem").write_bytes(signed.public_bytes(serialization.Encoding.PEM))
    private = key.private_bytes(serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8,
                                serialization.NoEncryption())  # fmt: skip
    (folder / "inner-hop.key").write_bytes(private)


class Server:
    """nginx and what stands behind it. plain, secure, inner: ports. log: what that says."""

    def __init__(self, plain: int, secure: int, inner: int, log: Path) -> None:
        self.plain, self.secure, self.inner, self.log = plain, secure, inner, log

    def ask(self, path: str, method: str = "GET", body: str = "", **headers: str) -> Answer:
        trust = ssl._create_unverified_context()
        there = http.client.HTTPSConnection("127.0.0.1", self.secure, timeout=30, context=trust)
        return self._answer(there, method, path, body, headers)

    def ask_plainly(self, path: str, port: int = 0, **headers: str) -> Answer:
        there = http.client.HTTPConnection("127.0.0.1", port or self.plain, timeout=30)
        return self._answer(there, "GET", path, "", headers)

    @staticmethod
    def _answer(
        there: http.client.HTTPConnection, method: str, path: str, body: str, more: dict[str, str]
    ) -> Answer:
        headers = {"Host": HOST, **{name.replace("_", "-"): said for name, said in more.items()}}
        there.request(method, path, body=body or None, headers=headers)
        answer = there.getresponse()
        found = answer.status, {k.lower(): v for k, v in answer.getheaders()}, answer.read()
        there.close()
        return found


def settings_of(port: int) -> dict[str, str]:
    """Those of deploy/inner-hop.env, with what the tests have in the place of what is secret."""
    lines = (ROOT / "deploy" / "inner-hop.env").read_text(encoding="utf-8").splitlines()
    said = dict(line.split("=", 1) for line in lines if line and not line.startswith("#"))
    own = environment()
    said |= {"DATABASE_URL": own["DATABASE_URL"], "SECRET_KEY": os.urandom(40).hex()}
    here = {name: own[name] for name in ("PATH", "HOME", "LANG") if name in own}
    watched = {"LOG_FORMAT": "json", "METRICS_KEY": KEY}
    return here | said | watched | {"BIND": f"127.0.0.1:{port}"}


@pytest.fixture
def server(transactional_db: None, tmp_path: Path) -> Iterator[Server]:
    plain, secure, inner = free_port(), free_port(), free_port()
    certificate(tmp_path)
    site = (ROOT / "deploy" / "nginx.conf").read_text(encoding="utf-8")
    for old, new in (
        ("listen 80;", f"listen 127.0.0.1:{plain};"),
        ("listen 443 ssl http2;", f"listen 127.0.0.1:{secure} ssl http2;"),
        ("127.0.0.1:8000", f"127.0.0.1:{inner}"),
        ("/etc/ssl/", f"{tmp_path}/"),
        ("/opt/inner-hop;", f"{ROOT};"),
        ("client_header_timeout 10s", "client_header_timeout 6s"),
    ):
        assert old in site, old
        site = site.replace(old, new)
    (tmp_path / "nginx.conf").write_text(
        f"user {'root' if os.geteuid() == 0 else 'nobody'}; pid {tmp_path}/pid; daemon off;"
        "error_log stderr; events {} http { include /etc/nginx/mime.types; access_log off;"
        f"client_body_temp_path {tmp_path}/body; proxy_temp_path {tmp_path}/proxy;"
        f"fastcgi_temp_path {tmp_path}/f; uwsgi_temp_path {tmp_path}/u;"
        f"scgi_temp_path {tmp_path}/s;"
        f"{site} }}",
        encoding="utf-8",
    )
    with contextlib.ExitStack() as stack:
        for command, env in (
            ([str(ROOT / "bin" / "serve"), "web"], settings_of(inner)),
            (["/usr/sbin/nginx", "-c", f"{tmp_path}/nginx.conf", "-p", str(tmp_path)], None),
        ):
            told = stack.enter_context(open(tmp_path / Path(command[0]).name, "wb"))
            process = subprocess.Popen(command, env=env, stderr=told)
            stack.callback(process.wait)
            stack.callback(process.terminate)
        found = Server(plain, secure, inner, tmp_path / "serve")
        for _ in range(300):
            with contextlib.suppress(OSError):
                if found.ask("/-/alive/")[0] == 200:
                    break
            time.sleep(0.1)
        yield found


def test_what_stands_in_front(server: Server) -> None:
    moved, said, _ = server.ask_plainly("/sign-in/?next=/")
    assert (moved, said["location"]) == (301, f"https://{HOST}/sign-in/?next=/")
    status, said, page = server.ask("/sign-in/")
    assert status == 200
    assert said["strict-transport-security"] == "max-age=31536000; includeSubDomains"
    assert "frame-ancestors 'none'" in said["content-security-policy"]
    cookie = said["set-cookie"]
    assert cookie.startswith("__Host-csrftoken=")
    assert {"Secure", "HttpOnly"} <= {part.strip() for part in cookie.split(";")}
    (script,) = re.findall(rb'src="(/static/dist/[^"]+\.js)"', page)
    status, said, _ = server.ask(script.decode(), Accept_Encoding="gzip")
    assert (status, said["cache-control"]) == (200, "public, max-age=31536000, immutable")
    assert said["x-content-type-options"] == "nosniff"
    status, _, _ = server.ask("/sign-in/", "POST", "x", Content_Length=str(300 * 1024**2))
    assert status == 413


def test_whether_it_lives_and_is_ready(server: Server) -> None:
    for path, said in (("/-/alive/", b"alive\n"), ("/-/ready/", b"ready\n")):
        assert server.ask(path)[::2] == (200, said)
        assert server.ask_plainly(path, server.inner)[::2] == (200, said)


def test_what_is_logged_has_a_number_and_no_secret(server: Server) -> None:
    secrets = "kept-for-whoever-has-it", GOOD, KEY
    answers = [
        server.ask(f"/-/feeds/{secrets[0]}.atom"),
        server.ask(f"/-/join/{secrets[0]}/?{secrets[0]}"),
        server.ask(f"/-/mo/{secrets[0]}/"),
        server.ask("/-/metrics/", Authorization=f"Bearer {KEY}"),
    ]
    own = Editor.objects.create_user("jo", password=GOOD).pk
    mistyped = "words-for-another-field"
    assert [sign_in(server, one) for one in (GOOD, mistyped)] == [302, 200]
    assert sign_in(server, GOOD, name=mistyped) == 200
    text = server.log.read_text(encoding="utf-8")
    lines = [json.loads(line) for line in text.splitlines() if line.startswith("{")]
    assert not [secret for secret in (*secrets, mistyped) if secret in text]
    assert [one["event"] for one in lines if one["logger"] == "innerhop.accounts"] == [
        f"came in: account {own}, from 127.0.0.1",
        f"wrong password: account {own}, from 127.0.0.1",
        "wrong password: no account, from 127.0.0.1",
    ]
    asked = {one["request"]: one["event"] for one in lines if one["logger"] == "innerhop.asked"}
    for (status, said, _), where in zip(answers, ("feeds/<", "join/<", "nothing", "metrics"),
                                        strict=True):  # fmt: skip
        event = asked[said["x-request-id"]]
        assert where in event
        assert f" {status} in " in event
    number = "given-by-the-proxy"
    said = server.ask("/sign-in/", X_Request_ID=number)[1]
    assert re.fullmatch("[0-9a-f]{32}", said["x-request-id"])  # by nginx, whatever was sent
    for given, pattern in ((number, number), ("a b", "[0-9a-f]{16}")):
        said = server.ask_plainly("/sign-in/", server.inner, X_Forwarded_Proto="https",
                                  X_Request_ID=given)[1]  # fmt: skip
        assert re.fullmatch(pattern, said["x-request-id"])


def test_what_is_counted_is_told_to_who_knows_the_key(server: Server) -> None:
    for said in ("", "Bearer", f"Basic {KEY}"):
        assert server.ask("/-/metrics/", Authorization=said)[0] == 401
    status, _, told = server.ask("/-/metrics/", Authorization=f"Bearer {KEY}")
    assert status == 200
    found: Counter[str] = Counter()
    for family in text_string_to_metric_families(told.decode()):
        found.update({one.name + one.labels.get("status", ""): one.value for one in family.samples})
    assert found["django_http_responses_total_by_status_total401"] == 3
    assert found["inner_hop_sites"] == Site.objects.count()
    assert "inner_hop_jobs" in found


def sign_in(server: Server, password: str, address: str = "", name: str = "jo") -> int:
    _, said, page = server.ask("/sign-in/")
    (token,) = set(re.findall(rb'name="csrfmiddlewaretoken" value="([^"]+)"', page))
    body = f"csrfmiddlewaretoken={token.decode()}&username={name}&password={password}"
    return server.ask(
        "/sign-in/", "POST", body, Content_Type="application/x-www-form-urlencoded",
        Cookie=said["set-cookie"].partition(";")[0], Referer=f"https://{HOST}/sign-in/",
        **({"X_Forwarded_For": address} if address else {}),
    )[0]  # fmt: skip


def test_nobody_takes_another_address_than_their_own(server: Server) -> None:
    """Whatever somebody writes into X-Forwarded-For, it is theirs that is counted."""
    Editor.objects.create_user("jo", password=GOOD)
    assert sign_in(server, GOOD) == 302
    tries = [sign_in(server, "wrong", f"192.0.2.{n}") for n in range(6)]
    assert tries[-1] == 429


def test_who_sends_slowly_is_let_go_and_keeps_nobody_waiting(server: Server) -> None:
    trust = ssl._create_unverified_context()
    with contextlib.ExitStack() as stack:
        slow = []
        for _ in range(200):
            bare = socket.create_connection(("127.0.0.1", server.secure), timeout=10)
            slow.append(stack.enter_context(trust.wrap_socket(bare)))
            slow[-1].send(b"GET / HTTP/1.1\r\nHost: " + HOST.encode() + b"\r\nX-Slow: ")
        begun = time.monotonic()
        assert server.ask("/sign-in/")[0] == 200
        assert time.monotonic() - begun < 5, "not when they were let go"
        time.sleep(6.5)
        for one in slow:
            with contextlib.suppress(ConnectionError):
                assert one.recv(1) == b"", "let go"


def test_it_does_not_start_with_what_is_weak_or_missing(transactional_db: None) -> None:
    good = settings_of(free_port())
    for name, value, said in (
        ("SECRET_KEY", "short", "security.W009"),
        ("SECRET_KEY", "", "SECRET_KEY"),
        ("TRUSTED_PROXIES", "0", "No proxy is trusted"),
        ("EDITOR_ADDRESS", "", "EDITOR_ADDRESS says no address"),
        ("VISITOR_HOSTS", "*.example.org", "could set their cookies"),
    ):
        told = subprocess.run([ROOT / "bin" / "serve", "web"], env=good | {name: value}, timeout=60,
                              capture_output=True, text=True, check=False)  # fmt: skip
        assert told.returncode != 0, name
        assert said in told.stderr + told.stdout


def test_the_units_are_as_systemd_wants_them(tmp_path: Path) -> None:
    """By systemd's own reading of them."""
    for unit in (ROOT / "deploy" / "systemd").glob("*.service"):
        text = unit.read_text(encoding="utf-8").replace("/opt/inner-hop", str(ROOT))
        (tmp_path / unit.name).write_text(text, encoding="utf-8")
    units = sorted(str(one) for one in tmp_path.iterdir())
    assert len(units) == 3
    told = subprocess.run(["systemd-analyze", "verify", *units], capture_output=True, text=True,
                          check=False)  # fmt: skip
    ours = [line for line in told.stderr.splitlines() if "inner-hop" in line]
    assert not ours
