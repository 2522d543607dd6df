"""Ways back: links at the end of a section that take a reader up again, to the page's top
or to its contents list. Those that someone made by hand are known by where they stand and
where they lead (common practice, no source)."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from innerhop.core.contents import settings
from innerhop.core.contents.lists import ContentsList, Leads
from innerhop.core.facts.page_facts import Facts, Link
from innerhop.core.facts.sections import page_heading
from innerhop.core.source.content_models import PHRASING
from innerhop.core.source.tree import Source

TOP = "top"  # https://html.spec.whatwg.org/multipage/browsing-the-web.html#top-of-the-document
SECTIONS, SCREENS, PLACES = "sections", "screens", "places"
# What readers are used to, by language (common practice, no source; from memory).
WORDS = {
    "en": "Back to top", "de": "Nach oben", "fr": "Haut de page", "nl": "Terug naar boven",
    "es": "Volver arriba", "it": "Torna su", "pt": "Voltar ao topo", "sv": "Till toppen",
    "da": "Til toppen", "nb": "Til toppen", "nn": "Til toppen", "no": "Til toppen",
    "fi": "Takaisin ylös", "pl": "Do góry", "cs": "Zpět nahoru", "sk": "Späť hore",
    "hu": "Vissza az oldal tetejére", "ro": "Înapoi sus", "el": "Επιστροφή στην αρχή",
    "tr": "Başa dön", "uk": "Нагору", "ja": "ページの先頭へ", "cy": "Yn ôl i’r brig",
    "ga": "Ar ais go barr",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class WayBack:
    """One way back. number: its link's. whole: what goes with it: the paragraph that it
    fills, or the link itself. to: the ID of the list that it leads to, "" for the top.
    place: why it stands there, "" for the site's own. words: what readers click."""

    number: int
    whole: int
    to: str
    place: str
    words: str

    @property
    def is_made(self) -> bool:
        """Whether it carries our attribute; any other is the site's own, and stays."""
        return bool(self.place)


def find(
    source: Source, facts: Facts, lists: Sequence[ContentsList], leads: Leads
) -> list[WayBack]:
    """The ways back of a page. Links in its frame and in its lists are none."""
    above = _first_place(facts)
    ids = {one.id for one in lists if one.id}
    ids |= {
        source.attr(one.number, "id") or ""
        for listed in lists
        for one in source.element(listed.number).inside
        if one.number < listed.body
    }
    ids.discard("")
    tops = _tops(facts, above)
    inside = [range(one.number, one.last + 1) for one in lists]
    found = []
    for link in facts.links:
        if link.region or link.permalink or any(link.number in one for one in inside):
            continue
        to = _end(link, leads, tops, ids)
        if to is None or source.attr(source.parent(link.number), settings.UP) is not None:
            continue  # one for the whole page leads back from everywhere
        if link.number > _place_of(to, facts, above):
            place = source.attr(link.number, settings.WAY_BACK) or ""
            if place or _stands_alone(source, link):
                whole = _whole(source, link.number)
                found.append(WayBack(link.number, whole, to, place, link.text))
    return found


def says_up(text: str) -> bool:
    """Whether words, or a sign, say that a link leads up."""
    return text.casefold() in _SAID or bool(_UP.search(text))


_UP = re.compile(
    r"\b(top|up|oben|haut|boven|arriba|su|topo|toppen|góry|brig)\b|[↑▲⇧⬆^]", re.IGNORECASE
)
_SAID = {words.casefold() for words in WORDS.values()}


def _stands_alone(source: Source, link: Link) -> bool:
    """Whether a link that leads up is there for that: it says so, or is no part of a
    sentence, and no button that a script uses."""
    if link.text and says_up(link.text) and len(link.text.split()) <= _FEW:
        return True
    block = link.number
    while source.reading.tag(block) in PHRASING:
        block = source.parent(block)
    linked = sum(len(source.text_of(one)) for one in source.reading.inside(block, "a"))
    beside = len("".join(source.text_of(block).split())) - linked
    return beside <= _BESIDE and len(link.text.split()) <= _FEW


_FEW = 6  # words
_BESIDE = 4  # characters, such as what stands between two links


def words_in(language: str) -> str:
    """What readers of a language are used to click for the way to the top."""
    return WORDS[language_of_words(language)]


def language_of_words(language: str) -> str:
    """The language of those words: English where we know none in the readers' own."""
    own = language.lower().partition("-")[0]
    return own if own in WORDS else "en"


def _first_place(facts: Facts) -> int:
    named = page_heading(facts.headings)
    first = next((one for one in facts.headings if not one.region), None)
    return (named or first).number if (named or first) else 0  # type: ignore[union-attr]


def _tops(facts: Facts, above: int) -> set[str]:
    """The IDs at or above the heading that names the page."""
    return {mark.value for mark in facts.marks if mark.number <= above}


def _end(link: Link, leads: Leads, tops: set[str], ids: set[str]) -> str | None:
    """Where a way back leads: a list's ID, "" for the top; None for no way back."""
    href = link.href.strip()
    to = leads(link.href)
    if href == "#" or to.lower() == TOP or to in tops:
        return ""
    return to if to in ids else None


def _place_of(to: str, facts: Facts, above: int) -> int:
    """The element below which a link to an end leads back."""
    if not to:
        return above
    return next((mark.number for mark in facts.marks if mark.value == to), above)


def _is_alone(source: Source, number: int) -> bool:
    """Whether readers see nothing beside an element in its parent."""
    beside = (one for before in (True, False) for one in source.siblings(number, before=before))
    return all(one.is_blank for one in beside)


_AROUND = ("p", "div", "small", "span", "b", "strong")


def _whole(source: Source, number: int) -> int:
    """The largest part that holds a link and nothing else that readers see."""
    whole = number
    for above in source.element(number).ancestors:
        if above.tag not in _AROUND or not _is_alone(source, whole):
            break
        if source.end_of(above.number) is None:
            break
        whole = above.number
    return whole
