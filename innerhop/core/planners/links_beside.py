"""Putting a new link or button before or after a part of the page, plain or as a
copy of one that is there.

HTML Standard, content models: between the entries of a list it is an entry of its
own, between blocks a paragraph, in a line a word among others.
"""

from __future__ import annotations

import re
from collections.abc import Collection
from dataclasses import dataclass

from innerhop.core.edits import Edit, apply
from innerhop.core.planners import markers
from innerhop.core.planners.wrapping import CannotLink, link_around
from innerhop.core.proof import Values, same_but
from innerhop.core.source import attributes, markup
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Node, Source, in_template, is_text

_BROKEN = "The markup here is too broken to put a link in safely."


@dataclass(frozen=True, slots=True)
class New:
    """A link that is to be put in. words: what readers click. like: the number of a
    link or button that it is to be a copy of, with words and attributes of its own."""

    words: str
    values: Values
    like: int | None = None


def plan_beside(
    source: Source, number: int, side: str, new: New, encoding: FileEncoding
) -> list[Edit]:
    """The edits that put a new link before or after a part of the page.

    Raises CannotLink, or markers.CannotMark where nothing can stand.
    """
    if not new.words.split():
        raise CannotLink("Give the words that readers should click.")
    node = source.node(number)
    above = node.parent
    if isinstance(above, Node) and link_around(source, source.number(above)) is not None:
        raise CannotLink("This stands inside a link or a button. Choose that one.")
    place = _place(source, node, number, side)
    link = _new_link(source, new, encoding)
    space, wrap = _set_apart(source, node, number)
    made_text = wrap.replace("{}", link)
    text = made_text + space if side == markers.BEFORE else space + made_text
    edits = [Edit(place, "", text)]
    # The space alone changes no tree; beside it, the new link is all there is more.
    spaced = Source(apply(source.text, [Edit(place, "", space)]))
    grown = Source(apply(source.text, edits))
    made = _made(grown, place, place + len(text))
    if len(spaced.nodes) != len(source.nodes) or not made:
        raise CannotLink(_BROKEN)
    if not same_but(spaced, grown, added=made, filled=True):
        raise CannotLink(_BROKEN)
    return edits


def _place(source: Source, node: Node, number: int, side: str) -> int:
    if node.tag in ("li", "dt", "dd"):  # a new entry beside it
        tag, end = source.start_tag(number), source.end_of(number)
        place = (tag.start if tag else None) if side == markers.BEFORE else end
        if place is None:
            raise CannotLink("Where this entry ends is not written in the markup.")
        return place
    return markers.place_of(source, number, side)


def _new_link(source: Source, new: New, encoding: FileEncoding) -> str:
    said = markup.text(" ".join(new.words.split()), encoding)
    like, values = new.like, new.values
    if like is None:
        return f"<a{attributes.written(values, encoding)}>{said}</a>"
    node = source.node(like)
    classes = node.attr("class")
    kept: dict[str, str | None] = {}
    if classes:
        kept["class"] = " ".join(str(one) for one in str(classes).split())
    for name in ("style", "role"):
        if node.attr(name):
            kept[name] = str(node.attr(name))
    return f"<a{attributes.written({**kept, **values}, encoding)}>{_inside(source, like, said)}</a>"


def _inside(source: Source, like: int, said: str) -> str:
    """What stands in the copied link, with other words: an icon in it is copied too."""
    tag, end = source.start_tag(like), source.end_tag(like)
    runs = _runs_with_words(source, like)
    if tag is None or end is None or len(runs) != 1:
        return said
    start, stop = runs[0]
    inner = source.text[tag.end : start] + said + source.text[stop : end.start]
    return re.sub(r"\sid\s*=\s*(\"[^\"]*\"|'[^']*'|[^\s>]+)", "", inner)


def _runs_with_words(source: Source, like: int) -> list[tuple[int, int]]:
    found = []
    for number in range(like, source.last_inside(like) + 1):
        for child, node in enumerate(source.node(number).children):
            if not is_text(node) or not re.search(r"\w", node.text):
                continue
            run = source.text_run(number, child)
            if run is None:
                return []
            data = run.data
            lead = len(data) - len(data.lstrip())
            found.append((run.start_place(lead), run.end_place(len(data.rstrip()))))
    return found


# Where a new link is a line of its own rather than a word among others.
_BLOCKS = frozenset((
    "p", "div", "section", "article", "aside", "ul", "ol", "dl", "table", "figure", "form", "pre",
    "blockquote", "details", "hr", "h1", "h2", "h3", "h4", "h5", "h6", "header", "footer", "nav",
    "address", "fieldset",
))  # fmt: skip


def _set_apart(source: Source, node: Node, number: int) -> tuple[str, str]:
    """The space between the link and the part, and what the link needs around it to
    stand there: an entry of its own in a list, a paragraph between blocks."""
    if node.tag in ("li", "dt", "dd"):
        return _indent(source, number), f"<{node.tag}>{{}}</{node.tag}>"
    if node.tag in _BLOCKS:
        return _indent(source, number), "<p>{}</p>"
    return " ", "{}"


def _indent(source: Source, number: int) -> str:
    """The line end and white space that the element itself begins with."""
    tag = source.start_tag(number)
    before = source.text[: tag.start] if tag else ""
    found = re.search(r"(?:\r\n|\n|\r)[ \t]*$", before)
    return found.group() if found else ""


def _made(grown: Source, start: int, end: int) -> Collection[int]:
    """The elements whose start tags stand in what was put in."""
    found = []
    for number in range(len(grown.nodes)):
        tag = grown.start_tag(number)
        if tag is not None and start <= tag.start < end:
            found.append(number)
    return found


def looks(source: Source) -> list[int]:
    """The links and buttons of a page that a new one could be a copy of: by number,
    the first of each class, since it is the class that gives them their look
    (common practice, no source)."""
    found: dict[str, int] = {}
    for node in source.document.select("a[class], button[class]"):
        look = " ".join(sorted(str(node.attr("class") or "").split()))
        if look and not in_template(node):
            found.setdefault(look, source.number(node))
    return list(found.values())
