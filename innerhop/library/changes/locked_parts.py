"""Seals: an editor's word that a region of a page comes from the site's own
system and can't be edited. No change touches what stands inside one."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence

from innerhop.core.edits import Edit
from innerhop.core.source.tree import Source
from innerhop.library.index import shared_parts
from innerhop.library.index.texts import PageText, current
from innerhop.library.models import Page, Seal


class Sealed(ValueError):
    """A change would touch a sealed region; says so and what works instead."""


WHY = (
    "This part comes from the site’s own system, so it can’t be edited here. Put a marker before "
    "it, use an ID it has already, or link to its words."
)


def of(pages: Iterable[Page]) -> dict[int, list[Seal]]:
    """The seals of each page, by the page's primary key."""
    found: dict[int, list[Seal]] = defaultdict(list)
    for one in Seal.objects.filter(page__in=list(pages)):
        found[one.page_id].append(one)
    return found


def seal(page: Page, number: int) -> int:
    """Seal a region, on every page that shares it. Returns on how many pages."""
    copies = shared_parts.copies(page, number)
    for copy in copies:
        last = current(copy.page).source.last_inside(copy.number)
        Seal.objects.update_or_create(page=copy.page, number=copy.number, defaults={"last": last})
    return len(copies)


def unseal(page: Page, number: int) -> int:
    """Take a seal off again, everywhere. Returns on how many pages; raises
    LookupError when there is none."""
    copies = shared_parts.copies(page, number)
    if not page.seals.filter(number=number).exists():
        raise LookupError("no seal stands there")
    for copy in copies:
        Seal.objects.filter(page=copy.page, number=copy.number).delete()
    return len(copies)


def around(seals: Iterable[Seal], number: int) -> Seal | None:
    """The outermost seal that an element stands in."""
    return next((one for one in seals if one.number <= number <= one.last), None)


def refuse(source: Source, seals: Iterable[Seal], edits: Iterable[Edit]) -> None:
    """Raise Sealed when an edit touches what stands inside a sealed region.

    Right before and right behind it is outside.
    """
    spans = [_span(source, one) for one in seals]
    for edit in edits:
        for start, end in spans:
            if edit.start < end and edit.end > start and not edit.start == edit.end == start:
                raise Sealed(WHY)


def _span(source: Source, one: Seal) -> tuple[int, int]:
    tag = source.start_tag(one.number)
    start = tag.start if tag else 0
    end = source.end_of(one.number)
    if end is None:  # implied: up to the next element's tag
        following = source.start_tag(one.last + 1) if one.last + 1 < len(source.nodes) else None
        end = following.start if following else len(source.text)
    return start, end


def carry(
    old: PageText, new: PageText, sealed: Sequence[Seal], edits: Sequence[Edit] | None
) -> None:
    """Keep seals on their regions when a page's text has changed.

    edits: None when the whole text was replaced; a region is then known again
    by its markup, and where it is gone so is its seal.
    """
    numbers = {_number_after(old.source, new.source, one.number, edits) for one in sealed}
    kept = [(one, new.source.last_inside(one)) for one in numbers if one is not None]
    if sorted(kept) == [(one.number, one.last) for one in sealed]:
        return
    Seal.objects.filter(page=new.page).delete()
    Seal.objects.bulk_create(Seal(page=new.page, number=one, last=last) for one, last in kept)


def _number_after(
    old: Source, new: Source, number: int, edits: Sequence[Edit] | None
) -> int | None:
    tag = old.start_tag(number)
    if tag is None:
        return None
    if edits is None:
        end = old.end_of(number) or tag.end
        at = new.text.find(old.text[tag.start : end])
        return new.element_at(at) if at >= 0 else None
    shift = sum(len(one.new) - len(one.old) for one in edits if one.end <= tag.start)
    return new.element_at(tag.start + shift)
