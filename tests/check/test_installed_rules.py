"""A rule of a team's own, in a package installed beside ours: a worked example."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest

# What a team writes: a module with a rule, and the line in its package's metadata.
MODULE = """
from innerhop.core.findings.found import MISLED, PRACTICE, Rule

def _find(page, site):
    for mark in page.marks:
        if mark.value.startswith("sec-"):
            yield RULE.at(mark.number, page.called(mark.number), key=mark.value, id=mark.value)

RULE = Rule(
    name="canal-section-ids", level=MISLED, title="An ID with sec- in front",
    why="We name sections #{id} without sec- in front.", source=PRACTICE,
    avoid="See the Trust's handbook for editors.", find=_find, reads=("marks", "sections"),
)
"""
ENTRY = "[inner_hop.rules]\n{name} = canal_rules:{name}\n"
PAGE = "<!doctype html><html lang=en><title>Locks</title><h1>Locks</h1><h2 id=sec-fees>Fees</h2>"


@pytest.fixture
def installed(tmp_path: Path) -> Path:
    (tmp_path / "canal_rules.py").write_text(MODULE, encoding="utf-8")
    told = tmp_path / "canal_rules-1.0.dist-info"
    told.mkdir()
    (told / "METADATA").write_text("Metadata-Version: 2.1\nName: canal-rules\nVersion: 1.0\n")
    (told / "entry_points.txt").write_text(ENTRY.format(name="RULE"))
    (tmp_path / "site").mkdir()
    (tmp_path / "site" / "locks.html").write_text(PAGE)
    return tmp_path


def check(folder: Path) -> subprocess.CompletedProcess[str]:
    program = "import sys; from innerhop.check.command import main; sys.exit(main())"
    arguments = ["check", str(folder / "site"), "--cache-dir", str(folder / "cache")]
    return subprocess.run(
        [sys.executable, "-c", program, *arguments],
        env={**os.environ, "PYTHONPATH": str(folder)},
        capture_output=True,
        text=True,
        check=False,
    )


def test_a_rule_of_another_package_is_told_like_ours(installed: Path) -> None:
    done = check(installed)
    place = f"locks.html:1:{PAGE.index('<h2') + 1}: canal-section-ids: An ID with sec- in front"
    assert f"{place} (“Fees”). We name sections #sec-fees" in done.stdout
    # What was kept is thrown away when the package goes, or another version comes.
    (installed / "canal_rules-1.0.dist-info" / "entry_points.txt").unlink()
    assert "canal-section-ids" not in check(installed).stdout


def test_what_is_no_rule_is_left_out_and_said(installed: Path) -> None:
    (installed / "canal_rules-1.0.dist-info" / "entry_points.txt").write_text(
        ENTRY.format(name="_find") + "gone = canal_rules:GONE\n"
    )
    done = check(installed)
    assert "canal_rules:_find is left out: it is no" in done.stderr
    assert "canal_rules:GONE is left out: it can't be loaded" in done.stderr
    assert "Traceback" not in done.stderr
