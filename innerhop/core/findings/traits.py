"""What only a page's text tells, and that findings need later, when the text is not at hand:
told once, when the page is read."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from innerhop.core.contents import in_step, moved
from innerhop.core.facts import captions, spacers
from innerhop.core.facts.empty_markers import TAGS as MARKER_TAGS
from innerhop.core.findings import link_traits
from innerhop.core.site.page_reading import PageReading
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.elements import Element
from innerhop.core.source.tree import Source

# Kinds of trait.
SPACER = "spacer"  # told: the number of the heading below it, and how many lines there are
BELOW_HEADING = "below-heading"  # an empty element; told: the heading's number
EMPTY_ID = "empty-id"
SKIPPED = "skipped"  # a heading; told: the level before it, and its own
LIST_OFF = "list-off"  # a contents list; told: how it differs from the page, in a sentence
BUTTON = "button"  # a link to nowhere that is no mistake
TOLD_AROUND = "told-around"  # a link whose few words are explained by those around
LED = "led"  # the script's tag; told: a fragment, and the address where it leads readers
ELSEWHERE = "elsewhere"  # an entry of a contents list; told: the heading that it names

_LEVELS = f":is({', '.join(LEVELS)})"
_BEHIND_HEADING = f"{_LEVELS} + :is({', '.join(sorted(MARKER_TAGS))})"


class Trait(NamedTuple):
    """Something about an element. kind: one of those above."""

    number: int
    kind: str
    told: str = ""


class Spacers(NamedTuple):
    """What the trait of empty lines tells. below: the heading under them. lines: how many."""

    below: int
    lines: int


def spacer(told: str) -> Spacers:
    """What was told by the trait of empty lines."""
    return Spacers(*map(int, told.split()))


def find(page: PageReading) -> list[Trait]:
    """The traits of a page, in tree order."""
    source = page.source
    found = [
        *_spacers(source),
        *_below_headings(source),
        *(Trait(number, EMPTY_ID) for number in source.reading.matching("[id='']")),
        *_skipped(page),
        *_led(source),
        *_lists(page),
        *(Trait(number, BUTTON) for number in link_traits.buttons(page)),
        *(Trait(number, TOLD_AROUND) for number in link_traits.told_around(page)),
    ]
    return sorted(found)


def _spacers(source: Source) -> Iterator[Trait]:
    for one in spacers.spacers(source):
        yield Trait(one.numbers[0], SPACER, f"{one.below} {len(one.numbers)}")


def _below_headings(source: Source) -> Iterator[Trait]:
    """Empty elements right behind a heading, which would be markers with an ID; and those in
    a row behind the first."""
    for number in source.reading.matching(_BEHIND_HEADING):
        if not source.reading.has_inside(number) and not source.text_of(number).strip():
            before = next((one for one in source.element(number).siblings_before()
                           if not one.is_blank), None)  # fmt: skip
            heading = getattr(before, "number", None)
            if heading is not None and not _stands_above_heading(source, number):
                yield Trait(number, BELOW_HEADING, str(heading))
                for more in _in_a_row(source, number):
                    yield Trait(more, BELOW_HEADING, str(heading))


def _in_a_row(source: Source, number: int) -> Iterator[int]:
    """The empty elements of markers' kinds right behind one."""
    for after in source.siblings(number, before=False):
        if isinstance(after, Element):
            if after.tag not in MARKER_TAGS or after.children:
                return
            yield after.number
        elif not after.is_blank:
            return


def _stands_above_heading(source: Source, number: int) -> bool:
    """Whether a heading is what an empty element stands before: it is that one's marker."""
    for after in source.siblings(number, before=False):
        if not isinstance(after, Element):
            if after.is_blank:
                continue
            return False
        if after.tag in MARKER_TAGS and not after.text.strip():
            continue
        return bool(source.reading.is_first_inside(after.number, LEVELS))
    return False


def _skipped(page: PageReading) -> Iterator[Trait]:
    """Headings more than one level below the one before them."""
    level = 0
    for one in captions.levelled(page.source, page.facts.headings):
        if level and one.level > level + 1 and not captions.is_label(page.source, one):
            yield Trait(one.number, SKIPPED, f"{level} {one.level}")
        level = one.level


def _led(source: Source) -> Iterator[Trait]:
    for one in source.having(moved.MOVED):
        if one.tag == "script":
            for old, to in moved.read(one.attr(moved.MOVED)):
                yield Trait(one.number, LED, f"{old} {to}")


def _lists(page: PageReading) -> Iterator[Trait]:
    for listed, off in zip(page.lists, page.differences, strict=True):
        for entry, part in off.elsewhere:
            yield Trait(entry.number, ELSEWHERE, part.title)
        said = _off(off)
        if said:
            yield Trait(listed.number, LIST_OFF, said)


def _off(off: in_step.OutOfStep) -> str:
    """How a list differs, by what readers miss most."""
    if off.added:
        return f"{_named([one.title for one in off.added])} missing from it."
    if off.gone:
        return f"{_named([one.label for one in off.gone])} leading to nothing."
    if off.relabelled:
        entry, part = off.relabelled[0]
        return f"“{entry.label}” is called “{part.title}” now."
    if off.moved:
        return "Its entries stand in another order than the sections."
    if off.relevelled:
        return f"{_named([one.label for one in off.relevelled])} at another level than its heading."
    return ""


def _named(titles: Sequence[str]) -> str:
    """The first two of some titles, with the verb."""
    if len(titles) == 1:
        return f"“{titles[0]}” is"
    if len(titles) == 2:
        return f"“{titles[0]}” and “{titles[1]}” are"
    return f"“{titles[0]}”, “{titles[1]}” and {len(titles) - 2} more are"
