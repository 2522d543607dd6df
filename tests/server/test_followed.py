"""Whoever follows docs/on-a-server.md to the letter has a server, and comes in."""

from __future__ import annotations

import os
import subprocess
import sys

import pytest

from tests.server.test_on_a_server import ROOT


def _may() -> bool:
    """Whether this machine lets its user lay something over its folders."""
    tried = "from tests.server.following import cover; cover()"
    return os.geteuid() == 0 and subprocess.run(
        ["unshare", "--mount", sys.executable, "-c", tried],
        cwd=ROOT, check=False, capture_output=True,
    ).returncode == 0  # fmt: skip


@pytest.mark.skipif(not _may(), reason="only root may, on a machine that lets it")
def test_the_page_is_followed_to_the_letter() -> None:
    told = subprocess.run(
        ["unshare", "--mount", "--pid", "--fork", "--kill-child", "--mount-proc",
         sys.executable, ROOT / "tests" / "server" / "following.py", ROOT],
        capture_output=True, text=True, timeout=900, check=False,
    )  # fmt: skip
    assert told.returncode == 0, f"{told.stdout}\n{told.stderr[-3000:]}"
    assert told.stdout.endswith("signed in\n")
