"""Rules of packages that are installed beside ours, so that a team adds its own without a fork:
entry points of the group `inner_hop.rules`, each a `Rule`
(https://packaging.python.org/en/latest/specifications/entry-points/)."""

from __future__ import annotations

import warnings
from collections.abc import Container
from functools import cache
from importlib.metadata import EntryPoint, entry_points

from innerhop.core.findings.found import Rule

GROUP = "inner_hop.rules"


@cache
def _points() -> tuple[EntryPoint, ...]:
    return tuple(sorted(entry_points(group=GROUP), key=lambda one: (one.name, one.value)))


def rules(taken: Container[str]) -> list[Rule]:
    """The installed rules, in the order of their names. taken: names of our own. One that can't
    be used is left out, with a warning that says why."""
    found: dict[str, Rule] = {}
    for point in _points():
        try:
            rule = point.load()
        except Exception as problem:  # whatever a package that isn't ours does
            _warn(point, f"it can't be loaded ({problem})")
            continue
        if not isinstance(rule, Rule):
            _warn(point, "it is no innerhop.core.findings.found.Rule")
        elif rule.name in taken or rule.name in found:
            _warn(point, f"there is a rule called {rule.name} already")
        else:
            found[rule.name] = rule
    return list(found.values())


def _warn(point: EntryPoint, why: str) -> None:
    warnings.warn(f"{GROUP}: {point.value} is left out: {why}.", RuntimeWarning, stacklevel=3)


def told() -> str:
    """Which these are, with the versions of their packages: what was found by others is no
    longer so."""
    versions = {(point.value, point.dist.version if point.dist else "") for point in _points()}
    return repr(sorted(versions))
