"""Whether a text that comes for a page is the page's at all (practice)."""

from __future__ import annotations

from collections import Counter

from innerhop.core.source.tree import Source

_SHARE = 0.1  # of a page's words: what has fewer of them may be another page, or an error's
_FEW = 30  # words, of which that says nothing


def is_another(here: Source, there: Source) -> bool:
    """Whether a text has hardly anything of what a page says."""
    before = Counter(here.text_of(0).split())
    kept = before & Counter(there.text_of(0).split())
    return before.total() >= _FEW and kept.total() < _SHARE * before.total()
