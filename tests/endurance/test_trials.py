"""A few of the trials; `bin/endure` goes through all of them."""

from __future__ import annotations

import os
import re
import subprocess
import sys
from pathlib import Path

from tests.endurance.machines import may_mount


def test_saves_collide_and_machines_fail_and_nothing_is_half_done() -> None:
    """In a process of its own, with a database of its own, which it kills, changes as a new
    version would, and, where it may, leaves without room on its disk."""
    disk = ["--disk", "300"] if may_mount() else []
    ran = subprocess.run(
        [sys.executable, "-m", "tests.endurance", "--saves", "24", "--kills", "2", *disk],
        cwd=Path(__file__).parents[2], env={**os.environ, "SECRET_KEY": "x" * 50},
        capture_output=True, text=True, timeout=240, check=False,
    )  # fmt: skip
    lines = [line for line in ran.stdout.splitlines() if "wrong: " in line]
    assert len(lines) == (5 if disk else 4), ran.stderr[-3_000:]
    assert ran.returncode == 0, ran.stdout
    for line in lines:
        answers = dict(re.findall(r"(\w+)'?: (\d+)", line))
        assert int(answers["200"]) > 0, line
        assert "500" not in answers, line
    assert "503" not in lines[0], "saves that collide are told so, and none waits for ever"
