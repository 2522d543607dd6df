"""What is judged of real sites stays as right as it was: the share of right verdicts on each
kind, drawn from manuals that Debian packages (see `judging`), may not fall."""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from innerhop.core.findings.found import NOTE
from innerhop.core.findings.table import RULES
from judging import corpora, places, verdicts
from judging.__main__ import OTHERS, found_here, goal
from judging.places import LIST, MENU, SECTION, Place

MISSING = [one.package for one in corpora.MANUALS if not one.is_here]
pytestmark = pytest.mark.skipif(bool(MISSING), reason=f"Not installed: {', '.join(MISSING)}")
# What is looked for when a site asks is judged too, and has no floor.
USUAL = [name for name, rule in RULES.items() if not rule.on_asking and rule.level != NOTE]


def test_what_is_judged_of_real_sites_stays_as_right_as_it_was() -> None:
    # One test: reading the corpora takes minutes, and workers share nothing.
    found: dict[str, list[Place]] = {}
    for one in found_here():
        found.setdefault(one.kind, []).append(one)
    low = dict(_precisions_too_low(found)) | dict(_recalls_too_low(found))
    assert not low


def _precisions_too_low(found: dict[str, list[Place]]) -> Iterator[tuple[str, float]]:
    known = verdicts.kept()
    for kind in (*USUAL, LIST, MENU, SECTION, places.OFFER):
        drawn = verdicts.precision(places.draw(found.get(kind, ())), known)
        assert drawn.left <= drawn.drawn // 3, f"{drawn.left} places of {kind} wait to be judged"
        if drawn.share is not None and drawn.share < goal(kind):
            yield kind, drawn.share


def _recalls_too_low(found: dict[str, list[Place]]) -> Iterator[tuple[str, float]]:
    for kind in (LIST, MENU, SECTION):
        wanted = [one for one in verdicts.expected() if one.kind == kind]
        assert wanted, f"Nothing says which {kind} should be found"
        got, total = verdicts.recall(wanted, {one.key: one for one in found[kind]})
        if got < OTHERS * total:
            yield f"{kind} found", got / total
