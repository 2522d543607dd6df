"""Broken hops by what broke them: a thousand links to one page that is gone are one
thing to mend."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

from innerhop.core.site.hops import NO_PAGE
from innerhop.library.models import Page
from innerhop.library.seek.hops import BROKEN, Hop


@dataclass
class Cause:
    """Hops to list as one. hop: the first of them. count: how many there are. starts: the
    pages that they stand on, in order."""

    hop: Hop
    count: int = 0
    starts: dict[int, Page] = field(default_factory=dict)

    @property
    def more_pages(self) -> int:
        """How many pages they start on beside the first."""
        return len(self.starts) - 1

    @property
    def more(self) -> int:
        """How many hops there are beside the first."""
        return self.count - 1


def by_cause(hops: Iterable[Hop], most: int) -> list[Cause]:
    """Hops in their order, broken ones of one cause once, at the first of them. most: how
    many rows at most; hops of a cause that is listed are counted to the last."""
    found: dict[object, Cause] = {}
    for hop in hops:
        key = cause_of(hop)
        if key not in found and len(found) >= most:
            continue
        cause = found.setdefault(key, Cause(hop))
        cause.count += 1
        cause.starts.setdefault(hop.link.page_id, hop.link.page)
    return list(found.values())


def cause_of(hop: Hop) -> object:
    """What hops have in common that one mend would put right: the page that isn't there,
    or the page and the fragment that finds nothing on it. Of others, nothing."""
    if hop.kind != BROKEN:
        return hop.link.page_id, hop.link.number
    fragment = None if hop.link.why == NO_PAGE else hop.link.fragment
    return hop.link.why, hop.link.key, fragment
