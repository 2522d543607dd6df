"""The law of words: a plan takes from readers no words and no links but those that it names.

What a plan takes is told from what it claims of the page as it is; `proof` holds that all
else stays. Characters that are neither letter nor digit, such as what stands between two
links, are nobody's words.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from typing import NamedTuple

from innerhop.core.counting import counted
from innerhop.core.plan import Claim, Part, Plan, Takes
from innerhop.core.source.content_models import SILENT
from innerhop.core.source.elements import Text
from innerhop.core.source.tree import Source

_WORD = re.compile(r"\w+")
_LINKS = ("a", "area")


class Taken(NamedTuple):
    """What readers lose: words, and links by their words, each with how often."""

    words: Counter[str]
    links: Counter[str]

    @property
    def is_any(self) -> bool:
        """Whether they lose anything."""
        return bool(self.words or self.links)


def taken_by(old: Source, plan: Plan) -> Taken:
    """What readers of a page lose by a plan."""
    claim = plan.claim
    before, after = _Said(), _Said()
    whole = sorted({*claim.removed, *claim.filled})
    end = -1
    for number in whole:  # of two that hold each other, the outer one says it all
        if number > end:
            end = old.last_inside(number)
            before.add_element(old, number, itself=number in claim.removed)
    for one in claim.new:
        if one.text is not None:
            after.add_new(one.tag, one.attributes, one.text, one.inside)
    for filling in claim.filled.values():
        after.add_new("", {}, filling.text, filling.inside)
    return Taken(before.words - after.words, before.links - after.links + _unlinked(old, claim))


def _unlinked(old: Source, claim: Claim) -> Counter[str]:
    """Links that are to be none any more, though their words stay."""
    numbers = [one for one, tag in claim.tags.items() if tag not in _LINKS]
    numbers += claim.gone
    numbers += [one for one, values in claim.attributes.items() if values.get("href", "") is None]
    return Counter(_link_words(old, one) for one in numbers if _is_link(old, one))


def is_kept(old: Source, plan: Plan) -> bool:
    """Whether a plan takes from readers only what it names."""
    claim = plan.claim
    if claim.keeps_elements and not any("href" in one for one in claim.attributes.values()):
        return True
    taken = taken_by(old, plan)
    if not taken.is_any:
        return True
    words = Counter(word for one in claim.takes if not one.is_link
                    for word in _WORD.findall(one.words))  # fmt: skip
    links = Counter(_in_one(one.words) for one in claim.takes if one.is_link)
    return not (taken.words - words) and not (taken.links - links)


def whole(source: Source, number: int) -> list[Takes]:
    """What readers lose when an element goes with all that it holds."""
    said = _Said()
    said.add_element(source, number, itself=True)
    takes = [Takes(" ".join(said.words.elements()))] if said.words else []
    return [*takes, *(Takes(link, is_link=True) for link in said.links.elements())]


def sentence(taken: Iterable[Taken]) -> str:
    """What is said of that, of each page, before it is done; "" for nothing. What several pages
    lose alike is counted once."""
    words: Counter[str] = Counter()
    links: Counter[str] = Counter()
    losing = [one for one in taken if one.is_any]
    for one in losing:
        words |= one.words
        links |= one.links
    if not losing:
        return ""
    where = "the page" if len(losing) == 1 else "these pages"
    named = [f"“{one}”" if one else "one without words" for one in links][:_NAMED]
    more = f" and {len(links) - _NAMED} more" if len(links) > _NAMED else ""
    if links:
        count = links.total()
        what = "a link" if count == 1 else f"{count} links"
        return f"Readers lose {what} of {where}: {', '.join(named)}{more}."
    count = words.total()
    few = " ".join(list(words.elements())[:_NAMED])
    return f"Readers lose {counted(count, 'word')} of {where}: “{few}”."


_NAMED = 6


class _Said:
    """Words and links, counted."""

    def __init__(self) -> None:
        self.words: Counter[str] = Counter()
        self.links: Counter[str] = Counter()

    def add_element(self, source: Source, number: int, *, itself: bool) -> None:
        """What an element of a page says. itself: whether it is among what is counted, and
        not only what it holds."""
        first = number if itself else number + 1
        for at in range(number, source.last_inside(number) + 1):
            tag = source.tags[at]
            if tag not in SILENT:
                self.words.update(_WORD.findall(_own_text(source, at)))
            if at < first:
                continue
            if tag == "img":
                self.words.update(_WORD.findall(source.attr(at, "alt") or ""))
            elif _is_link(source, at):
                self.links[_link_words(source, at)] += 1

    def add_new(
        self, tag: str, attributes: Mapping[str, str], text: str, inside: Iterable[Part]
    ) -> None:
        """What new elements say."""
        parts = [Part(tag, attributes, text, 0), *inside]
        for at, part in enumerate(parts):
            if part.tag not in SILENT:
                self.words.update(_WORD.findall(part.text))
            if part.tag == "img":
                self.words.update(_WORD.findall(part.attributes.get("alt", "")))
            elif part.tag in _LINKS and "href" in part.attributes:
                self.links[_in_one(" ".join(_texts_from(parts, at)))] += 1


def _texts_from(parts: list[Part], at: int) -> Iterator[str]:
    yield parts[at].text
    for one in parts[at + 1 :]:
        if one.depth <= parts[at].depth:
            return
        yield one.text


def _own_text(source: Source, number: int) -> str:
    return "".join(one.data for one in source.children(number) if isinstance(one, Text))


def _is_link(source: Source, number: int) -> bool:
    return source.tags[number] in _LINKS and source.attr(number, "href") is not None


def _link_words(source: Source, number: int) -> str:
    inside = range(number, source.last_inside(number) + 1)
    return _in_one(" ".join(_own_text(source, one) for one in inside))


def _in_one(text: str) -> str:
    return " ".join(_WORD.findall(text))
