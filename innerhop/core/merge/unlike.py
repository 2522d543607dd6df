"""Whether a text that comes for a page is the page's at all (practice)."""

from __future__ import annotations

from collections import Counter

from innerhop.core.proof import own_text
from innerhop.core.source.tree import Source

_SHARE = 0.1  # of a page's words: what has fewer of them may be another page, or an error's
_FEW = 5  # words, of which that says nothing
_SILENT = ("script", "style", "template", "noscript")


def is_another(here: Source, there: Source) -> bool:
    """Whether a text has hardly anything of what a page says."""
    before = _words(here)
    return before.total() >= _FEW and _kept(before, there) < _SHARE


def share(here: Source, there: Source) -> float:
    """How much of what a page says a text has, from 0 to 1."""
    return _kept(_words(here), there)


def _kept(before: Counter[str], there: Source) -> float:
    return (before & _words(there)).total() / max(1, before.total())


def _words(source: Source) -> Counter[str]:
    """The words of a page, element by element: where no space stands between two, neither do
    their words run into one another."""
    shown = (at for at, tag in enumerate(source.tags) if tag not in _SILENT)
    return Counter(word for at in shown for word in own_text(source, at).split())
