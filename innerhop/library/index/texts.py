"""A page's current text, read: what every service and screen starts from."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from django.db.models import F

from innerhop.core.addresses import fragments, link_ends, urls
from innerhop.core.contents import entries, lists, ways_back
from innerhop.core.contents import settings as list_settings
from innerhop.core.edits import Edit
from innerhop.core.facts import page_facts, shared_parts
from innerhop.core.facts.sections import Section, sections_and_words
from innerhop.core.menus import menus
from innerhop.core.names import ids
from innerhop.core.source import file_encoding
from innerhop.core.source.elements import Element
from innerhop.core.source.tree import Source
from innerhop.library.models import Page, Revision


@dataclass
class PageText:
    """A page with its text at one revision. What is read from it is read once."""

    page: Page
    revision: Revision

    @cached_property
    def text(self) -> str:
        """The page's text, line ends and all as they are in its file."""
        return file_encoding.decode_as(bytes(self.revision.content), self.revision.encoding)

    @cached_property
    def source(self) -> Source:
        """The text as a browser reads it."""
        return Source(self.text)

    @cached_property
    def facts(self) -> page_facts.Facts:
        """The page's marks, links and headings."""
        return page_facts.gather(self.source)

    @cached_property
    def marks(self) -> page_facts.Facts:
        """The page's marks alone, where no more is needed."""
        return page_facts.gather_marks(self.source)

    @cached_property
    def _counted(self) -> tuple[list[Section], int]:
        return sections_and_words(self.source, self.facts)

    @property
    def sections(self) -> list[Section]:
        """The page's sections in order."""
        return self._counted[0]

    @property
    def words(self) -> int:
        """How many words the page shows."""
        return self._counted[1]

    @cached_property
    def possible(self) -> list[entries.Possible]:
        """The parts of the page that a contents list could be made of."""
        own = [range(one.number, one.last + 1) for one in self._made_lists]
        return entries.possible(self.source, self.facts, self.sections, own)

    @cached_property
    def _made_lists(self) -> list[Element]:
        return [self.source.element(one.number) for one in self.source.having(list_settings.KIND)]

    @cached_property
    def lists(self) -> list[lists.ContentsList]:
        """The contents lists of the page."""
        return lists.find(self.source, self.facts, self.possible, self.leads)

    @cached_property
    def ways_back(self) -> list[ways_back.WayBack]:
        """The links that take a reader up again."""
        return ways_back.find(self.source, self.facts, self.lists, self.leads)

    @cached_property
    def regions(self) -> list[shared_parts.Region]:
        """The parts that the page may have in common with others. The body of a post has
        none: its frame is the site's own, and not in the text."""
        if self.page.body_only:
            return []
        return shared_parts.regions(self.source, self.facts, self._ends.resolve)

    @cached_property
    def menus(self) -> list[menus.Menu]:
        """The menus in the page's frame."""
        if self.page.body_only:
            return []
        where = menus.places(self.facts, [(one.number, one.last) for one in self.regions])
        return menus.find(self.source, self.facts, where)

    @cached_property
    def _ends(self) -> link_ends.LinkEnds:
        return link_ends.LinkEnds(self.page.address, self.facts.base_href)

    @cached_property
    def _led(self) -> dict[str, str]:
        return {}

    def leads(self, href: str) -> str:
        """The ID to which a link's address leads on the page itself, "" for elsewhere."""
        if "#" not in href:
            return ""
        if href not in self._led:
            self._led[href] = self._leads(href)
        return self._led[href]

    def _leads(self, href: str) -> str:
        found = self._ends.resolve(href)
        if found is None or not found.fragment:
            return ""
        origin = urls.origin_of(self.page.site.address)
        if found.origin != origin or self.page.site.key_of(found.path) != self.page.key:
            return ""
        return fragments.percent_decode(fragments.without_directive(found.fragment))


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
