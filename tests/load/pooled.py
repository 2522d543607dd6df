"""PgBouncer in front of a database: many web processes, few connections.

https://www.pgbouncer.org/config.html
"""

from __future__ import annotations

import contextlib
import os
import subprocess
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from urllib.parse import urlsplit

import psycopg

from innerhop.practice.serving import free_port

CONNECTIONS = 6


@contextlib.contextmanager
def pool(database: str) -> Iterator[str]:
    """The address of the same database through a pool; a connection is held for a transaction."""
    there, port = urlsplit(database), free_port()
    with tempfile.TemporaryDirectory(prefix="pool-", dir="/var/tmp") as folder:
        os.chmod(folder, 0o755)
        settings = Path(folder) / "pgbouncer.ini"
        settings.write_text(
            f"[databases]\n* = host={there.hostname} port={there.port} user={there.username} "
            f"password='{there.password or ''}' connect_query='set statement_timeout = 300000'\n"
            f"[pgbouncer]\nlisten_addr = 127.0.0.1\nlisten_port = {port}\nauth_type = any\n"
            f"pool_mode = transaction\ndefault_pool_size = {CONNECTIONS}\nmax_client_conn = 200\n"
            f"ignore_startup_parameters = options,extra_float_digits\nunix_socket_dir =\n",
            encoding="utf-8",
        )
        as_owner = ["runuser", "-u", "postgres", "--"] if os.getuid() == 0 else []
        process = subprocess.Popen([*as_owner, "/usr/sbin/pgbouncer", "-q", str(settings)],
                                   stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
                                   cwd="/")  # fmt: skip
        url = there._replace(netloc=f"{there.username}@127.0.0.1:{port}").geturl()
        try:
            for _ in range(100):
                with contextlib.suppress(psycopg.OperationalError), psycopg.connect(url):
                    break
                time.sleep(0.1)
            yield url
        finally:
            process.terminate()
            process.wait()
