"""How many of something there are, in words."""

from __future__ import annotations


def counted(count: int, what: str, many: str = "") -> str:
    """A number with what it counts. many: its plural, where that takes more than an s.

    >>> counted(1, "hop"), counted(2, "hop"), counted(1_200, "entry", "entries")
    ('1 hop', '2 hops', '1,200 entries')
    """
    return f"{count:,} {what if count == 1 else many or f'{what}s'}"
