"""What a change did to the texts of its pages, place by place."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from innerhop.core.edits import Edit, Spot, changed_pieces, difference
from innerhop.library.index.texts import PageText, from_rows
from innerhop.library.models import Change, Page, Revision

_LONGEST = 10_000  # lines of two texts, that are compared when the whole came anew


@dataclass(frozen=True)
class PageChange:
    """What was done to a page; no spots where the whole came, and too much to compare."""

    page: Page
    spots: list[Spot]


def differences(change: Change, most: int) -> Iterator[PageChange]:
    """What a change did, page by page, of so many pages. Of what was undone, what it had
    done."""
    seen: set[int] = set()
    rows = Revision.objects.filter(change=change, number__gt=0).order_by("pk")
    for one in rows.select_related("page__site").iterator(chunk_size=10):
        if one.page_id in seen:
            continue  # undone, or done again
        if len(seen) == most:
            return
        seen.add(one.page_id)
        yield _done(one)


def _done(revision: Revision) -> PageChange:
    older = revision.page.revisions.filter(number__lt=revision.number)
    before = older.order_by("-number").first()
    if before is None:
        return PageChange(revision.page, [])
    text = PageText(revision.page, before).text
    if revision.edits is not None:
        return PageChange(revision.page, difference(text, from_rows(revision.edits)))
    after = PageText(revision.page, revision).text
    return PageChange(revision.page, difference(text, _by_lines(text, after)))


def _by_lines(before: str, after: str) -> list[Edit]:
    old, new = before.splitlines(keepends=True), after.splitlines(keepends=True)
    if len(old) + len(new) > _LONGEST:
        return []
    return changed_pieces(0, old, new)
