"""What was done to a page here, deed by deed, in a few words."""

from __future__ import annotations

from collections.abc import Mapping

from innerhop.core.merge.deeds import Around, Attributes, Deed, Filled, Put, TakenOut
from innerhop.core.source.tree import Source

_LONGEST = 60  # characters of a page's words


def said(deed: Deed, base: Source, here: Source) -> str:
    """A deed, called by what it is to readers. base: the page as it came. here: as it is."""
    match deed:
        case Attributes():
            return _of_values(deed, _words(base, deed.number))
        case Put():
            ids = [f"#{one.attributes['id']}" for one in deed.elements if "id" in one.attributes]
            words = _words(here, deed.made[0])
            what = f"put in “{words}”" if words else "put something in"
            return f"{what}, marked {', '.join(ids)}" if ids else what
        case Around():
            ends = [one.attributes["href"] for one in deed.elements if "href" in one.attributes]
            words = _words(here, deed.made[0])
            return f"“{words}” leads to {ends[0]}" if ends else f"put a part around “{words}”"
        case TakenOut():
            return f"took out “{_words(base, deed.number)}”"
        case Filled():
            return f"changed “{_words(here, deed.made[0])}”"


def _of_values(deed: Attributes, words: str) -> str:
    after: Mapping[str, str | None] = {name: new for name, (_, new) in deed.values.items()}
    called = f"“{words}”" if words else "a part without words"
    if after.get("id"):
        return f"{called} is #{after['id']}"
    if after.get("href"):
        return f"{called} leads to {after['href']}"
    if deed.tag:
        return f"{called} became {deed.tag}"
    return f"{called} has another {', '.join(after)}" if after else called


def _words(source: Source, number: int) -> str:
    if number < 0:
        return ""
    found = " ".join(source.reading.beginning(number, 4 * _LONGEST).split())
    return found if len(found) <= _LONGEST else f"{found[:_LONGEST].rstrip()}…"
