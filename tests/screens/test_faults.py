"""What goes wrong on our side is told by its cause, once, and nothing goes on for ever."""

from __future__ import annotations

import errno
import logging
from datetime import timedelta
from typing import Any

import pytest
from axes.models import AccessAttempt
from django.contrib.sessions.models import Session
from django.core.management import call_command
from django.db import OperationalError, connection
from django.test import Client
from django.urls import reverse
from django.utils import timezone
from psycopg import errors

from innerhop.library.models import Revision, Site
from innerhop.project.once import OnceInAWhile
from innerhop.screens import access
from innerhop.screens.frame import faults
from innerhop.screens.pages import views as pages_views

pytestmark = pytest.mark.django_db


def caused_by(problem: Exception) -> Exception:
    found = OperationalError("wrapped")
    found.__cause__ = problem
    return found


@pytest.mark.parametrize(
    ("problem", "told"),
    [
        (caused_by(errors.DiskFull()), (faults.FULL, 507)),
        (OSError(errno.ENOSPC, "No space left on device"), (faults.FULL, 507)),
        (caused_by(errors.QueryCanceled()), (faults.TOO_LONG, 503)),
        (OperationalError("away"), (faults.AWAY, 503)),
        (errors.DeadlockDetected(), (faults.AWAY, 503)),  # of the driver's own, in COPY
        (KeyError("ours"), (faults.FAULT, 500)),
    ],
)
def test_a_fault_is_told_by_its_cause(
    site: Site,
    client: Client,
    monkeypatch: pytest.MonkeyPatch,
    problem: Exception,
    told: tuple[str, int],
) -> None:
    def fails(*_args: object, **_more: object) -> None:
        raise problem

    client.raise_request_exception = False
    monkeypatch.setattr(pages_views, "render", fails)
    shown = client.get(reverse("pages", args=[site.slug]))
    assert (shown.status_code, told[0] in shown.content.decode()) == (told[1], True)


@pytest.mark.django_db(transaction=True)
def test_a_statement_that_takes_too_long_is_given_up(
    client: Client, site: Site, monkeypatch: pytest.MonkeyPatch
) -> None:
    def sleeps(*_args: object, **_more: object) -> None:
        with connection.cursor() as cursor:
            cursor.execute("select pg_sleep(30)")

    client.raise_request_exception = False
    monkeypatch.setattr(access, "LOOKING", 0.05)
    monkeypatch.setattr(pages_views, "render", sleeps)
    shown = client.get(reverse("pages", args=[site.slug]))
    assert (shown.status_code, faults.TOO_LONG in shown.content.decode()) == (503, True)
    with connection.cursor() as cursor:  # the next to use the connection has no such limit
        cursor.execute("show statement_timeout")
        assert cursor.fetchone() == ("0",)


def test_what_is_of_no_use_any_more_goes(site: Site) -> None:
    long_ago = timezone.now() - timedelta(days=31)
    page = site.pages.get(path="/about/")
    old = Revision.objects.create(page=page, number=None, content=b"x")
    Revision.objects.filter(pk=old.pk).update(made=long_ago)
    Session.objects.create(session_key="old", session_data="", expire_date=long_ago)
    attempt = AccessAttempt.objects.create(username="x", failures_since_start=1)
    AccessAttempt.objects.filter(pk=attempt.pk).update(attempt_time=long_ago)
    kept = page.revisions.exclude(number=None).count()
    call_command("catch_up")
    assert page.revisions.count() == kept
    assert not Session.objects.filter(session_key="old")
    assert not AccessAttempt.objects.exists()


def test_what_goes_wrong_again_and_again_is_logged_once() -> None:
    once = OnceInAWhile()

    def record(message: str, problem: Exception | None = None, line: int = 1) -> bool:
        info: Any = (type(problem), problem, None) if problem else None
        return once.filter(logging.LogRecord("x", 40, "f.py", line, message, (), info))

    away = OperationalError("away")
    assert [record("a", away), record("b", away), record("b", away, 2)] == [True, False, True]
    assert [record("a"), record("a"), record("b")] == [True, False, True]


def test_the_index_is_compared_in_view(site: Site, capsys: pytest.CaptureFixture[str]) -> None:
    call_command("check_index")
    said = capsys.readouterr()
    assert f"{site.pages.count()} of {site.pages.count()} pages read" in said.err
    assert "The index is right" in said.out
