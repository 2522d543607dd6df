"""From a fragment to the part of the page that a browser shows.

HTML Standard #scrolling-to-a-fragment, "select the indicated part" and "find a potential
indicated element". It works on the IDs and names of a page, not on its tree,
so that it is as easily asked of an index as of a page at hand.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Generic, TypeVar
from urllib.parse import unquote_to_bytes

Place = TypeVar("Place")

FRAGMENT_DIRECTIVE = ":~:"  # URL Fragment Text Directives 2.1


@dataclass(frozen=True, slots=True)
class Top:
    """The top of the document is indicated."""


@dataclass(frozen=True, slots=True)
class Nowhere:
    """Nothing is indicated: the reader stays where they are."""


@dataclass(slots=True)
class Targets(Generic[Place]):
    """What fragments can find on a page: the first element with each ID, and
    the first `a` with each name, in tree order."""

    ids: dict[str, Place] = field(default_factory=dict)
    names: dict[str, Place] = field(default_factory=dict)

    @classmethod
    def of(cls, marks: Iterable[tuple[str, str, Place]]) -> Targets[Place]:
        """From (attribute, value, place) of the marks, which come in tree order."""
        targets: Targets[Place] = cls()
        for attribute, value, place in marks:
            wanted = targets.ids if attribute == "id" else targets.names
            wanted.setdefault(value, place)
        return targets


def indicated(fragment: str, targets: Targets[Place]) -> Place | Top | Nowhere:
    """The place a browser shows for a URL's fragment (without its `#`).

    The steps are those of "select the indicated part", in order.
    """
    fragment = without_directive(fragment)
    if fragment == "":
        return Top()
    found = _potential(fragment, targets)
    if found is not None:
        return found
    decoded = percent_decode(fragment)
    found = _potential(decoded, targets)
    if found is not None:
        return found
    # "an ASCII case-insensitive match for the string top"
    return Top() if decoded.isascii() and decoded.lower() == "top" else Nowhere()


def _potential(fragment: str, targets: Targets[Place]) -> Place | None:
    """HTML Standard, "find a potential indicated element"."""
    for known in (targets.ids, targets.names):
        if fragment in known:
            return known[fragment]
    return None


def without_directive(fragment: str) -> str:
    """The fragment less its directive (URL Fragment Text Directives 3.2)."""
    return fragment.partition(FRAGMENT_DIRECTIVE)[0]


def has_directive(fragment: str) -> bool:
    """Whether a fragment asks for words, beside an ID or instead of one: a browser looks
    for these first, and for the ID only when they aren't found.

    https://wicg.github.io/scroll-to-text-fragment/#invoking-text-directives
    """
    return f"{FRAGMENT_DIRECTIVE}text=" in fragment or "&text=" in fragment


def percent_decode(fragment: str) -> str:
    """URL Standard 1.3 "percent-decode", then "UTF-8 decode without BOM"."""
    if "%" not in fragment:
        return fragment  # the most are so, and whole sites are gone through
    return unquote_to_bytes(fragment).decode("utf-8", "replace")


def id_of(fragment: str | None) -> str:
    """The ID that a fragment asks for, its directive aside; "" for the top of the page."""
    return percent_decode(without_directive(fragment or ""))


_FRAGMENT_SET = frozenset(' "<>`')
_AS_IT_IS = re.compile("[0-9A-Za-z_.-]+")


def encode(id_: str) -> str:
    """An ID as the fragment of an address.

    URL Standard 1.3: the fragment percent-encode set (C0 controls, space, `"`,
    `<`, `>`, backtick, and all that is not printable ASCII) and no more, but
    for an ID that holds `:~:`, which would be cut off as a directive.
    """
    if _AS_IT_IS.fullmatch(id_):  # nearly all are, and a page may have thousands
        return id_
    spelled = "".join(
        character
        if " " < character <= "~" and character not in _FRAGMENT_SET
        else "".join(f"%{byte:02X}" for byte in character.encode("utf-8"))
        for character in id_
    )
    return spelled.replace(FRAGMENT_DIRECTIVE, ":%7E:")
