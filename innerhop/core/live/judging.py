"""The steps of a copy sheet, held against the page as it is there."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import replace
from functools import cached_property

from innerhop.core.addresses import link_target
from innerhop.core.copy_steps.step import (
    AWAY,
    AWAY_ITEM,
    HEADING,
    ID,
    ITEM_END,
    LINK,
    LINK_AWAY,
    MARKER,
    MARKUP,
    MOVE_ITEM,
    NEW_ITEM,
    NO_ID,
    REWORD,
    STYLE,
    Step,
)
from innerhop.core.facts.words import words
from innerhop.core.live import ids, links
from innerhop.core.live.station import DIFFERENTLY, NOT_YET, THERE, UNTOLD, LiveStation
from innerhop.core.merge.matching import Match, matched, plain
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.tree import Source, Span

_SHOWN = 300  # characters of markup
# What is made a heading, and how many elements such a line has in it at the most.
_LINES, _FEW_INSIDE = ("p", "div", "li", "dt", "dd", "td", "th", "b", "strong"), 8


class PageThere:
    """A page as it was planned and as it is there. here, there: its two texts. address: its whole
    one, which links are read against. key_of: what all addresses of one page have in common."""

    def __init__(
        self, here: Source, there: Source, address: str, key_of: Callable[[str], str]
    ) -> None:
        self.here, self.there = here, there
        self.address, self.key_of = address, key_of

    @cached_property
    def match(self) -> Match:
        """Which element there is which here."""
        return matched(self.here, self.there)

    def of(self, number: int) -> int | None:
        """The element there that is the one with a number here."""
        return self.match.to[number] if 0 <= number < len(self.here) else None

    @cached_property
    def ids(self) -> ids.IdsThere:
        """The IDs that it has there."""
        return ids.IdsThere(self.there)

    @cached_property
    def links(self) -> links.Links:
        """The links that it has there."""
        return links.Links(self.there, self.address, self.key_of)

    @cached_property
    def lines(self) -> dict[str, int]:
        """What could be made a heading there, by its words; of several that say the same, the
        first."""
        few = (one for one in self.there.of_tags(*_LINES) if one.last - one.number <= _FEW_INSIDE)
        said = [(plain(self.there.text_of(one.number)), one.number) for one in few]
        return dict(reversed(said))

    @cached_property
    def shown(self) -> str:
        """What readers are shown there, as `_bare` leaves it."""
        return _bare(self.there.text_of(0)) if len(self.there) else ""

    def markup(self, number: int | None) -> str:
        """An element's start tag, or all of it where that is short, as it is there."""
        if number is None:
            return ""
        tag, end = self.there.start_tag(number), self.there.end_of(number)
        if tag is None:
            return ""
        whole = self.there.original(Span(tag.start, end)) if end else ""
        short = whole if whole and len(whole) <= _SHOWN else self.there.original(tag)
        return short[:_SHOWN]


def stations(page: PageThere, steps: Sequence[Step]) -> list[LiveStation]:
    """How each step stands on a page, in their order."""
    return [replace(_judged(page, step), at=place(page.here, step.number)) for step in steps]


def place(source: Source, number: int) -> float:
    """How far down a page an element stands, from 0 to 1, as its text goes."""
    start = source.starts[number] if 0 <= number < len(source) else 0
    return max(0, start) / max(1, len(source.text))


def _judged(page: PageThere, step: Step) -> LiveStation:
    judge = _JUDGES.get(step.kind)
    found = judge(page, step) if judge else LiveStation(step, UNTOLD)
    if found.state == NOT_YET and _is_shown_as_text(page, step):
        return replace(found, state=DIFFERENTLY, how=_AS_TEXT, todo=_FROM_TEXT)
    return found


def _is_shown_as_text(page: PageThere, step: Step) -> bool:
    """Whether readers see the markup that was to be entered: a system took it for words."""
    markup = next((one for one in (step.enter, step.markup) if one.startswith("<")), "")
    return bool(markup) and _bare(markup) in page.shown


_AS_TEXT = "It was taken for words there, so readers see the markup itself."
_FROM_TEXT = (
    "Take it out, and paste it where the system takes markup: a view of the source, or a block for "
    "HTML."
)


def _id(page: PageThere, step: Step) -> LiveStation:
    """An ID that an element is to have."""
    there = page.of(step.number)
    found = page.ids.found(step.enter, there)
    return LiveStation(step, found.state, found.how, found.todo, page.markup(found.number))


def _marker(page: PageThere, step: Step) -> LiveStation:
    """An empty marker: its ID, wherever it stands there."""
    id_ = page.here.attr(step.number, "id") or page.here.attr(step.number, "name") or ""
    number = page.ids.number(id_)
    state = THERE if number is not None else NOT_YET
    return LiveStation(step, state, there=page.markup(number))


def _no_id(page: PageThere, step: Step) -> LiveStation:
    there = page.of(step.number)
    has = there is not None and page.there.attr(there, "id") == step.before
    return LiveStation(step, NOT_YET if has else THERE, there=page.markup(there))


def _heading(page: PageThere, step: Step) -> LiveStation:
    there = page.of(step.number)
    if there is None:
        line = page.lines.get(plain(page.here.text_of(step.number)))
        return LiveStation(step, UNTOLD if line is None else NOT_YET, there=page.markup(line))
    if page.there.tags[there] == step.enter:
        return LiveStation(step, THERE, there=page.markup(there))
    is_heading = page.there.tags[there] in LEVELS
    how = f"It is a heading of level {LEVELS[page.there.tags[there]]} there." if is_heading else ""
    return LiveStation(step, DIFFERENTLY if is_heading else NOT_YET, how, there=page.markup(there))


def _link(page: PageThere, step: Step) -> LiveStation:
    """A link that is to be there: by the element that it is, or by its words."""
    number = _link_of(page.here, step.number)
    if number is None:
        return LiveStation(step, UNTOLD)
    end = page.links.end(page.here.attr(number, "href") or "")
    said = words(page.here, number)
    new_tab = link_target.is_new_tab(page.here.attr(number, "target") or "")
    found = page.links.found(links.WantedLink(end, said, new_tab, page.of(number)))
    return LiveStation(
        step, found.state, found.how, found.todo, page.markup(found.number),
        end=(end.address, end.id),
    )  # fmt: skip


def _link_of(source: Source, number: int) -> int | None:
    """The link that an element is, or that stands in it."""
    inside = range(number, source.last_inside(number) + 1)
    return next((at for at in inside if source.tags[at] in ("a", "area")
                 and source.attr(at, "href") is not None), None)  # fmt: skip


def _link_away(page: PageThere, step: Step) -> LiveStation:
    old = page.links.end(step.before)
    left = page.links.to(old)
    kept = sum(page.links.end(href) == old for href in _hrefs(page.here))
    return LiveStation(step, NOT_YET if len(left) > kept else THERE)


def _hrefs(source: Source) -> Iterable[str]:
    return (one.attr("href") or "" for one in source.of_tags("a", "area") if one.attr("href"))


def _away(page: PageThere, step: Step) -> LiveStation:
    """A part that is to go: whether there are more like it there than here."""
    if not step.before.startswith("<"):  # a marker's ID
        return LiveStation(step, NOT_YET if page.ids.number(step.before) is not None else THERE)
    gone = Source(step.before)
    said = plain(gone.text_of(0))
    if not said:
        return LiveStation(step, UNTOLD)
    there, here = (plain(one.text_of(0)).count(said) for one in (page.there, page.here))
    return LiveStation(step, NOT_YET if there > here else THERE)


def _style(page: PageThere, step: Step) -> LiveStation:
    """A line of style or the like: without what tells one way of writing it from another."""
    wanted, there = _bare(step.enter), _bare(page.there.text)
    inside = _bare(step.enter.partition(">")[2].rpartition("<")[0])
    return LiveStation(step, THERE if wanted in there or (inside and inside in there) else NOT_YET)


def _bare(text: str) -> str:
    return "".join(text.replace("'", '"').split()).replace(";}", "}")


def _markup(page: PageThere, step: Step) -> LiveStation:
    """A part that was put in, or an attribute: what it shows, and what can be arrived at."""
    number = step.number
    there = page.of(number)
    if there is None:
        return LiveStation(step, NOT_YET)
    if not step.enter.startswith("<"):
        is_so = (_has_value if step.enter else _lacks_value)(page, step, there)
        return LiveStation(step, THERE if is_so else NOT_YET, there=page.markup(there))
    same = plain(page.here.text_of(number)) == plain(page.there.text_of(there))
    wanted = _ends_inside(page, page.here, number)
    has_all = wanted.items() <= _ends_inside(page, page.there, there).items()
    if same and has_all:
        return LiveStation(step, THERE, there=page.markup(there))
    how = "Its words are others there." if not same else "Some of its links lead elsewhere there."
    return LiveStation(step, DIFFERENTLY, how, _AS_MARKUP, page.markup(there))


def _has_value(page: PageThere, step: Step, there: int) -> bool:
    """Whether the attribute that a step gives a value has it there, among others."""
    names = [name for name, value in page.here.attributes(step.number).items()
             if value == step.enter]  # fmt: skip
    wanted = set(step.enter.split())
    return any(wanted <= set((page.there.attr(there, name) or "").split()) for name in names)


def _lacks_value(page: PageThere, step: Step, there: int) -> bool:
    """Whether an attribute that a step empties has not what it had there."""
    here, had = page.here.attributes(step.number), set(step.before.split())
    return not any(had <= set(value.split()) for name, value in
                   page.there.attributes(there).items() if name not in here)  # fmt: skip


_AS_MARKUP = "Paste it again as markup, in the place of what is there."


def _ends_inside(page: PageThere, source: Source, number: int) -> Mapping[str, object]:
    """By their words, where the links in a part lead."""
    inside = range(number, source.last_inside(number) + 1)
    return {words(source, at): page.links.end(source.attr(at, "href") or "")
            for at in inside if source.tags[at] == "a"}  # fmt: skip


def _items(source: Source, number: int) -> list[tuple[str, str]]:
    """The links of a menu, by its number: their words and addresses, in order."""
    inside = range(number, source.last_inside(number) + 1)
    return [(words(source, at), source.attr(at, "href") or "") for at in inside
            if source.tags[at] == "a"]  # fmt: skip


def _moved_item(page: PageThere, step: Step) -> LiveStation:
    """An item that stands elsewhere in its menu: whether all that both have is in order."""
    there = page.of(step.number)
    if there is None:
        return LiveStation(step, UNTOLD)
    here_said, there_said = ([said for said, _ in _items(*one)] for one in
                             ((page.here, step.number), (page.there, there)))  # fmt: skip
    known, wanted = set(here_said), set(there_said)
    in_order = [one for one in there_said if one in known] == [
        one for one in here_said if one in wanted
    ]
    return LiveStation(step, THERE if in_order else NOT_YET)


def _no_item(page: PageThere, step: Step) -> LiveStation:
    """An item that goes: whether its menu has more links there that lead where it did."""
    there = page.of(step.number)
    if there is None or not step.before:
        return LiveStation(step, UNTOLD)
    old = page.links.end(step.before)
    left, kept = (sum(page.links.end(href) == old for _, href in _items(*one)) for one in
                  ((page.there, there), (page.here, step.number)))  # fmt: skip
    return LiveStation(step, NOT_YET if left > kept else THERE)


_JUDGES: Mapping[str, Callable[[PageThere, Step], LiveStation]] = {
    ID: _id,
    MARKER: _marker,
    NO_ID: _no_id,
    HEADING: _heading,
    LINK: _link,
    LINK_AWAY: _link_away,
    AWAY: _away,
    STYLE: _style,
    MARKUP: _markup,
    NEW_ITEM: _link,
    REWORD: _link,
    ITEM_END: _link,
    MOVE_ITEM: _moved_item,
    AWAY_ITEM: _no_item,
}
