"""IDs that can't be found, or that may not stay."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator
from typing import NamedTuple

from innerhop.core.findings import traits
from innerhop.core.findings.found import (
    BETTER,
    MARKS,
    MISLED,
    NOTE,
    PRACTICE,
    SECTIONS,
    STUCK,
    TRAITS,
    Fix,
    Found,
    PageRows,
    Rule,
    SiteView,
    Standard,
)
from innerhop.core.findings.requests import GiveOtherId, GiveOtherIdAlone, NameBeside
from innerhop.core.names import ids
from innerhop.core.site.page_rows import MarkRow

_ID = Standard(
    "HTML Standard, “the id attribute”",
    "https://html.spec.whatwg.org/multipage/dom.html#the-id-attribute",
)


def _words(page: PageRows, mark: MarkRow) -> str:
    return mark.words or page.called(mark.number) or f"#{mark.value}"


def _new_name(found: Found) -> GiveOtherId | None:
    return GiveOtherId(found.number, found.told["new"]) if found.told.get("new") else None


def _new_mark(found: Found) -> NameBeside | None:
    return NameBeside(found.number, found.told["new"]) if found.told.get("new") else None


def _second(found: Found) -> GiveOtherIdAlone:
    """The second is renamed, and no hop with it: all arrive at the first."""
    return GiveOtherIdAlone(found.number, found.told["new"])


def _own(found: Found) -> GiveOtherId | None:
    """The page's own is renamed, with the hops that arrive there; where both are shared,
    that would be more than one page's matter."""
    return GiveOtherId(found.told["element"], found.told["new"]) if found.told["new"] else None


def _spaced(page: PageRows, site: SiteView) -> Iterator[Found]:
    spaced = [one for one in page.marks if one.attribute == "id" and ids.has_whitespace(one.value)]
    if spaced:
        suggester = ids.Suggester(site.naming(page.page), site.ids(page.page))
        for mark in spaced:
            new = suggester.suggest(mark.value)
            yield SPACED.at(mark.number, _words(page, mark), key=mark.value, id=mark.value, new=new)


def _hashed(page: PageRows, site: SiteView) -> Iterator[Found]:
    hashed = [one for one in page.marks if ids.has_hash(one.value) and one.attribute == "id"]
    taken = set(site.ids(page.page)) if hashed else set()
    for mark in hashed:
        new = ids.free(mark.value.strip("#"), taken)
        taken.add(new)
        if not ids.has_whitespace(new):  # which comes first
            yield HASHED.at(mark.number, _words(page, mark), key=mark.value, id=mark.value, new=new)


def _empty(page: PageRows, site: SiteView) -> Iterator[Found]:
    for trait in page.of_kind(traits.EMPTY_ID):
        yield EMPTY.at(trait.number, page.called(trait.number) or "a part of the page")


class _Second(NamedTuple):
    """A mark with an ID that another has before it. renamed: the one of the two that is the
    page's own. new: an ID for the renamed; "" where both are shared."""

    mark: MarkRow
    renamed: MarkRow
    new: str


def _seconds(page: PageRows, site: SiteView, are_shared: bool) -> Iterator[_Second]:
    """are_shared: whether those in parts that pages share are looked for, or the others."""
    own = [mark for mark in page.marks if mark.attribute == "id"]
    counts = Counter(mark.value for mark in own)
    if len(counts) == len(own):
        return
    suggester = ids.Suggester(site.naming(page.page), site.ids(page.page))
    names: dict[int, str] = {}
    first: dict[str, MarkRow] = {}
    for mark in own:
        before = first.setdefault(mark.value, mark)
        if counts[mark.value] < 2 or before is mark or _at_one_place(page, before, mark):
            continue
        if ids.is_a_systems(mark.value) and (
            mark.empty or before.number not in site.arrivals(page.page)
        ):
            continue  # nobody leads to it
        if site.is_shared(page.page, mark.number) != are_shared:
            continue
        renamed = before if are_shared else mark
        if renamed.number not in names:  # each its own, so that all can be renamed at once
            words = page.called(renamed.number) or renamed.words or mark.value
            is_none = are_shared and site.is_shared(page.page, before.number)
            names[renamed.number] = "" if is_none else suggester.suggest(words)
        yield _Second(mark, renamed, names[renamed.number])


def _at_one_place(page: PageRows, one: MarkRow, other: MarkRow) -> bool:
    """Whether readers arrive at the same heading whichever of two marks they are sent to."""
    is_near = other.number - one.number <= _NEAR and (one.empty or other.empty)
    return is_near and not any(one.number < s.number < other.number for s in page.sections)


_NEAR = 4  # elements


def _twice(page: PageRows, site: SiteView) -> Iterator[Found]:
    for mark, _, new in _seconds(page, site, are_shared=False):
        yield TWICE.at(mark.number, _words(page, mark), key=mark.value, id=mark.value, new=new)


def _twice_shared(page: PageRows, site: SiteView) -> Iterator[Found]:
    for mark, renamed, new in _seconds(page, site, are_shared=True):
        yield TWICE_SHARED.at(mark.number, _words(page, mark), key=mark.value, id=mark.value,
                              new=new, element=renamed.number)  # fmt: skip


def _generated(page: PageRows, site: SiteView) -> Iterator[Found]:
    maybe = [mark for mark in page.marks
             if ids.looks_generated(mark.value) and not _HASH.search(mark.value)]  # fmt: skip
    arrivals = site.arrivals(page.page) if maybe else ()
    made = {mark.number: mark for mark in reversed(maybe) if mark.number in arrivals}
    if len(made) > _OF_A_GENERATOR and 2 * len(made) > len(arrivals):
        return  # a program made these IDs and the links to them together
    suggester = ids.Suggester(site.naming(page.page), site.ids(page.page)) if made else None
    for mark in reversed(made.values()):
        words = page.called(mark.number) or mark.words
        new = suggester.suggest(words) if suggester and words else ""
        yield GENERATED.at(mark.number, words or f"#{mark.value}", key=mark.value,
                           id=mark.value, new=new)  # fmt: skip


# A name's own hash, which a generator makes the same each time.
_HASH = re.compile(r"[0-9a-f]{24,}", re.IGNORECASE)
_OF_A_GENERATOR = 8  # of the hops to a page


def _unused(page: PageRows, site: SiteView) -> Iterator[Found]:
    served = {one.mark: one for one in page.sections if one.mark}
    maybe = [mark for mark in page.marks if mark.value in served or mark.empty]
    arrivals = site.arrivals(page.page) if maybe else ()
    unused = [mark for mark in maybe if mark.number not in arrivals]
    if unused:  # one line for the page: it may have a thousand of them
        first = unused[0]
        title = served[first.value].title if first.value in served else first.words
        words = title or f"#{first.value}"
        if len(unused) > 1:
            words = f"{words} and {len(unused) - 1} more"
        yield UNUSED.at(first.number, words, key=page.path)


SPACED = Rule(
    name="id-with-space",
    level=STUCK,
    title="An ID with a space in it",
    why="An ID holds no spaces. Only a link that has the same space, %20 in an address, finds "
    "“{id}”.",
    source=_ID,
    avoid="Join the words of an ID by hyphens.",
    find=_spaced,
    reads=(MARKS, SECTIONS),
    asks=("ids", "naming"),
    fix=Fix("Rename it to {new}", _new_name, many="Rename them"),
)

HASHED = Rule(
    name="id-with-hash",
    level=STUCK,
    title="An ID written with its hash",
    why="The # belongs to the address. An ID that is {id} is found by links to #{id} alone.",
    source=_ID,
    avoid="In the field for the ID stands the name alone; the # stands in links to it.",
    find=_hashed,
    reads=(MARKS, SECTIONS),
    asks=("ids",),
    fix=Fix("Take the # away: {new}", _new_name, many="Take the # away"),
)

EMPTY = Rule(
    name="empty-id",
    on_asking=True,
    level=BETTER,
    title="An ID without a letter",
    why="An ID holds at least one character. This one does nothing.",
    source=_ID,
    avoid="Leave the field for the ID empty only where the system leaves the attribute out then.",
    find=_empty,
    reads=(SECTIONS, TRAITS),
    asks=(),
    no_fix="It harms nobody. Mark the part to give it an ID that works.",
)

TWICE = Rule(
    name="twice",
    level=MISLED,
    title="The same ID twice on a page",
    why="Readers always arrive at the first {id}, whichever was meant.",
    source=_ID,
    avoid="A section that is copied takes its ID along. Rename the copy’s.",
    find=_twice,
    reads=(MARKS, SECTIONS),
    asks=("arrivals", "ids", "is_shared", "naming"),
    fix=Fix("Rename the second to {new}", _second, many="Rename all but the first"),
)

TWICE_SHARED = Rule(
    name="twice-shared",
    level=MISLED,
    title="The same ID in the page and in a part that pages share",
    why="Readers always arrive at the first {id} of the page they are on, whichever was meant.",
    source=_ID,
    avoid="IDs in a header or footer are taken on every page that has it.",
    find=_twice_shared,
    reads=(MARKS, SECTIONS),
    asks=("arrivals", "ids", "is_shared", "naming"),
    fix=Fix("Rename the page’s own to {new}", _own, many="Rename the pages’ own"),
)


GENERATED = Rule(
    name="generated-id",
    level=BETTER,
    title="Hops rely on a generated ID",
    why="{id} was made by the site’s system, which may make another when the section is rebuilt. "
    "It rarely lets it be renamed; a marker before that part stays.",
    source=PRACTICE,
    avoid="Give a section an ID of its own before you lead hops to it.",
    find=_generated,
    reads=(MARKS, SECTIONS),
    asks=("arrivals", "ids", "naming"),
    fix=Fix(
        "Put {new} before it, for its hops",
        _new_mark,
        many="Put readable marks before them, for their hops",
    ),
)

UNUSED = Rule(
    name="unused-mark",
    on_asking=True,
    level=NOTE,
    title="Marks that no hop leads to",
    why="Other sites may link to them all the same. Nothing is wrong.",
    source=PRACTICE,
    avoid="A mark without a hop costs nothing; a hop to it may be what was forgotten.",
    find=_unused,
    reads=(MARKS, SECTIONS),
    asks=("arrivals",),
    no_fix="Nothing has to be mended.",
)
