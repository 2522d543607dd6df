"""The kinds of jobs, in a table: what each is called, and how it is carried out."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING, Any, NamedTuple

from innerhop.library.models import Job

if TYPE_CHECKING:
    from innerhop.library.jobs.running import Work

Result = Mapping[str, Any]


class JobOutcome(NamedTuple):
    """How a job ended. message: in a sentence. result: what became of it, as data."""

    message: str
    result: Result = {}


class JobKind(NamedTuple):
    """A kind of job. called: what one is called, for people. run: carries it out; raises Refusal
    where it can't be done, and running.Stopped where it was asked to stop. drop: throws away what
    it has gathered. is_possible: whether it can be done on this machine. is_unasked: whether it is
    also done without an editor who asked for it, since the site is set so."""

    name: str
    called: Callable[[Job], str]
    run: Callable[[Work], JobOutcome]
    drop: Callable[[Job], None] = lambda _job: None
    is_possible: Callable[[], bool] = lambda: True
    is_unasked: bool = False


_KINDS: dict[str, JobKind] = {}


def register(kind: JobKind) -> None:
    """Have jobs of that kind carried out."""
    _KINDS[kind.name] = kind


def is_possible(name: str) -> bool:
    """Whether jobs of that kind can be done here."""
    return name in _KINDS and _KINDS[name].is_possible()


def of(job: Job) -> JobKind:
    """The kind of a job. Raises KeyError where nothing here knows it."""
    return _KINDS[job.kind]
