"""Contents lists: made anew, brought up to date, taken over and removed.

HTML Standard, "the nav element"
(https://html.spec.whatwg.org/multipage/sections.html#the-nav-element); WCAG 2.2, 2.4.1
"Bypass Blocks", technique G64 "Providing a Table of Contents".
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from innerhop.core.contents import kinds
from innerhop.core.contents.entries import Branch, nested
from innerhop.core.contents.kinds import KINDS, Style, WantedEntry
from innerhop.core.contents.lists import ContentsList, ListEntry
from innerhop.core.contents.settings import ATTRIBUTES, LABEL, OWN, Settings
from innerhop.core.formats import html, pieces
from innerhop.core.formats.pieces import Piece
from innerhop.core.lists import rebuilt
from innerhop.core.lists.changes import EntryChange, ListManner
from innerhop.core.plan import Plan, join_plans
from innerhop.core.planners import markers
from innerhop.core.refusals import Refusal
from innerhop.core.source.content_models import BLOCKS, LISTS
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source


class CannotList(Refusal):
    """No contents list can be made so; says why and what to do."""


def branches_of(wanted: Sequence[WantedEntry], kind: str) -> tuple[Branch[WantedEntry], ...]:
    """The entries as a tree: one level where the kind has no more."""
    flat = KINDS[kind].is_flat
    return nested([(0 if flat else one.level, one) for one in wanted])


def usual_place(source: Source, first: int) -> int:
    """The part before which a list goes unless someone points elsewhere: where the first
    section begins, behind the introduction. first: the number of its heading."""
    element = source.element(first)
    while (above := element.parent) is not None and above.tag not in _PAGES:
        if above.shown[:1] != [element] or above.tag in LISTS:
            break
        element = above
    return element.number


_PAGES = ("body", "main", "article", "html")


def plan_new(
    source: Source, number: int, side: str, wanted: Sequence[WantedEntry], *, style: Style,
    encoding: FileEncoding,
) -> Plan:  # fmt: skip
    """Put a new list before or after a part of the page. Raises CannotList, and
    markers.CannotMark where nothing can stand."""
    if not wanted:
        raise CannotList("Choose at least one entry.")
    branches = branches_of(wanted, style.settings.kind)
    return plan_block(
        source, number, side, lambda line: kinds.made(branches, style, line), encoding
    )


def plan_block(
    source: Source, number: int, side: str, made: Callable[[str], Piece], encoding: FileEncoding
) -> Plan:
    """Put a new block before or after a part of the page. made: what makes it, given the
    line end and white space that it begins with. Raises the same."""
    element = source.element(number)
    if element.tag not in BLOCKS:
        raise CannotList(
            "A list can stand before or after a whole block only. Choose a larger part."
        )
    if any(one.tag in ("p", "a", "button", "summary") for one in element.ancestors):
        raise CannotList("A list can’t stand inside a paragraph or a link. Choose a larger part.")
    place = markers.place_of(source, number, side)
    line = pieces.indent(source, number)
    is_before = side == markers.BEFORE
    return html.put(place, made(line), encoding, space=line, is_before=is_before)


def plan_in_place(
    source: Source, listing: ContentsList, wanted: Sequence[WantedEntry], style: Style,
    encoding: FileEncoding,
) -> Plan:  # fmt: skip
    """Put a list of another kind in the place of one that is there. Raises the same."""
    if not wanted:
        raise CannotList("Choose at least one entry.")
    line = pieces.indent(source, listing.number)
    piece = kinds.made(branches_of(wanted, style.settings.kind), style, line)
    return html.put_instead(source, listing.number, piece, encoding)


def plan_removal(source: Source, listing: ContentsList) -> Plan:
    """Take a list out, with all that is around its entries alone."""
    return plan_taking_out(source, listing.number)


def plan_taking_out(source: Source, number: int) -> Plan:
    """Take an element out whole, with the line that it begins. Raises pieces.NotWhole."""
    return html.take_away(source, number, pieces.indent(source, number))


def plan_settings(
    source: Source, listing: ContentsList, own: Settings, id_: str, encoding: FileEncoding
) -> Plan:
    """Write into a list what it is to know of itself, and nothing else. id_: an ID for it,
    "" to leave what it has."""
    values: dict[str, str | None] = dict.fromkeys(ATTRIBUTES)
    values |= own.attributes()
    if id_ and not source.attr(listing.number, "id"):
        values["id"] = id_
    has = source.attributes(listing.number)
    changed = {name: value for name, value in values.items() if has.get(name) != value}
    if not changed:
        return Plan()
    return html.give(source, {listing.number: changed}, encoding)


def plan_entries(
    source: Source,
    listing: ContentsList,
    wanted: Sequence[WantedEntry],
    encoding: FileEncoding,
) -> Plan:
    """Give a list these entries. Those that are there stay as they are written; a new one is
    written as its neighbours are. Raises CannotList, and pieces.NotWhole."""
    if not wanted:
        raise CannotList("A list without entries is of no use. Remove it instead.")
    there = {entry.number: entry for entry in listing.entries}
    changes = [(w.level, _change(there.get(-1 if w.link is None else w.link), w)) for w in wanted]
    if source.tags[listing.body] in LISTS:
        branches = nested(changes)
    else:
        branches = tuple(Branch(change) for _, change in changes)
    manner = ListManner(listing.entries, _common, _from_nothing, between=kinds.BETWEEN)
    return rebuilt.plan(
        source,
        listing.body,
        listing.entries,
        branches,
        manner=manner,
        encoding=encoding,
    )


def _change(there: ListEntry | None, wanted: WantedEntry) -> EntryChange:
    if there is None:
        link = kinds.link(wanted)
        return EntryChange(None, wanted.label, link=link.attributes)
    values: dict[str, str | None] = {}
    if wanted.href != there.href:
        values["href"] = wanted.href
    if wanted.own != there.own:
        values[LABEL] = OWN if wanted.own else None
    label = wanted.label if wanted.label != there.label else None
    return EntryChange(there, label, {there.number: values} if values else {})


def _common(values: Mapping[str, str]) -> dict[str, str]:
    """What neighbours have in common, without the note that an entry's words are its own."""
    return {name: value for name, value in pieces.plain(values).items() if name != LABEL}


def _from_nothing(change: EntryChange) -> Piece:
    return Piece("li", {}, (Piece("a", change.link, (change.label or "",)),))


def plan_kept(
    source: Source, listing: ContentsList, wanted: Sequence[WantedEntry], *, own: Settings,
    id_: str, encoding: FileEncoding,
) -> Plan:  # fmt: skip
    """Bring a list up to date, or take it over: its entries, and its settings. Raises the
    same as `plan_entries`."""
    settings = plan_settings(source, listing, own, id_, encoding)
    entries = plan_entries(source, listing, wanted, encoding)
    return join_plans([settings, entries])
