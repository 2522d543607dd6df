"""The figures of bin/bench, each beside its budget. Exits with 1 when one is over."""

import sys

import django

django.setup()

import innerhop.project.wsgi  # noqa: E402, F401  (measured as served: it settles the collector)
from bench import (  # noqa: E402  (models need Django set up)
    checking,
    extremes,
    fetching,
    first_bytes,
    in_browser,
    landings,
    lists,
    menus,
    merging,
    reading,
    real_pages,
    renaming,
    slow_line,
    walking,
    whole_sites,
)

_WIDTH = 72  # characters of a figure's name

kinds = (
    reading, merging, checking, real_pages, first_bytes, renaming, landings, walking, lists, menus,
    whole_sites, fetching, extremes, in_browser, slow_line,
)  # fmt: skip
over = 0
for kind in kinds:
    for name, value, unit, budget in kind.figures():
        over += value > budget
        verdict = "ok" if value <= budget else "OVER"
        told = f"budget {budget:g} {unit}  {verdict}" if budget < float("inf") else ""
        print(f"{name:<{_WIDTH}}  {value:8.2f} {unit:<2}  {told}",
              flush=True)  # fmt: skip
sys.exit(int(over > 0))
