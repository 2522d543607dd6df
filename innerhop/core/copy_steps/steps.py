"""What an editor has to enter, and where, to do by hand in another system what was
done to a page here: each ID to type, each link with its address, the markup of
what was put in.

The two texts of a page are compared element by element; the edits between them
tell which element of the new one was which of the old.
"""

from __future__ import annotations

import hashlib
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from innerhop.core.addresses.link_target import is_new_tab
from innerhop.core.copy_steps.under_way import UnderWay
from innerhop.core.copy_steps.whereabouts import Whereabouts
from innerhop.core.edits import Edit
from innerhop.core.facts.empty_markers import is_marker
from innerhop.core.facts.frame import ASIDE, FOOTER, HEADER, NAV
from innerhop.core.facts.words import words
from innerhop.core.origins import Inserted, origins_of
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.elements import Element
from innerhop.core.source.tree import Source, Span

HEADING, ID, MARKER, LINK, STYLE, AWAY, MARKUP = (
    "heading", "id", "marker", "link", "style", "away", "markup",
)  # fmt: skip
# In the order in which they are done to one part of a page.
ORDER = (STYLE, HEADING, ID, MARKER, LINK, AWAY, MARKUP)


_IN_HEAD = ("style", "meta", "link", "script")
_FRAME_WORDS = {HEADER: "header", FOOTER: "footer", NAV: "navigation", ASIDE: "side part"}


@dataclass(frozen=True, slots=True)
class Step:
    """One thing to do. kind: one of ORDER. section: the title of the section it is in, ""
    above the first and in the site's frame. what: the part, as an editor sees it in the
    other system. enter: what to type or paste, as it is. before: what is there now, if
    anything. note: how. at: where in the section, if the part's name does not say it.
    frame: the part of the site's frame that it is in, or "". pages: how many pages share
    the part it is in. nth: how many steps that say the same come before it on the page.
    number: the element of the new text that it is about, or that comes before what is
    gone."""

    kind: str
    section: str
    what: str
    enter: str
    before: str = ""
    note: str = ""
    at: str = ""
    frame: str = ""
    pages: int = 1
    nth: int = 0
    number: int = 0

    @property
    def within(self) -> str:
        """Which stretch of the page it is in, in words."""
        part = _FRAME_WORDS.get(self.frame, "")
        if self.pages > 1:
            part = f"shared {part}" if part else "shared part"
            return f"in the {part}, the same on {self.pages} pages: enter it once"
        if part:
            return f"in the {part}"
        return f"in “{self.section}”" if self.section and self.section not in self.what else ""

    @property
    def key(self) -> str:
        """The same as long as the step is the same."""
        message = "\n".join((*_message(self), str(self.nth)))
        return hashlib.sha256(message.encode("utf-8", "surrogatepass")).hexdigest()[:40]


def steps(old: Source, new: Source, edits: Sequence[Edit]) -> list[Step]:
    """All that has to be done to a page that has the old text for it to be the new one, in
    page order, so that what a step speaks of stands there when all before it are done.
    edits: what makes the new text of the old."""
    inserted = Inserted(edits)
    origins = origins_of(old, new, edits)
    page = UnderWay(old, new, origins)
    found: list[Step] = []
    kept = {origin: number for number, origin in enumerate(origins) if origin is not None}
    for number, origin in enumerate(origins):
        if origin is None:
            made = _new_part(page, new.element(number), inserted)
            found += [_found_at(step, page.after, number, number) for step in made]
        else:
            made = _changed(page, old.element(origin), new.element(number))
            found += [_found_at(step, page.before, origin, number) for step in made]
    last, removed = 0, [Span(edit.start, edit.end) for edit in edits if edit.old]
    for origin in range(len(old)):
        last = kept.get(origin, last)
        if origin not in kept:
            made = _gone(page, old.element(origin), last, removed)
            found += [_found_at(step, page.before, origin, last) for step in made]
    return _told_apart(sorted(found, key=_in_page_order))


def _found_at(step: Step, page: Whereabouts, there: int, number: int) -> Step:
    section = "" if step.kind == STYLE else page.section(there)
    return replace(step, section=section, frame=page.frame(there), number=number)


def _in_page_order(step: Step) -> tuple[int, int, int]:
    # What goes is done when all that stands before it is.
    return step.kind != STYLE, step.number, ORDER.index(step.kind)


def _message(step: Step) -> tuple[str, ...]:
    return step.kind, step.section, step.what, step.enter, step.before


def _told_apart(found: list[Step]) -> list[Step]:
    seen: Counter[tuple[str, ...]] = Counter()
    apart = []
    for step in found:
        apart.append(replace(step, nth=seen[_message(step)]))
        seen[_message(step)] += 1
    return apart


def _changed(page: UnderWay, was: Element, element: Element) -> Iterator[Step]:
    """What has to be done to an element that was there."""
    had, has = was.attributes, element.attributes
    if (element.tag, has) == (was.tag, had):  # as nearly all are
        return
    number = element.number
    what = page.called_there(was.number, number)
    if element.tag != was.tag and element.tag in LEVELS:
        yield Step(HEADING, "", what, element.tag, was.tag, _level_note(element))
        what = page.called_here(number, number)
    for name in ("id", "name"):
        if has.get(name) != had.get(name) and (name == "id" or element.tag == "a"):
            yield _id_step(what, has.get(name), had.get(name, ""))
    if element.tag in ("a", "area") and _link(has) != _link(had):
        notes = ["Make this button a link."] if was.tag == "button" else []
        note = _joined(*notes, _tab_note(has, had), _rel_note(has, had))
        yield Step(LINK, "", what, has.get("href", ""), had.get("href", ""), note)
    if has.get("class") != had.get("class"):
        note = "In the field for the class, which held a word that was meant as an ID."
        yield Step(MARKUP, "", what, has.get("class", ""), had.get("class", ""), note)
    if element.tag == was.tag:
        yield from _other_attributes(what, has, had)
    elif has.get("style", "") != had.get("style", ""):
        note = "In the markup, the attribute style: so that it looks as the button did."
        yield Step(MARKUP, "", what, has.get("style", ""), had.get("style", ""), note)


_SAID_ELSEWHERE = frozenset(("id", "name", "href", "target", "rel", "class"))


def _other_attributes(what: str, has: dict[str, str], had: dict[str, str]) -> Iterator[Step]:
    """What names an ID that was renamed, such as a label's `for`, goes with it."""
    for name in sorted({*has, *had} - _SAID_ELSEWHERE):
        if has.get(name) != had.get(name):
            note = f"In the markup, the attribute {name}."
            yield Step(MARKUP, "", what, has.get(name, ""), had.get(name, ""), note)


def _level_note(element: Element) -> str:
    return f"Make it a heading of level {LEVELS[element.tag]}."


def _id_step(what: str, id_: str | None, before: str) -> Step:
    if id_:
        return Step(ID, "", what, id_, before, "Type it without a #.")
    return Step(AWAY, "", what, "", before, "Remove this ID.")


def _link(values: dict[str, str]) -> tuple[str | None, bool, str | None]:
    return values.get("href"), is_new_tab(values.get("target", "")), values.get("rel")


def _joined(*notes: str) -> str:
    return " ".join(note for note in notes if note)


def _tab_note(has: dict[str, str], had: dict[str, str]) -> str:
    if is_new_tab(has.get("target", "")):
        return "Let it open in a new tab."
    return "Let it open in the same tab." if is_new_tab(had.get("target", "")) else ""


def _rel_note(has: dict[str, str], had: dict[str, str]) -> str:
    rel, was = has.get("rel", ""), had.get("rel", "")
    if was and not rel:
        return f"Remove “{was}” from rel."
    return f"Set rel to “{rel}”." if rel != was else ""


def _new_part(page: UnderWay, element: Element, inserted: Inserted) -> Iterator[Step]:
    """What has to be done for an element that was put in."""
    number, source = element.number, element.source
    if source.starts[number] < 0:  # browsers make it by themselves
        return
    values = element.attributes
    above = element.parent
    if above is not None and _is_whole(above, inserted):
        return  # comes with what is around it
    if is_marker(source, number) and (values.get("id") or values.get("name")):
        note = "As markup, where markup can be entered."
        at = page.spot(number)
        yield Step(MARKER, "", "an empty marker", _markup(element), "", note, at)
    elif element.tag in _IN_HEAD:
        note = "Put this line into the page’s head, or what is between its tags into the styles."
        yield Step(STYLE, "", "a line of style", _markup(element), "", note)
    elif _is_whole(element, inserted):
        yield from _put_in(page, element)
    elif element.tag == "a" and "href" in values:
        note = _joined("Select this and link it.", _tab_note(values, {}), _rel_note(values, {}))
        inside = element.shown
        only = inside[0] if len(inside) == 1 else None
        if isinstance(only, Element) and not source.text_of(number).strip():
            yield Step(LINK, "", page.called_here(only.number, number), values["href"], "", note)
        else:
            what = f"words “{words(source, number)}”"
            yield Step(LINK, "", what, values["href"], "", note, page.words_behind(number))
    elif element.tag in LEVELS:
        what = page.called_here(number, number)
        yield Step(HEADING, "", what, element.tag, "", _level_note(element))
        if values.get("id"):
            yield _id_step(what, values["id"], "")


def _is_whole(element: Element, inserted: Inserted) -> bool:
    """Whether all of an element was put in, with what it holds."""
    span = _span(element)
    return span is not None and inserted.holds(span.start, span.end)


def _span(element: Element) -> Span | None:
    tag = element.source.start_tag(element.number)
    end = element.source.end_of(element.number)
    return Span(tag.start, end) if tag and end else None


def _markup(element: Element) -> str:
    """An element as it stands in the text."""
    span = _span(element)
    return element.source.original(span) if span else ""


def _put_in(page: UnderWay, element: Element) -> Iterator[Step]:
    """What has to be done for a new link, with what there is around it."""
    links = [one for one in element.line_inside if one.tag == "a" and one.attr("href")]
    number, at = element.number, page.spot(element.number)
    if len(links) == 1:
        values = links[0].attributes
        note = _joined(
            f"As markup: {_markup(element)}", _tab_note(values, {}), _rel_note(values, {})
        )
        what = f"a new link “{words(element.source, links[0].number)}”"
        yield Step(LINK, "", what, values["href"], "", note, at)
    else:
        what = f"a new {page.called_here(number, number)}"
        yield Step(MARKUP, "", what, _markup(element), "", "As markup.", at)


def _gone(page: UnderWay, element: Element, at: int, removed: Sequence[Span]) -> Iterator[Step]:
    """What has to be done for an element that is there no more. at: what comes before it."""
    number, values = element.number, element.attributes
    if element.parent is not None and _is_removed(element.parent, removed):
        return  # goes with what is around it
    what = page.called_there(number, at + 1)
    if is_marker(element.source, number):
        id_ = values.get("id") or values.get("name", "")
        yield Step(AWAY, "", "an empty marker", "", id_, "Remove this marker.")
    elif element.tag in _IN_HEAD:
        note = "Remove this line from the page’s head."
        yield Step(AWAY, "", "a line of style", "", _markup(element), note)
    elif _is_removed(element, removed):
        yield Step(AWAY, "", what, "", _markup(element), "Remove it, with all that is in it.")
    elif element.tag == "a" and "href" in values:
        yield Step(AWAY, "", what, "", values["href"], "Remove this link from its words.")


def _is_removed(element: Element, removed: Sequence[Span]) -> bool:
    """Whether all of an element was taken out, with what it holds."""
    span = _span(element)
    return span is not None and any(
        one.start <= span.start and span.end <= one.end for one in removed
    )
