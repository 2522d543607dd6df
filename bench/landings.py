"""Where readers land: of a page with two thousand marks, measuring aside."""

from __future__ import annotations

import statistics
import time

from innerhop.core import landings
from innerhop.core.landings import Cover, Target, View

MARKS, RUNS = 2_000, 15
Figure = tuple[str, float, str, float]


def figures() -> list[Figure]:
    """Milliseconds for all marks of a page, at one width."""
    covers = (Cover(False, 0, 80, 0, 1e6), Cover(True, 80, 40))
    view = View(1280, 800, 90_000, 96, covers)
    targets = [Target(40.0 * n, 0, 40.0 * n + 4, 34) for n in range(MARKS)]
    took = []
    for _ in range(RUNS):
        begin = time.perf_counter()
        found = [landings.landing(view, one) for one in targets]
        took.append(time.perf_counter() - begin)
        assert len(found) == MARKS
    return [(f"landings of {MARKS:,} marks", statistics.median(took) * 1_000, "ms", 50)]
