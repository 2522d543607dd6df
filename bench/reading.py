"""Reading a site's facts, as a ratio to the bare parse of the same text, so that
the machine's speed falls out."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable

from turbohtml import parse

from bench.pages import page
from innerhop.core.facts.page_facts import gather
from innerhop.core.source import file_encoding
from innerhop.core.source.tree import Source
from innerhop.practice import demo

RUNS = 41
Figure = tuple[str, float, str, float]


def figures() -> list[Figure]:
    """Facts ÷ bare parse, of the demo site and of a large page."""
    demo_texts = [
        file_encoding.decode(data)[0] for name, data in demo.files() if name.endswith("html")
    ]
    sources = {"demo site": demo_texts, "1 MB page, 2,000 marks": [page(2000, 75)]}
    return [
        (f"read facts ÷ bare parse, {name}", _ratio(texts), "×", 3)
        for name, texts in sources.items()
    ]


def _ratio(texts: list[str]) -> float:
    """The median of the ratios of single runs, taken in turn: the machine's
    speed drifts, and both of a pair meet the same."""
    return statistics.median(
        _time(lambda text: gather(Source(text)), texts)
        / _time(lambda text: parse(text, source_locations=True, scripting=True), texts)
        for _ in range(RUNS)
    )


def _time(act: Callable[[str], object], texts: list[str]) -> float:
    start = time.perf_counter()
    for text in texts:
        act(text)
    return time.perf_counter() - start
