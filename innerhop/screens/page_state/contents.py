"""What the desk asks before a contents list is made or changed: what could be listed, the
lists and ways back that are there, and how each differs from its page."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

from innerhop.core.contents import choices, in_step
from innerhop.core.contents.choices import Choice
from innerhop.core.contents.entries import KIND_NAMES, MOST_DEEP, Possible, usual
from innerhop.core.contents.kinds import KINDS
from innerhop.core.contents.lists import ContentsList
from innerhop.core.facts import places
from innerhop.core.planners import contents as planner
from innerhop.core.planners import links_beside, visitor_parts
from innerhop.library.acts import visitor_acts, ways_acts
from innerhop.library.acts.forms import ActForm, NumbersField, WholeField
from innerhop.library.index.texts import PageText, current, currents
from innerhop.library.models import Page

Answer = dict[str, Any]
_PAGES_READ = 12  # for a look that other pages of the site have


class ListPartsForm(ActForm):
    """number: of a list that is there, None for a new one. pages: other pages whose sections
    could be listed too."""

    number = WholeField(required=False)
    pages = NumbersField(required=False)


def contents(page: Page, number: int | None, pages: set[int] | None) -> Answer:
    """All that a contents list of a page could be made of, and what there is of it."""
    text = current(page)
    found, cut = _offered(text.possible)
    return {
        "rows": [_row(one) for one in _choices(text, found, number)],
        "possible": [_possible(one) for one in found],
        "kinds": _kinds(found),
        "listKinds": [{"kind": one.name, "name": one.title} for one in KINDS.values()],
        "usual": usual(found),
        "cut": cut,
        "place": planner.usual_place(text.source, found[0].number) if found else None,
        "lists": [_list(one, off) for one, off in zip(text.lists, text.differences, strict=True)],
        "looks": _looks(page, text),
        "ways": [
            {"number": one.number, "words": one.words, "to": one.to, "place": one.place}
            for one in text.ways_back
        ],
        "backWords": ways_acts.words_of(page),
        "others": _others(page, pages or set()),
    }


def visitor_parts_of(page: Page) -> Answer:
    """What a page gives its visitors now."""
    text = current(page)
    return {**asdict(visitor_parts.read(text.source)), "sections": len(visitor_acts.sections(text))}


def _offered(possible: Sequence[Possible]) -> tuple[list[Possible], int]:
    """What is offered as entries, and how many are too many for that."""
    if len(possible) <= MOST_DEEP:
        return list(possible), 0
    kinds = usual(possible)
    return [one for one in possible if one.kind in kinds], len(possible)


def _choices(text: PageText, possible: Sequence[Possible], number: int | None) -> list[Choice]:
    """What the entries of the list with that number, or of a new one, are chosen from."""
    for one, off in zip(text.lists, text.differences, strict=True):
        if one.number == number:
            return choices.of_list(one, off, possible)
    return choices.for_new(possible, usual(possible))


def _row(choice: Choice, page: int | None = None) -> Answer:
    """A row to choose from. page: the primary key of another page that it leads to."""
    part = choice.part
    return {
        "part": part.number if part else None,
        "page": page,
        "kind": part.kind if part else "",
        "level": part.level if part else 2,
        "title": choice.title,
        "mark": part.mark if part else "",
        "on": choice.on,
        "label": choice.label,
        "link": choice.link,
        "needsId": choice.needs_id,
    }


def _possible(part: Possible) -> Answer:
    return {
        "number": part.number,
        "kind": part.kind,
        "level": part.level,
        "title": part.title,
        "mark": part.mark,
        "key": part.key,
    }


def _kinds(possible: Sequence[Possible]) -> list[Answer]:
    counts = Counter(one.kind for one in possible)
    levels = {one.kind: one.level for one in possible}
    return [
        {"kind": kind, "name": KIND_NAMES.get(kind, f"level {kind[1:]}"), "count": counts[kind]}
        for kind in sorted(counts, key=lambda kind: (levels[kind], kind))
    ]


def _list(listing: ContentsList, off: in_step.OutOfStep) -> Answer:
    own = listing.settings
    return {
        "number": listing.number,
        "last": listing.last,
        "id": listing.id,
        "title": listing.title,
        "kind": own.kind,
        "made": listing.made,
        "scope": own.scope,
        "ownOrder": own.own_order,
        "levels": own.levels,
        "count": len(listing.entries),
        "off": off.count,
        "says": says(off),
    }


def says(off: in_step.OutOfStep) -> list[str]:
    """How a list differs from its page, in sentences."""
    found = []
    if off.added:
        titles = [f"“{part.title}”" for part in off.added]
        count = len(titles)
        are = "section is" if count == 1 else "sections are"
        found.append(f"{count} {are} not in it: {_some(titles)}.")
    if off.gone:
        labels = [f"“{entry.label}”" for entry in off.gone]
        found.append(f"{_some(labels)} lead{'s' if len(labels) == 1 else ''} to nothing here.")
    for entry, part in off.relabelled[:_SOME]:
        found.append(f"“{entry.label}” is called “{part.title}” now.")
    for entry, part in off.elsewhere[:_SOME]:
        found.append(f"“{entry.label}” does not lead to “{part.title}”.")
    if off.moved:
        labels = [f"“{entry.label}”" for entry in off.moved]
        are = "stands" if len(labels) == 1 else "stand"
        found.append(f"{_some(labels)} {are} elsewhere on the page than in the list.")
    if off.relevelled:
        labels = [f"“{entry.label}”" for entry in off.relevelled]
        have = "has a heading" if len(labels) == 1 else "have headings"
        found.append(f"{_some(labels)} {have} of another level than in the list.")
    return found


_SOME = 3


def _some(names: Sequence[str]) -> str:
    shown = list(names[:_SOME])
    if len(names) > _SOME:
        return f"{', '.join(shown)} and {len(names) - _SOME} more"
    return " and ".join([", ".join(shown[:-1]), shown[-1]] if len(shown) > 1 else shown)


def _looks(page: Page, text: PageText) -> list[Answer]:
    """What a row of buttons could look like: links and buttons of the page, else of a few
    other pages of the site."""
    found = _looks_of(text)
    if not found:
        others = page.site.pages.exclude(pk=page.pk).select_related("site")[:_PAGES_READ]
        found = [look for other in currents(list(others)) for look in _looks_of(other)]
    kept = {look["class"]: look for look in reversed(found)}
    return sorted(kept.values(), key=lambda look: not _is_button(look["class"]))


def _looks_of(text: PageText) -> list[Answer]:
    return [
        {
            "class": text.source.attr(number, "class") or "",
            "words": places.place(text.source, number).words,
        }
        for number in links_beside.looks(text.source)
    ]


def _is_button(classes: str) -> bool:
    return any(name.lower().startswith(("button", "btn")) for name in classes.split())


def _others(page: Page, keys: set[int]) -> list[Answer]:
    """Rows for other pages: the page itself first, then its sections of the usual kinds."""
    pages = page.site.pages.filter(pk__in=keys).exclude(pk=page.pk).select_related("site")
    return [row for text in currents(list(pages)) for row in _rows_of(text)]


def _rows_of(text: PageText) -> list[Answer]:
    found, page = _offered(text.possible)[0], text.page
    kinds = usual(text.possible)
    whole = {**_row(Choice(None, page.title, True), page.pk), "kind": "page", "level": 1}
    rows = [Choice(one, one.title, True) for one in found if one.kind in kinds]
    return [whole, *(_row(one, page.pk) for one in rows)]
