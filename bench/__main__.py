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

kinds = (
    reading, merging, checking, real_pages, first_bytes, renaming, landings, walking, lists, menus,
    whole_sites, fetching, extremes, in_browser, slow_line,
)  # fmt: skip
figures = [figure for kind in kinds for figure in kind.figures()]
width = max(len(name) for name, _, _, _ in figures)
for name, value, unit, budget in figures:
    verdict = "ok" if value <= budget else "OVER"
    print(f"{name:<{width}}  {value:8.2f} {unit:<2}  budget {budget:g} {unit}  {verdict}")
sys.exit(int(any(value > budget for _, value, _, budget in figures)))
