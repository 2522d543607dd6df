"""Empty paragraphs above a part taken out, once real room is made for it."""

from __future__ import annotations

from collections.abc import Iterable

from innerhop.core.facts.spacers import Spacer
from innerhop.core.plan import Plan, join_plans
from innerhop.core.planners.contents import plan_taking_out
from innerhop.core.source.tree import Source


def plan_out(source: Source, rows: Iterable[Spacer]) -> Plan:
    """Take spacers out. Raises pieces.NotWhole where it is not written where one ends."""
    return join_plans(plan_taking_out(source, number) for row in rows for number in row.numbers)
