"""What a page's text says about marks, links and headings: the facts that all
else is computed from.

Every fact names its element by number (see `source`). Gathering them is one
walk over the tree, kept lean because whole sites are read this way.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import NamedTuple

from innerhop.core.addresses.fragments import Targets
from innerhop.core.planners.markers import is_marker
from innerhop.core.source.tree import Node, Source, is_text

_RANKS = {f"h{rank}": rank for rank in range(1, 7)}
# The parts of a page that make its site's frame (HTML Standard 4.3.4 nav, 4.3.8
# header, 4.3.9 footer). Inside `main` or `article` they belong to the content.
_FRAME = frozenset(("nav", "header", "footer"))
_CONTENT = frozenset(("main", "article"))
_TOLD = frozenset((*_RANKS, *_FRAME, "a", "area", "title", "base", "template", "html"))


class Mark(NamedTuple):
    """An element that readers can be sent to.

    attribute: "id", or "name" for `<a name>` (HTML Standard 7.4.6.4, step 2 of
    "find a potential indicated element"). empty: whether the element is there
    for that only, a marker that visitors don't see.
    """

    number: int
    attribute: str
    value: str
    tag: str
    empty: bool = False


class Link(NamedTuple):
    """An `a` or `area` with an href, as written. region: "nav", "header" or
    "footer" where it stands in the site's frame, else ""; `nav` wins inside the
    others. target: its own `target`, or "" (see `Facts.base_target`)."""

    number: int
    href: str
    text: str
    region: str
    target: str = ""


class Heading(NamedTuple):
    """An `h1` to `h6`, its rank, its words, its own ID if it has one, and its
    region, as a link's."""

    number: int
    rank: int
    text: str
    id: str
    region: str = ""


@dataclass(slots=True)
class Facts:
    """All that was found on one page, each list in tree order.

    frame: the regions of the site's frame, from the number of each to the last
    number inside it.
    """

    title: str = ""
    language: str = ""
    base_href: str | None = None
    base_target: str = ""
    marks: list[Mark] = field(default_factory=list)
    links: list[Link] = field(default_factory=list)
    headings: list[Heading] = field(default_factory=list)
    frame: dict[int, int] = field(default_factory=dict)

    def targets(self) -> Targets[int]:
        """What fragments can find on this page, as element numbers."""
        return Targets.of((mark.attribute, mark.value, mark.number) for mark in self.marks)

    def ids(self) -> dict[str, Mark]:
        """Every ID on the page with the element that readers arrive at."""
        found: dict[str, Mark] = {}
        for mark in self.marks:
            if mark.attribute == "id":
                found.setdefault(mark.value, mark)
        return found


def gather(source: Source) -> Facts:
    """The facts of a page.

    Elements inside `template` are left out: they are in no visitor's tree
    (HTML Standard 4.12.3, the template contents).
    """
    facts = Facts()
    identified = iter(source.document.select("[id]"))
    next_identified = next(identified, None)
    breaks = next(source.document.iter_elements("br"), None) is not None
    region, region_end, template_end = "", -1, -1
    for number, node in enumerate(source.document.iter_elements()):
        id_ = ""
        if node == next_identified:
            next_identified = next(identified, None)
            id_ = str(node.attr("id") or "") if number > template_end else ""
            if id_:
                facts.marks.append(Mark(number, "id", id_, node.tag, is_marker(node)))
        tag = node.tag
        if tag not in _TOLD or number <= template_end:
            continue
        where = region if number <= region_end else ""
        if tag in _RANKS:
            facts.headings.append(Heading(number, _RANKS[tag], words(node, breaks), id_, where))
        elif tag == "a" or tag == "area":
            _note_link(facts, number, node, where, breaks)
        elif tag == "template":
            template_end = number + _count_inside(node)
        elif tag == "nav" and where:
            region = tag
        elif tag in _FRAME:
            if not where and not _is_content(node):
                region, region_end = tag, number + _count_inside(node)
                facts.frame[number] = region_end
        else:
            _note_head(facts, node, tag)
    _note_targets(facts, source)
    return facts


def _note_targets(facts: Facts, source: Source) -> None:
    """The few links that have a `target` of their own."""
    found = {source.number(one): str(one.attr("target")) for one in
             source.document.select("a[target], area[target]")}  # fmt: skip
    if found:
        facts.links = [one._replace(target=found.get(one.number, "")) for one in facts.links]


def _count_inside(node: Node) -> int:
    return len(list(node.iter_elements()))


def _is_content(node: Node) -> bool:
    """Whether a header, footer or nav belongs to the page's content."""
    return any(isinstance(up, Node) and up.tag in _CONTENT for up in node.ancestors)


def words(node: Node, with_breaks: bool = True) -> str:
    """An element's text in one line, as a reader would say it.

    A picture speaks through its alternative text (HTML Standard 4.8.4.4).
    with_breaks: whether line breaks are to be looked for; a page that has none
    is read faster without.
    """
    text = " ".join((_text(node) if with_breaks else node.text).split())
    if text:
        return text
    if node.tag == "img":
        return " ".join(str(node.attr("alt") or "").split())
    pictures = (str(picture.attr("alt") or "") for picture in node.iter_elements("img"))
    return " ".join(alt for alt in pictures if alt)


def _text(node: Node) -> str:
    """An element's text, with line breaks as the white space they are to a reader."""
    if next(node.iter_elements("br"), None) is None:
        return node.text
    return "".join(
        one.text if is_text(one) else "\n"
        for one in node.descendants
        if is_text(one) or (isinstance(one, Node) and one.tag == "br")
    )


def _note_link(facts: Facts, number: int, node: Node, region: str, breaks: bool) -> None:
    name = node.attr("name")
    if name and node.tag == "a":
        facts.marks.append(Mark(number, "name", name, "a", is_marker(node)))
    href = node.attr("href")
    if href is not None:
        facts.links.append(Link(number, href, words(node, breaks), region))


def _note_head(facts: Facts, node: Node, tag: str) -> None:
    if tag == "html":
        facts.language = facts.language or str(node.attr("lang") or "")
    elif tag == "base":
        href = node.attr("href")
        if href is not None and facts.base_href is None:
            facts.base_href = str(href)
        facts.base_target = facts.base_target or str(node.attr("target") or "")
    # SVG has a `title` too; only HTML's names the page.
    elif not facts.title and str(node.namespace).endswith("HTML"):
        facts.title = words(node)
