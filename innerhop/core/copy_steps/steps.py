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
from functools import cached_property

from innerhop.core.addresses.link_target import is_new_tab
from innerhop.core.edits import Edit
from innerhop.core.facts import places
from innerhop.core.facts.empty_markers import is_marker
from innerhop.core.facts.words import words
from innerhop.core.origins import Inserted, origins_of
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.elements import Element
from innerhop.core.source.tree import Source

HEADING, ID, MARKER, LINK, STYLE, AWAY, MARKUP = (
    "heading", "id", "marker", "link", "style", "away", "markup",
)  # fmt: skip
# In the order in which they are done: an ID has to be there before a link to it.
ORDER = (HEADING, ID, MARKER, LINK, STYLE, AWAY, MARKUP)


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
        message = "\n".join((*_message(self), str(self.nth)))
        return hashlib.sha256(message.encode("utf-8", "surrogatepass")).hexdigest()[:40]


def steps(old: Source, new: Source, edits: Sequence[Edit]) -> list[Step]:
    """All that has to be done to a page that has the old text for it to be the new
    one, in working order. edits: what makes the new text of the old."""
    inserted = Inserted(edits)
    origins = origins_of(old, new, edits)
    before, after = _Page(old), _Page(new)
    found: list[Step] = []
    for number, origin in enumerate(origins):
        if origin is None:
            made = _new_part(after, new.element(number), inserted)
        else:
            made = _changed(old.element(origin), after, new.element(number))
        found += [replace(step, number=number) for step in made]
    kept = {origin: number for number, origin in enumerate(origins) if origin is not None}
    last = 0
    for number in range(len(old)):
        last = kept.get(number, last)
        if number not in kept:
            found += [replace(step, number=last) for step in _gone(before, old.element(number))]
    return _told_apart(sorted(found, key=lambda step: ORDER.index(step.kind)))


class _Page:
    """A text, and which section of it each element stands in."""

    def __init__(self, source: Source) -> None:
        self.source = source

    @cached_property
    def _headings(self) -> list[int]:
        return [number for number, tag in enumerate(self.source.tags) if tag in LEVELS]

    def section(self, number: int) -> str:
        """The words of the heading that an element is, or that it comes after."""
        at = bisect_right(self._headings, number) - 1
        return words(self.source, self._headings[at]) if at >= 0 else ""

    def called(self, number: int) -> str:
        """An element, as an editor knows it."""
        spot = places.place(self.source, number)
        return f"{spot.kind} “{spot.words}”" if spot.words else f"{spot.kind} without words"

    def following(self, number: int) -> str:
        """What comes right behind an element, as an editor knows it."""
        after = self.source.last_inside(number) + 1
        while after < len(self.source) and is_marker(self.source, after):
            after += 1
        return f"the {self.called(after)}" if after < len(self.source) else "the page’s end"

    def markup(self, number: int) -> str:
        """An element as it stands in the text."""
        tag, end = self.source.start_tag(number), self.source.end_of(number)
        return self.source.text[tag.start : end] if tag and end else ""


def _message(step: Step) -> tuple[str, ...]:
    return step.kind, step.section, step.what, step.enter, step.before


def _told_apart(found: list[Step]) -> list[Step]:
    seen: Counter[tuple[str, ...]] = Counter()
    apart = []
    for step in found:
        apart.append(replace(step, nth=seen[_message(step)]))
        seen[_message(step)] += 1
    return apart


def _changed(was: Element, page: _Page, element: Element) -> Iterator[Step]:
    """What has to be done to an element that was there."""
    before, after = was.attributes, element.attributes
    if (element.tag, after) == (was.tag, before):  # as nearly all are
        return
    number = element.number
    section, what = page.section(number), page.called(number)
    if element.tag != was.tag and element.tag in LEVELS:
        note = f"Make it a heading of level {LEVELS[element.tag]}."
        yield Step(HEADING, section, what, element.tag, was.tag, note)
    for name in ("id", "name"):
        if after.get(name) != before.get(name) and (name == "id" or element.tag == "a"):
            yield from _id_step(section, what, after.get(name), before.get(name, ""))
    if element.tag in ("a", "area") and _link(after) != _link(before):
        notes = ["Make this button a link."] if was.tag == "button" else []
        notes += [_tab_note(after, before), _rel_note(after, before)]
        note = " ".join(one for one in notes if one)
        yield Step(LINK, section, what, after.get("href", ""), before.get("href", ""), note)
    if after.get("class") != before.get("class"):
        note = "In the field for the class, which held a word that was meant as an ID."
        yield Step(MARKUP, section, what, after.get("class", ""), before.get("class", ""), note)
    if element.tag == was.tag:
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


def _new_part(page: _Page, element: Element, inserted: Inserted) -> Iterator[Step]:
    """What has to be done for an element that was put in."""
    number, source = element.number, page.source
    if source.starts[number] < 0:  # browsers make it by themselves
        return
    section = page.section(number)
    values = element.attributes
    if is_marker(source, number) and (values.get("id") or values.get("name")):
        note = f"Put it right before {page.following(number)}, where markup can be entered."
        yield Step(MARKER, section, "an empty marker", page.markup(number), "", note)
    elif element.tag == "a" and "href" in values:
        tag, end = source.start_tag(number), source.end_of(number)
        note = "Select this and link it."
        if tag and end and inserted.holds(tag.start, end):
            note = f"A new link: {page.markup(number)}"
        note = " ".join(one for one in (note, _tab_note(values, {}), _rel_note(values, {})) if one)
        yield Step(LINK, section, page.called(number), values["href"], "", note)
    elif element.tag in ("style", "meta", "link"):
        note = "Put this line into the page’s head, or what is between its tags into the styles."
        yield Step(STYLE, "", "a line of style", page.markup(number), "", note)
    elif element.tag in LEVELS:
        note = f"Make it a heading of level {LEVELS[element.tag]}."
        yield Step(HEADING, section, page.called(number), element.tag, "", note)
        if values.get("id"):
            yield from _id_step(section, page.called(number), values["id"], "")


def _gone(page: _Page, element: Element) -> Iterator[Step]:
    number, values = element.number, element.attributes
    if is_marker(page.source, number):
        id_ = values.get("id") or values.get("name", "")
        note = "Take this marker away."
        yield Step(AWAY, page.section(number), "an empty marker", "", id_, note)
    elif element.tag == "a" and "href" in values:
        note = "Take this link off its words."
        yield Step(AWAY, page.section(number), page.called(number), "", values["href"], note)
