"""A database that is away for a while: whoever asks is told when to ask again, nothing is lost, and
nobody has to start anything anew."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from urllib.error import HTTPError
from urllib.request import Request, urlopen

import psycopg
from django.conf import settings

from innerhop.practice.serving import serve_process
from tests.endurance.machines import PostgreSQL

PLAIN = "The database does not answer just now. What was saved is safe."


def ask(url: str) -> tuple[int, str | None, str]:
    """Status, when to ask again, and what is said."""
    try:
        with urlopen(Request(url, headers={"Cookie": "innerhop_session=x"}), timeout=60) as answer:
            return answer.status, answer.headers["Retry-After"], answer.read().decode()
    except HTTPError as problem:
        return problem.code, problem.headers["Retry-After"], problem.read().decode()


def waiting(url: str) -> int:
    """How many jobs wait for a worker."""
    with psycopg.connect(url) as there:
        told = "select from procrastinate_jobs where status in ('todo', 'doing')"
        return len(there.execute(told).fetchall())


def test_screens_say_so_and_come_back(own_server: PostgreSQL) -> None:
    own = {"DATABASE_URL": own_server.url, "INNERHOP_DEMO": "1"}
    with serve_process(2, own) as (url, _):
        assert [ask(f"{url}/{path}")[0] for path in ("-/ready/", "sign-in/")] == [200, 200]
        own_server.control("stop", "--mode=fast")
        assert ask(f"{url}/-/alive/")[0] == 200
        assert ask(f"{url}/-/ready/")[:2] == (503, "10")
        for path in ("", "marrowby-canal-trust/findings/", "sign-in/"):
            for _ in range(4):  # by either process, with and without a connection of old
                status, again, said = ask(f"{url}/{path}")
                assert (status, again) in ((503, "10"), (200, None)), path
                assert status == 200 or PLAIN in said
        own_server.control("start")
        assert ask(f"{url}/-/ready/")[0] == 200
        assert {ask(f"{url}/sign-in/")[0] for _ in range(8)} == {200}


def test_long_work_waits_and_is_done(own_server: PostgreSQL) -> None:
    env = os.environ | {"DATABASE_URL": own_server.url, "INNERHOP_DEMO": "1"}
    command = [sys.executable, str(settings.BASE_DIR / "manage.py")]

    def start() -> subprocess.Popen[bytes]:
        return subprocess.Popen([*command, "procrastinate", "worker", "--delete-jobs", "always"],
                                env=env, stderr=subprocess.DEVNULL)  # fmt: skip

    worker = start()
    try:
        time.sleep(3)
        own_server.control("stop", "--mode=fast")
        time.sleep(3)
        own_server.control("start")
        code = "from innerhop.library.tasks import keep_small; keep_small.defer(timestamp=0)"
        subprocess.run([*command, "shell", "--command", code], env=env, check=True,
                       stdout=subprocess.DEVNULL)  # fmt: skip
        for _ in range(300):
            if worker.poll() is not None:  # as the unit does: Restart=always
                worker = start()
            if not waiting(own_server.url):
                break
            time.sleep(0.1)
        assert not waiting(own_server.url)
    finally:
        worker.terminate()
        worker.wait()
