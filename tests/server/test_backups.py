"""What docs/on-a-server.md says of keeping the whole database safe, tried on a server of its
own: what is restored is compared row by row."""

from __future__ import annotations

import time
from pathlib import Path
from typing import Any

import psycopg
from psycopg import sql

from tests.endurance.machines import PostgreSQL


def rows(url: str) -> dict[str, list[Any]]:
    """All that is in a database, by table."""
    with psycopg.connect(url) as there:
        names = there.execute("select tablename from pg_tables where schemaname = 'public'")
        found = {}
        for (name,) in names.fetchall():
            told = sql.SQL("select t::text from {} t order by 1").format(sql.Identifier(name))
            found[name] = there.execute(told).fetchall()
    return found


def test_what_was_dumped_is_there_again(own_server: PostgreSQL) -> None:
    before = rows(own_server.url)
    assert len(before["library_page"]) > 5
    # As the owner of the server, as all that the database's own programs do.
    file = own_server.folder / "whole"
    own_server.run("pg_dump", "--format=custom", f"--file={file}", own_server.url)
    with psycopg.connect(own_server.url, autocommit=True) as there:
        there.execute("truncate library_site, library_editor cascade")
    assert rows(own_server.url) != before
    own_server.run("pg_restore", "--clean", "--if-exists", f"--dbname={own_server.url}", str(file))
    assert rows(own_server.url) == before


def test_it_is_had_back_as_of_a_moment(own_server: PostgreSQL) -> None:
    kept, base = own_server.folder / "wal", own_server.folder / "base"
    own_server.run("mkdir", str(kept))
    with psycopg.connect(own_server.url, autocommit=True) as there:
        there.execute("alter system set archive_mode = on")
        there.execute(
            f"alter system set archive_command = 'test ! -f {kept}/%f && cp %p {kept}/%f'"
        )
    own_server.control("restart")
    own_server.run("pg_basebackup", "-h", "127.0.0.1", "-p", str(own_server.port), "-U",
                   "innerhop", "-D", str(base))  # fmt: skip
    with psycopg.connect(own_server.url, autocommit=True) as there:
        there.execute("update library_site set name = 'As it was last'")
        before = rows(own_server.url)
        (moment,) = there.execute("select clock_timestamp()::text").fetchone() or ("",)
        time.sleep(0.1)
        there.execute("truncate library_page cascade")  # somebody's slip
        there.execute("select pg_switch_wal()")
    own_server.control("stop", "--mode=fast")
    own_server.run("mv", str(own_server.data), f"{own_server.data}-lost")
    own_server.run("mv", str(base), str(own_server.data))
    told = Path(own_server.data) / "postgresql.auto.conf"
    with told.open("a", encoding="utf-8") as settings:
        settings.write(f"restore_command = 'cp {kept}/%f %p'\n"
                       f"recovery_target_time = '{moment}'\n"
                       "recovery_target_action = 'promote'\n")  # fmt: skip
    own_server.run("touch", str(own_server.data / "recovery.signal"))
    own_server.control("start")
    for _ in range(100):
        with psycopg.connect(own_server.url) as there:
            (is_at_it,) = there.execute("select pg_is_in_recovery()").fetchone() or (True,)
        if not is_at_it:
            break
        time.sleep(0.1)
    assert rows(own_server.url) == before
