"""A page of a site, read: its facts, sections, contents lists and menus, each once and only
when it is asked for. Whoever keeps pages says where the text and the address come from."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property

from innerhop.core.addresses import fragments, link_ends, urls
from innerhop.core.contents import entries, in_step, lists, ways_back
from innerhop.core.contents import settings as list_settings
from innerhop.core.facts import page_facts, shared_parts
from innerhop.core.facts.sections import Section, sections_and_words
from innerhop.core.menus import menus
from innerhop.core.source.elements import Element
from innerhop.core.source.tree import Source


class PageReading:
    """What a page's text says. A store of pages makes a class of its own of it, with `text`
    and the four properties below it."""

    text: str

    @property
    def address(self) -> str:
        """The page's whole address."""
        raise NotImplementedError

    @property
    def key(self) -> str:
        """What all addresses of the page have in common (`urls.page_key`)."""
        raise NotImplementedError

    @property
    def is_loose(self) -> bool:
        """Whether the site takes addresses with and without a slash or `.html` as one."""
        raise NotImplementedError

    @property
    def is_body_only(self) -> bool:
        """Whether it is the body of a post, which its site puts in a frame."""
        raise NotImplementedError

    @property
    def led_on(self) -> Mapping[str, str]:
        """The addresses, by key, at which the site's server sends readers on to others."""
        return {}

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
    def differences(self) -> list[in_step.OutOfStep]:
        """How each of its contents lists differs from the page."""
        return [in_step.difference(one, self.source, self.possible) for one in self.lists]

    @cached_property
    def ways_back(self) -> list[ways_back.WayBack]:
        """The links that take a reader up again."""
        return ways_back.find(self.source, self.facts, self.lists, self.leads)

    @cached_property
    def regions(self) -> list[shared_parts.Region]:
        """The parts that the page may have in common with others. The body of a post has
        none: its frame is the site's own, and not in the text."""
        if self.is_body_only:
            return []
        return shared_parts.regions(self.source, self.facts, self.ends.resolve)

    @cached_property
    def menus(self) -> list[menus.Menu]:
        """The menus in the page's frame."""
        if self.is_body_only:
            return []
        shared = [(one.number, one.last) for one in self.regions]
        where = menus.places(self.facts, [*shared, *menus.named_so(self.source)])
        own = [range(one.number, one.last + 1) for one in self.lists]
        return menus.find(self.source, self.facts, where, own)

    @cached_property
    def ends(self) -> link_ends.LinkEnds:
        """What the page's links are read against."""
        return link_ends.LinkEnds(self.address, self.facts.base_href)

    @cached_property
    def _led(self) -> dict[str, str]:
        return {}

    def leads(self, href: str) -> str:
        """The ID to which a link's address leads on the page itself, "" for elsewhere."""
        if "#" not in href:
            return ""
        if self.facts.base_href is None and link_ends.PLAIN_HASH.fullmatch(href):
            return href[1:]
        if href not in self._led:
            self._led[href] = self._leads(href)
        return self._led[href]

    def _leads(self, href: str) -> str:
        found = self.ends.resolve(href)
        if found is None or not found.fragment:
            return ""
        if found.origin != urls.origin_of(self.address):
            return ""
        key = urls.page_key(found.path, self.is_loose)
        if self.led_on.get(key, key) != self.key:
            return ""
        return fragments.id_of(found.fragment)
