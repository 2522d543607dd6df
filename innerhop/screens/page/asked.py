"""What the page screen's script sends, read with care: whoever sends it may be
wrong about what the page is."""

from __future__ import annotations

from typing import Any

from innerhop.core.addresses import address_forms, typed_addresses
from innerhop.core.planners import markers, selection
from innerhop.library.acts import base, hop_acts
from innerhop.library.changes import changes
from innerhop.library.models import Page, Site
from innerhop.screens.access import Asked, page_of

Sent = dict[str, Any]

_UNREADABLE = "The browser sent something that can't be read. Load the page again."
_LONGEST_WORDS = 300
_SIDES = (markers.ON, markers.BEFORE, markers.AFTER, markers.INSIDE)


def require_revision(page: Page, asked: Sent) -> None:
    """What was chosen in the sheet belongs to the text that the sheet showed."""
    if asked.get("revision") != page.revision:
        raise changes.MovedOn(page, page.revisions.get(number=page.revision).change)


def whole(asked: Sent, name: str) -> int:
    """A whole number from 0 on."""
    value = asked.get(name)
    if not isinstance(value, int) or isinstance(value, bool) or not 0 <= value < 2**31:
        raise Asked(_UNREADABLE)
    return value


def id_of(asked: Sent, name: str = "id") -> str:
    """An ID as it was typed, less the space around it."""
    value = asked.get(name, "")
    if not isinstance(value, str):
        raise Asked(_UNREADABLE)
    return value.strip()


def side(asked: Sent) -> str:
    """Where a mark is to be put, seen from an element."""
    value = asked.get("side", markers.ON)
    if value not in _SIDES:
        raise Asked(_UNREADABLE)
    return str(value)


def wanted(asked: Sent) -> list[tuple[int, str]]:
    """Elements and the IDs they are to have."""
    rows = asked.get("marks")
    if not isinstance(rows, list) or not rows or not all(isinstance(row, dict) for row in rows):
        raise Asked("Choose at least one section to mark.")
    return [(whole(row, "number"), id_of(row)) for row in rows]


def numbers(asked: Sent, name: str) -> set[int] | None:
    """A list of whole numbers, or None where none was sent."""
    rows = asked.get(name)
    if rows is None:
        return None
    if not isinstance(rows, list):
        raise Asked(_UNREADABLE)
    return {whole({"one": row}, "one") for row in rows}


def point(asked: Sent, name: str) -> selection.Point:
    """An end of selected words."""
    row = asked.get(name)
    if not isinstance(row, dict):
        raise Asked("No words are selected. Select the words that readers should click.")
    return selection.Point(whole(row, "n"), whole(row, "child"), whole(row, "offset"))


def goal(page: Page, asked: Sent) -> base.Goal:
    """Where a hop from the page is to end, on this site or elsewhere."""
    row = asked.get("end_at")
    outside = row.get("outside") if isinstance(row, dict) else None
    if not outside:
        return end(page.site, asked)
    found = typed_addresses.read(str(outside), page.address, page.site.address)
    if not found.outside:
        raise Asked("That address is on this site. Choose the page it leads to.")
    return base.Outside(found.outside)


def manner(asked: Sent) -> hop_acts.Manner:
    """How a hop is to be written and to open."""
    form, new_tab = asked.get("form", ""), asked.get("new_tab")
    if form not in ("", *address_forms.FORMS) or not isinstance(new_tab, bool | None):
        raise Asked(_UNREADABLE)
    return hop_acts.Manner(form, new_tab)


def words(asked: Sent) -> str:
    """Words that readers are to click."""
    value = asked.get("words")
    if not isinstance(value, str) or len(value) > _LONGEST_WORDS:
        raise Asked("Give the words that readers should click, in a few words.")
    return value


def end(site: Site, asked: Sent) -> base.End:
    """Where a hop is to end, on this site."""
    row = asked.get("end_at")
    if not isinstance(row, dict):
        raise Asked("Choose where the hop should end.")
    page = page_of(site, whole(row, "page"))
    number = whole(row, "n") if row.get("mark") else None
    return base.End(page, id_of(row), number, id_of(row, "directive"))
