"""What procrastinate has workers do."""

from __future__ import annotations

from django.db import close_old_connections
from procrastinate.contrib.django import app

from innerhop.library import removal, tidying
from innerhop.library.changes import kept_small, let_go
from innerhop.library.jobs import running
from innerhop.library.live import mornings
from innerhop.library.models import Site

_AGAIN = 2  # seconds, until a job is looked at that couldn't be taken up


@app.task
def work_on(pk: int) -> None:
    """Carry a job out."""
    close_old_connections()  # this thread's may have been idle for long
    if not running.run(pk) and running.is_to_be_run(pk):
        work_on.configure(schedule_in={"seconds": _AGAIN}).defer(pk=pk)


@app.periodic(cron="* * * * * */10")  # its sixth field counts seconds
@app.task(queueing_lock="look_after")
def look_after(timestamp: int) -> None:
    """Take up the jobs that nobody works on any more, since their worker or its machine went."""
    for pk in running.lost():
        work_on.defer(pk=pk)


@app.periodic(cron="*/10 * * * *")
@app.task(queueing_lock="look_each_morning")
def look_each_morning(timestamp: int) -> None:
    """Begin the looks of a morning, a little later where no worker was there."""
    close_old_connections()
    mornings.begin()


@app.periodic(cron="40 3 * * *")
@app.task(queueing_lock="keep_small")
def keep_small(timestamp: int) -> None:
    """Throw away what is of no use any more, and keep what was small."""
    close_old_connections()
    tidying.tidy()
    removal.throw_away()
    for site in Site.objects.all():
        let_go.let_go(site)
    kept_small.thin()
