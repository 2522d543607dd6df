"""The command remembers what it read: the same is told, and only what has changed is read."""

from __future__ import annotations

import os
import pickle
from pathlib import Path

import pytest

from innerhop.check import command, reading, report
from innerhop.core.findings.whole_site import WholeSite

PAGES = {
    "a.html": "<html lang=en><title>A</title><a href=b.html#fees>fees</a><h2 id=x>X</h2>",
    "b.html": "<html lang=en><title>B</title><h2 id=fees>Fees</h2><a href=a.html#x>x</a>",
    "c.html": "<html lang=en><title>C</title><a href=a.html#gone>gone</a>",
}


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    for name, markup in PAGES.items():
        (tmp_path / name).write_text(markup)
    return tmp_path


class Looked:
    """Which files were read, and whether the site was looked at as a whole."""

    def __init__(self, monkeypatch: pytest.MonkeyPatch) -> None:
        self.read: list[str] = []
        self.sites = 0
        read, findings = reading._read, WholeSite.findings

        def one(asked: reading.FileAsked) -> object:
            self.read.append(asked.file.name)
            return read(asked)

        def whole(site: WholeSite, page: int) -> object:
            self.sites += page == 0
            return findings(site, page)

        monkeypatch.setattr(reading, "_read", one)
        monkeypatch.setattr(WholeSite, "findings", whole)


@pytest.fixture
def looked(monkeypatch: pytest.MonkeyPatch) -> Looked:
    return Looked(monkeypatch)


def told(capsys: pytest.CaptureFixture, *arguments: object) -> str:
    capsys.readouterr()
    command.main(["check", *map(str, arguments)])
    return str(capsys.readouterr().out)


def test_only_what_has_changed_is_read_again(
    folder: Path, looked: Looked, capsys: pytest.CaptureFixture, monkeypatch: pytest.MonkeyPatch
) -> None:
    first = told(capsys, folder)
    assert (len(looked.read), looked.sites) == (3, 1)
    monkeypatch.setattr(report, "places", None)  # where each stands is known, too
    assert told(capsys, folder) == first
    assert (len(looked.read), looked.sites) == (3, 1)
    monkeypatch.undo()
    (folder / "b.html").write_text(PAGES["b.html"].replace("fees", "costs"))
    again = told(capsys, folder)
    assert again == told(capsys, folder, "--no-cache")
    assert ("a.html:" in again, "a.html:" in first) == (True, False)


def test_one_page_that_has_changed_is_the_only_one_read(
    folder: Path, looked: Looked, capsys: pytest.CaptureFixture
) -> None:
    told(capsys, folder)
    del looked.read[:]
    (folder / "b.html").write_text(PAGES["b.html"].replace("fees", "costs"))
    told(capsys, folder)
    assert (looked.read, looked.sites) == (["b.html"], 2)


@pytest.mark.parametrize("options", [["--base", "https://x.example/"], ["--rules", "unmarked"]])
def test_another_question_is_asked_anew(
    folder: Path, looked: Looked, capsys: pytest.CaptureFixture, options: list[str]
) -> None:
    told(capsys, folder)
    told(capsys, folder, *options)
    assert len(looked.read) == 6


@pytest.mark.parametrize("how", ["renamed", "gone", "--no-cache"])
def test_what_is_no_longer_so_is_not_told(
    folder: Path, looked: Looked, capsys: pytest.CaptureFixture, how: str
) -> None:
    """The same bytes at another address are another page."""
    told(capsys, folder)
    if how == "renamed":
        (folder / "b.html").rename(folder / "bb.html")
    elif how == "gone":
        (folder / "b.html").unlink()
    again = told(capsys, folder, *([how] if how.startswith("--") else []))
    assert ("a.html:" in again) == (how != "--no-cache")
    assert again == told(capsys, folder, "--no-cache")


@pytest.mark.parametrize("what", [b"", b"no pickle", pickle.dumps({"a.html": 1}), "open"])
def test_a_cache_that_can_t_be_used_is_no_fault(
    folder: Path, looked: Looked, capsys: pytest.CaptureFixture, tmp_path_factory, what: object
) -> None:
    """Others' files are not read: what is in them could do anything."""
    kept = tmp_path_factory.mktemp("kept")
    first = told(capsys, folder, "--cache-dir", kept)
    (path,) = kept.glob("*.cache")
    if isinstance(what, bytes):
        path.write_bytes(what)
    else:
        os.chmod(path, 0o666)
    assert told(capsys, folder, "--cache-dir", kept) == first
    assert len(looked.read) == 6
    assert told(capsys, folder, "--cache-dir", "/proc/no-such-folder") == first
