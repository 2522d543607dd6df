"""A fetch as those see it who asked for it: records, as they come."""

from __future__ import annotations

import contextlib
import json
import os
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

from innerhop.fetch.asked import Asked
from innerhop.fetch.records import Ended, Record, read

_FOUND_IN = os.pathsep.join([str(Path(__file__).parents[2]), os.environ.get("PYTHONPATH", "")])


class Fetch:
    """A fetch under way, in a process of its own. folder: where what comes is kept; one that was
    used for the same before goes on from there."""

    def __init__(self, asked: Asked, folder: Path) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        asked.keep(folder)
        self.folder = folder
        self.process = subprocess.Popen(
            [sys.executable, "-m", "innerhop.fetch", str(folder)],
            env={**os.environ, "PYTHONPATH": _FOUND_IN},
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            text=True,
            encoding="utf-8",
        )

    def records(self) -> Iterator[Record]:
        """What it tells, as it comes; at its end that it ended, also where it broke."""
        assert self.process.stdout is not None
        for line in self.process.stdout:
            try:
                yield read(line)
            except (json.JSONDecodeError, KeyError, TypeError):
                break  # cut off in the middle
        if self.process.wait() != 0:
            yield Ended(cut=True)

    def body(self, name: str) -> bytes:
        """What came, by the name of its file."""
        return (self.folder / "bodies" / name).read_bytes()

    def stop(self) -> None:
        """Have it end, and keep what it has."""
        assert self.process.stdin is not None
        with contextlib.suppress(OSError):
            self.process.stdin.close()

    def close(self) -> None:
        """End it for good."""
        self.stop()
        try:
            self.process.wait(10)
        except subprocess.TimeoutExpired:
            self.process.kill()
            self.process.wait()
        if self.process.stdout:
            self.process.stdout.close()
