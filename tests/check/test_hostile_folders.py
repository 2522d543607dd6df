"""The command in folders that are not as they should be: shortcuts that lead out, names in
other encodings, files that can't be read or written."""

from __future__ import annotations

import os
import stat
import subprocess
import sys
from pathlib import Path

import pytest

from innerhop.check import command, files

PAGE = "<html lang=en><title>Locks</title><p><a href=fees>Fees</a><h2 id=fees>Fees</h2>"


def run(*arguments: object) -> int:
    return command.main(["check", *map(str, arguments)])


def test_shortcuts_that_lead_out_are_neither_read_nor_written_and_are_named(
    tmp_path: Path, capsys: pytest.CaptureFixture
) -> None:
    outside, root = tmp_path / "outside", tmp_path / "site"
    outside.mkdir()
    root.mkdir()
    for name in ("theirs.html", "other.html"):
        (outside / name).write_text(PAGE)
    (root / "ours.html").write_text(PAGE)
    (root / "theirs.html").symlink_to(outside / "theirs.html")
    (root / "up.html").symlink_to("../outside/other.html")
    (root / "folder").symlink_to(outside)
    (root / "nothing.html").symlink_to("never-was.html")
    (root / "again.html").symlink_to("ours.html")
    assert run(root, "--fix", "--write") == 0
    assert (outside / "theirs.html").read_text() == PAGE == (outside / "other.html").read_text()
    assert "href=#fees" in (root / "ours.html").read_text()
    assert (root / "again.html").is_symlink()
    capsys.readouterr()
    run(root)
    said = capsys.readouterr().out
    for name in ("theirs.html", "up.html", "folder"):
        assert f"{name}: left out, a shortcut that leads out of the folder" in said
    assert "nothing.html: left out, No such file" in said


def test_a_file_is_whole_and_keeps_its_mode_whatever_happens(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture
) -> None:
    for name in ("a.html", "b.html"):
        (tmp_path / name).write_text(PAGE.replace("Locks", name))
        (tmp_path / name).chmod(0o640)
    sync, full = os.fsync, []

    def once_full(handle: int) -> None:
        if not full:
            full.append(handle)
            raise OSError(28, "No space left on device")
        sync(handle)

    monkeypatch.setattr(files.os, "fsync", once_full)
    assert run(tmp_path, "--fix", "--write", "--no-cache") == 2
    assert (tmp_path / "a.html").read_text() == PAGE.replace("Locks", "a.html")
    assert "href=#fees" in (tmp_path / "b.html").read_text()
    assert stat.S_IMODE((tmp_path / "b.html").stat().st_mode) == 0o640
    assert sorted(one.name for one in tmp_path.iterdir()) == ["a.html", "b.html"]
    said = capsys.readouterr()
    assert "a.html stays as it was: No space left on device" in said.err
    assert "1 of 2 mended" in said.err


def test_a_name_in_another_encoding_is_a_page_as_any(
    tmp_path: Path, capsys: pytest.CaptureFixture
) -> None:
    """A link in codes leads there (RFC 3986, 2.1: bytes of a path are no characters)."""
    odd = os.path.join(os.fsencode(tmp_path), b"caf\xe9.html")
    with open(odd, "w") as file:
        file.write(PAGE)
    (tmp_path / "a.html").write_text("<html lang=en><p><a href='caf%E9.html#fees'>Fees</a>")
    for form in ("text", "json", "sarif", "junit"):
        assert run(tmp_path, "--format", form) == 1  # the forgotten hash on it
        assert "caf" in capsys.readouterr().out
    assert run(tmp_path, "--fix", "--write") == 0
    with open(odd) as file:
        assert "href=#fees" in file.read()
    said = subprocess.run(
        [sys.executable, "-m", "innerhop.check", tmp_path], capture_output=True, check=False,
        env={**os.environ, "PYTHONIOENCODING": "ascii"},
    )  # fmt: skip
    assert (said.returncode, said.stderr) == (0, b"")


def test_a_folder_in_which_nothing_can_be_read_is_no_folder_without_faults(
    tmp_path: Path, capsys: pytest.CaptureFixture
) -> None:
    (tmp_path / "picture.html").write_bytes(b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR" * 9)
    assert run(tmp_path) == 2
    assert "No page in" in (said := capsys.readouterr().err)
    assert "picture.html: " in said
    (tmp_path / "picture.html").unlink()
    (tmp_path / "x.html").symlink_to("/etc/hostname")
    assert run(tmp_path) == 2
    assert "x.html: a shortcut that leads out" in capsys.readouterr().err


def test_a_difference_can_be_taken_in_by_the_tool_for_it(
    tmp_path: Path, capsys: pytest.CaptureFixture
) -> None:
    """POSIX `patch` makes of the old files what `--write` makes of them: without a final
    newline, and with characters that Python alone takes for the end of a line."""
    site, other = tmp_path / "site", tmp_path / "other"
    for folder in (site, other):
        folder.mkdir()
        (folder / "a.html").write_text(PAGE)
        (folder / "b.html").write_text(f"<p>\x0c\u2028\n{PAGE}\n<p>End")
    run(site, "--fix")
    shown = capsys.readouterr().out
    assert shown.count("\\ No newline at end of file\n") == 3
    done = subprocess.run(["git", "apply", "-"], input=shown.encode(), cwd=other, check=False,
                          capture_output=True)  # fmt: skip
    assert done.returncode == 0, done.stderr
    run(site, "--fix", "--write")
    for name in ("a.html", "b.html"):
        assert (other / name).read_bytes() == (site / name).read_bytes()
