"""What an editor has to enter, and where, to do by hand in another system what was
done to a page here: each ID to type, each link with its address, the markup of
what was put in.

The two texts of a page are compared element by element; the edits between them
tell which element of the new one was which of the old.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import replace

from innerhop.core.addresses.link_target import is_new_tab
from innerhop.core.copy_steps import menu_steps
from innerhop.core.copy_steps.step import (
    AWAY,
    HEADING,
    ID,
    LINK,
    LINK_AWAY,
    MARKER,
    MARKUP,
    NO_ID,
    RANK,
    STYLE,
    Step,
)
from innerhop.core.copy_steps.under_way import UnderWay
from innerhop.core.copy_steps.whereabouts import Whereabouts
from innerhop.core.edits import Edit
from innerhop.core.facts.empty_markers import is_marker
from innerhop.core.facts.words import words
from innerhop.core.menus.menus import Menu
from innerhop.core.origins import Inserted, origins_of
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.elements import Element
from innerhop.core.source.tree import Source, Span

_IN_HEAD = ("style", "meta", "link", "script")


def steps(
    old: Source, new: Source, edits: Sequence[Edit],
    menus: tuple[Sequence[Menu], Sequence[Menu]] = ((), ()),
) -> list[Step]:  # fmt: skip
    """All that has to be done to a page that has the old text for it to be the new one, in
    page order, so that what a step speaks of stands there when all before it are done.
    edits: what makes the new text of the old. menus: those of the two texts, whose items are
    told as such."""
    inserted = Inserted(edits)
    origins = origins_of(old, new, edits)
    page = UnderWay(old, new, origins)
    pairs = _pairs(menus, origins)
    found: list[Step] = [step for pair in pairs for step in menu_steps.steps(*pair)]
    there = [range(menu.number + 1, menu.last + 1) for menu, _ in pairs]
    here = [range(menu.number + 1, menu.last + 1) for _, menu in pairs]
    kept = {origin: number for number, origin in enumerate(origins) if origin is not None}
    for number, origin in enumerate(origins):
        if origin is None:
            element = new.element(number)
            made = _unless_item(_new_part(page, element, inserted), number, here)
            told = [_found_at(step, page.after, _known_at(step, element), number) for step in made]
            found += [_with_markup(step, element) for step in told]
        else:
            element = new.element(number)
            made = _unless_item(_changed(page, old.element(origin), element), number, here)
            told = [_found_at(step, page.before, origin, number) for step in made]
            found += [_with_markup(step, element) for step in told]
    last, removed = 0, [Span(edit.start, edit.end) for edit in edits if edit.old]
    for origin in range(len(old)):
        last = kept.get(origin, last)
        if origin not in kept:
            gone = _gone(page, old.element(origin), last, removed)
            made = _unless_item(gone, origin, there)
            found += [_found_at(step, page.before, origin, last) for step in made]
    return _told_apart(sorted(found, key=_in_page_order))


def _pairs(
    menus: tuple[Sequence[Menu], Sequence[Menu]], origins: Sequence[int | None]
) -> list[tuple[Menu, Menu]]:
    """The menus that are on both texts."""
    was = {one.number: one for one in menus[0]}
    found = ((was.get(-1 if (there := origins[one.number]) is None else there), one)
             for one in menus[1])  # fmt: skip
    return [(old, new) for old, new in found if old is not None]


def _unless_item(made: Iterator[Step], number: int, menus: Sequence[range]) -> Iterator[Step]:
    """Steps on a part, less those on a menu's items, which are told as such. What tells the open
    page's item there, systems write themselves."""
    is_item = any(number in one for one in menus)
    return (step for step in made if not is_item or step.kind in (ID, NO_ID, MARKER))


def _found_at(step: Step, page: Whereabouts, there: int, number: int) -> Step:
    section = "" if step.kind == STYLE else page.section(there)
    return replace(step, section=section, frame=page.frame(there), number=number)


_AS_MARKUP = (HEADING, ID, NO_ID, LINK)
_SHORT = 240  # characters of a part that is shown whole


def _known_at(step: Step, element: Element) -> int:
    """The element by which a new one is looked for: a heading that is still to be made names
    no section yet."""
    above = element.parent
    return above.number if step.kind == HEADING and above is not None else element.number


def _with_markup(step: Step, element: Element) -> Step:
    """A step on a part that is there, with the part as markup."""
    if step.kind not in _AS_MARKUP:
        return step
    links = [one for one in element.line_inside if one.tag == "a" and one.attr("href")]
    if step.kind == LINK and element.tag not in ("a", "area") and len(links) != 1:
        return step
    whole = _markup(element)
    tag = element.source.start_tag(element.number)
    short = element.source.original(Span(tag.start, tag.end)) if tag else ""
    return replace(step, markup=whole if whole and len(whole) <= _SHORT else short)


def _in_page_order(step: Step) -> tuple[int, int, int]:
    # What goes is done when all that stands before it is.
    return step.kind != STYLE, step.number, RANK[step.kind]


def _told_apart(asked: list[Step]) -> list[Step]:
    seen: Counter[tuple[str, ...]] = Counter()
    apart = []
    for step in asked:
        apart.append(replace(step, nth=seen[step.message]))
        seen[step.message] += 1
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
        yield Step(MARKUP, "", what, has.get("style", ""), had.get("style", ""), _AS_BEFORE)


_AS_BEFORE = "In the markup, the attribute style: so that it looks as before."
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
    return Step(NO_ID, "", what, "", before, "Remove its ID; the part itself stays.")


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
        note = "Put this line into the page’s head."
        if element.tag == "style":
            note = (
                "Put this line into the page’s head, or what is between its tags into the styles."
            )
        yield Step(STYLE, "", _called_in_head(element), _markup(element), "", note)
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
        what = f"words “{words(source, number)}”"
        at = page.words_behind(number)
        yield Step(HEADING, "", what, element.tag, "", _level_note(element), at)
        what = page.called_here(number, number)
        if values.get("id"):
            yield _id_step(what, values["id"], "")
        if values.get("style"):
            yield Step(MARKUP, "", what, values["style"], "", _AS_BEFORE)


def _called_in_head(element: Element) -> str:
    is_style = element.tag == "style" or "stylesheet" in (element.attr("rel") or "")
    return "a line of style" if is_style else f"a line with a {element.tag}"


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
    source = element.source
    if len(links) == 1 and words(source, number) == words(source, links[0].number):
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
        yield Step(AWAY, "", _called_in_head(element), "", _markup(element), note)
    elif _is_removed(element, removed):
        yield Step(AWAY, "", what, "", _markup(element), "Remove it, with all that is in it.")
    elif element.tag == "a" and "href" in values:
        note = "Take the link off; its words stay."
        yield Step(LINK_AWAY, "", what, "", values["href"], note)


def _is_removed(element: Element, removed: Sequence[Span]) -> bool:
    """Whether all of an element was taken out, with what it holds."""
    span = _span(element)
    return span is not None and any(
        one.start <= span.start and span.end <= one.end for one in removed
    )
