"""What tests of planners share: a page after a plan, with the plan proved, and elements
found by selectors of the parser."""

from __future__ import annotations

from innerhop.core.plan import Plan
from innerhop.core.proof import proved
from innerhop.core.source.tree import Source


def after(source: Source, plan: Plan) -> str:
    """The page's text after a plan that does what it claims."""
    return proved(source, plan).text


def first(source: Source, tag: str, where: str = "") -> int:
    """The number of the first element of that tag; where: with that in its start tag."""
    for element in source.of_tags(tag):
        span = source.start_tag(element.number)
        if span and where in source.original(span):
            return element.number
    raise LookupError(f"no {tag}")
