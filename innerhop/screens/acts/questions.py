"""What a page's screen asks before an act: what an element is, where a reader would
land, what a typed ID becomes, whether words can be linked. One row each."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from django import forms as django_forms

from innerhop.core import landings, widths
from innerhop.core.addresses import text_directives
from innerhop.core.addresses.text_directives import TextDirective
from innerhop.core.facts import places
from innerhop.core.names import ids
from innerhop.core.planners import (
    headings,
    hopping,
    links_beside,
    marking,
    selection,
    tiles,
    wrapping,
)
from innerhop.core.refusals import Refusal
from innerhop.library.acts import alike, forms
from innerhop.library.acts.forms import ActForm
from innerhop.library.changes import locked_parts
from innerhop.library.index import shared_parts
from innerhop.library.index.shared_parts import Copy
from innerhop.library.index.texts import PageText, current, naming_of
from innerhop.library.models import LockedPart, Mark, Page
from innerhop.library.seek import hops_to_mark
from innerhop.library.seek import landings as seek_landings
from innerhop.library.seek import menus as seek_menus
from innerhop.library.seek import offers as seek_offers
from innerhop.screens.acts import offers
from innerhop.screens.page_state import contents

Answer = dict[str, Any]
_LONGEST_GROUND = 60
_PAGES_OFFERED = 40
_OFFERS_SHOWN = 30


class NoWords(Refusal):
    """No words lead to a part and to nothing else."""


class LooksField(django_forms.Field):
    """How the sheet shows elements, by number: only what can be read of it counts."""

    def to_python(self, value: Any) -> dict[str, places.Look]:
        rows = value.items() if isinstance(value, dict) else ()
        found = {str(number): _look(row) for number, row in rows}
        return {number: look for number, look in found.items() if look is not None}


def _look(row: Any) -> places.Look | None:
    """How the sheet says it shows an element; None when that can't be read."""
    if not isinstance(row, dict) or not isinstance(row.get("top"), int | float):
        return None
    return places.Look(
        top=_pixels(row["top"]),
        ground=str(row.get("ground", ""))[:_LONGEST_GROUND],
        wide=bool(row.get("wide")),
        beside=bool(row.get("beside")),
        in_grid=bool(row.get("inGrid")),
        heading=_whole(row.get("heading")),
        heading_top=_pixels(row.get("headingTop")),
        heading_bottom=_pixels(row.get("headingBottom")),
        room=max(0.0, _pixels(row.get("room"))),
        cover=max(0.0, _pixels(row.get("cover"))),
        covered_by=_whole(row.get("coveredBy")),
    )


def _whole(value: Any) -> int | None:
    return value if isinstance(value, int) and not isinstance(value, bool) else None


def _pixels(value: Any) -> float:
    """A place on a page; no page is longer."""
    number = float(value) if isinstance(value, int | float) and abs(value) < 1e9 else 0.0
    return number


class LookAtForm(forms.ElementForm):
    """An element, and how the sheet shows it and what is around it."""

    looks = LooksField(required=False)


class CheckIdForm(forms.ElementForm):
    """An ID as it is typed, nothing for a suggestion. text: words to make one of instead
    of the element's own. other: whether it is for something beside the element."""

    typed = forms.TypedField(strip=False)
    text = forms.TypedField()
    other = forms.YesField()

    def clean_typed(self) -> str | None:
        typed: str = self.cleaned_data["typed"]
        return None if self.data.get("typed") is None else typed


class CheckManyForm(ActForm):
    """IDs for many elements at once, None where one is to be suggested."""

    marks = forms.SuggestedField()


class WordForm(ActForm):
    """A word that may stand in a class."""

    word = forms.TypedField()


class WordsForm(ActForm):
    """Selected words."""

    start = forms.PointField()
    stop = forms.PointField()

    def parameters(self) -> dict[str, Any]:
        read = self.cleaned_data
        return {"chosen": selection.Words(read["start"], read["stop"])}


def site_menus(page: Page) -> Answer:
    """The menus of the site, by name; and its pages, which a new one could lead to."""
    found = seek_menus.of_site(page.site)
    pages = page.site.pages.order_by("path").values("pk", "title", "path")
    return {
        "menus": [{"key": one.key, "name": one.name, "pages": one.pages} for one in found],
        "pages": list(pages[:_PAGES_OFFERED]),
    }


def offers_of(page: Page) -> Answer:
    """Words of the page that name a section and lead nowhere, each with where it would."""
    found = seek_offers.Seeking(page.site).offers(current(page))
    shown = found[:_OFFERS_SHOWN]
    return {"offers": offers.told(shown), "more": len(found) - len(shown)}


class OfMarkForm(ActForm):
    """A mark, by its ID."""

    id = forms.TypedField()


def first_screens(page: Page, id_: str) -> Answer:
    """What readers who are sent to a mark see first, at each width that was measured."""
    laid = seek_landings.layouts([page.pk])
    rows = []
    typed = {width for _, width in laid} - {one.width for one in widths.ALL}
    for one in (*widths.ALL, *map(widths.of, sorted(typed))):
        at = laid.get((page.pk, one.width))
        found = seek_landings.landing_at(at, id_) if at else None
        told = {**found._asdict(), "says": landings.says(found)} if found else None
        rows.append({**one._asdict(), "landing": told})
    return {"screens": rows}


class PartForm(forms.ElementForm):
    """A part of the page. beside: whether a link is to stand beside it."""

    beside = forms.YesField()


def look_at(page: Page, number: int, looks: dict[str, places.Look] | None) -> Answer:
    """An element, what stands around it, and what can be done with it."""
    looks = looks or {}
    text = current(page)
    line = places.line(text.source, number)
    locked = locked_parts.around(locked_parts.of([page])[page.pk], number)
    part = shared_parts.around(page, number)
    is_heading = any(one.number == number for one in text.facts.headings)
    return {
        "number": number,
        "line": [_place(text, one, looks.get(str(one.number))) for one in line],
        "isHeading": is_heading,
        "href": text.source.attr(number, "href") or "",
        "levels": headings.fitting_levels(text.facts.headings, number),
        "headingWords": "" if is_heading else headings.possible_title(text.source, number),
        "locked": locked.number if locked else None,
        "before": _ids_in(text, locked),
        "shared": len(shared_parts.copies(page, number)) if part else 0,
        "words": str(_to_words(text, number) or "") if locked else "",
    }


def _ids_in(text: PageText, locked: LockedPart | None) -> list[Answer]:
    """The IDs that a locked part has already, in order."""
    if locked is None:
        return []
    inside = [one for one in text.facts.marks if locked.number <= one.number <= locked.last]
    return [{"number": one.number, "value": one.value} for one in inside]


def _place(text: PageText, place: places.Place, look: places.Look | None) -> Answer:
    message, good, covered = "", True, False
    if look and all(0 <= (n or 0) < len(text.source) for n in (look.heading, look.covered_by)):
        message, good = places.landing(text.source, place, look)
        covered = bool(places.covered(text.source, look))
    first = text.marks.targets().ids.get(place.id, place.number) if place.id else place.number
    if first < place.number:
        message, good, covered = _second(text, place.id, first), False, False
    return {
        "number": place.number,
        "tag": place.tag,
        "kind": places.looks_like(place.kind, look) if look else place.kind,
        "words": place.words,
        "titled": place.titled,
        "holds": place.holds,
        "id": place.id,
        "empty": place.empty,
        "generated": bool(place.id) and ids.looks_generated(place.id),
        "message": message,
        "good": good,
        "covered": covered,
        "inGrid": bool(look and look.in_grid),
    }


def _second(text: PageText, id_: str, first: int) -> str:
    """Why no hop lands at the second part with an ID (HTML Standard, "find a potential
    indicated element": the first in tree order)."""
    there = places.place(text.source, first)
    named = f"the {there.kind} “{there.words}”" if there.words else f"a {there.kind} above"
    return f"No hop lands here: {named} has the ID {id_} too, and readers arrive there."


def to_words(page: Page, number: int) -> Answer:
    """The shortest link to an element's words, for where no ID can be."""
    text = current(page)
    text.source.element(number)
    directive = _to_words(text, number)
    if directive is None:
        raise NoWords(
            "No words of this part are on the page once only, even with those around them. "
            "Choose a part with words of its own."
        )
    return {"directive": str(directive)}


def _to_words(text: PageText, number: int) -> TextDirective | None:
    page_words = text_directives.words_of(text.source)
    return text_directives.shortest(text.source, page_words, number)


def check_id(page: Page, number: int, typed: str | None, text: str, other: bool) -> Answer:
    """An ID read as it is typed, or suggested where nothing is typed yet."""
    copies = shared_parts.copies(page, number)
    own = [Copy(copy.page, -1) for copy in copies] if other else copies
    taken = hops_to_mark.taken_on_all(own)
    if typed is None:
        words = text or _words_of(page, number)
        id_ = ids.suggest(words, naming_of(page), taken)
        return {"id": id_, "message": "", "fix": "", "valid": True}
    return _reading(page, typed, taken)


def _words_of(page: Page, number: int) -> str:
    """What a name can be made of: a section's title, else the element's own words."""
    section = page.sections.filter(number=number).first()
    if section is not None:
        return section.title
    text = current(page)
    heading = next((one.text for one in text.facts.headings if one.number == number), "")
    if heading:
        return heading
    spot = places.place(text.source, number)
    words = spot.words if spot.titled else ids.first_words(spot.words, naming_of(page).language)
    return words or spot.kind


def _reading(page: Page, typed: str, taken: set[str]) -> Answer:
    reading = ids.read(typed, naming_of(page), taken)
    message = reading.message
    if reading.id in taken:
        message = f"{_owner(page, reading.id)} has this ID, and readers always arrive at the first."
    return {"id": reading.id, "valid": reading.valid, "message": message, "fix": reading.fix}


def _owner(page: Page, id_: str) -> str:
    """What has an ID already, as the editor knows it."""
    section = page.sections.filter(mark=id_).first()
    if section is not None:
        return f"The section “{section.title}”"
    mark = Mark.objects.with_value(page.site_id, id_).filter(page=page).first()
    if mark is None:
        return "A page that shares this part"
    part = shared_parts.around(page, mark.number)
    where = f"the shared {part.kind}" if part else "this page"
    named = f"The {mark.what} “{mark.words}”" if mark.words else f"A {mark.what}"
    return f"{named} in {where}"


def check_many(page: Page, marks: list[tuple[int, str | None]]) -> Answer:
    """Many IDs, each beside all the others."""
    taken = hops_to_mark.taken(page)
    fixed = {id_.strip() for _, id_ in marks if id_ is not None}
    numbers = [number for number, _ in marks]
    titles = dict(page.sections.filter(number__in=numbers).values_list("number", "title"))
    found = []
    given: set[str] = set()
    for number, typed in marks:
        if typed is None:
            id_ = ids.suggest(titles.get(number, ""), naming_of(page), taken | fixed)
            reading: Answer = {"id": id_, "valid": True, "message": "", "fix": ""}
        else:
            reading = _reading(page, typed, taken)
        if reading["id"] in given:
            reading["message"] = "Another section in this list gets this ID, above it."
        found.append(reading)
        given.add(reading["id"])
        taken.add(reading["id"])
    return {"found": found}


def in_class(page: Page, word: str) -> Answer:
    """The elements that have, as a class, the ID that a broken hop looks for."""
    source = current(page).source
    numbers = marking.with_class(source, word)[:5]
    spots = [places.place(source, number) for number in numbers]
    return {
        "found": [
            {"number": one.number, "kind": one.kind, "words": one.words, "id": one.id}
            for one in spots
        ]
    }


def check_words(page: Page, chosen: selection.Words) -> Answer:
    """Whether the selected words can be linked, before an end is chosen."""
    text = current(page)
    wrapping.span_of(text.source, chosen)
    locked_parts.require_unlocked(page, chosen.start.number)
    others = alike.count_in(text, chosen)
    return {"text": selection.text_of(text.source, chosen), "others": others}


def check_part(page: Page, number: int, beside: bool) -> Answer:
    """Whether a part of the page can be where a hop starts, and what a new link
    beside it could look like."""
    source = current(page).source
    source.element(number)
    if not beside:
        hopping.require_start(source, number)
        locked_parts.require_unlocked(page, number)
    tile = tiles.tile_at(source, number)
    models = [one for one in links_beside.looks(source) if tile is None or one != tile.number]
    looks = [_look_row(places.place(source, one)) for one in models]
    if tile is not None:
        looks.insert(
            0, {**_look_row(places.place(source, tile.number)), "kind": "tile", "own": True}
        )
    return {"looks": looks}


def _look_row(place: places.Place) -> dict[str, Any]:
    return {"number": place.number, "kind": place.kind, "words": place.words, "own": False}


@dataclass(frozen=True)
class Question:
    """form: what it asks with. answer: by the parameters that it gives. about_sheet:
    whether it is about what the sheet shows, so that the page must not have changed since."""

    form: type[ActForm]
    answer: Callable[..., Answer]
    about_sheet: bool = False


QUESTIONS = {
    "first-screens": Question(OfMarkForm, first_screens),
    "menus": Question(ActForm, site_menus),
    "offers": Question(ActForm, offers_of),
    "look-at": Question(LookAtForm, look_at, about_sheet=True),
    "to-words": Question(forms.ElementForm, to_words),
    "check-id": Question(CheckIdForm, check_id),
    "check-many": Question(CheckManyForm, check_many),
    "in-class": Question(WordForm, in_class),
    "check-words": Question(WordsForm, check_words, about_sheet=True),
    "check-part": Question(PartForm, check_part, about_sheet=True),
    "has-parts": Question(ActForm, contents.visitor_parts_of),
    "list-parts": Question(contents.ListPartsForm, contents.contents),
}
