"""Acts on marks: giving IDs to any part of a page, renaming, moving and taking
them away, with every hop that lands there."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence

from innerhop.core.counting import counted
from innerhop.core.facts import captions, places
from innerhop.core.facts.first_seen import first_seen
from innerhop.core.plan import Plan, join_plans
from innerhop.core.planners import headings, markers, marking, renaming
from innerhop.core.planners.markers import CannotMark
from innerhop.library.acts import moved_acts
from innerhop.library.acts.base import (
    Act,
    Make,
    in_copies,
    in_each,
    joined,
    marked,
    marked_before,
    on_links,
    on_pages,
    title_of,
)
from innerhop.library.acts.ends import End, link_to
from innerhop.library.changes.effects import Effect
from innerhop.library.changes.prepare import PagePlan
from innerhop.library.index import shared_parts
from innerhop.library.index.shared_parts import Copy
from innerhop.library.index.texts import PageText, current
from innerhop.library.models import Link, Mark, Page
from innerhop.library.seek import hops_to_mark


def mark(page: Page, wanted: Sequence[tuple[int, str]]) -> Act:
    """Give elements, by number, these IDs, as one change. Raises CannotMark."""
    copies = shared_parts.copies_of(page, [number for number, _ in wanted])
    for number, id_ in wanted:
        _check_free_elsewhere(id_, copies[number][1:])
    if all(len(one) == 1 for one in copies.values()):  # the common case, planned at once
        plans = [PagePlan(page, page.revision, lambda text: _marks(text, wanted))]
    else:
        plans = [one for number, id_ in wanted for one in in_each(copies[number], marked(id_))]
    text = current(page)
    if len(wanted) == 1:
        number, id_ = wanted[0]
        return Act(f"Marked {_called(text, number)} as #{id_}{on_pages(plans)}", joined(plans))
    first = title_of(text, wanted[0][0])
    return Act(f"Marked {len(wanted)} sections, from “{first}” on", joined(plans))


def _marks(text: PageText, wanted: Sequence[tuple[int, str]]) -> Plan:
    return marking.plan_marks(text.source, text.marks, wanted, text.revision.encoding)


def _check_free_elsewhere(id_: str, others: Sequence[Copy]) -> None:
    """In a shared part, an ID must be free on every page that has the part. others: its copies
    on other pages."""
    if not others:
        return
    keys = [copy.page.pk for copy in others]
    having = Mark.objects.with_value(others[0].page.site_id, id_).filter(page__in=keys)
    taken = set(having.values_list("page", flat=True))
    for copy in others:
        if copy.page.pk in taken:
            raise CannotMark(
                f"“{copy.page.title}” shares this part and has the ID “{id_}” already, so "
                "readers there would arrive at the first of the two."
            )


def marker(page: Page, number: int, side: str, id_: str) -> Act:
    """Put an empty marker beside an element. Raises CannotMark."""
    copies = shared_parts.copies(page, number)
    marking.check_id(id_, hops_to_mark.taken_on_all([Copy(copy.page, -1) for copy in copies]))
    plans = in_copies(page, number, _marker(side, id_))
    text = current(page)
    where = {markers.BEFORE: "before", markers.AFTER: "after", markers.INSIDE: "at the start of"}
    message = f"Put the marker #{id_} {where[side]} {_called(text, number)}{on_pages(plans)}"
    return Act(message, plans, notes=_warnings(text, number, side))


def _marker(side: str, id_: str) -> Make:
    return lambda text, number: markers.plan_marker(
        text.source, number, side, id_, text.revision.encoding
    )


def _called(text: PageText, number: int) -> str:
    """An element in a line that speaks of it."""
    spot = places.place(text.source, number)
    return f"“{spot.words}”" if spot.words else f"a {spot.kind}"


def _warnings(text: PageText, number: int, side: str) -> list[str]:
    heading = markers.heading_above(text.source, number, side)
    if heading is None:
        return []
    title = title_of(text, heading)
    return [
        f"This is right below the heading “{title}”, so readers would not see the heading: it is "
        "cut off above the view. Put the marker before the heading."
    ]


def move(page: Page, number: int, to: int, side: str) -> Act:
    """Move a mark to another element, or as an empty marker beside one. Hops to
    it arrive there from then on. Raises CannotMark."""
    text = current(page)
    found = marking.mark_of(text.facts, number)
    part, target = shared_parts.around(page, number), shared_parts.around(page, to)
    if (part and part.number) != (target and target.number):
        raise CannotMark(
            "A mark can't be moved between this page's own content and a part that pages share."
        )

    def make(copy_text: PageText, at: int) -> Plan:
        encoding = copy_text.revision.encoding
        return marking.plan_move(
            copy_text.source, copy_text.facts, at, at + to - number, side=side, encoding=encoding
        )

    plans = in_copies(page, number, make)
    message = f"Moved #{found.value} to {_called(text, to)}{on_pages(plans)}"
    return Act(message, plans, notes=_warnings(text, to, side))


def move_up(page: Page, number: int) -> Act:
    """Move a mark to the heading that it stands right below, so that readers see that.
    Raises CannotMark."""
    to = markers.heading_above(current(page).source, number, markers.BEFORE)
    if to is None:
        raise CannotMark("No heading stands right above it. Drag the mark to another place.")
    return _move_onto(page, number, to)


def move_down(page: Page, number: int) -> Act:
    """Move a mark to what readers see first who are sent to it, past the empty space above
    that. Raises CannotMark."""
    to = first_seen(current(page).source, number)
    if to == number:
        raise CannotMark(
            "Words begin right at this mark, so the space above them is of its own style. Take "
            "it out there, in the site’s style sheet."
        )
    return _move_onto(page, number, to)


def _move_onto(page: Page, number: int, to: int) -> Act:
    """Move a mark onto an element, or before one that has an ID itself."""
    has_id = bool(current(page).source.attr(to, "id"))
    return move(page, number, to, markers.BEFORE if has_id else markers.ON)


def rename(
    page: Page, number: int, new: str, *, keep: bool = False, lead: bool = False,
    follow: Collection[int] | None = None,
) -> Act:  # fmt: skip
    """Rename a mark, and with it every hop to it on every page.

    keep: leave the old ID as an empty marker at the same place. lead: have readers led on who
    come by the old ID. follow: which
    hops, by the primary keys of their links, are to go with it; None for all that
    land there today, whatever other part has the same ID. Raises CannotMark.
    """
    found = _mark_row(page, number)
    copies = shared_parts.copies(page, number)
    if new == found.value:
        raise CannotMark("That is the ID it has. Type another one.")
    marking.check_id(new, hops_to_mark.taken_on_all(copies))
    known = hops_to_mark.arriving(copies)
    links = [link for copy in copies for link in known.at(copy)]
    if follow is not None:
        links = _chosen(known, follow)
    stuck = hops_to_mark.stuck(links)
    if stuck and not keep:
        raise CannotMark(
            f"{counted(len(stuck), 'hop')} to it {_stand(stuck)} in a part that can’t be edited. "
            "Leave the old ID as a marker, so that they still arrive."
        )
    elif len(copies) == 1:  # else each page has the mark, and its own hops to it
        links = hops_to_mark.with_copies(links)
    changed = hops_to_mark.outcome(known, copies, new, links)
    if changed.captured:
        raise CannotMark(
            f"{counted(len(changed.captured), 'hop')} written #{new} {_lead(changed.captured)} "
            "elsewhere today and would come here instead. Choose another ID."
        )
    can_follow = [link for link in links if link not in stuck]
    plans = [
        *(
            PagePlan(c.page, c.page.revision, _rename(c.number, found.value, new, keep))
            for c in copies
        ),
        *on_links(can_follow, lambda _: new, renaming.plan_follow),
    ]
    led = moved_acts.leading(copies, found.value, lambda at: End(at, new), is_led=lead)
    notes = _mentions(page, found.value)
    if changed.mended:
        notes.append(f"{counted(len(changed.mended), 'broken hop')} will arrive here: #{new}.")
    kept = f"; #{found.value} stays as a marker" if keep else ""
    kept += f"; readers who come by #{found.value} are led on" if lead else ""
    hops = f" with {counted(len(can_follow), 'hop')}" if can_follow else ""
    message = f"Renamed #{found.value} to #{new}{hops}{kept}{on_pages(copies)}"
    files = moved_acts.files_of(led) if lead else ()
    return Act(message, joined([*plans, *led]), notes=notes, effects=files)


def name_beside(page: Page, number: int, new: str) -> Act:
    """Put an empty marker with a readable ID before a part whose own ID a system made, and may
    make anew, and lead all hops that land there to it. Raises CannotMark."""
    found = _mark_row(page, number)
    copies = shared_parts.copies(page, number)
    marking.check_id(new, hops_to_mark.taken_on_all([Copy(copy.page, -1) for copy in copies]))
    known = hops_to_mark.arriving(copies)
    links = [link for copy in copies for link in known.at(copy)]
    if len(copies) == 1:
        links = hops_to_mark.with_copies(links)
    stuck = hops_to_mark.stuck(links)
    can_follow = [link for link in links if link not in stuck]
    plans = [
        *in_copies(page, number, marked_before(new)),
        *on_links(can_follow, lambda _: new, renaming.plan_follow),
    ]
    hops = f", with {counted(len(can_follow), 'hop')}" if can_follow else ""
    where = f"before {_called(current(page), number)}{hops}; #{found.value} stays"
    message = f"Put the marker #{new} {where}{on_pages(copies)}"
    left = f"{counted(len(stuck), 'hop')} {_stand(stuck)} in parts that can’t be edited."
    return Act(message, joined(plans), notes=[left] if stuck else [])


def _mark_row(page: Page, number: int) -> Mark:
    rows = Mark.objects.filter(page=page, number=number).order_by("attribute")
    found: Mark | None = rows.first()
    if found is None:
        raise CannotMark("This has no ID any more. Load the page again to see it as it is.")
    return found


def _chosen(known: hops_to_mark.Arriving, follow: Collection[int]) -> list[Link]:
    links = [link for some in known.links.values() for link in some]
    return [link for link in links if link.pk in follow]


def _rename(number: int, old: str, new: str, keep: bool) -> Callable[[PageText], Plan]:
    def make(text: PageText) -> Plan:
        encoding = text.revision.encoding
        plan = renaming.plan_rename(text.source, text.marks, number, new, encoding)
        if keep:
            plan = join_plans([plan, markers.left_marker(text.source, number, old, encoding)])
        return plan

    return make


def _mentions(page: Page, id_: str) -> list[str]:
    """Where the site's own styles and scripts name the ID: they don't follow."""
    where = [f"This page’s own {tag}" for tag in renaming.mentioned_on(current(page).source, id_)]
    kinds = ("text/css", "text/javascript", "application/javascript")
    for asset in page.site.assets.filter(media_type__in=kinds):
        if renaming.mentions(bytes(asset.content).decode("utf-8", "replace"), id_):
            where.append(asset.path)
    return [f"{', '.join(where)} names #{id_} too, and does not follow."] if where else []


BREAK, KEEP, RETARGET = "break", "keep", "retarget"


def take_away(
    page: Page, number: int, then: str, end: End | None = None, *, lead: bool = False,
    line: bool = False,
) -> Act:  # fmt: skip
    """Take a mark away. then: what becomes of the hops that land there: they
    BREAK, the old ID is left as a marker (KEEP), or they lead to another end
    (RETARGET). Then too, lead: have readers led there who come by the old ID; line: put a line
    with that ID here that says where the part is now. Raises CannotMark."""
    found = _mark_row(page, number)
    copies = shared_parts.copies(page, number)
    known = hops_to_mark.arriving(copies)
    links = [link for copy in copies for link in known.at(copy)]
    files: list[Effect] = []
    plans = in_copies(page, number, _take_away(found.value if then == KEEP else ""))
    message = f"Took away #{found.value}{on_pages(plans)}"
    if then == RETARGET and end is not None:
        links = hops_to_mark.with_copies(links) if len(copies) == 1 else links
        plans += on_links(links, _written(end), renaming.plan_addresses)
        if links:
            hops = counted(len(links), "hop")
            message += f"; {hops} now {_lead(links)} to {end.page.path}#{end.id}"
        led = moved_acts.leading(copies, found.value, lambda _: end, is_led=lead)
        plans += led
        if line:
            plans += in_copies(page, number, moved_acts.line(found.value, end, _name_of(end)))
        if lead or line:
            message += f"; readers who come by #{found.value} are led there too"
        files = moved_acts.files_of(led) if lead else []
    elif then == KEEP:
        message = f"Left #{found.value} as a marker where it was{on_pages(plans)}"
    elif links and _is_there_twice(copies, found.value):
        message += (
            f"; {counted(len(links), 'hop')} now {_lead(links)} to the other part with that ID"
        )
    elif links:
        go = "goes" if len(links) == 1 else "go"
        message += f", and {counted(len(links), 'hop')} to it {go} nowhere"
    notes = _mentions(page, found.value)
    lost = 0 if then != BREAK else sum(1 for one in copies for _ in
                                       moved_acts.led_to(one.page, found.value))  # fmt: skip
    if lost:
        notes.append(f"{counted(lost, 'old address')} led readers here, and will lead nowhere.")
    return Act(message, joined(plans), notes=notes, effects=files)


def _name_of(end: End) -> str:
    """What a place is called in a line that leads there."""
    section = end.page.sections.filter(mark=end.id).first()
    mark = Mark.objects.with_value(end.page.site_id, end.id).filter(page=end.page).first()
    return (section.title if section else "") or (mark.words if mark else "") or end.page.title


def _take_away(keep: str) -> Make:
    def make(text: PageText, number: int) -> Plan:
        plan = marking.plan_take_away(text.source, text.marks, number)
        if keep:
            left = markers.left_marker(text.source, number, keep, text.revision.encoding)
            plan = join_plans([plan, left])
        return plan

    return make


def _written(end: End) -> Callable[[Link], str]:
    """How a link to that end is written where it stands."""
    return lambda link: link_to(
        link.page, end, shared_parts.around(link.page, link.number) is not None
    )


def _is_there_twice(copies: Sequence[Copy], value: str) -> bool:
    """Whether hops to the ID arrive at another part once the mark is gone."""
    page = copies[0].page
    rows = Mark.objects.with_value(page.site_id, value).filter(page=page)
    return rows.exclude(number=copies[0].number).exists()


def heading(page: Page, number: int, level: int, id_: str, keeps_look: bool = False) -> Act:
    """Make a heading of a paragraph or a bold line, and mark it. keeps_look: whether it is
    to look as it does now. Raises CannotMark."""
    if id_:
        _check_free_elsewhere(id_, shared_parts.copies(page, number)[1:])

    def make(text: PageText, at: int) -> Plan:
        return headings.plan_heading(
            text.source,
            text.facts,
            at,
            level,
            id_=id_,
            encoding=text.revision.encoding,
            keeps_look=keeps_look,
        )

    plans = in_copies(page, number, make)
    spot = places.place(current(page).source, number)
    marked = f" and marked it #{id_}" if id_ else ""
    return Act(f"Made “{spot.words}” a heading of level {level}{marked}{on_pages(plans)}", plans)


def level(page: Page, number: int, to: int) -> Act:
    """Change a heading's level. Raises CannotMark."""
    plans = in_copies(
        page, number, lambda text, at: headings.plan_level(text.source, text.facts, at, to)
    )
    title = title_of(current(page), number)
    return Act(f"Made “{title}” a heading of level {to}{on_pages(plans)}", plans)


def close_gaps(page: Page) -> Act:
    """Give the headings of a page the levels with which none is skipped. Raises CannotMark."""

    def make(text: PageText) -> Plan:
        return headings.plan_closed_up(text.source, _gaps(text))

    text = current(page)
    count = len(_gaps(text))
    if not count:
        raise CannotMark("No level is skipped on this page.")
    message = f"Closed the gaps between headings of “{page.title}”: {counted(count, 'level')}"
    return Act(message, [PagePlan(page, page.revision, make)])


def _gaps(text: PageText) -> dict[int, int]:
    return headings.closed_up(captions.levelled(text.source, text.facts.headings))


def from_class(page: Page, number: int, word: str) -> Act:
    """Move an ID that was typed into the class field to where it belongs. It stays
    in the class as well where a style sheet looks for it. Raises CannotMark."""
    _check_free_elsewhere(word, shared_parts.copies(page, number)[1:])
    styles = page.site.assets.filter(media_type="text/css")
    sheets = [bytes(one.content).decode("utf-8", "replace") for one in styles]
    keep = any(renaming.names_class(sheet, word) for sheet in sheets)

    def make(text: PageText, at: int) -> Plan:
        encoding = text.revision.encoding
        return marking.plan_from_class(
            text.source, text.facts, at, word, keep=keep, encoding=encoding
        )

    plans = in_copies(page, number, make)
    message = f"Moved “{word}” from the class to the ID{on_pages(plans)}"
    notes = ["A style sheet looks for it in the class, so it stays there too."] if keep else []
    return Act(message, plans, notes=notes)


def _stand(links: Sequence[object]) -> str:
    return "stands" if len(links) == 1 else "stand"


def _lead(links: Sequence[object]) -> str:
    return "leads" if len(links) == 1 else "lead"
