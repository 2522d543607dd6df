"""What went wrong on our side, told by its cause."""

from __future__ import annotations

import errno
from collections.abc import Iterator
from typing import NamedTuple

from django.db import OperationalError
from psycopg import errors

FAULT = "Something broke here, and it was not you. What was saved is safe. Try again soon."
AWAY = "The database does not answer just now. What was saved is safe. Try again in a moment."
FULL = (
    "There is no room left on the disk, so nothing was written. What was saved is safe. Ask the "
    "person who runs Inner Hop here to make room, then try again."
)
TOO_LONG = (
    "This took longer than anybody should wait, so it was given up, and nothing was changed. "
    "Try it on fewer pages or a shorter list, or again when less is going on here."
)


class Told(NamedTuple):
    """A sentence, and the answer's status (RFC 9110, 15.6). is_passing: whether trying again
    soon may do."""

    message: str
    status: int
    is_passing: bool = False


def told(problem: BaseException | None) -> Told:
    """What is said of a problem that nobody expected."""
    causes = list(_causes(problem))
    if any(isinstance(one, errors.DiskFull) or _is_full(one) for one in causes):
        return Told(FULL, 507)  # RFC 4918, 11.5: Insufficient Storage
    if any(isinstance(one, errors.QueryCanceled) for one in causes):
        return Told(TOO_LONG, 503)
    # In what goes by the driver alone (COPY), its own exception comes.
    if any(isinstance(one, OperationalError | errors.OperationalError) for one in causes):
        return Told(AWAY, 503, is_passing=True)
    return Told(FAULT, 500)


def _causes(problem: BaseException | None) -> Iterator[BaseException]:
    while problem is not None:
        yield problem
        problem = problem.__cause__


def _is_full(problem: BaseException) -> bool:
    return isinstance(problem, OSError) and problem.errno in (errno.ENOSPC, errno.EDQUOT)
