"""Marking: giving an element an ID, by touching its start tag and nothing else."""

from __future__ import annotations

from innerhop.core import ids, markup, outline
from innerhop.core.edits import Edit, apply
from innerhop.core.encoding import Spelling
from innerhop.core.facts import Facts
from innerhop.core.sameness import same_but_for_id
from innerhop.core.source import Source


class CannotMark(ValueError):
    """The element can't be marked so; says in plain words why and what to do."""


def plan_mark(
    source: Source, facts: Facts, number: int, id_: str, spelling: Spelling
) -> list[Edit]:
    """The edits that give a heading an ID.

    Raises CannotMark when the ID is not valid, is taken, when readers can
    already be sent to the section, or when no tag in the text made the element.
    """
    reading = ids.read(id_, taken=facts.ids())
    if not reading.valid or reading.id != id_:
        raise CannotMark(reading.said)
    if all(heading.number != number for heading in facts.headings):
        raise CannotMark("That is no heading of this page. Choose one in the outline.")
    here = {one.number: one.mark for one in outline.sections(source, facts)}.get(number, "")
    here = here or str(source.node(number).attr("id") or "")
    if here:
        raise CannotMark(f"This section has the ID “{here}” already, so a hop can go there now.")
    edits = _write_id(source, number, id_, spelling)
    if not same_but_for_id(source, Source(apply(source.text, edits)), number, id_):
        raise CannotMark("The markup around this heading is too broken to put an ID in safely.")
    return edits


def _write_id(source: Source, number: int, id_: str, spelling: Spelling) -> list[Edit]:
    there = source.attribute(number, "id")
    if there is not None:  # an empty id attribute: fill it
        old = source.original(there)
        return [Edit(there.start, old, markup.attribute("id", id_, spelling, like=old))]
    place = source.after_tag_name(number)
    if place is None:
        raise CannotMark("No tag in the page's text made this element, so it can't carry an ID.")
    return [Edit(place, "", " " + markup.attribute("id", id_, spelling))]
