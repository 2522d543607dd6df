"""What a change of a few attributes does to the rows of a page: the elements are the same,
so all rows but those of the elements touched, and of what is told by their IDs, stay.
Hundreds of pages that share a part are changed in seconds this way.

Where anything else could follow from the change, the whole page is read (see `rows`).
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from django.db.models import Model

from innerhop.core.addresses import fragments, urls
from innerhop.core.addresses.link_ends import LinkEnds
from innerhop.core.contents import lists, ways_back
from innerhop.core.edits import Edit
from innerhop.core.facts import (
    captions,
    frame,
    heading_marks,
    hidden_parts,
    page_facts,
    shared_parts,
)
from innerhop.core.facts.empty_markers import is_marker
from innerhop.core.facts.lines import lines
from innerhop.core.facts.opening_titles import opening_titles
from innerhop.core.facts.page_facts import OWN_LINKS, Facts
from innerhop.core.facts.styled_lines import styled_lines
from innerhop.core.findings.link_traits import is_nowhere
from innerhop.core.menus import menus
from innerhop.core.site import page_rows
from innerhop.core.site.page_rows import MarkRow
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.tree import Source
from innerhop.library.index.rows import COLUMNS, KINDS, Row, Rows, kept, kept_link, menu_row
from innerhop.library.index.store import Delta
from innerhop.library.index.texts import PageText
from innerhop.library.models import Link, Mark, Menu, Page, Region, Section

# Attributes that rows tell of element by element, or not at all; of all others (a hidden
# part, a role, an alternative text, a name) more may follow.
_TOLD = frozenset((
    "id", "href", "target", "rel", "class", "for", "form", "list", "headers", "itemref",
    "aria-activedescendant", "aria-controls", "aria-describedby", "aria-details",
    "aria-errormessage", "aria-flowto", "aria-labelledby", "aria-owns",
))  # fmt: skip
_LEVELS = f":is({', '.join(LEVELS)})"
# Where one is on the page, more follows from an ID than is told here: headings with links
# to themselves, and, in broken markup, headings in headings.
_UNUSUAL = f"{OWN_LINKS}, {_LEVELS} {_LEVELS}"
_MAYBE_EMPTY = ("p", "div", "br")
_MOST = 200  # elements: beyond, the whole page is as fast


@dataclass(frozen=True)
class Touch:
    """A page before and after attributes of some elements changed. numbers: theirs."""

    page: Page
    old: Source
    new: Source
    numbers: Collection[int]
    marks: Facts  # of the page before


def touch(page: Page, text: PageText, new: Source, numbers: Iterable[int]) -> Touch | None:
    """The change as one of attributes alone, where it is one that can be told so."""
    old, wanted = text.source, set(numbers)
    if not wanted or len(wanted) > _MOST or len(old) != len(new):
        return None
    for number in wanted:
        before, after = old.attributes(number), new.attributes(number)
        names = {name for name in {*before, *after} if before.get(name) != after.get(name)}
        is_anchor = "name" in after and old.reading.tag(number) == "a"
        becomes_link = ("href" in before) != ("href" in after)
        if not names <= _TOLD or is_anchor or becomes_link:
            return None
        # Whether an empty line is one, and an empty ID, is told by attributes too.
        is_blank = old.reading.tag(number) in _MAYBE_EMPTY and not old.text_of(number).strip()
        if is_blank or "" in (before.get("id"), after.get("id")):
            return None
    # An ID or an address may bring a contents list out of step.
    if not all(_is_of_no_list(old, number) for number in wanted) and lists.may_hold(new):
        return None
    if any(_is_told_by_class(old, new, number) for number in wanted):
        return None
    if _leads_up(old, new, wanted):
        return None
    if _opens_by_id(old, new, wanted):
        return None
    if new.reading.matching(_UNUSUAL) or old.reading.matching(_UNUSUAL):
        return None
    return Touch(page, old, new, wanted, text.marks)


def _leads_up(old: Source, new: Source, wanted: Collection[int]) -> bool:
    """Whether a link might become a way back, or be none any more: one that leads to the
    page's top, or to an ID at or above its first heading, on either side of the change."""
    first = next(iter(new.reading.of_tags(LEVELS)), 0)
    while first and _is_in_frame(new, first):
        first = next((one for one in new.reading.of_tags(LEVELS) if one > first), 0)
    tops = {side.attr(number, "id") for side in (old, new) for number in range(first + 1)}
    for number in wanted:
        if number <= first and old.attr(number, "id") != new.attr(number, "id"):
            return True
        before, after = old.attr(number, "href") or "", new.attr(number, "href") or ""
        ends = [fragments.percent_decode(one.rpartition("#")[2]) for one in (before, after)
                if "#" in one]  # fmt: skip
        if before != after and any(
            end in tops or end.lower() in ("", ways_back.TOP) for end in ends
        ):
            return True
    return False


def _opens_by_id(old: Source, new: Source, wanted: Collection[int]) -> bool:
    """Whether a title opens a part by an ID that comes or goes (see `opening_titles`)."""
    if "aria-controls" not in old.text:
        return False
    controls = {one.attr("aria-controls") for one in old.having("aria-controls")}
    return any(side.attr(one, "id") in controls for side in (old, new) for one in wanted)


def _is_in_frame(source: Source, number: int) -> bool:
    """Whether an element is surely no part of the page's own content."""
    line = source.element(number).line
    return any(one.tag in frame.TAGS for one in line) and not frame.is_content(source, number)


def _is_of_no_list(source: Source, number: int) -> bool:
    """Whether an element is surely no part of a contents list, and no end of one."""
    links = ("a", "area")
    is_link = source.reading.tag(number) in links
    holds = any(source.reading.has_inside(number, tag) for tag in links)
    return not is_link and not holds and _is_in_frame(source, number)


def _is_told_by_class(old: Source, new: Source, number: int) -> bool:
    """Whether more follows from an attribute: of a link to nowhere, that it is a button; of a
    box, that its heading is a label; of lines that look alike, that they serve as headings."""
    if any(is_nowhere(one.attr(number, "href") or "-") for one in (old, new)):
        return True
    before, after = ((one.attr(number, "class") or "").lower().split() for one in (old, new))
    if not captions.BOXES.isdisjoint({*before} ^ {*after}):
        return True
    return before != after and styled_lines(old).keys() != styled_lines(new).keys()


def deltas(touches: Sequence[Touch]) -> list[tuple[Delta, int]]:
    """What each of these changes does to the rows of its page, and how many more of its
    sections have a mark afterwards."""
    plans = [_Rows(one) for one in touches]
    there = {model: _fetched(model, plans) for model in COLUMNS}
    return [plan.delta({model: there[model].get(plan.page.pk, []) for model in COLUMNS})
            for plan in plans]  # fmt: skip


# Rows that there are: each with its primary key, and by name.
There = list[tuple[int, Any]]


def _fetched(model: type[Model], plans: Sequence[_Rows]) -> dict[int, There]:
    """The rows there are of what is touched, by page."""
    numbers = {plan.page.pk: plan.numbers(model) for plan in plans}
    every = set().union(*numbers.values())
    found: dict[int, There] = {}
    if not every:
        return found
    # Of all these pages all these numbers, and then each page's own: naming each pair
    # takes the database longer than the few rows too many.
    rows = model._default_manager.filter(page__in=numbers).order_by()
    if model in (Region, Menu):
        rows = rows.filter(number__lte=max(every), last__gte=min(every))
    else:
        rows = rows.filter(number__in=every)
    for page, pk, *values in rows.values_list("page_id", "pk", *COLUMNS[model]):
        row = KINDS[model](*values)
        last = row.last if model in (Region, Menu) else row.number
        if any(row.number <= number <= last for number in numbers[page]):
            found.setdefault(page, []).append((pk, row))
    return found


@dataclass
class _Rows:
    """The rows of one page that a change touches."""

    one: Touch
    headings: dict[int, str] = field(default_factory=dict)  # whose mark is another now

    def __post_init__(self) -> None:
        self.page, self.old, self.new = self.one.page, self.one.old, self.one.new
        if any(self.old.attr(n, "id") != self.new.attr(n, "id") for n in self.one.numbers):
            self._compare_headings()

    def _compare_headings(self) -> None:
        """The headings, and what serves as such, that an ID may lead to: the last
        at or before its element, and the next, whose place it may mark."""
        served = lines(self.new).keys() | opening_titles(self.new)
        numbers = sorted({*self.new.reading.of_tags(LEVELS), *served})
        near: set[int] = set()
        for number in self.one.numbers:
            at = bisect_right(numbers, number)
            near |= {*numbers[max(0, at - 1) : at + 1]}
        ids = {mark.number: mark.value for mark in self.one.marks.marks}
        before = _marks_of(self.old, ids, near)
        for number in self.one.numbers:
            ids[number] = self.new.attr(number, "id") or ""
        after = _marks_of(self.new, {one: id_ for one, id_ in ids.items() if id_}, near)
        self.headings = {one: after[one] for one in near if before[one] != after[one]}

    def numbers(self, model: type[Model]) -> Collection[int]:
        """The elements whose rows, or around which regions, may be others now."""
        return self.headings if model is Section else self.one.numbers

    def delta(self, there: dict[type[Model], There]) -> tuple[Delta, int]:
        headings = [row for _, row in there[Section]]
        wanted: Rows = {
            Section: [row._replace(mark=kept(self.headings[row.number])) for row in headings],
            Mark: list(self._mark_rows()),
            Link: list(self._link_rows(there[Link])),
            Region: list(self._region_rows(there[Region])),
            Menu: list(self._menu_rows(there[Menu])),
        }
        gone: dict[type[Model], list[int]] = {}
        made: Rows = {}
        for model, rows in wanted.items():
            left = list(rows)
            gone[model] = []
            for pk, row in there[model]:
                if row in left:
                    left.remove(row)
                else:
                    gone[model].append(pk)
            made[model] = left
        dropped = {row.value for pk, row in there[Mark] if pk in set(gone[Mark])}
        more = sum(bool(self.headings[row.number]) - bool(row.mark) for row in headings)
        values = dropped | {MarkRow(*row).value for row in made[Mark]}
        return Delta(self.page, (), gone, made, values), more

    def _mark_rows(self) -> Iterable[Row]:
        shut = hidden_parts.states(self.new, self.one.numbers)
        for number in self.one.numbers:
            id_, tag = self.new.attr(number, "id"), self.new.reading.tag(number)
            if id_:
                empty = is_marker(self.new, number)
                called = kept(page_rows.called_by(self.new, number, tag))
                state = shut.get(number, "")
                yield MarkRow(number, "id", kept(id_), tag[:60], empty, state, called)

    def _link_rows(self, there: There) -> Iterable[Row]:
        """A link's words and region stay; where an element becomes a link, or is none any
        more, the page is read whole (see `touch`)."""
        site, ends = self.page.site, LinkEnds(self.page.address, self.page.base_href)
        base_target = next(
            (target for one in self.new.of_tags("base") if (target := one.attr("target"))), ""
        )
        style = page_rows.AddressStyle(
            urls.origin_of(site.address), site.loose_addresses, site.led_on
        )
        for _, row in there:
            href = self.new.attr(row.number, "href") or ""
            target = self.new.attr(row.number, "target") or base_target
            told = (row.number, href, row.text, row.region, target, False)
            yield kept_link(page_rows.link_row(style, ends, told))

    def _region_rows(self, there: There) -> Iterable[Row]:
        resolve = LinkEnds(self.page.address, self.page.base_href).resolve
        for _, row in there:
            digest = shared_parts.digest_of(self.new, row.number, row.last, resolve)
            if digest:
                yield row._replace(digest=digest)

    def _menu_rows(self, there: There) -> Iterable[Row]:
        """Only where its links lead, and what it says of the open page, can be another."""
        resolve = LinkEnds(self.page.address, self.page.base_href).resolve
        for _, row in there:
            menu = self._menu_at(row.number)
            if menu is not None:
                same = {name: getattr(row, name) for name in ("last", "region", "name")}
                yield menu_row(menu._replace(**same), resolve)

    def _menu_at(self, number: int) -> menus.Menu | None:
        place = menus.Room(number, self.new.last_inside(number), "")
        return menus.read(self.new, self.facts, number, place)

    @cached_property
    def facts(self) -> Facts:
        """Of the page after the change."""
        return page_facts.gather(self.new)


def _marks_of(source: Source, ids: Mapping[int, str], headings: Collection[int]) -> dict[int, str]:
    """The ID that leads to each of some headings. ids: by the element that has it."""
    own = {one: source.attr(one, "id") or "" for one in headings}
    bare = [one for one, id_ in own.items() if not id_]
    return {**own, **heading_marks.marks_of(source, bare, ids)}


def from_edits(old: Source, edits: Sequence[Edit]) -> list[int] | None:
    """The elements in whose start tags all of these edits stand; None where one stands
    elsewhere, or could change more than attributes."""
    found = []
    for edit in edits:
        if any(character in f"{edit.old}{edit.new}" for character in "<>"):
            return None
        place = old.text.rfind("<", 0, edit.start + 1)
        if old.text.startswith("</", place):
            return None
        number = old.element_at(place)
        tag = old.start_tag(number) if number is not None else None
        if number is None or tag is None or not tag.start < edit.start <= edit.end < tag.end:
            return None
        found.append(number)
    return found
