"""What an editor has to enter, and where, to do by hand in another system what was
done to a page here: each ID to type, each link with its address, the markup of
what was put in.

The two texts of a page are compared element by element; the edits between them
tell which element of the new one was which of the old.
"""

from __future__ import annotations

import hashlib
from bisect import bisect_right
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from innerhop.core.addresses.link_target import is_new_tab
from innerhop.core.edits import Edit, in_order
from innerhop.core.facts import places
from innerhop.core.facts.page_facts import words
from innerhop.core.planners import markers
from innerhop.core.source.tree import Node, Source

HEADING, ID, MARKER, LINK, STYLE, AWAY, MARKUP = (
    "heading", "id", "marker", "link", "style", "away", "markup",
)  # fmt: skip
# In the order in which they are done: an ID has to be there before a link to it.
ORDER = (HEADING, ID, MARKER, LINK, STYLE, AWAY, MARKUP)
_RANKS = frozenset(f"h{rank}" for rank in range(1, 7))


@dataclass(frozen=True, slots=True)
class Step:
    """One thing to do. kind: one of ORDER. section: the title of the section it is
    in, "" above the first. what: the part, as an editor knows it. enter: what to type
    or paste, as it is. before: what is there now, if anything. note: how. nth: how
    many steps that say the same come before it on the page. number: the element of
    the new text that it is about, or that comes before what is gone."""

    kind: str
    section: str
    what: str
    enter: str
    before: str = ""
    note: str = ""
    nth: int = 0
    number: int = 0

    @property
    def key(self) -> str:
        """The same as long as the step is the same."""
        said = "\n".join((*_said(self), str(self.nth)))
        return hashlib.sha256(said.encode("utf-8", "surrogatepass")).hexdigest()[:40]


def steps(old: Source, new: Source, edits: Sequence[Edit]) -> list[Step]:
    """All that has to be done to a page that has the old text for it to be the new
    one, in working order. edits: what makes the new text of the old."""
    inserted = _Inserted(edits)
    origins = _origins(old, new, inserted)
    found: list[Step] = []
    for number, node in enumerate(new.nodes):
        origin = origins.get(number)
        if origin is None:
            made = _new_part(new, number, node, inserted)
        else:
            made = _changed(old.node(origin), new, number, node)
        found += [replace(step, number=number) for step in made]
    kept = {origin: number for number, origin in origins.items()}
    last = 0
    for number in range(len(old.nodes)):
        last = kept.get(number, last)
        if number not in kept:
            found += [replace(step, number=last) for step in _gone(old, number)]
    return _told_apart(sorted(found, key=lambda step: ORDER.index(step.kind)))


def _said(step: Step) -> tuple[str, ...]:
    return step.kind, step.section, step.what, step.enter, step.before


def _told_apart(found: list[Step]) -> list[Step]:
    seen: Counter[tuple[str, ...]] = Counter()
    apart = []
    for step in found:
        apart.append(replace(step, nth=seen[_said(step)]))
        seen[_said(step)] += 1
    return apart


class _Inserted:
    """What the edits put in, as stretches of the new text, in order."""

    def __init__(self, edits: Sequence[Edit]) -> None:
        self.stretches: list[tuple[int, int, int]] = []  # start, end, shift behind it
        shift = 0
        for edit in in_order(edits):
            start = edit.start + shift
            shift += len(edit.new) - len(edit.old)
            self.stretches.append((start, start + len(edit.new), shift))

    def around(self, place: int) -> tuple[int, int, int] | None:
        """The stretch that holds the character at that place, if one does."""
        at = bisect_right(self.stretches, place, key=lambda one: one[0]) - 1
        found = self.stretches[at] if at >= 0 else None
        return found if found and place < found[1] else None

    def old_place(self, place: int) -> int | None:
        """Where a character of the new text stood in the old; None where it is new."""
        if self.around(place) is not None:
            return None
        at = bisect_right(self.stretches, place, key=lambda one: one[0]) - 1
        return place - (self.stretches[at][2] if at >= 0 else 0)

    def holds(self, start: int, end: int) -> bool:
        """Whether all of a stretch was put in at once."""
        found = self.around(start)
        return found is not None and end <= found[1]


def _origins(old: Source, new: Source, inserted: _Inserted) -> dict[int, int]:
    """For each element of the new text, by number, which of the old one it was."""
    found: dict[int, int] = {}
    for number in range(len(new.nodes)):
        tag = new.start_tag(number)
        place = inserted.old_place(tag.start) if tag else None
        origin = old.element_at(place) if place is not None else None
        if origin is not None:
            found[number] = origin
    return found


def _changed(was: Node, new: Source, number: int, node: Node) -> Iterator[Step]:
    """What has to be done to an element that was there."""
    before, after = _values(was), _values(node)
    if (node.tag, after) == (was.tag, before):  # as nearly all are
        return
    section, what = _section(new, number), _called(new, number)
    if node.tag != was.tag and node.tag in _RANKS:
        note = f"Make it a heading of rank {node.tag[1]}."
        yield Step(HEADING, section, what, node.tag, was.tag, note)
    for name in ("id", "name"):
        if after.get(name) != before.get(name) and (name == "id" or node.tag == "a"):
            yield from _id_step(section, what, after.get(name), before.get(name, ""))
    if node.tag in ("a", "area") and _link(after) != _link(before):
        notes = ["Make this button a link."] if was.tag == "button" else []
        notes += [_tab_note(after, before), _rel_note(after, before)]
        note = " ".join(one for one in notes if one)
        yield Step(LINK, section, what, after.get("href", ""), before.get("href", ""), note)
    if after.get("class") != before.get("class"):
        note = "In the field for the class, which held a word that was meant as an ID."
        yield Step(MARKUP, section, what, after.get("class", ""), before.get("class", ""), note)
    if node.tag == was.tag:
        yield from _other_attributes(section, what, after, before)


_SAID_ELSEWHERE = frozenset(("id", "name", "href", "target", "rel", "class"))


def _other_attributes(
    section: str, what: str, after: dict[str, str], before: dict[str, str]
) -> Iterator[Step]:
    """What names an ID that was renamed, such as a label's `for`, goes with it."""
    for name in sorted({*after, *before} - _SAID_ELSEWHERE):
        if after.get(name) != before.get(name):
            note = f"In the markup, the attribute {name}."
            yield Step(MARKUP, section, what, after.get(name, ""), before.get(name, ""), note)


def _id_step(section: str, what: str, after: str | None, before: str) -> Iterator[Step]:
    if after:
        yield Step(ID, section, what, after, before, "Type it without a #.")
    else:
        yield Step(AWAY, section, what, "", before, "Take this ID away.")


def _link(values: dict[str, str]) -> tuple[str | None, bool, str | None]:
    return values.get("href"), is_new_tab(values.get("target", "")), values.get("rel")


def _tab_note(after: dict[str, str], before: dict[str, str]) -> str:
    new_tab = is_new_tab(after.get("target", ""))
    if new_tab:
        return "Let it open in a new tab."
    return "Let it open in the same tab." if is_new_tab(before.get("target", "")) else ""


def _rel_note(after: dict[str, str], before: dict[str, str]) -> str:
    rel = after.get("rel", "")
    return f"Set rel to “{rel}”." if rel and rel != before.get("rel") else ""


def _new_part(new: Source, number: int, node: Node, inserted: _Inserted) -> Iterator[Step]:
    """What has to be done for an element that was put in."""
    section = _section(new, number)
    values = _values(node)
    if markers.is_marker(node) and (values.get("id") or values.get("name")):
        note = f"Put it right before {_next(new, number)}, where markup can be entered."
        yield Step(MARKER, section, "an empty marker", _markup(new, number), "", note)
    elif node.tag == "a" and "href" in values:
        tag, end = new.start_tag(number), new.end_of(number)
        note = "Select this and link it."
        if tag and end and inserted.holds(tag.start, end):
            note = f"A new link: {_markup(new, number)}"
        note = " ".join(one for one in (note, _tab_note(values, {}), _rel_note(values, {})) if one)
        yield Step(LINK, section, _called(new, number), values["href"], "", note)
    elif node.tag in ("style", "meta", "link"):
        note = "Put this line into the page’s head, or what is between its tags into the styles."
        yield Step(STYLE, "", "a line of style", _markup(new, number), "", note)
    elif node.tag in _RANKS:
        note = f"Make it a heading of rank {node.tag[1]}."
        yield Step(HEADING, section, _called(new, number), node.tag, "", note)
        if values.get("id"):
            yield from _id_step(section, _called(new, number), values["id"], "")


def _gone(old: Source, number: int) -> Iterator[Step]:
    node = old.node(number)
    values = _values(node)
    if markers.is_marker(node):
        id_ = values.get("id") or values.get("name", "")
        section = _section(old, number)
        yield Step(AWAY, section, "an empty marker", "", id_, "Take this marker away.")
    elif node.tag == "a" and "href" in values:
        section = _section(old, number)
        note = "Take this link off its words."
        yield Step(AWAY, section, _called(old, number), "", values["href"], note)


def _values(node: Node) -> dict[str, str]:
    return {name: str(node.attr(name) or "") for name in node.attrs}


def _called(source: Source, number: int) -> str:
    spot = places.place(source, number)
    return f"{spot.kind} “{spot.words}”" if spot.words else f"{spot.kind} without words"


def _section(source: Source, number: int) -> str:
    """The words of the heading that an element is, or that it comes after."""
    for before in range(number, -1, -1):
        node = source.node(before)
        if node.tag in _RANKS:
            return words(node)
    return ""


def _next(source: Source, number: int) -> str:
    """What comes right behind an element, as an editor knows it."""
    after = source.last_inside(number) + 1
    while after < len(source.nodes) and markers.is_marker(source.node(after)):
        after += 1
    return f"the {_called(source, after)}" if after < len(source.nodes) else "the page’s end"


def _markup(source: Source, number: int) -> str:
    tag, end = source.start_tag(number), source.end_of(number)
    return source.text[tag.start : end] if tag and end else ""
