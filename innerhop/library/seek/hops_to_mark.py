"""Which hops arrive at a mark, and what becomes of them when the marks of their
page change: worked out from the index, for one page or for thousands."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from innerhop.core.addresses.fragments import Nowhere, Targets, indicated
from innerhop.core.site.hops import BROKEN
from innerhop.library.changes import locked_parts
from innerhop.library.index import shared_parts
from innerhop.library.index.shared_parts import Copy, SharedPart
from innerhop.library.models import Link, Mark, Page


@dataclass(frozen=True)
class Arriving:
    """The hops of a site that lead to some pages, and what those have for them."""

    links: dict[int, list[Link]]
    targets: dict[int, Targets[int]]

    def at(self, copy: Copy) -> list[Link]:
        """The hops that arrive at that element today."""
        targets = self.targets[copy.page.pk]
        links = self.links.get(copy.page.pk, [])
        return [one for one in links if indicated(one.fragment or "", targets) == copy.number]


def arriving(copies: Sequence[Copy]) -> Arriving:
    """All hops to the pages of these copies, with headings' own links to themselves: a
    change of their mark is theirs too."""
    pages = {copy.page.key: copy.page for copy in copies}
    rows = Link.objects.to_pages(copies[0].page.site_id, pages).with_fragment()
    links: dict[int, list[Link]] = defaultdict(list)
    for link in rows.select_related("page__site").order_by("page_id", "number"):
        links[pages[link.key].pk].append(link)
    return Arriving(dict(links), targets_of(list(pages.values())))


def with_copies(links: Sequence[Link]) -> list[Link]:
    """Hops, and the copies on other pages of those that are written as a bare hash in a part
    that pages share: such a part stays the same on all of them. Where a copy arrives at
    another page's own mark it is left out."""
    found = {link.pk: link for link in links}
    parts: dict[int, list[SharedPart]] = {}
    bare = [link for link in links if link.href.lstrip().startswith("#")]
    for link in bare:
        if link.page_id not in parts:
            parts[link.page_id] = shared_parts.of_page(link.page)
        if not any(one.number <= link.number <= one.last for one in parts[link.page_id]):
            continue
        for copy in shared_parts.copies(link.page, link.number)[1:]:
            rows = Link.objects.filter(page=copy.page, number=copy.number, kind=BROKEN)
            for one in rows.select_related("page__site"):
                found.setdefault(one.pk, one)
    return list(found.values())


def targets_of(pages: Sequence[Page]) -> dict[int, Targets[int]]:
    """What fragments find on each page, by the page's primary key."""
    found: dict[int, list[tuple[str, str, int]]] = {page.pk: [] for page in pages}
    marks = Mark.objects.filter(page__in=pages).order_by("page", "number")
    for pk, attribute, value, number in marks.values_list(
        "page_id", "attribute", "value", "number"
    ):
        found[pk].append((attribute, value, number))
    return {pk: Targets.of(rows) for pk, rows in found.items()}


@dataclass(frozen=True)
class RenameOutcome:
    """What another name for a mark would do to hops that don't arrive at it now.

    captured: hops that arrive somewhere today and would come here instead.
    mended: broken ones that would arrive here.
    """

    captured: Sequence[Link]
    mended: Sequence[Link]


def outcome(
    known: Arriving, copies: Sequence[Copy], new: str, moving: Iterable[Link]
) -> RenameOutcome:
    """What would become of the hops that are not among those moving along."""
    along = {link.pk for link in moving}
    captured: list[Link] = []
    mended: list[Link] = []
    for copy in copies:
        before = known.targets[copy.page.pk]
        after = Targets({**before.ids, new: copy.number}, before.names)
        for link in known.links.get(copy.page.pk, []):
            now = indicated(link.fragment or "", before)
            then = indicated(link.fragment or "", after)
            if link.pk not in along and then != now:
                (mended if isinstance(now, Nowhere) else captured).append(link)
    return RenameOutcome(captured, mended)


def taken(page: Page, but: int | None = None) -> set[str]:
    """IDs and names that a new ID of the page must not be: all of them, less
    those of one element."""
    rows = Mark.objects.filter(page=page)
    rows = rows.exclude(number=but) if but is not None else rows
    return set(rows.values_list("value", flat=True))


def taken_on_all(copies: Sequence[Copy]) -> set[str]:
    """The same for an element that stands on several pages."""
    rows = Mark.objects.filter(page__in=[copy.page.pk for copy in copies])
    own = {(copy.page.pk, copy.number) for copy in copies}
    values = rows.values_list("page_id", "number", "value")
    return {value for page_id, number, value in values if (page_id, number) not in own}


def stuck(links: Sequence[Link]) -> list[Link]:
    """Those of the hops that stand in locked parts, so that they can't follow."""
    locked = locked_parts.of({link.page_id: link.page for link in links}.values())
    return [one for one in links if locked_parts.around(locked.get(one.page_id, ()), one.number)]
