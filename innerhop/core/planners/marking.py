"""Marking: giving elements IDs, taking them away, and moving them, by touching
start tags and nothing else."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from innerhop.core.edits import Edit, apply
from innerhop.core.facts.page_facts import Facts, Mark
from innerhop.core.names import ids
from innerhop.core.planners import markers
from innerhop.core.planners.markers import CannotMark
from innerhop.core.proof import same_but
from innerhop.core.source import attributes
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source, in_template

__all__ = ["CannotMark", "check_id", "mark_of", "plan_marks", "plan_move", "plan_take_away"]

_BROKEN = "The markup around this is too broken to change it safely. Nothing was changed."


def check_id(id_: str, taken: Iterable[str]) -> None:
    """Raise CannotMark when an ID can't stand, or something else has it."""
    reading = ids.read(id_, taken=set(taken))
    if not reading.valid or reading.id != id_:
        raise CannotMark(reading.said)


def plan_marks(
    source: Source, facts: Facts, wanted: Sequence[tuple[int, str]], encoding: FileEncoding
) -> list[Edit]:
    """The edits that give elements, by number, these IDs.

    Raises CannotMark when an ID is not valid or is taken (on the page, or by
    another of these), when an element has an ID already, when it is nothing
    that readers see, or when no tag in the text made it.
    """
    taken = set(facts.ids())
    edits: list[Edit] = []
    for number, id_ in wanted:
        check_id(id_, taken)
        taken.add(id_)
        edits += _new_id(source, number, id_, encoding)
    asked = {number: {"id": id_} for number, id_ in wanted}
    if not same_but(source, Source(apply(source.text, edits)), attributes=asked):
        raise CannotMark(_BROKEN)
    return edits


def _new_id(source: Source, number: int, id_: str, encoding: FileEncoding) -> list[Edit]:
    node = source.node(number)
    if node.tag in _NOT_SHOWN or in_template(node):
        raise CannotMark("Readers can't be sent to this part of the page. Choose one they see.")
    here = node.attr("id")
    if here:
        raise CannotMark(f"This has the ID “{here}” already, so a hop can go there now.")
    return attributes.plan(source, number, {"id": id_}, encoding)


# HTML Standard 4.2, document metadata, and the elements that are the whole page.
_NOT_SHOWN = frozenset((
    "html", "head", "body", "title", "base", "link", "meta", "style", "script", "noscript",
    "template", "source", "track", "param", "br", "wbr", "col", "colgroup", "option", "optgroup",
))  # fmt: skip


def mark_of(facts: Facts, number: int) -> Mark:
    """The mark that stands on an element, its ID before its name. Raises CannotMark."""
    found = next((mark for mark in facts.marks if mark.number == number), None)
    if found is None:
        raise CannotMark("This has no ID any more. Load the page again to see it as it is.")
    return found


def plan_take_away(source: Source, facts: Facts, number: int) -> list[Edit]:
    """The edits that take the mark off an element; an empty marker goes whole.

    Raises CannotMark when there is none, or it can't be done safely.
    """
    mark = mark_of(facts, number)
    if mark.empty:
        edits = [markers.removal(source, number)]
        gone = [number]
        same = same_but(source, Source(apply(source.text, edits)), removed=gone)
    else:
        edits = attributes.removal(source, number, mark.attribute)
        asked = {number: {mark.attribute: None}}
        same = same_but(source, Source(apply(source.text, edits)), attributes=asked)
    if not same:
        raise CannotMark(_BROKEN)
    return edits


def plan_move(
    source: Source, facts: Facts, number: int, to: int, *, side: str, encoding: FileEncoding
) -> list[Edit]:
    """The edits that move a mark to another element.

    side: markers.ON puts the ID on the element itself; the other sides put an
    empty marker there. Raises CannotMark when it can't stand there.
    """
    mark = mark_of(facts, number)
    away = plan_take_away(source, facts, number)
    between = Source(apply(source.text, away))
    target = _after_removal(source, number, to) if mark.empty else to
    if target is None:
        raise CannotMark("A mark can't be moved to itself. Choose another place.")
    if side == markers.ON:
        put = _new_id(between, target, mark.value, encoding)
        asked = {target: {"id": mark.value}}
        same = same_but(between, Source(apply(between.text, put)), attributes=asked)
        if not same:
            raise CannotMark(_BROKEN)
    else:
        put = markers.plan_marker(between, target, side, mark.value, encoding)
    return _on_old_text(away, put)


def _after_removal(source: Source, gone: int, number: int) -> int | None:
    if number == gone:
        return None
    return number - 1 if number > gone else number


def _on_old_text(away: list[Edit], put: list[Edit]) -> list[Edit]:
    """The second edits counted in the text before the first, where they don't meet."""
    moved = []
    for edit in put:
        start = edit.start
        for gone in away:
            if start >= gone.start:
                start += len(gone.old) - len(gone.new)
        moved.append(Edit(start, edit.old, edit.new))
    return [*away, *moved]


def with_class(source: Source, word: str) -> list[int]:
    """The elements that have the word as one of their classes, in tree order: an
    ID typed into the field for the class ends up there."""
    return [
        source.number(node)
        for node in source.document.select("[class]")
        if word in str(node.attr("class") or "").split() and not in_template(node)
    ]


def plan_from_class(
    source: Source, facts: Facts, number: int, word: str, *, keep: bool, encoding: FileEncoding
) -> list[Edit]:
    """The edits that move a word from an element's class to its ID.

    keep: leave it in the class as well, where a style sheet looks for it.
    Raises CannotMark.
    """
    plan_marks(source, facts, [(number, word)], encoding)  # whether it can have it
    words = str(source.node(number).attr("class") or "").split()
    values: dict[str, str | None] = {"id": word}
    if not keep and word in words:
        values["class"] = " ".join(one for one in words if one != word) or None
    edits = attributes.plan(source, number, values, encoding)
    if not same_but(source, Source(apply(source.text, edits)), attributes={number: values}):
        raise CannotMark(_BROKEN)
    return edits
