"""A page's tree as html5lib sees it: another conforming parser (HTML Standard
13.2, as of html5lib 1.1), which shares no code with ours."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from xml.etree.ElementTree import Element

import html5lib
from hypothesis import strategies as st

HTML = "{http://www.w3.org/1999/xhtml}"


@dataclass
class Tree:
    """An element: tag, attributes, and children that are elements or text."""

    tag: str
    attrs: dict[str, str]
    children: list[Tree | str] = field(default_factory=list)

    def below(self) -> Iterator[Tree]:
        """This element and all inside it, in tree order."""
        yield self
        for child in self.children:
            if isinstance(child, Tree):
                yield from child.below()

    @property
    def text(self) -> str:
        return "".join(c if isinstance(c, str) else c.text for c in self.children)

    def unwrapped(self, wanted: Tree) -> Tree:
        """The same tree without that one element, what was in it left in its place."""
        plain = Tree(self.tag, self.attrs)
        for child in self.children:
            if isinstance(child, str):
                plain.add(child)
            elif child is wanted:
                for inner in child.children:
                    plain.add(inner if isinstance(inner, str) else inner.unwrapped(wanted))
            else:
                plain.add(child.unwrapped(wanted))
        return plain

    def add(self, child: Tree | str) -> None:
        if isinstance(child, str) and self.children and isinstance(self.children[-1], str):
            self.children[-1] += child
        elif child:
            self.children.append(child)


def read(text: str) -> Tree:
    """The whole page."""
    parser = html5lib.HTMLParser(namespaceHTMLElements=True)
    return _tree(parser.parse(text, scripting=True))


def _tree(node: Element) -> Tree:
    tree = Tree(str(node.tag).removeprefix(HTML), {str(k): v for k, v in node.attrib.items()})
    tree.add(node.text or "")
    for child in node:
        if isinstance(child.tag, str):  # comments have a function there
            tree.add(_tree(child))
        else:
            tree.children.append(Tree("comment", {}))
        tree.add(child.tail or "")
    return tree


_TAGS = "h2 h3 p b i em span a div ul li table tr td section code button"
_ODD = r"""<H2 CLASS=x>|<h3 id=one>|<p title="a > b">|<a name=old>|<a href='#one'>|<br>
<!-- <h2>no</h2> -->|<img alt=boat src=x>|&amp;|&eacute|&nosuch;|&#x1F6A4;|some words|Lock one
ä|<h2/>|<p><b><p>| |<svg><g id=s></g></svg>"""
_PIECES = [
    *(f"<{slash}{tag}>" for tag in _TAGS.split() for slash in ("", "/")),
    *_ODD.replace("\n", "|").split("|"),
    "\r\n",
    "\t",
]


def markup() -> st.SearchStrategy[str]:
    """Pages of real-life untidiness: misnested, unclosed, in capitals, with references."""
    pieces = st.lists(st.sampled_from(_PIECES), max_size=25).map("".join)
    return pieces.map(lambda text: f"<!DOCTYPE html>\r\n<body>{text}<h2>The end</h2><p>Last words")
