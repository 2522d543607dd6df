"""Acts on marks, and what is asked before them: what an element is, where a
reader would land, and what a typed ID becomes."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponseBase, JsonResponse

from innerhop.core.addresses import text_directives
from innerhop.core.addresses.text_directives import TextDirective
from innerhop.core.facts import places
from innerhop.core.names import ids
from innerhop.core.planners import headings, marking
from innerhop.library.acts import base, mark_acts
from innerhop.library.changes import locked_parts
from innerhop.library.index import shared_parts
from innerhop.library.index.shared_parts import Copy
from innerhop.library.index.texts import PageText, current, naming_of
from innerhop.library.models import Page
from innerhop.library.seek import hops_to_mark
from innerhop.screens.access import Asked
from innerhop.screens.page.act import ActView, PlannedAct, done
from innerhop.screens.page.asked import (
    Sent,
    end,
    id_of,
    numbers,
    require_revision,
    side,
    wanted,
    whole,
)

_LONGEST_TYPED = 10_000


class LookAt(ActView):
    """An element, what stands around it, and what can be done with it. `looks`:
    how the sheet shows each of them."""

    def act(self, request: HttpRequest, page: Page, asked: Sent) -> HttpResponseBase:
        require_revision(page, asked)
        number = whole(asked, "number")
        text = current(page)
        looks = asked.get("looks")
        looks = looks if isinstance(looks, dict) else {}
        line = places.line(text.source, number)
        sealed = locked_parts.around(page.seals.all(), number)
        part = shared_parts.around(page, number)
        ranks = headings.fitting_ranks(text.facts.headings, number)
        is_heading = any(one.number == number for one in text.facts.headings)
        return JsonResponse(
            {
                "number": number,
                "line": [_place(text, one, _look(looks.get(str(one.number)))) for one in line],
                "isHeading": is_heading,
                "ranks": ranks,
                "headingWords": "" if is_heading else headings.possible_title(text.source, number),
                "sealed": sealed.number if sealed else None,
                "before": _first_unsealed(text, sealed),
                "shared": len(shared_parts.copies(page, number)) if part else 0,
                "words": str(_to_words(text, number) or "") if sealed else "",
            }
        )


def _first_unsealed(text: PageText, sealed: Any) -> list[dict[str, Any]]:
    """The IDs that a sealed region has already, nearest first."""
    if sealed is None:
        return []
    inside = [one for one in text.facts.marks if sealed.number <= one.number <= sealed.last]
    return [{"n": one.number, "value": one.value} for one in inside]


def _place(text: PageText, one: places.Place, look: places.Look | None) -> dict[str, Any]:
    said, good = places.landing(text.source, one, look) if look else ("", True)
    return {
        "n": one.number,
        "tag": one.tag,
        "kind": places.looks_like(one.kind, look) if look else one.kind,
        "words": one.words,
        "id": one.id,
        "empty": one.empty,
        "generated": bool(one.id) and ids.looks_generated(one.id),
        "said": said,
        "good": good,
        "inGrid": bool(look and look.in_grid),
    }


def _look(row: Any) -> places.Look | None:
    """How the sheet says it shows an element; None when that can't be read."""
    if not isinstance(row, dict) or not isinstance(row.get("top"), int | float):
        return None
    heading = row.get("heading")
    return places.Look(
        top=float(row["top"]),
        ground=str(row.get("ground", ""))[:60],
        wide=bool(row.get("wide")),
        beside=bool(row.get("beside")),
        in_grid=bool(row.get("inGrid")),
        heading=heading if isinstance(heading, int) else None,
        heading_top=float(row.get("headingTop") or 0),
        heading_bottom=float(row.get("headingBottom") or 0),
    )


class ToWords(ActView):
    """The shortest link to an element's words, for where no ID can be."""

    def act(self, request: HttpRequest, page: Page, asked: Sent) -> HttpResponseBase:
        directive = _to_words(current(page), whole(asked, "number"))
        if directive is None:
            raise Asked(
                "No words of this part are on the page once only, even with those around them. "
                "Choose a part with words of its own."
            )
        return JsonResponse({"directive": str(directive)})


def _to_words(text: PageText, number: int) -> TextDirective | None:
    page_words = text_directives.words_of(text.source)
    return text_directives.shortest(text.source, page_words, number)


class CheckId(ActView):
    """Read an ID as it is typed, or suggest one where nothing is typed yet.

    text: words to make a suggestion of instead of the element's own. other:
    whether it is for something beside the element, which keeps its own.
    """

    def act(self, request: HttpRequest, page: Page, asked: Sent) -> HttpResponseBase:
        number = whole(asked, "number")
        copies = shared_parts.copies(page, number)
        own = [Copy(copy.page, -1) for copy in copies] if asked.get("other") else copies
        taken = hops_to_mark.taken_on_all(own)
        text = asked.get("text")
        if not isinstance(asked.get("typed"), str):
            words = text if isinstance(text, str) else _words_of(page, number)
            id_ = ids.suggest(words[:_LONGEST_TYPED], naming_of(page), taken)
            return JsonResponse({"id": id_, "said": "", "fix": "", "valid": True})
        return JsonResponse(_read(page, asked["typed"], taken))


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
    return ids.first_words(spot.words, naming_of(page).language) or spot.kind


def _read(page: Page, typed: str, taken: set[str]) -> dict[str, Any]:
    reading = ids.read(typed[:_LONGEST_TYPED], naming_of(page), taken)
    said = reading.said
    if reading.id in taken:
        said = f"{_owner(page, reading.id)} has this ID, and readers always arrive at the first."
    return {"id": reading.id, "valid": reading.valid, "said": said, "fix": reading.fix}


def _owner(page: Page, id_: str) -> str:
    """What has an ID already, as the editor knows it."""
    section = page.sections.filter(mark=id_).first()
    if section is not None:
        return f"The section “{section.title}”"
    mark = page.marks.filter(value=id_).first()
    if mark is None:
        return "A page that shares this part"
    part = shared_parts.around(page, mark.number)
    what = "marker" if mark.empty else places.kind_of_tag(mark.tag)
    where = f"the shared {part.kind}" if part else "this page"
    return f"A {what} in {where}"


class CheckMany(ActView):
    """Read several IDs as they are typed, each beside all the others; suggest one
    where nothing is typed."""

    def act(self, request: HttpRequest, page: Page, asked: Sent) -> HttpResponseBase:
        rows = asked.get("marks")
        if not isinstance(rows, list) or not all(isinstance(row, dict) for row in rows):
            raise Asked("Choose at least one section to mark.")
        taken = hops_to_mark.taken(page)
        titles = dict(page.sections.values_list("number", "title"))
        found = []
        typed = [row.get("id") for row in rows]
        fixed = {one for one in typed if isinstance(one, str)}
        for row, one in zip(rows, typed, strict=True):
            number = whole(row, "number")
            if not isinstance(one, str):
                id_ = ids.suggest(titles.get(number, ""), naming_of(page), taken | fixed)
                found.append({"id": id_, "valid": True, "said": "", "fix": ""})
                taken.add(id_)
            else:
                reading = _read(page, one, taken)
                found.append(reading)
                taken.add(reading["id"])
        return JsonResponse({"found": found})


class MarkElements(PlannedAct):
    """Give one element an ID, or many."""

    def plan(self, page: Page, asked: Sent) -> base.Act:
        return mark_acts.mark(page, wanted(asked))


class PutMarker(PlannedAct):
    """Put an empty marker beside an element."""

    def plan(self, page: Page, asked: Sent) -> base.Act:
        return mark_acts.marker(page, whole(asked, "number"), side(asked), id_of(asked))


class MoveMark(PlannedAct):
    """Move a mark to another element, or beside one."""

    def plan(self, page: Page, asked: Sent) -> base.Act:
        return mark_acts.move(page, whole(asked, "number"), whole(asked, "to"), side(asked))


class RenameMark(PlannedAct):
    """Rename a mark, and every hop to it."""

    def plan(self, page: Page, asked: Sent) -> base.Act:
        keep, follow = bool(asked.get("keep")), numbers(asked, "follow")
        number = whole(asked, "number")
        return mark_acts.rename(page, number, id_of(asked), keep=keep, follow=follow)


class TakeAwayMark(PlannedAct):
    """Take a mark away, with what becomes of the hops to it."""

    def plan(self, page: Page, asked: Sent) -> base.Act:
        then = asked.get("then", mark_acts.BREAK)
        to = end(page.site, asked) if then == mark_acts.RETARGET else None
        return mark_acts.take_away(page, whole(asked, "number"), str(then), to)


class MakeHeading(PlannedAct):
    """Make a heading of a line of text, and mark it."""

    def plan(self, page: Page, asked: Sent) -> base.Act:
        number, rank = whole(asked, "number"), whole(asked, "rank")
        return mark_acts.heading(page, number, rank, id_of(asked))


class ChangeRank(PlannedAct):
    """Change a heading's rank."""

    def plan(self, page: Page, asked: Sent) -> base.Act:
        return mark_acts.rank(page, whole(asked, "number"), whole(asked, "rank"))


class InClass(ActView):
    """The elements that have, as a class, the ID that a broken hop looks for."""

    def act(self, request: HttpRequest, page: Page, asked: Sent) -> HttpResponseBase:
        word = id_of(asked, "word")
        source = current(page).source
        found = (places.place(source, number) for number in marking.with_class(source, word)[:5])
        rows = [
            {"n": one.number, "kind": one.kind, "words": one.words, "id": one.id} for one in found
        ]
        return JsonResponse({"found": rows})


class FromClass(PlannedAct):
    """Move an ID from the class field to where it belongs."""

    def plan(self, page: Page, asked: Sent) -> base.Act:
        return mark_acts.from_class(page, whole(asked, "number"), id_of(asked, "word"))


class SealRegion(ActView):
    """Say of a region that it can't be edited, or take that back."""

    def act(self, request: HttpRequest, page: Page, asked: Sent) -> HttpResponseBase:
        require_revision(page, asked)
        number = whole(asked, "number")
        seal = bool(asked.get("on"))
        count = (locked_parts.seal if seal else locked_parts.unseal)(page, number)
        on = f" on all {count} pages that share it" if count > 1 else ""
        said = f"This part is left alone{on}" if seal else f"This part can be edited again{on}"
        return JsonResponse(done(request, page, said))
