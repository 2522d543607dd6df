"""Menus of pages that nobody here wrote: the HTML in Debian's packages developers-reference
and git-doc, where they are installed, read against html5lib and written anew."""

from __future__ import annotations

from pathlib import Path
from xml.etree.ElementTree import Element

import html5lib
import pytest

from innerhop.core.facts import page_facts
from innerhop.core.menus import menus
from innerhop.core.planners import menus as planner
from innerhop.core.planners.menus import WantedItem
from innerhop.core.proof import proved
from innerhop.core.source import file_encoding
from innerhop.core.source.tree import Source

ROOTS = {
    "developers-reference": Path("/usr/share/developers-reference"),
    "git-doc": Path("/usr/share/doc/git/html"),
}
LISTS = ("ul", "ol")


def pages(package: str) -> list[Source]:
    root = ROOTS[package]
    if not root.is_dir():
        pytest.skip(f"Debian's package {package} is not installed.")
    found = sorted(root.rglob("*.html"))[:60]
    return [Source(file_encoding.decode(one.read_bytes())[0]) for one in found]


def found_in(source: Source) -> list[menus.Menu]:
    facts = page_facts.gather(source)
    return menus.lists_of_links(source, facts, menus.places(facts, []))


def by_html5lib(source: Source) -> list[list[str]]:
    """The links of the outermost lists in the parts whose role is navigation."""
    tree = html5lib.parse(source.text, namespaceHTMLElements=False)
    found: list[list[str]] = []

    def walk(element: Element, inside: bool) -> None:
        inside = inside or element.get("role") == "navigation" or element.tag == "nav"
        if inside and element.tag in LISTS:
            links = [one.get("href") or "" for one in element.iter("a") if one.get("href")]
            if len(links) >= menus.FEWEST:
                found.append(links)
            return
        for child in element:
            walk(child, inside)

    walk(tree, inside=False)
    return found


def test_the_menus_of_a_manual_are_found_as_another_parser_reads_them() -> None:
    count = 0
    for source in pages("developers-reference"):
        ours = [[one.href for one in menu.items if one.href] for menu in found_in(source)]
        assert ours == by_html5lib(source)
        count += len(ours)
    assert count > 20


def test_pages_without_a_frame_have_no_menu() -> None:
    assert [found_in(source) for source in pages("git-doc") if found_in(source)] == []


def test_their_menus_are_written_in_another_order_and_nothing_else_changes() -> None:
    for source in pages("developers-reference"):
        for menu in found_in(source):
            wanted = [WantedItem(at, 0) for at in reversed(range(len(menu.items)))]
            plan = planner.plan(
                source, menu, wanted, file_encoding.FileEncoding("utf-8", "utf-8", b"")
            )
            new = proved(source, plan)
            again = next(one for one in found_in(new) if one.number == menu.number)
            assert [one.label for one in again.items] == [one.label for one in reversed(menu.items)]
