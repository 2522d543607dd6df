"""Lists and lines of links in a site's frame that are no menu to be kept the same on every
page, since they differ by their nature: steps to the page before and after, the path to a page,
its translations, its own contents (common practice, no source; measured on open corpora, see
`judging`)."""

from __future__ import annotations

import re
from collections.abc import Sequence

from innerhop.core.contents.lists import is_called_contents
from innerhop.core.facts.page_facts import Facts, Link
from innerhop.core.names.link_words import plain
from innerhop.core.source.tree import Source

# https://html.spec.whatwg.org/multipage/links.html#sequential-link-types
_STEPS = frozenset(("prev", "previous", "next", "up"))
# Words of steps in the languages that pages are written in (from memory).
_STEP_WORDS = frozenset("""
prev|previous|next|previous page|next page|previous topic|next topic|previous chapter|next chapter
zurück|vorherige|vorherige seite|nächste|nächste seite|précédent|précédente|suivant|suivante
page précédente|page suivante|vorige|volgende|anterior|siguiente|próximo|seguinte|precedente
successivo|föregående|nästa|forrige|neste|næste|poprzedni|następny|blaenorol|nesaf
""".replace("\n", "|").strip("|").split("|"))  # fmt: skip
_PATH = re.compile(r"bread-?crumbs?|(?:^|[-_\s])(?:crumbs?|path|trail)(?:$|[-_\s])", re.IGNORECASE)
_PATH_SIGNS = frozenset(">›»→/\\▸⟩")
_MOST_STEPS = 8  # links: of more, a step or two are items among others


def is_none(source: Source, facts: Facts, number: int, links: Sequence[Link]) -> bool:
    """Whether a list or line with these links is something else than a menu. number: of what
    holds them."""
    return (
        _are_steps(source, links)
        or _is_path(source, number, links)
        or _are_translations(source, links)
        or _is_contents(source, facts, number, links)
        or _is_of_one_page(source, facts, number, links)
    )


def _is_of_one_page(source: Source, facts: Facts, number: int, links: Sequence[Link]) -> bool:
    """Whether links beside the content, which nothing calls a menu, are two alone, or all lead
    to places on their own page."""
    if any(link.region for link in links):
        return False
    if len(links) >= _FEWEST_BESIDE and not all(link.href.startswith("#") for link in links):
        return False
    line = source.element(number).line
    return not any(_NAV.search(f"{one.attr('class') or ''} {one.attr('id') or ''}") for one in line)


_FEWEST_BESIDE = 3
_NAV = re.compile(r"nav|menu|links", re.IGNORECASE)


def _are_steps(source: Source, links: Sequence[Link]) -> bool:
    if len(links) > _MOST_STEPS:
        return False
    return any(
        plain(link.text) in _STEP_WORDS
        or not _STEPS.isdisjoint((source.attr(link.number, "rel") or "").lower().split())
        for link in links
    )


def _is_path(source: Source, number: int, links: Sequence[Link]) -> bool:
    """https://www.w3.org/WAI/ARIA/apg/patterns/breadcrumb/"""
    reading = source.reading
    for around in (number, reading.parent(number)):
        values = (reading.attr(around, name) or "" for name in ("class", "id", "aria-label"))
        if around >= 0 and any(map(_PATH.search, values)):
            return True
    linked = "".join(link.text for link in links)
    beside = set(source.text_of(number)) - set(linked)
    signs = sum(source.text_of(number).count(sign) for sign in _PATH_SIGNS & beside)
    return signs >= max(2, len(links) - 1)


def _are_translations(source: Source, links: Sequence[Link]) -> bool:
    """https://html.spec.whatwg.org/multipage/links.html#attr-hyperlink-hreflang"""
    return 2 * sum(source.attr(link.number, "hreflang") is not None for link in links) >= len(links)


def _is_contents(source: Source, facts: Facts, number: int, links: Sequence[Link]) -> bool:
    """Whether a list says that it is of contents, and leads to places on its own page."""
    inside = sum(link.href.startswith("#") for link in links)
    return 2 * inside >= len(links) and is_called_contents(source, facts, number)
