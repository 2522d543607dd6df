"""What goes wrong again and again is logged once in a while, not each time: a database that is
away for an hour would fill a disk with the same lines."""

from __future__ import annotations

import logging
import time
from dataclasses import dataclass

_PAUSE = 600  # seconds
_MOST = 1_000  # troubles remembered


@dataclass
class _Said:
    at: float
    times: int = 0


class OnceInAWhile(logging.Filter):
    """Lets a record through that says something new, and one in ten minutes of those that say
    the same, with how many were kept back. The same is: of the same line of code, with the same
    kind of exception."""

    def __init__(self) -> None:
        super().__init__()
        self._said: dict[tuple[object, ...], _Said] = {}

    def filter(self, record: logging.LogRecord) -> bool:
        """Whether a record is logged."""
        kind = record.exc_info[0] if record.exc_info else None
        # The words of a warning are its own; those of an exception name each address.
        what = (record.pathname, record.lineno, kind or record.getMessage())
        now = time.monotonic()
        known = self._said.get(what)
        if known is not None and now - known.at < _PAUSE:
            known.times += 1
            return False
        if known is not None and known.times:
            record.msg = f"{record.getMessage()} (and {known.times} times more before)"
            record.args = ()
        if len(self._said) >= _MOST:
            self._said.clear()
        self._said[what] = _Said(now)
        return True
