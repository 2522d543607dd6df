"""The faults that can be ordered of the practice host."""

from __future__ import annotations

import threading
from typing import NamedTuple


class Order(NamedTuple):
    """A fault. name: in the form. said: what it does, for the page on which it is ordered."""

    name: str
    said: str


SLOW, FAILS, BUSY, INSIDE, LOCKED = "slow", "fails", "busy", "inside", "locked"
EDITED, NEW_IDS, DRAWN, FOUND, FORBIDS, GONE, ENTERED, BREAKS = (
    "edited", "new-ids", "drawn", "found", "forbids", "gone", "entered", "breaks",
)  # fmt: skip
ORDERS = (
    Order(EDITED, "Somebody edits the handbook and three more pages, and adds one"),
    Order(NEW_IDS, "The system gives headings IDs of its own, and new ones each time it builds"),
    Order(ENTERED, "Somebody enters the copy sheet of the demo’s second site, with slips"),
    Order(BREAKS, "Somebody renames an ID, takes one off, and mistypes an address"),
    Order(SLOW, "Every answer takes a second longer"),
    Order(FAILS, "Every fifth answer is 500"),
    Order(BUSY, "Every seventh answer is 429, with Retry-After: 2"),
    Order(INSIDE, "The page About leads on to an address inside a network"),
    Order(LOCKED, "The page Volunteer days asks for a password"),
    Order(DRAWN, "The page Stoppages is drawn by its scripts alone"),
    Order(FOUND, "What isn't there is answered with 200"),
    Order(FORBIDS, "robots.txt forbids all"),
    Order(GONE, "The page Questions is gone"),
)
_NAMES = frozenset(order.name for order in ORDERS)


class Ordered:
    """What is ordered at the moment, of one host; asked by several threads. build: how often the
    system has built the site."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._now: frozenset[str] = frozenset()
        self._answers = 0
        self.build = 1

    def __contains__(self, name: str) -> bool:
        return name in self._now

    def take(self, names: list[str]) -> None:
        """Have these faults from here on, and no others."""
        with self._lock:
            self._now = _NAMES & set(names)
            self.build += 1

    def count(self) -> int:
        """One more answer; how many there were."""
        with self._lock:
            self._answers += 1
            return self._answers
