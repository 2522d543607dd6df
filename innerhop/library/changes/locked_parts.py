"""Locked parts: an editor's word that a region of a page comes from the site's own
system and can't be edited. No change touches what stands inside one."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence

from innerhop.core.edits import Edit
from innerhop.core.origins import origins_of
from innerhop.core.refusals import Refusal
from innerhop.core.source.tree import Source
from innerhop.library.models import LockedPart, Page


class Locked(Refusal):
    """A change would touch a locked part; says so and what works instead."""

    def __init__(self) -> None:
        super().__init__(
            "This part comes from the site’s own system, so it can’t be edited here. Put a marker "
            "before it, use an ID it has already, or link to its words."
        )


def of(pages: Iterable[Page], lifted: bool = False) -> dict[int, list[LockedPart]]:
    """The locked parts of each page, by the page's primary key. lifted: with those that
    were locked and are no longer."""
    rows = LockedPart.objects.filter(page__in=list(pages))
    found: dict[int, list[LockedPart]] = defaultdict(list)
    for one in rows if lifted else rows.filter(lifted=False):
        found[one.page_id].append(one)
    return found


def around(parts: Iterable[LockedPart], number: int) -> LockedPart | None:
    """The outermost locked part that an element stands in."""
    return next((one for one in parts if one.number <= number <= one.last), None)


def require_unlocked(page: Page, number: int) -> None:
    """Raise Locked when the element stands in a locked part."""
    if around(of([page])[page.pk], number) is not None:
        raise Locked


def refuse(source: Source, parts: Iterable[LockedPart], edits: Iterable[Edit]) -> None:
    """Raise Locked when an edit touches what stands inside a locked part.

    Right before and right behind it is outside.
    """
    spans = [_span(source, one) for one in parts]
    for edit in edits if spans else ():
        for start, end in spans:
            if edit.start < end and edit.end > start and not edit.start == edit.end == start:
                raise Locked


def _span(source: Source, part: LockedPart) -> tuple[int, int]:
    tag = source.start_tag(part.number)
    start = tag.start if tag else 0
    end = source.end_of(part.number)
    if end is None:  # implied: up to the next element's tag
        following = source.start_tag(part.last + 1) if part.last + 1 < len(source) else None
        end = following.start if following else len(source.text)
    return start, end


# The primary key of a locked part, its first and last number, and whether it is gone.
Place = tuple[int, int, int, bool]


def carried(
    old: Source, new: Source, parts: Sequence[LockedPart], edits: Sequence[Edit] | None
) -> list[Place]:
    """Where locked parts stand when a page's text has changed, for those that move.

    edits: None when the whole text was replaced; a region is then known again
    by its markup, and where it is gone so is the lock.
    """
    if not parts:
        return []
    numbers = _numbers_after(old, new, edits)
    found = []
    for one in parts:
        number = numbers.get(one.number) if edits is not None else _again(old, new, one.number)
        if number is None:
            found.append((one.pk, one.number, one.last, True))
        elif (number, new.last_inside(number)) != (one.number, one.last):
            found.append((one.pk, number, new.last_inside(number), one.lifted))
    return found


def _numbers_after(old: Source, new: Source, edits: Sequence[Edit] | None) -> dict[int, int]:
    if edits is None:
        return {}
    origins = origins_of(old, new, edits)
    return {origin: number for number, origin in enumerate(origins) if origin is not None}


def _again(old: Source, new: Source, number: int) -> int | None:
    tag = old.start_tag(number) if number < len(old) else None
    if tag is None:
        return None
    end = old.end_of(number) or tag.end
    at = new.text.find(old.text[tag.start : end])
    return new.element_at(at) if at >= 0 else None
