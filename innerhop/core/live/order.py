"""In which order pages go out, so that no hop leads nowhere for a while."""

from __future__ import annotations

from collections.abc import Hashable, Mapping, Set
from typing import TypeVar

Page = TypeVar("Page", bound=Hashable)


def order(waits: Mapping[Page, Set[Page]]) -> list[list[set[Page]]]:
    """Pages in rounds, one after the other; in each the groups that can go out then. A group is a
    page, or pages that wait for each other and go together. waits: for which pages each waits.

    >>> order({"a": {"b"}, "b": set(), "c": {"a"}})
    [[{'b'}], [{'a'}], [{'c'}]]
    """
    pages = {*waits, *(one for found in waits.values() for one in found)}
    reached = {page: _reached(waits, page) for page in pages}
    groups: dict[Page, frozenset[Page]] = {
        page: frozenset({page, *(one for one in reached[page] if page in reached[one])})
        for page in pages
    }
    rounds: list[list[set[Page]]] = []
    done: set[Page] = set()
    left = list(dict.fromkeys(groups[page] for page in [*waits, *pages]))
    while left:
        ready = [group for group in left
                 if all(reached[page] - group <= done for page in group)]  # fmt: skip
        rounds.append([set(group) for group in ready])
        done |= {page for group in ready for page in group}
        left = [group for group in left if group not in ready]
    return rounds


def _reached(waits: Mapping[Page, Set[Page]], page: Page) -> set[Page]:
    """The pages that one waits for, those that these wait for, and so on."""
    found: set[Page] = set()
    left = [page]
    while left:
        for one in waits.get(left.pop(), ()):
            if one not in found:
                found.add(one)
                left.append(one)
    return found
