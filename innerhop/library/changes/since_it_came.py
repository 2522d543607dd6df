"""What was done to a page here since its text came in."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

from innerhop.core.edits import Edit, join
from innerhop.library.index.texts import PageText, from_rows
from innerhop.library.models import Page, Revision


def first_and_edits(page: Page) -> tuple[PageText, list[Edit]]:
    """The text that a page came in with, and what was done to it since.

    After it was brought in again, that text is what counts, with what was carried over to it.
    """
    return of_pages([page])[0]


def of_pages(pages: Sequence[Page]) -> list[tuple[PageText, list[Edit]]]:
    """The same for many pages, in their order."""
    rows: dict[int, list[Revision]] = defaultdict(list)
    known = Revision.objects.filter(page__in=pages, number__gt=0)
    for revision in known.defer("content", "came").order_by("page", "number"):
        rows[revision.page_id].append(revision)
    found = [standing(rows[page.pk]) for page in pages]
    firsts = Revision.objects.in_bulk([first.pk for first, _ in found])
    return [
        (PageText(page, as_it_came(firsts[first.pk])), edits)
        for page, (first, edits) in zip(pages, found, strict=True)
    ]


def standing(revisions: Sequence[Revision]) -> tuple[Revision, list[Edit]]:
    """The revision that a page's text came in with, and the edits since that still stand, of its
    first ones up to any."""
    states: list[tuple[Revision, list[Edit]]] = []
    replaced: dict[int | None, int] = {}  # change: where its last revision is in `states`
    for revision in revisions:
        if revision.edits is not None:
            begin, edits = states[-1]
            states.append((begin, join(edits, from_rows(revision.edits))))
        elif revision.change_id in replaced:  # undone or redone: back to what was before
            states.append(states[replaced[revision.change_id] - 1])
        else:
            states.append((revision, from_rows(revision.carried or [])))
        replaced[revision.change_id] = len(states) - 1
    return states[-1]


def as_it_came(revision: Revision) -> Revision:
    """A text that came in, before anything was carried over to it."""
    if revision.carried is None:
        return revision
    return Revision(
        page_id=revision.page_id, number=revision.number, content=revision.came,
        label=revision.label, codec=revision.codec, mark=revision.mark,
    )  # fmt: skip
