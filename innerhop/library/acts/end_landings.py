"""What readers of a hop see first, said before it is saved where that isn't right; and the
room that its page lacks, left in the same change."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace

from innerhop.core import landings, widths
from innerhop.core.landings import Landing
from innerhop.library.acts import page_acts
from innerhop.library.acts.base import Act, joined
from innerhop.library.acts.ends import End, Goal
from innerhop.library.models import Page
from innerhop.library.seek import landings as seek

_SAID = (landings.SHUT, landings.COVERED, landings.CUT, landings.GAP)


def said(act: Act, end: Goal, with_room: bool = False) -> Act:
    """An act that leads readers to an end, with what they will see first there. with_room:
    whether room for what covers the end is to be left on its page. Raises what
    `page_acts.room` raises."""
    if not isinstance(end, End) or not end.id or end.directive:
        return act
    headers = _headers_of(end.page)
    if with_room and headers:
        return _with_room(act, end.page, "there")
    known = _landings(end)
    notes = _bad(known) if known else _covered(headers)
    return replace(act, notes=[*act.notes, *notes], lacks_room=bool(headers))


def of_list(act: Act, page: Page, with_room: bool = False) -> Act:
    """The same for an act that puts many hops to one page's parts into it. page: that one."""
    headers = _headers_of(page)
    if with_room and headers:
        return _with_room(act, page, "")
    return replace(act, notes=[*act.notes, *_covered(headers, "what these hops lead to")],
                   lacks_room=bool(headers))  # fmt: skip


def _with_room(act: Act, page: Page, there: str) -> Act:
    room = page_acts.room(page)
    message = f"{act.message}, and left room for what stays at the top of the view {there}".rstrip()
    return replace(act, message=message, plans=joined([*act.plans, *room.plans]),
                   notes=[*act.notes, *room.notes], lacks_room=True)  # fmt: skip


def _landings(end: End) -> dict[int, Landing]:
    """By width, as far as the page was measured as it is now; none of an end that is to be."""
    laid = sorted(seek.layouts([end.page.pk]).items()) if end.number is None else ()
    found = {width: seek.landing_at(one, end.id) for (_, width), one in laid}
    return {width: one for width, one in found.items() if one is not None}


def _bad(known: Mapping[int, Landing]) -> Iterator[str]:
    found: dict[str, list[str]] = {}
    for width, one in known.items():
        if one.verdict in _SAID:
            found.setdefault(landings.says(one), []).append(_named(width))
    for says, names in found.items():
        yield f"What readers see first there at {_listed(names)}: {says}."


def _covered(headers: Mapping[int, int], what: str = "it") -> Iterator[str]:
    """Of an end whose place isn't known, on a page whose header leaves too little room."""
    if headers:
        names = _listed([_named(width) for width in sorted(headers)])
        tall = max(headers.values())
        yield f"What stays at the top of the view there, up to {tall} px, covers {what} at {names}."


def _headers_of(page: Page) -> dict[int, int]:
    """How tall what covers the view's top is, by width, where too little room is left."""
    found = page_acts.headers_of([page]).get(page.pk, {})
    return {width: height for width, height in found.items() if height}


def _named(width: int) -> str:
    return f"{widths.of(width).name} {width}"


def _listed(names: list[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
