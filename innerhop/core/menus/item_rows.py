"""A menu's items as they are kept: by their distance from the menu's own number, so that
they hold wherever it stands, and alike for all pages that have the same menu."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Sequence
from typing import NamedTuple

from innerhop.core.addresses.urls import Resolved
from innerhop.core.menus.menus import LINK, Menu


class ItemRow(NamedTuple):
    """An item. number, item: as in `menus.Item`, counted from the menu's number. to: where
    its link leads, as an address of the site from its root, "#…" for a hash that asks the
    page it stands on, or a whole address; "" for what is no link."""

    number: int
    item: int
    label: str
    href: str
    to: str
    depth: int
    kind: str = LINK
    current: str = ""


Resolve = Callable[[str], "Resolved | None"]


def rows(menu: Menu, resolve: Resolve, own: Resolved | None) -> list[ItemRow]:
    """The items of a menu as they are kept. resolve: what reads an address on its page;
    own: the page's own."""
    return [
        ItemRow(
            one.number - menu.number,
            one.item - menu.number,
            one.label,
            one.href,
            leads(one.href, resolve, own) if one.kind == LINK else "",
            one.depth,
            one.kind,
            one.current,
        )
        for one in menu.items
    ]


def leads(href: str, resolve: Resolve, own: Resolved | None) -> str:
    """Where an address leads, in the one form that can be compared over pages."""
    found = resolve(href)
    if found is None:
        return href
    if href.startswith("#") and own is not None and found.path == own.path:
        return href
    if own is None or found.origin != own.origin:
        return found.href
    tail = "" if found.fragment is None else f"#{found.fragment}"
    return f"{found.path}{found.query}{tail}"


def to_text(items: Sequence[ItemRow]) -> str:
    """The items as one text."""
    return json.dumps([list(one) for one in items], ensure_ascii=False, separators=(",", ":"))


def from_text(text: str) -> list[ItemRow]:
    """The items that `to_text` gave."""
    return [ItemRow(*one) for one in json.loads(text)]


def digest(items: Sequence[ItemRow]) -> str:
    """What a menu is to readers, and what it says of the open page, as one short text."""
    told = [(one.label.casefold(), one.to, one.depth, one.kind, one.current) for one in items]
    return hashlib.sha1(repr(told).encode("utf-8", "replace"), usedforsecurity=False).hexdigest()
