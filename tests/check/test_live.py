"""A live site held against the rules, from the command line."""

from __future__ import annotations

import importlib.util
import json
from collections.abc import Iterator
from pathlib import Path

import pytest

from innerhop.check import command, live
from tests.fetch.hosts import Answer, Host, page, serving

ANSWERS = {
    "/": page(
        "<h1>Home</h1><a href=/locks/#flight>a</a><a href=/old>b</a><a href=/locks/#no>c</a>"
    ),
    "/locks/": page("<h1>Locks</h1><h2 id=flight>The flight</h2><a href=/gone/>gone</a>"),
    "/old": Answer(status=301, headers={"Location": "/locks/"}),
    "/latin": Answer("<h1 id=café>Café</h1>".encode("latin-1"), kind="text/html; charset=latin1"),
    "/sitemap.xml": Answer(b""),
}


@pytest.fixture(scope="module")
def host() -> Iterator[Host]:
    with serving(dict(ANSWERS)) as found:
        yield found


def run(host: Host, *more: str) -> int:
    ((name, address),) = host.let_through.items()
    return command.main(["check", f"{host.origin}/", "--let-through", f"{name}={address}", *more])


def test_what_is_wrong_on_a_live_site_is_found(
    host: Host, capsys: pytest.CaptureFixture[str]
) -> None:
    assert run(host, "--format", "json") == command.FOUND
    found = json.loads(capsys.readouterr().out)["findings"]
    broken = {(one["rule"], one["file"], one["words"]) for one in found if one["level"] == "stuck"}
    assert broken == {("no-id", "/", "c"), ("no-page", "/locks/", "gone")}


@pytest.mark.parametrize(
    ("where", "more", "said"),
    [
        ("http://10.0.0.1/", [], "inside a network"),
        ("no-such-host.invalid", [], "inside a network"),
        ("ftp://a.example/", [], "neither http nor https"),
        ("http://canal.example/", ["--fix"], "A live site is only looked at"),
        ("http://canal.example/", ["--most", "0"], "Ask for 1 to 10000"),
    ],
)
def test_what_is_not_fetched_says_why(
    capsys: pytest.CaptureFixture[str], where: str, more: list[str], said: str
) -> None:
    assert command.main(["check", where, *more]) == command.UNUSABLE
    assert said in capsys.readouterr().err


def test_a_host_that_is_not_there(host: Host, capsys: pytest.CaptureFixture[str]) -> None:
    let_through = f"canal.localhost:1={next(iter(host.let_through.values()))}"
    arguments = ["check", "http://canal.localhost:1/", "--let-through", let_through]
    assert command.main(arguments) == command.UNUSABLE
    assert "takes no connection" in capsys.readouterr().err


def test_without_the_extra_it_says_how_to_install_it(
    host: Host, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(importlib.util, "find_spec", lambda _name: None)
    assert run(host) == command.UNUSABLE
    assert "pip install 'inner-hop[fetch]'" in capsys.readouterr().err


@pytest.mark.parametrize(
    ("typed", "is_one"),
    [("http://a/", True), ("a.example", True), ("a.example/b/", True), ("a.html", False),
     ("site.zip", False), ("folder", False), ("../a.b/c", False)],
)  # fmt: skip
def test_an_address_is_told_from_a_file(tmp_path: Path, typed: str, is_one: bool) -> None:
    assert live.is_address(typed) is is_one
