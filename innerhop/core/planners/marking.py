"""Marking: giving elements IDs, taking them away, and moving them, by touching
start tags and nothing else."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from innerhop.core.facts.page_facts import Facts, Mark
from innerhop.core.formats import html
from innerhop.core.names import ids
from innerhop.core.plan import Plan, join_plans, of_attributes
from innerhop.core.planners import markers
from innerhop.core.planners.markers import CannotMark
from innerhop.core.source import attributes
from innerhop.core.source.content_models import NOT_SHOWN
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source


def check_id(id_: str, taken: Iterable[str]) -> None:
    """Raise CannotMark when an ID can't stand, or something else has it."""
    reading = ids.read(id_, taken=set(taken))
    if not reading.valid or reading.id != id_:
        raise CannotMark(reading.message)


def plan_marks(
    source: Source, facts: Facts, wanted: Sequence[tuple[int, str]], encoding: FileEncoding
) -> Plan:
    """Give elements, by number, these IDs.

    Raises CannotMark when an ID is not valid or is taken (on the page, or by
    another of these), when an element has an ID already, when it is nothing
    that readers see, or when no tag in the text made it.
    """
    taken = set(facts.ids())
    plans = []
    for number, id_ in wanted:
        check_id(id_, taken)
        taken.add(id_)
        plans.append(_new_id(source, number, id_, encoding))
    return join_plans(plans)


def _new_id(source: Source, number: int, id_: str, encoding: FileEncoding) -> Plan:
    element = source.element(number)
    if element.tag in NOT_SHOWN or element.in_template:
        raise CannotMark("Readers can't be sent to this part of the page. Choose one they see.")
    here = element.attr("id")
    if here:
        raise CannotMark(f"This has the ID “{here}” already, so a hop can go there now.")
    values = {"id": id_}
    return html.give(source, {number: values}, encoding)


def mark_of(facts: Facts, number: int) -> Mark:
    """The mark that stands on an element, its ID before its name. Raises CannotMark."""
    found = next((mark for mark in facts.marks if mark.number == number), None)
    if found is None:
        raise CannotMark("This has no ID any more. Load the page again to see it as it is.")
    return found


def names_of(facts: Facts, number: int) -> dict[str, str]:
    """All that readers can be sent to an element by: its `id`, and its `name`."""
    return {mark.attribute: mark.value for mark in facts.marks if mark.number == number}


def plan_take_away(source: Source, facts: Facts, number: int) -> Plan:
    """Take the mark off an element; an empty marker goes whole. Where an `a` has the same
    word as `id` and `name`, both go: with either of them hops would still arrive.

    Raises CannotMark when there is none, or it can't be done safely.
    """
    mark = mark_of(facts, number)
    if mark.empty:
        return markers.removal(source, number)
    same = [name for name, value in names_of(facts, number).items() if value == mark.value]
    edits = [edit for name in same for edit in attributes.removal(source, number, name)]
    return of_attributes(edits, {number: dict.fromkeys(same)})


def plan_move(
    source: Source, facts: Facts, number: int, to: int, *, side: str, encoding: FileEncoding
) -> Plan:
    """Move a mark to another element.

    side: markers.ON puts the ID on the element itself; the other sides put an
    empty marker there. Raises CannotMark when it can't stand there.
    """
    mark = mark_of(facts, number)
    if mark.empty and to == number:
        raise CannotMark("A mark can't be moved to itself. Choose another place.")
    away = plan_take_away(source, facts, number)
    if side == markers.ON:
        put = _new_id(source, to, mark.value, encoding)
    else:
        put = markers.plan_marker(source, to, side, mark.value, encoding)
    return join_plans([away, put])


def with_class(source: Source, word: str) -> list[int]:
    """The elements that have the word as one of their classes, in tree order: an
    ID typed into the field for the class ends up there."""
    return [
        element.number
        for element in source.having("class")
        if word in (element.attr("class") or "").split() and not element.in_template
    ]


def plan_from_class(
    source: Source, facts: Facts, number: int, word: str, *, keep: bool, encoding: FileEncoding
) -> Plan:
    """Move a word from an element's class to its ID.

    keep: leave it in the class as well, where a style sheet looks for it.
    Raises CannotMark.
    """
    plan_marks(source, facts, [(number, word)], encoding)  # whether it can have it
    words = (source.attr(number, "class") or "").split()
    values: dict[str, str | None] = {"id": word}
    if not keep and word in words:
        values["class"] = " ".join(one for one in words if one != word) or None
    return html.give(source, {number: values}, encoding)
