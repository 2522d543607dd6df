"""A page before it is taken in: enough to draw it, and to tell it from others."""

from __future__ import annotations

import hashlib
from typing import TypedDict

from innerhop.core.facts.page_facts import Facts
from innerhop.core.facts.sections import sections_and_words
from innerhop.core.site.page_rows import title_of
from innerhop.core.source.tree import Source

_LONGEST = 300  # characters of a title
_HEAD = ("link", "script", "base")  # which name the page's own address, and versions


class Sketch(TypedDict):
    """title: what the page is called. words: how many it shows. sections: of each its level, its
    words and whether it has a mark. digest: the same for two pages that show the same."""

    title: str
    words: int
    sections: list[tuple[int, int, bool]]
    digest: str


def sketch(source: Source, facts: Facts, path: str) -> Sketch:
    """A page, sketched. path: of its address, by which it is called where nothing else names it."""
    sections, words = sections_and_words(source, facts)
    return {
        "title": title_of(facts, path)[:_LONGEST],
        "words": words,
        "sections": [(one.level, one.words, bool(one.mark)) for one in sections],
        "digest": _digest(source),
    }


def _digest(source: Source) -> str:
    """Of its words and elements, its pictures, and the links and IDs in it."""
    told = [" ".join(source.text_of(0).split()), " ".join(source.tags)]
    for name in ("href", "src", "srcset", "id"):
        told += (f"{name} {one.attr(name)}" for one in source.having(name) if one.tag not in _HEAD)
    return hashlib.sha256("\0".join(told).encode("utf-8", "surrogatepass")).hexdigest()[:32]
