"""Signs at headings, terms and captions: small links that lead to the very part that they
stand in, for who wants to copy its address. No words of that part, and no hops of the page
(common practice, no source)."""

from __future__ import annotations

from collections.abc import Iterator

from innerhop.core.source.content_models import SILENT
from innerhop.core.source.tree import Source

# What such links are written as (from memory); an icon has no characters at all.
_SIGNS = frozenset("¶#§◆◊♦🔗⚓∞☍⛓❡⁋")
_LONGEST = 6  # characters, with the spaces around them


def is_sign(text: str) -> bool:
    """Whether a link's words are a sign and nothing else.

    >>> is_sign("¶"), is_sign("◆ "), is_sign("#7"), is_sign("")
    (True, True, False, False)
    """
    return 0 < len(text) <= _LONGEST and set(text) - _SPACES <= _SIGNS and bool(text.strip())


_SPACES = frozenset(" \xa0\n\t\ufe0e\ufe0f")


def is_sign_link(source: Source, number: int) -> bool:
    """Whether an element is a link to its own page that shows a sign."""
    reading = source.reading
    if reading.tag(number) != "a" or not (reading.attr(number, "href") or "").startswith("#"):
        return False
    return is_sign(reading.beginning(number, _LONGEST + 1))


def unsaid(source: Source, nodes: Iterator[int | str]) -> Iterator[int | str]:
    """Nodes in tree order, less the signs among them and what nobody is shown, with the
    characters in these. nodes: as `Reading.first_nodes` gives them."""
    left = 0
    for node in nodes:
        if isinstance(node, str):
            if left > 0:
                left -= len(node)
            else:
                yield node
            continue
        is_silent = source.reading.tag(node) in SILENT
        if left <= 0 and (is_silent or is_sign_link(source, node)):
            left = len(source.text_of(node))
        if left <= 0:
            yield node
