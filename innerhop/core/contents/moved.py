"""Parts that are elsewhere now, and where readers are led who come by their old addresses: told
in the tag of the visitor's script, and by a line on the page for those without scripts."""

from __future__ import annotations

MOVED = "data-hop-moved"


def read(value: str | None) -> tuple[tuple[str, str], ...]:
    """What the script's tag tells: fragments and addresses in turn, with spaces between, which
    neither may hold.

    >>> read("winter #winter-works fees /moorings/#fees")
    (('winter', '#winter-works'), ('fees', '/moorings/#fees'))
    """
    words = (value or "").split()
    return tuple(zip(words[::2], words[1::2], strict=False))


def written(pairs: tuple[tuple[str, str], ...]) -> str:
    """The same, as it is written."""
    return " ".join(word for pair in pairs for word in pair)
