"""Elements of a page as it was, found on the page as it is: another part may have their
numbers now."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Any

from innerhop.core.edits import Edit, EditsClash, carry
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.tree import Source
from innerhop.library.index.texts import PageText, current, from_rows
from innerhop.library.models import Page

_AGO = 50  # revisions: who is further behind is shown the page anew


def numbers_now(page: Page, revision: int, numbers: Collection[int]) -> dict[int, int | None]:
    """The numbers that elements have now, by those that they had in a revision; None for
    one that went, or whose beginning was written anew."""
    then = page.revisions.filter(number=revision).first()
    since = page.revisions.filter(number__gt=revision).order_by("number")
    steps: list[Any] = list(since.values_list("edits", flat=True)[: _AGO + 1])
    if then is None or len(steps) > _AGO or None in steps:
        return dict.fromkeys(numbers)
    old, new = PageText(page, then).source, current(page).source
    past = [from_rows(one) for one in steps]
    places = {tag.start: at for at in range(len(new)) if (tag := new.start_tag(at))}
    return {number: _now(old, number, past, new, places) for number in numbers}


def _now(
    old: Source, number: int, past: Sequence[Sequence[Edit]], new: Source, places: dict[int, int]
) -> int | None:
    tag = old.start_tag(number) if number < len(old) else None
    if tag is None:
        return None
    begin = [Edit(tag.start, "<", "<")]
    try:
        for edits in past:
            begin = carry(begin, edits)
    except EditsClash:
        return None
    found = places.get(begin[0].start)
    if found is None or not _is_alike(old.tags[number], new.tags[found]):
        return None
    return found


def _is_alike(one: str, other: str) -> bool:
    """Whether one may have become the other: a heading of another level is the same one."""
    return one == other or (one in LEVELS and other in LEVELS)
