"""What was made on a page here and is not in a text that would take its place: told before
anything is lost (common practice, no source)."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from innerhop.core.contents import settings
from innerhop.core.counting import counted
from innerhop.core.site.page_reading import PageReading
from innerhop.core.source.tree import Source

_NAMED = 6  # of a kind; of more, the count tells


@dataclass(frozen=True, slots=True)
class Lost:
    """marks: IDs. hops: the words of links, with their addresses; none of lists and ways back.
    lists, ways: how many contents lists and ways back are fewer. styles: whether lines of style
    that were put in here are gone."""

    marks: tuple[str, ...]
    hops: tuple[tuple[str, str], ...]
    lists: int
    ways: int
    styles: bool

    @property
    def is_any(self) -> bool:
        """Whether anything is."""
        return bool(self.marks or self.hops or self.lists or self.ways or self.styles)

    @property
    def sentences(self) -> list[str]:
        """Each kind in words."""
        found = []
        if self.marks:
            found.append(_listed(len(self.marks), "mark", [f"#{one}" for one in self.marks]))
        if self.hops:
            said = [f"“{words}” to {href}" for words, href in self.hops]
            found.append(_listed(len(self.hops), "hop", said))
        found += [counted(self.lists, "contents list")] if self.lists else []
        found += [f"{counted(self.ways, 'way')} back"] if self.ways else []
        found += ["lines of style for its hops (room, gliding)"] if self.styles else []
        return found


def _listed(count: int, what: str, said: list[str]) -> str:
    more = f" and {count - _NAMED} more" if count > _NAMED else ""
    return f"{counted(count, what)}: {', '.join(said[:_NAMED])}{more}"


def lost(came: PageReading, here: PageReading, new: PageReading) -> Lost:
    """What is made here and would be lost. came: the page as it came in. here: as it is now.
    new: the text that would take its place."""
    old, there = set(_ids(came)), set(_ids(new))
    marks = tuple(one for one in dict.fromkeys(_ids(here)) if one not in old | there)
    hops = _hops(here) - _hops(came) - _hops(new)
    return Lost(
        marks,
        tuple(hops.elements()),
        _fewer(here, came, new, settings.KIND),
        _fewer(here, came, new, settings.WAY_BACK),
        bool(_styles(here.source) - _styles(came.source) - _styles(new.source)),
    )


def _made(source: Source) -> set[int]:
    """The elements of what is made as a whole: contents lists and ways back."""
    return {
        number
        for element in source.having(settings.KIND, settings.WAY_BACK)
        for number in range(element.number, element.last + 1)
    }


def _ids(reading: PageReading) -> list[str]:
    made = _made(reading.source)
    return [one.value for one in reading.facts.marks if one.number not in made]


def _hops(reading: PageReading) -> Counter[tuple[str, str]]:
    made = _made(reading.source)
    rows = (one for one in reading.facts.links if one.number not in made)
    return Counter((one.text, one.href) for one in rows)


def _fewer(here: PageReading, came: PageReading, new: PageReading, name: str) -> int:
    there, *others = (sum(1 for _ in one.source.having(name)) for one in (here, came, new))
    return max(0, there - max(others))


def _styles(source: Source) -> Counter[str]:
    return Counter(source.text_of(one.number).strip() for one in source.of_tags("style"))
