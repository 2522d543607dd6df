"""A database server of one's own, with the demo in it."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Iterator

import pytest
from django.conf import settings

from tests.endurance.machines import PostgreSQL, cluster


@pytest.fixture(scope="session")
def own_server() -> Iterator[PostgreSQL]:
    """One that a test may stop, start and take back to what it was."""
    with cluster() as found:
        env = os.environ | {"DATABASE_URL": found.url, "INNERHOP_DEMO": "1"}
        for command in ("migrate", "load_demo"):
            subprocess.run([sys.executable, settings.BASE_DIR / "manage.py", command], env=env,
                           check=True, stdout=subprocess.DEVNULL)  # fmt: skip
        yield found
