"""Menus on the copy sheet: who does what each step says, by its words alone and from the top
down, has the menu that was made here."""

from __future__ import annotations

import re
from dataclasses import dataclass, field

import pytest
from hypothesis import given
from hypothesis import strategies as st

from innerhop.core.copy_steps import menu_steps
from innerhop.core.copy_steps import steps as copy_steps
from innerhop.core.copy_steps.step import Step
from innerhop.core.edits import changed_stretches
from innerhop.core.menus.menus import LINK, WORDS, Item, Menu
from innerhop.core.source.tree import Source
from tests.core.test_lists import menu_of

Rows = list[tuple[int, str, str]]  # depth, words, end


@dataclass
class Node:
    label: str
    href: str
    below: list[Node] = field(default_factory=list)


class Hand:
    """Someone with the menu before them, who knows only what the sheet says."""

    def __init__(self, rows: Rows) -> None:
        self.root = Node("", "")
        line = [self.root]
        for depth, label, href in rows:
            del line[depth + 1 :]
            line[-1].below.append(Node(label, href))
            line.append(line[-1].below[-1])

    def rows(self) -> Rows:
        def read(node: Node, depth: int) -> Rows:
            return [row for one in node.below
                    for row in ((depth, one.label, one.href), *read(one, depth + 1))]  # fmt: skip

        return read(self.root, 0)

    def _all(self) -> list[tuple[Node, Node]]:
        def walk(node: Node) -> list[tuple[Node, Node]]:
            return [pair for one in node.below for pair in ((node, one), *walk(one))]

        return walk(self.root)

    def _find(self, said: str) -> tuple[Node, Node]:
        match = re.fullmatch(r"item “(.*)”(?: \((\d+)\w\w of (\d+)\))?", said, re.DOTALL)
        assert match, said
        alike = [pair for pair in self._all() if pair[1].label == match[1]]
        assert len(alike) == int(match[3] or 1), said
        return alike[int(match[2] or 1) - 1]

    def _spot(self, at: str) -> tuple[Node, Node | None]:
        """Under which item, and behind which, a place is."""
        if at == "as the menu’s first item":
            return self.root, None
        if match := re.fullmatch(r"as the first one under the (.*)", at, re.DOTALL):
            return self._find(match[1])[1], None
        match = re.fullmatch(r"right behind the (.*?)( and what is under it)?", at, re.DOTALL)
        assert match, at
        parent, before = self._find(match[1])
        assert bool(match[2]) == bool(before.below)
        return parent, before

    def follow(self, step: Step) -> None:
        if step.kind == "new-item":
            label = re.fullmatch(r"new item “(.*)”", step.what, re.DOTALL)
            assert label
            return _put(Node(label[1], step.enter), *self._spot(step.at))
        parent, node = self._find(step.what)
        if step.kind == "item-words":
            assert node.label == step.before
            node.label = step.enter
        elif step.kind == "item-end":
            assert node.href == step.before
            node.href = step.enter
        else:
            assert ("what is under it" in step.note) == bool(node.below)
            spot = self._spot(step.at) if step.kind == "move-item" else None
            parent.below = [one for one in parent.below if one is not node]
            if spot:
                _put(node, *spot)
        return None


def _put(node: Node, parent: Node, before: Node | None) -> None:
    places = [one is before for one in parent.below]
    parent.below.insert(0 if before is None else places.index(True) + 1, node)


def menu(rows: Rows) -> Menu:
    items = [Item(at, at, label, href, depth, LINK if href else WORDS)
             for at, (depth, label, href) in enumerate(rows)]  # fmt: skip
    return Menu(0, len(rows), "nav", "Main", items)


def closed(rows: Rows) -> Rows:
    """Depths as a menu can have them."""
    found: Rows = []
    for depth, label, href in rows:
        found.append((min(depth, found[-1][0] + 1 if found else 0), label, href))
    return found


ROWS = st.lists(
    st.tuples(st.integers(0, 2), st.sampled_from(["Home", "Hire", "Fees", "Book", "a “b”"]),
              st.sampled_from(["", "/", "/fees/", "#book"])),
    min_size=1, max_size=7,
).map(closed)  # fmt: skip


@given(ROWS, ROWS)
def test_whoever_follows_the_steps_has_the_new_menu(old: Rows, new: Rows) -> None:
    hand = Hand(old)
    for step in menu_steps.steps(menu(old), menu(new)):
        hand.follow(step)
    assert hand.rows() == new


HOME: Rows = [(0, "Home", "/"), (0, "Hire", "/hire/"), (0, "Fees", "/fees/")]


@pytest.mark.parametrize(
    ("new", "said"),
    [
        ([HOME[1], HOME[0], HOME[2]], [("move-item", "item “Hire”", "as the menu’s first item")]),
        ([(0, "News", "/n/"), *HOME],
         [("new-item", "new item “News”", "as the menu’s first item")]),
        ([HOME[0], (0, "Rent", "/hire/"), HOME[2]], [("item-words", "item “Hire”", "")]),
        ([HOME[0], HOME[1], (1, "Fees", "/fees/")],
         [("move-item", "item “Fees”", "as the first one under the item “Hire”")]),
        (HOME[:2], [("no-item", "item “Fees”", "")]),
        (HOME, []),
    ],
)  # fmt: skip
def test_each_act_is_one_step(new: Rows, said: list[tuple[str, ...]]) -> None:
    found = menu_steps.steps(menu(HOME), menu(new))
    assert [(one.kind, one.what, one.at) for one in found] == said


def test_items_are_told_as_such_and_not_as_links_of_the_page() -> None:
    before = "<nav><ul><li class=current><a href=/ aria-current=page>Home</a></li><li><a href=/b/>B"
    after = (
        "<nav><ul><li><a href=/b/>B</a></li><li><a href=/>Home</a></li></ul></nav><main>x</main>"
    )
    before += "</a></li></ul></nav><main>x</main>"
    old, new = Source(before), Source(after)
    edits = changed_stretches(0, before, after)
    found = copy_steps.steps(old, new, edits, ([menu_of(old)], [menu_of(new)]))
    assert [(one.kind, one.what, one.at) for one in found] == [
        ("move-item", "item “B”", "as the menu’s first item")
    ]
    assert found[0].within == "in the menu that begins with “Home”, in the navigation"
