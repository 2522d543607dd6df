"""A page's current text, read: what every service and screen starts from."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from django.db.models import F

from innerhop.core.addresses import urls
from innerhop.core.edits import Edit
from innerhop.core.names import ids
from innerhop.core.site.page_reading import PageReading
from innerhop.core.source import file_encoding
from innerhop.library.models import Page, Revision


@dataclass
class PageText(PageReading):
    """A page with its text at one revision. What is read from it is read once."""

    page: Page
    revision: Revision

    @cached_property
    def text(self) -> str:  # type: ignore[override]
        """The page's text, line ends and all as they are in its file."""
        return file_encoding.decode_as(bytes(self.revision.content), self.revision.encoding)

    @property
    def address(self) -> str:
        """The page's whole address."""
        return self.page.address

    @property
    def key(self) -> str:
        """What all its addresses have in common on its site."""
        return self.page.key

    @property
    def is_loose(self) -> bool:
        """As its site has it."""
        return self.page.site.loose_addresses

    @property
    def is_body_only(self) -> bool:
        """Whether it is the body of a post."""
        return self.page.body_only


def current(page: Page) -> PageText:
    """The page with the text it has now."""
    return PageText(page, page.revisions.get(number=page.revision))


def currents(pages: Sequence[Page]) -> list[PageText]:
    """The same for many pages, in their order."""
    rows = Revision.objects.filter(page__in=pages, number=F("page__revision"))
    found = {row.page_id: row for row in rows}
    return [PageText(page, found[page.pk]) for page in pages]


def naming_of(page: Page) -> ids.Naming:
    """How IDs on the page are named: in its own language, in the site's way."""
    return ids.Naming(page.language or page.site.language, page.site.own_letters)


def base_of(page: Page) -> str:
    """What the page's links are resolved against."""
    return urls.base_address(page.address, page.base_href)


def bare_hash_works(page: Page) -> bool:
    """Whether `#id` on this page stays on it."""
    base = urls.resolve("#", base_of(page))
    own = urls.resolve("#", page.address)
    return base == own


def to_rows(edits: Sequence[Edit]) -> list[list[int | str]]:
    """Edits as they are kept in a revision."""
    return [[edit.start, edit.old, edit.new] for edit in edits]


def from_rows(rows: Sequence[Sequence[Any]]) -> list[Edit]:
    """Edits as they were kept in a revision."""
    return [Edit(start, old, new) for start, old, new in rows]
