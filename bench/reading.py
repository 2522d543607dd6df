"""Reading a site's facts, as a ratio to the bare parse of the same text, so that
the machine's speed falls out."""

from __future__ import annotations

import time
from collections.abc import Callable

import turbohtml

from bench.pages import page
from innerhop.core import encoding
from innerhop.core.facts import gather
from innerhop.core.source import Source
from innerhop.practice import demo

RUNS = 15
Figure = tuple[str, float, str, float]


def figures() -> list[Figure]:
    """Facts ÷ bare parse, of the demo site and of a large page."""

    demo_texts = [encoding.decode(data)[0] for name, data in demo.files() if name.endswith("html")]
    found: list[Figure] = []
    for name, texts in (("demo site", demo_texts), ("1 MB page, 2,000 marks", [page(2000, 75)])):
        parse = _best(
            lambda texts=texts: [
                turbohtml.parse(text, source_locations=True, scripting=True) for text in texts
            ]
        )
        facts = _best(lambda texts=texts: [gather(Source(text)) for text in texts])
        found.append((f"read facts ÷ bare parse, {name}", facts / parse, "×", 3))
    return found


def _best(act: Callable[[], object]) -> float:
    times = []
    for _ in range(RUNS):
        start = time.perf_counter()
        act()
        times.append(time.perf_counter() - start)
    return min(times)
