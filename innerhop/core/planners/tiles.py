"""Tiles: parts alike beside each other, each with one link, as cards and teasers are (common
practice, no source). One is copied with its link, so that the new one looks like them."""

from __future__ import annotations

from dataclasses import replace
from typing import NamedTuple

from innerhop.core.edits import Edit, apply
from innerhop.core.formats import html, pieces
from innerhop.core.plan import NewElement, Plan, Values
from innerhop.core.planners import markers
from innerhop.core.planners.links_beside import worded
from innerhop.core.planners.wrapping import CannotLink
from innerhop.core.proof import part_of, parts_inside
from innerhop.core.source import attributes, markup
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source

_TAGS = frozenset(("a", "article", "div", "figure", "li", "section"))
_FRAME = "nav, header, footer"
_ENDS = frozenset(("html", "body", "main", "table", "form"))
_PICTURES = ("img", "svg", "picture")
_BLOCKS = (*LEVELS, "p", "div", "figure")
# What names others by their ID, or says what the old link was called.
_ITS_OWN = ("id", "name", "for", "title", "aria-label", "aria-labelledby", "aria-describedby",
            "aria-controls", "aria-details")  # fmt: skip


class Tile(NamedTuple):
    """A tile and the link in it, by number; the tile itself, where that is the link."""

    number: int
    link: int

    def holds(self, source: Source, number: int) -> bool:
        """Whether an element is the tile, or in it."""
        return self.number <= number <= source.last_inside(self.number)


def tile_at(source: Source, number: int) -> Tile | None:
    """The tile that an element is, or is in."""
    reading = source.reading
    if reading.is_within(number, _FRAME):
        return None
    while number >= 0 and reading.tag(number) not in _ENDS:
        links = _links(source, number)
        if len(links) > 1:
            return None
        if links and _holds_more(source, number) and _has_its_like(source, number):
            return Tile(number, links[0])
        number = source.parent(number)
    return None


def _links(source: Source, number: int) -> list[int]:
    found = [number] if source.tags[number] == "a" else []
    found += source.reading.inside(number, "a")
    return [one for one in found if source.attr(one, "href") is not None]


def _holds_more(source: Source, number: int) -> bool:
    """Whether there is more in it than a line of words."""
    reading = source.reading
    if reading.tag(number) not in _TAGS:
        return False
    return any(reading.has_inside(number, tag) for tag in (*_PICTURES, *_BLOCKS))


def _has_its_like(source: Source, number: int) -> bool:
    look = (source.tags[number], (source.attr(number, "class") or "").split())
    parent = source.parent(number)
    beside = source.reading.children_of_tags(parent, (look[0],)) if parent >= 0 else []
    return any(
        one != number
        and (source.attr(one, "class") or "").split() == look[1]
        and len(_links(source, one)) == 1
        for one in beside
    )


def plan_copy(
    source: Source, tile: Tile, side: str, words: str, *, values: Values, encoding: FileEncoding
) -> Plan:  # fmt: skip
    """Put a copy of a tile before or after it. Its title is the words; what its link says stays
    where the title stands outside of it; all other words, and IDs, are left out. values: the
    attributes of its link. Raises CannotLink where the markup leaves open where it ends."""
    if not words.split():
        raise CannotLink("Give the words that readers should click.")
    tag, end = source.start_tag(tile.number), source.end_of(tile.number)
    if tag is None or end is None:
        raise CannotLink("Where this tile begins and ends is not written in the markup.")
    edits = [*_of_words(source, tile, words, encoding), *_of_tags(source, tile, values, encoding)]
    inside = [replace(one, start=one.start - tag.start) for one in edits]
    written = apply(source.text[tag.start : end], inside)
    space = pieces.indent(source, tile.number)
    is_before = side == markers.BEFORE
    place, made = tag.start if is_before else end, _claimed(written)
    return html.put_as_written(place, written, made, space=space, is_before=is_before)


def _claimed(written: str) -> NewElement:
    """The copy as a parser reads it by itself."""
    page = Source(markup.alone(written))
    number = page.reading.of_tags(["body"])[0] + 1
    if number >= len(page) or page.last_inside(number) != len(page) - 1:
        raise CannotLink("This tile can't be copied: its markup doesn't stand by itself.")
    made = part_of(page, number, 0)
    inside = parts_inside(page, number)
    return NewElement(0, 0, made.tag, made.attributes, made.text, inside)


def _of_words(source: Source, tile: Tile, words: str, encoding: FileEncoding) -> list[Edit]:
    runs = list(worded(source, tile.number))
    if any(one.first < 0 for one in runs):
        raise CannotLink("Where the words of this tile stand is not written in its markup.")
    if not runs:
        raise CannotLink("This tile has no words that could be others. Choose another look.")
    linked = [one for one in runs if tile.link <= one.owner <= source.last_inside(tile.link)]
    titles = [one for one in runs if source.reading.is_within(one.owner, ", ".join(LEVELS))]
    title = (titles or linked or runs)[0]
    stays = [] if title in linked else linked
    message = markup.text(" ".join(words.split()), encoding)
    return [
        Edit(one.first, source.text[one.first : one.last], message if one is title else "")
        for one in runs
        if one not in stays
    ]


def _of_tags(source: Source, tile: Tile, values: Values, encoding: FileEncoding) -> list[Edit]:
    """The link's new attributes, and what no copy can have."""
    edits: list[Edit] = []
    for number in range(tile.number, source.last_inside(tile.number) + 1):
        own: dict[str, str | None] = dict.fromkeys(_ITS_OWN)
        if number == tile.link:
            own |= {"target": None, "rel": None, **values}
        has = source.attributes(number)
        asked = {name: value for name, value in own.items() if value is not None or name in has}
        if asked:
            edits += attributes.plan(source, number, asked, encoding)
    return edits
