"""Acts: what an editor wants done, planned on the pages it touches and said in
one line, ready to be shown as a difference and saved as one change."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from innerhop.core import addresses, hopping, marking, selection, smoothing
from innerhop.core.edits import Edit, Spot, difference
from innerhop.library.changes import Plan
from innerhop.library.models import Mark, Page
from innerhop.library.texts import PageText, bare_hash_works, current


class NoSuchEnd(ValueError):
    """The place a hop should end at is not there; says what to do."""


@dataclass(frozen=True)
class End:
    """Where a new hop is to end.

    number: the heading's, when the section has no mark yet and `id` is to be
    its ID. number None: `id` is a mark of the page, or "" for its top.
    """

    page: Page
    id: str
    number: int | None = None


@dataclass(frozen=True)
class Act:
    """Edits on one page or two, and the line that says what they do."""

    said: str
    plans: Sequence[Plan]
    spots: Sequence[tuple[Page, Spot]]
    href: str = ""


def mark(page: Page, number: int, id_: str) -> Act:
    """Give a heading an ID. Raises marking.CannotMark."""
    text = current(page)
    edits = _mark_edits(text, number, id_)
    return _act(f"Marked “{_title(text, number)}” as #{id_}", [(text, edits)])


def hop(page: Page, words: selection.Words, end: End) -> Act:
    """Make a link of the words, and mark the section it ends at if it must be.

    Raises wrapping.CannotLink, marking.CannotMark or NoSuchEnd.
    """
    text = current(page)
    same_page = end.page.pk == page.pk
    end_text = text if same_page else current(end.page)
    _check_end(end)
    href = _href(page, end)
    edits = hopping.plan_hop(text.source, words, href, text.revision.spelling)
    said = f"Linked “{selection.text_of(text.source, words)}” to {href}"
    if end.number is None:
        return _act(said, [(text, edits)], href)
    marks = _mark_edits(end_text, end.number, end.id)
    said += f" and marked “{_title(end_text, end.number)}”"
    if same_page:
        return _act(said, [(text, [*edits, *marks])], href)
    return _act(said, [(text, edits), (end_text, marks)], href)


def smooth(page: Page) -> Act:
    """Ask for smooth scrolling on the page. Raises smoothing.CannotSmooth."""
    text = current(page)
    edits = smoothing.plan_smooth(text.source)
    return _act("Hops on this page glide, unless a visitor asked for less motion", [(text, edits)])


def _mark_edits(text: PageText, number: int, id_: str) -> list[Edit]:
    return marking.plan_mark(text.source, text.facts, number, id_, text.revision.spelling)


def _title(text: PageText, number: int) -> str:
    headings = text.facts.headings
    return next((one.text for one in headings if one.number == number), "") or "a heading"


def _check_end(end: End) -> None:
    is_mark = end.number is None and end.id
    if is_mark and not Mark.objects.filter(page=end.page, value=end.id).exists():
        raise NoSuchEnd(f"Nothing on “{end.page.title}” has the ID “{end.id}” any more.")


def _href(page: Page, end: End) -> str:
    same_page = end.page.pk == page.pk
    if end.id:
        return addresses.write_hop(end.page.path, end.id, same_page, bare_hash_works(page))
    # HTML Standard 7.4.6.4: `top` is the top of any page that has no such ID.
    return (
        addresses.write_hop(page.path, "top", True, bare_hash_works(page))
        if same_page
        else end.page.path
    )


def _act(said: str, parts: list[tuple[PageText, list[Edit]]], href: str = "") -> Act:
    return Act(
        said=said,
        plans=[Plan(text.page, text.revision.number, edits) for text, edits in parts],
        spots=[(text.page, spot) for text, edits in parts for spot in difference(text.text, edits)],
        href=href,
    )
