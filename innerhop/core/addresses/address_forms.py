"""How a hop is written: the four forms an address can have in the markup, which
of them work where it stands, and what each is good for.

Every form is tried before it is offered: read again from its page as a browser
reads it (URL Standard 4.4), it must lead to where it was meant to.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

from innerhop.core.addresses.urls import Resolved, resolve
from innerhop.core.refusals import Refusal

HASH, PATH, RELATIVE, ABSOLUTE = "hash", "path", "relative", "absolute"
FORMS = (HASH, PATH, RELATIVE, ABSOLUTE)

# RFC 3986 3.1; and the URL Standard reads a backslash as a slash.
_SCHEME = re.compile(r"[a-z][a-z0-9+.-]*:", re.IGNORECASE)
_REASONS = {
    HASH: "It stays on this page, so the hash and the ID are enough.",
    PATH: "The page’s address stands in front, so it works from every page of the site.",
    RELATIVE: "It is read from this page’s own place, so it works in a folder of files too, "
    "and breaks when only one of the two pages moves.",
    ABSOLUTE: "It works anywhere, in mail and on other sites too, and has to be changed when "
    "the site’s name changes.",
}
_NOT_HASH = {
    "other": "It leads to another page, so the page’s address has to stand in front.",
    "shared": "This part is on several pages, and a bare hash would work on one of them only.",
    "base": "This page has a base address, from which a bare hash would leave the page.",
}


class CannotWrite(Refusal):
    """A hop can't be written in the form that was asked; says why."""


@dataclass(frozen=True)
class Start:
    """Where a hop stands. address: of its page, in full. base: what the page's
    links are read against (HTML Standard #document-base-url). shared: whether it stands in a
    part that several pages have in common. index: the file that relative addresses name in
    place of a folder, so that they work without a server."""

    address: str
    base: str
    shared: bool = False
    index: str = ""

    @cached_property
    def own(self) -> Resolved | None:
        """Its page, read."""
        return resolve("", self.address)

    @cached_property
    def read_from(self) -> Resolved | None:
        """What links that are written there are read from."""
        return resolve("", self.base)

    def read(self, href: str) -> Resolved | None:
        """An address as a browser reads it there."""
        return resolve(href, self.base)


@dataclass(frozen=True, slots=True)
class Written:
    """A hop in one form. href: "" where the form does not work there; reason:
    why it is good, or why it does not work, in one line."""

    form: str
    href: str
    reason: str


def form_of(href: str) -> str:
    """The form that a link's address is written in.

    RFC 3986 4.1 and 4.2: a URI and a network-path reference name the host; an
    absolute-path reference begins with a slash; what is left is relative, and a
    same-document reference (4.4) is nothing but a fragment.
    """
    if href.startswith("#"):  # the commonest by far
        return HASH
    plain = href.strip(" \t\n\r\f").replace("\\", "/")
    if _SCHEME.match(plain) or plain.startswith("//"):
        return ABSOLUTE
    if plain.startswith("#"):
        return HASH
    return PATH if plain.startswith("/") else RELATIVE


def written(start: Start, target: str, fragment: str | None, form: str) -> Written:
    """A hop from `start` to a page, given by its whole address, in one form.

    fragment: as it stands behind the `#`; None for the page as a whole.
    """
    page = start.read(target)
    if page is None:
        return Written(form, "", "The address of that page can’t be read.")
    if form == RELATIVE and start.index and page.path.endswith("/") and not page.query:
        page = resolve(start.index, f"{page.origin}{page.path}") or page
    tail = "" if fragment is None else f"#{fragment}"
    wanted = f"{page.origin}{page.path}{page.query}{tail}"
    if form == HASH:
        why_not = _why_no_hash(start, page, fragment)
        return Written(HASH, "" if why_not else tail, why_not or _REASONS[HASH])
    href = _WRITERS[form](start, page) + tail
    found = start.read(href)
    if found is None or found.href != wanted:
        return Written(form, "", "This page has a base address that leads elsewhere.")
    return Written(form, href, _REASONS[form])


def _why_no_hash(start: Start, page: Resolved, fragment: str | None) -> str:
    own = start.own
    if own is None or (own.origin, own.path) != (page.origin, page.path) or fragment is None:
        return _NOT_HASH["other"]
    if start.shared:
        return _NOT_HASH["shared"]
    return "" if start.read_from == own else _NOT_HASH["base"]


def _path(start: Start, page: Resolved) -> str:
    return page.path + page.query


def _absolute(start: Start, page: Resolved) -> str:
    return page.origin + page.path + page.query


def _relative(start: Start, page: Resolved) -> str:
    """The shortest relative-path reference (RFC 3986 4.2) that leads there."""
    base = start.read_from
    if base is None or base.origin != page.origin:
        return _absolute(start, page)
    here, there = base.path.split("/")[:-1], page.path.split("/")
    same = 0
    while same < min(len(here), len(there) - 1) and here[same] == there[same]:
        same += 1
    way = "../" * (len(here) - same) + "/".join(there[same:])
    # An empty way would be the same document, and a colon would be a scheme.
    if not way or ":" in way.split("/")[0] or way.startswith("/"):
        way = f"./{way}"
    return way + page.query


_WRITERS: dict[str, Callable[[Start, Resolved], str]] = {
    PATH: _path,
    RELATIVE: _relative,
    ABSOLUTE: _absolute,
}


def all_forms(start: Start, target: str, fragment: str | None) -> list[Written]:
    """The hop in each of the four forms, those that don't work there among them."""
    return [written(start, target, fragment, form) for form in FORMS]


def best(start: Start, target: str, fragment: str | None, default: str, asked: str = "") -> Written:
    """The hop as it is to be written.

    asked: the form chosen for this hop. Where none is, a hop within its page is
    a bare hash, if that works, and every other is in the site's default form.
    Raises CannotWrite when the form that was asked does not work there.
    """
    if asked:
        found = written(start, target, fragment, asked)
        if not found.href:
            raise CannotWrite(found.reason)
        return found
    for form in (HASH, default, PATH, ABSOLUTE):
        found = written(start, target, fragment, form)
        if found.href:
            return found
    raise CannotWrite("This page’s base address leads nowhere that a link could use.")
