"""Empty markers: where no element of the right kind stands, an empty `span` with
an ID does, which visitors don't see.

CSS 2.2, 9.4.2: a line box that holds nothing but empty inline elements has no
height and is treated as not existing, so a marker between blocks moves nothing.
"""

from __future__ import annotations

from innerhop.core.edits import Edit, apply
from innerhop.core.proof import same_but
from innerhop.core.source import markup
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import VOID, Node, Source, in_template, is_blank

# Where a mark can be put, seen from an element.
ON, BEFORE, AFTER, INSIDE = "on", "before", "after", "inside"

_MARKER_TAGS = ("a", "span", "div", "i", "p")
_PLAIN_ATTRIBUTES = frozenset(("id", "name", "class", "aria-hidden"))
# HTML Standard, content models: what holds none but its own kind of elements.
_OWN_KIND = (
    ("table thead tbody tfoot tr colgroup", "the parts of a table"),
    ("ul ol menu", "the entries of a list"),
    ("dl", "the terms of a list"),
    ("select optgroup option datalist", "the entries of a form's list"),
    ("picture video audio svg math object", "the parts of a picture"),
    ("html head", "the parts of the page"),
    ("ruby hgroup details", "these parts"),
)
_OWN_KIND_ONLY = {tag: what for tags, what in _OWN_KIND for tag in tags.split()}
_RANKS = frozenset(f"h{rank}" for rank in range(1, 7))


class CannotMark(ValueError):
    """The place can't be marked so; says in plain words why and what to do."""


def is_marker(node: Node) -> bool:
    """Whether an element is there for its ID or name only: nothing in it, no
    link, and nothing that a reader could see."""
    if node.tag not in _MARKER_TAGS or not _PLAIN_ATTRIBUTES.issuperset(node.attrs):
        return False
    return not node.text.strip() and next(node.iter_elements(), None) is None


def plan_marker(
    source: Source, number: int, side: str, id_: str, encoding: FileEncoding
) -> list[Edit]:
    """The edits that put an empty marker beside an element, or inside it at its
    start. The ID has been checked.

    Raises CannotMark where nothing can stand there.
    """
    place = place_of(source, number, side)
    edits = [Edit(place, "", f"<span {markup.attribute('id', id_, encoding)}></span>")]
    grown = Source(apply(source.text, edits))
    made = grown.element_at(place)
    if made is None or not same_but(source, grown, added=[made]):
        raise CannotMark("The markup here is too broken to put a marker in safely.")
    return edits


def place_of(source: Source, number: int, side: str) -> int:
    """Where in the text something can be put beside an element, or inside it at
    its start. Raises CannotMark where nothing can stand there."""
    node = source.node(number)
    _refuse_parent(node if side == INSIDE else node.parent, side)
    if in_template(node):
        raise CannotMark("Readers don't see this part of the page. Choose one they see.")
    if side == AFTER:
        place = source.end_of(number)
    else:
        tag = source.start_tag(number)
        place = None if tag is None else (tag.end if side == INSIDE else tag.start)
    if place is None:
        raise CannotMark("Where this part ends is not written in the markup. Put it before.")
    return place


def _refuse_parent(parent: object, side: str) -> None:
    if not isinstance(parent, Node):
        raise CannotMark("Outside the page's body nothing can be marked.")
    if parent.tag in _OWN_KIND_ONLY:
        what = _OWN_KIND_ONLY[parent.tag]
        inside = "" if side == INSIDE else " Put it inside one of them, at its start."
        raise CannotMark(f"Between {what} nothing else can stand.{inside}")
    if parent.tag in VOID or parent.tag in ("textarea", "title", "script", "style", "iframe"):
        raise CannotMark("Nothing can be put inside this. Put the marker before it.")


def removal(source: Source, number: int) -> Edit:
    """The edit that takes an empty marker out of the text."""
    tag, end = source.start_tag(number), source.end_of(number)
    if tag is None or end is None:
        raise CannotMark("Where this marker ends is not written in the markup.")
    return Edit(tag.start, source.text[tag.start : end], "")


def heading_above(source: Source, number: int, side: str) -> Node | None:
    """The heading that a marker on that side would stand right below: a reader
    sent there does not see it, because it is cut off."""
    node = source.node(number)
    if side == AFTER:
        return _last_heading(node)
    if side == ON or _begins_with_heading(node):
        return None
    while (before := _shown_before(node)) is None:
        if not isinstance(node.parent, Node):
            return None
        node = node.parent
    return _last_heading(before) if isinstance(before, Node) else None


def _begins_with_heading(node: Node) -> bool:
    if node.tag in _RANKS:
        return True
    shown = (one for one in node.children if not is_blank(one) and not _shows_nothing(one))
    first = next(shown, None)
    return isinstance(first, Node) and _begins_with_heading(first)


def _shown_before(node: Node) -> object:
    """What a reader sees right before the element, within its parent."""
    before = node.previous_sibling
    while before is not None and (is_blank(before) or _shows_nothing(before)):
        before = before.previous_sibling
    return before


def _shows_nothing(node: object) -> bool:
    return isinstance(node, Node) and (is_marker(node) or node.tag in ("script", "style"))


def _last_heading(node: Node) -> Node | None:
    """The element itself, or what it ends with, when that is a heading."""
    if node.tag in _RANKS:
        return node
    children = [one for one in node.children if not is_blank(one) and not _shows_nothing(one)]
    last = children[-1] if children else None
    return _last_heading(last) if isinstance(last, Node) else None
