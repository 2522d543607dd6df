"""Links that are there: other words for one, and one taken off so that its words stay."""

from __future__ import annotations

from innerhop.core import words_law
from innerhop.core.formats import html, pieces
from innerhop.core.formats.pieces import Kept, Node, Raw
from innerhop.core.lists.changes import relabelled
from innerhop.core.plan import Plan, Takes
from innerhop.core.planners.wrapping import CannotLink
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source

# What says where a link leads and how (HTML Standard, "Links created by a and area elements").
_OF_LINKS = (
    "href", "target", "download", "ping", "rel", "hreflang", "type", "referrerpolicy",
)  # fmt: skip
_OF_MARKS = ("id", "name")


def plan_unlinked(source: Source, number: int, encoding: FileEncoding) -> Plan:
    """Take a link off; what it holds stays. One that is a mark too stays as that. Raises
    CannotLink."""
    _require_link(source, number)
    takes = [one for one in words_law.whole(source, number) if one.is_link][:1]
    has = source.attributes(number)
    if any(name in has for name in _OF_MARKS):
        values = dict.fromkeys(name for name in _OF_LINKS if name in has)
        return html.give(source, {number: values}, encoding).taking(takes)
    if source.start_tag(number) is None or source.end_tag(number) is None:
        raise CannotLink("Where this link ends is not written in the markup.")
    return html.take_tags(source, number).taking(takes)


def plan_reworded(source: Source, number: int, words: str, encoding: FileEncoding) -> Plan:
    """Give a link other words: pictures in it, and what its words stand in, stay. Raises
    CannotLink, pieces.NotWhole."""
    _require_link(source, number)
    wanted = " ".join(words.split())
    had = source.text_of(number)
    if not wanted:
        raise CannotLink("Type the words: a link without any can be clicked by nobody.")
    if not had.strip():
        raise CannotLink(
            "This link is a picture, and has its words from that: change the picture’s "
            "alternative text in your site’s system."
        )
    plan = pieces.plan_filled(source, number, _inside(source, number, wanted), encoding)
    return plan.taking([Takes(had)])


def _inside(source: Source, number: int, words: str) -> list[Node]:
    """What a link is to hold: what its words stand in stays where that is one thing; where
    words stand in several, such as one in bold, nobody knows which of the new are to be."""
    held = pieces.held_by(source, number)
    if sum(map(_has_words, held)) <= 1:
        return relabelled(source, number, words)
    at = next(at for at, node in enumerate(held) if _has_words(node))
    return [
        *held[:at],
        words,
        *(one for one in held[at + 1 :] if isinstance(one, Kept) and not _has_words(one)),
    ]


def _has_words(node: Node) -> bool:
    if isinstance(node, Kept):
        is_drawing = node.source.tags[node.number] == "svg"
        return not is_drawing and bool(node.source.text_of(node.number).strip())
    return isinstance(node, Raw) and bool(node.read.strip())


def _require_link(source: Source, number: int) -> None:
    if source.tags[number] != "a" or source.attr(number, "href") is None:
        raise CannotLink("This is no link any more. Load the page again to see it as it is.")
