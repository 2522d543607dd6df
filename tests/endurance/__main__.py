"""All trials, each on a fresh database, with what was answered and what is wrong after
it. Exits with 1 when anything is.

    bin/endure
    bin/endure --saves 100 --kills 2
    bin/endure --disk 400    (root, on a machine that lets it mount one)
"""

import argparse
import os
import sys
import time

from tests.endurance.machines import cluster

reader = argparse.ArgumentParser(prog="bin/endure", description=__doc__)
reader.add_argument("--saves", type=int, default=1_000)
reader.add_argument("--kills", type=int, default=20)
reader.add_argument("--disk", type=int, default=0, help="MB of a disk of the database's own")
asked = reader.parse_args()
bad = 0
with cluster(asked.disk) as server:
    os.environ["DATABASE_URL"] = server.url
    import django

    django.setup()
    from django.db import connection

    from innerhop.practice.serving import fresh_database
    from tests.endurance import trials

    fresh_database("empty")
    for title, trial_of in (
        (f"{asked.saves} colliding saves", lambda: trials.collide(asked.saves)),
        (f"{asked.kills} workers killed", lambda: trials.lose_workers(asked.kills)),
        (f"the database killed {asked.kills} times",
         lambda: trials.lose_database(server, asked.kills)),
        (f"{asked.kills} migrations", lambda: trials.migrate(asked.kills)),
        *([(f"no room {asked.kills} times", lambda: trials.fill_disk(server, asked.kills))]
          if asked.disk else ()),
    ):  # fmt: skip
        fresh_database("endure", like="empty")
        begin = time.monotonic()
        trial = trial_of()
        connection.close()
        wrong = trials.wrong_after(trial)
        bad += len(wrong)
        took = time.monotonic() - begin
        print(f"{title}: {dict(trial.answers)}, {took:.0f} s, wrong: {len(wrong)}", flush=True)
        for line in wrong[:20]:
            print("   ", line)
    connection.close()
sys.exit(int(bad > 0))
