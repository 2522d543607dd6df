"""A PostgreSQL server that may be killed, and the workers of a web server."""

from __future__ import annotations

import contextlib
import os
import random
import signal
import socket
import subprocess
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path


@contextlib.contextmanager
def cluster(disk: int = 0) -> Iterator[PostgreSQL]:
    """A PostgreSQL for one trial, which may be killed. disk: MB of a disk of its own; 0 for none,
    which needs root."""
    with tempfile.TemporaryDirectory(prefix="endure-", dir="/var/tmp") as folder:
        if disk:
            options = ["-o", f"size={disk}m", "tmpfs", folder]
            subprocess.run(["mount", "-t", "tmpfs", *options], check=True)
        server = PostgreSQL(Path(folder))
        try:
            server.make()
            yield server
        finally:
            with contextlib.suppress(subprocess.CalledProcessError):  # it is down already
                server.control("stop", "--mode=immediate")
            if disk:
                subprocess.run(["umount", folder], check=True)


def may_mount() -> bool:
    """Whether this machine lets its user have a disk for a trial."""
    with tempfile.TemporaryDirectory() as folder:
        mount = ["mount", "-t", "tmpfs", "-o", "size=1m", "tmpfs", folder]
        if os.getuid() != 0 or subprocess.run(mount, check=False, capture_output=True).returncode:
            return False
        subprocess.run(["umount", folder], check=True)
        return True


class PostgreSQL:
    """A database server of one's own, in a folder, on a free port of loopback."""

    def __init__(self, folder: Path) -> None:
        self.data = folder / "data"
        self.folder = folder
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = int(free.getsockname()[1])
        self.url = f"postgres://innerhop@127.0.0.1:{self.port}/innerhop"

    def make(self) -> None:
        """Make it and start it."""
        if os.getuid() == 0:
            subprocess.run(["chown", "postgres", self.folder], check=True)
        self.run("initdb", f"--pgdata={self.data}", "--username=innerhop", "--auth=trust",
                 "--encoding=UTF8", "--locale=C.UTF-8")  # fmt: skip
        self.control("start")
        self.run("createdb", "-h", "127.0.0.1", "-p", str(self.port), "-U", "innerhop", "innerhop")

    def control(self, act: str, *more: str) -> None:
        """pg_ctl."""
        options = f"-p {self.port} -c listen_addresses=127.0.0.1 -c unix_socket_directories=''"
        log = f"--log={self.folder}/log"
        self.run("pg_ctl", f"--pgdata={self.data}", log, f"--options={options}",
                 "--wait", *more, act)  # fmt: skip

    def kill(self) -> None:
        """End it at once, all its processes, as a power cut would; and start it again."""
        os.kill(int((self.data / "postmaster.pid").read_text().split()[0]), signal.SIGKILL)
        while left := self._processes():
            for process in left:
                with contextlib.suppress(ProcessLookupError):
                    os.kill(process, signal.SIGKILL)
            time.sleep(0.02)
        # Whoever should note its end may be slow, and a new one would think it runs.
        (self.data / "postmaster.pid").unlink(missing_ok=True)
        self.control("start")

    def fill(self, seconds: float) -> None:
        """Leave no room on its disk for a while, then as much as before; it is started again
        where it ended, as its unit does."""
        heap = self.folder / "heap"
        with contextlib.suppress(OSError), heap.open("wb", buffering=0) as file:
            for size in (1024 * 1024, 4096):
                with contextlib.suppress(OSError):
                    while True:
                        file.write(b"x" * size)
        time.sleep(seconds)
        heap.unlink()
        time.sleep(0.5)
        if not self._processes():
            (self.data / "postmaster.pid").unlink(missing_ok=True)
            self.control("start")

    def _processes(self) -> list[int]:
        """All of the server: each works in its folder."""
        found = []
        for one in Path("/proc").glob("[0-9]*/cwd"):
            with contextlib.suppress(OSError):
                if one.readlink() == self.data:
                    found.append(int(one.parent.name))
        return found

    def run(self, program: str, *arguments: str) -> None:
        """A program of PostgreSQL's, or of the system's, as the server's owner."""
        own = sorted(Path("/usr/lib/postgresql").glob("*/bin"))[-1] / program
        path = own if own.exists() else Path(program)
        as_owner = ["runuser", "-u", "postgres", "--"] if os.getuid() == 0 else []
        subprocess.run([*as_owner, str(path), *arguments], check=True, cwd="/",
                       stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)  # fmt: skip


def _children(process: int) -> list[int]:
    try:
        listed = Path(f"/proc/{process}/task/{process}/children").read_text()
    except FileNotFoundError:
        return []
    return [int(one) for one in listed.split()]


def kill_worker(master: int) -> None:
    """End one of a server's workers in the middle of what it does."""
    workers = _children(master)
    if workers:
        with contextlib.suppress(ProcessLookupError):
            os.kill(random.choice(workers), signal.SIGKILL)
