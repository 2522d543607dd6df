"""What a typed address leads to on this site, and what was likely meant when it
leads nowhere."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from typing import NamedTuple

from django.db.models import QuerySet

from innerhop.core.addresses import typed_addresses
from innerhop.core.addresses.fragments import (
    Nowhere,
    Top,
    has_directive,
    id_of,
    indicated,
    percent_decode,
)
from innerhop.core.addresses.urls import Resolved
from innerhop.core.facts import hidden_parts
from innerhop.core.planners import marking
from innerhop.library.index.texts import current
from innerhop.library.models import Mark, Page
from innerhop.library.seek.guesses import Guess, Guesser
from innerhop.library.seek.hops_to_mark import targets_of


@dataclass(frozen=True)
class Understood:
    """A typed address, understood.

    said: what it leads to, in plain words. page: where, if on this site; id: the
    mark it ends at, "" for the top; directive: where it leads to words. outside:
    a link to elsewhere, as it is to be written. arrives: whether it can be taken.
    likely: what was meant, when it leads nowhere.
    """

    message: str
    page: Page | None = None
    id: str = ""
    directive: str = ""
    outside: str = ""
    arrives: bool = True
    likely: list[Guess] = field(default_factory=list)


def understand(page: Page, text: str, here: str = "this page") -> Understood | None:
    """What is meant by an address typed on a page; None when it is none, but words
    to search for. here: what the page is called by whom it is said to."""
    plain = text.strip().replace("\x00", "")
    if _A_CLASS.fullmatch(plain):
        return _class(page, plain[1:])
    if not typed_addresses.is_address(plain):
        return _bare_id(page, plain, here)
    try:
        found = typed_addresses.read(plain, page.address, page.site.address)
    except typed_addresses.NotALink as problem:
        return Understood(str(problem), arrives=False)
    if found.found is None:
        return Understood(" ".join(found.notes), outside=found.outside)
    return _on_site(page, found.found, list(found.notes), plain, here)


# As style sheets name one (CSS Selectors 4, class selectors).
_A_CLASS = re.compile(r"\.(?![\d.-])[\w-]+")
_FEW = 3  # parts: a class of more says how they look


def _class(page: Page, word: str) -> Understood | None:
    found = _in_class(page, word)
    if not found:
        return None
    message = f"A hop looks for an ID, and “{word}” is a class here. Its part can get an ID."
    return Understood(message, page, arrives=False, likely=found)


def _in_class(page: Page, word: str) -> list[Guess]:
    """The parts of a page with that class, where an ID was typed into the field for it."""
    text = current(page)
    if not word or word not in text.text:  # which is told without reading the page
        return []
    source = text.source
    found = marking.with_class(source, word)
    why = f"It has “{word}” as a class, where browsers don’t look. It gets an ID with the hop."
    marked = set(source.reading.having(["id"]))
    return [
        Guess(page, source.attr(one, "id") or "", why, marks=None if one in marked else one)
        for one in found[: _FEW if len(found) <= _FEW else 0]
    ]


def _bare_id(page: Page, text: str, here: str) -> Understood | None:
    if not text or not _marks(page, text).exists():
        return None
    return Understood(f"It is an ID of {here}. The # is put in front.", page, text)


def _on_site(page: Page, address: Resolved, notes: list[str], plain: str, here: str) -> Understood:
    end = page.site.pages.filter(key=page.site.key_of(address.path)).select_related("site").first()
    if end is None:
        return _no_page(page, address, plain)
    if end.path != address.path:
        notes.append(f"It is written {end.path}, as the page’s address is.")
    if plain.startswith("#") and not page.keeps_hashes:
        notes.append(
            "This page has a base address, so a bare # would leave it; the page’s address is put "
            "in front."
        )
    fragment = address.fragment
    if fragment is None:
        return Understood(_message("It leads to the top of that page.", notes), end)
    if has_directive(fragment):
        message = _message("It leads to words on that page.", notes)
        return Understood(message, end, directive=fragment)
    where = here if end.pk == page.pk else "that page"
    return _at_fragment(page, end, fragment, notes, where)


def _at_fragment(page: Page, end: Page, fragment: str, notes: list[str], where: str) -> Understood:
    number = indicated(fragment, targets_of([end])[end.pk])
    if isinstance(number, Top):
        if fragment == "":
            return Understood(_message(f"A # alone leads to the top of {where}.", notes), end)
        message = f"Nothing on {where} has the ID “top”, so it leads to the top of the page."
        return Understood(_message(message, notes), end)
    if isinstance(number, Nowhere):
        asked = id_of(fragment)
        then = "a reader would stay where they are" if end.pk == page.pk else "it opens at its top"
        message = f"Nothing on {where} has the ID “{asked}”, so {then}."
        return Understood(
            _message(message, notes),
            end,
            arrives=False,
            likely=[*Guesser(end.site).on_page(end, fragment), *_in_class(end, asked)],
        )
    mark = Mark.objects.filter(page=end, number=number).order_by("attribute").first()
    assert mark is not None, "what is indicated is a mark"
    if mark.closed:
        notes.append(hidden_parts.MESSAGES[mark.closed])
    return Understood(_message(f"It leads to a mark on {where}.", notes), end, mark.value)


def _no_page(page: Page, address: Resolved, plain: str) -> Understood:
    asked = percent_decode(address.path.strip("/"))
    own = _marks(page, asked).first() if "/" not in plain.strip("/") else None
    if own is not None:
        message = (
            f"No page has this address, but this page has the ID “{asked}”. The # was missing."
        )
        return Understood(message, page, asked)
    # Whoever types `faq/pay` rarely means it from the page they are on.
    rooted = [] if plain.startswith(("/", ".")) else [f"/{plain}"]
    tried = (_with_its_hash_forgotten(page, path) for path in (address.path, *rooted))
    there = next((one for one in tried if one is not None), None)
    if there is not None:
        message = f"No page has this address. The # was missing: {there.path}#{there.id}"
        return Understood(message, there.page, there.id)
    near = Guesser(page.site).near(page.site.key_of(address.path))
    fragment = id_of(address.fragment)
    likely = [_near(one, fragment) for one in near]
    message = f"No page of this site has the address {address.path}."
    return Understood(message, arrives=False, likely=likely)


class _There(NamedTuple):
    page: Page
    path: str
    id: str


def _with_its_hash_forgotten(page: Page, path: str) -> _There | None:
    """What `/faq/pay` means where `/faq/` has a part of that ID."""
    folder, _, name = path.rstrip("/").rpartition("/")
    pages = page.site.pages.filter(key=page.site.key_of(folder or "/")).select_related("site")
    end, id_ = pages.first(), percent_decode(name)
    has = end is not None and bool(id_) and _marks(end, id_).exists()
    return _There(end, end.path, id_) if has and end is not None else None


def _marks(page: Page, value: str) -> QuerySet[Mark]:
    return Mark.objects.with_value(page.site_id, value).filter(page=page)


def _near(page: Page, fragment: str) -> Guess:
    has = fragment and _marks(page, fragment).exists()
    return Guess(page, fragment if has else "", "The address is a little off.")


def _message(first: str, notes: list[str]) -> str:
    return " ".join([first, *notes])
