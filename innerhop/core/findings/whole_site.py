"""A site whose pages are all at hand: its hops judged and its findings, without a store."""

from __future__ import annotations

from bisect import bisect_left
from collections import defaultdict
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from operator import attrgetter

from innerhop.core.addresses import text_directives
from innerhop.core.addresses.fragments import Targets
from innerhop.core.facts.lengths import guessed_height
from innerhop.core.facts.sections import Section
from innerhop.core.findings import look, traits
from innerhop.core.findings.found import Found, JudgedLink, PageRows
from innerhop.core.findings.traits import Trait
from innerhop.core.menus.menus import BESIDE
from innerhop.core.names.ids import Naming
from innerhop.core.site import guesses, hops, page_rows
from innerhop.core.site.page_reading import PageReading
from innerhop.core.site.page_rows import LinkRow, MarkRow
from innerhop.core.source.tree import Source
from innerhop.core.widths import LAPTOP


@dataclass(frozen=True, slots=True)
class ReadPage:
    """What a page's text says, as plain values that can be sent from process to process.
    classes: the first element with each word among its classes. regions: what it may have
    in common with other pages: first and last number, and what is the same on each."""

    path: str
    key: str
    title: str
    language: str
    base_href: str | None
    words: int
    lists: int
    ways_back: int
    marks: Sequence[MarkRow]
    links: Sequence[LinkRow]
    sections: Sequence[Section]
    traits: Sequence[Trait]
    menus: Sequence[Sequence[tuple[int, str]]]
    classes: Mapping[str, int] = field(default_factory=dict)
    regions: Sequence[tuple[int, int, str]] = ()


def read(page: PageReading, path: str) -> ReadPage:
    """A page, read once and for all."""
    facts = page.facts
    return ReadPage(
        path=path,
        key=page.key,
        title=page_rows.title_of(facts) or path,
        language=facts.language,
        base_href=facts.base_href,
        words=page.words,
        lists=len(page.lists),
        ways_back=len(page.ways_back),
        marks=list(page_rows.mark_rows(page)),
        links=list(page_rows.link_rows(page)),
        sections=page.sections,
        traits=traits.find(page),
        menus=[
            [(one.number, one.label) for one in menu.items]
            for menu in page.menus
            if menu.region != BESIDE
        ],
        classes=classes_of(page.source),
        regions=[(one.number, one.last, one.digest) for one in page.regions],
    )


def classes_of(source: Source) -> dict[str, int]:
    """The first element with each word among its classes."""
    found: dict[str, int] = {}
    for number in source.reading.having(("class",)):
        for word in (source.attr(number, "class") or "").split():
            found.setdefault(word, number)
    return found


class WholeSite:
    """The pages of a site, each known by its place in the list.

    text: reads a page's text anew, for the few questions that its rows don't answer. asked:
    the rules, by name, that it asks for beside those that are always looked for.
    """

    def __init__(
        self, address: str, language: str, pages: Sequence[ReadPage],
        text: Callable[[int], Source], asked: Collection[str] = (),
    ) -> None:  # fmt: skip
        self.asked = asked
        self.address = address
        self.language = language
        self.pages = pages
        self.meant = guesses.Meanings(self.ids, self.having)
        self._text = text
        self._targets: dict[int, Targets[int]] = {}
        self._states: dict[int, dict[int, str]] = {}
        self._ids: dict[int, list[str]] = {}
        self._titles: dict[int, guesses.Titles] = {}
        self._words: dict[int, text_directives.PageWords] = {}
        self._near: dict[str, list[int]] = {}

    # What hops need (`site.hops.Ends`).

    @cached_property
    def _by_key(self) -> dict[str, int]:
        found: dict[str, int] = {}
        for at, page in enumerate(self.pages):
            found.setdefault(page.key, at)
        return found

    def page(self, key: str) -> int | None:
        """The page with that key of an address."""
        return self._by_key.get(key)

    def targets(self, page: int) -> Targets[int]:
        """What fragments find on a page."""
        if page not in self._targets:
            marks = self.pages[page].marks
            self._targets[page] = Targets.of(
                (one.attribute, one.value, one.number) for one in marks
            )
        return self._targets[page]

    def state(self, page: int, number: int) -> str:
        """Whether a mark stands in a shut part."""
        if page not in self._states:
            marks = reversed(self.pages[page].marks)  # the first of each element counts
            self._states[page] = {one.number: one.closed for one in marks}
        return self._states[page].get(number, "")

    def words(self, page: int, fragment: str) -> int | None:
        """The element whose words a directive finds."""
        asked = text_directives.read(fragment)
        return None if asked is None else text_directives.find(self._page_words(page), asked)

    def _page_words(self, page: int) -> text_directives.PageWords:
        if page not in self._words:
            self._words[page] = text_directives.words_of(self._text(page))
        return self._words[page]

    def source(self, page: int) -> Source:
        """A page's text, read anew."""
        return self._text(page)

    # What rules ask (`found.SiteView`).

    def naming(self, page: int) -> Naming:
        """How IDs on a page are named."""
        return Naming(self.pages[page].language or self.language)

    def path(self, page: int) -> str:
        """A page's path."""
        return self.pages[page].path

    def title(self, page: int) -> str:
        """A page's title."""
        return self.pages[page].title

    def ids(self, page: int) -> Sequence[str]:
        """The IDs of a page, in tree order."""
        if page not in self._ids:
            self._ids[page] = list(dict.fromkeys(one.value for one in self.pages[page].marks))
        return self._ids[page]

    def titles(self, page: int) -> guesses.Titles:
        """The sections of a page, to be looked up by what a hop asks for."""
        if page not in self._titles:
            rows = [guesses.Titled(one.number, one.title, one.mark) for one in self.sections(page)]
            self._titles[page] = guesses.Titles(rows, self.naming(page))
        return self._titles[page]

    def sections(self, page: int) -> Sequence[Section]:
        """The sections of a page."""
        return self.pages[page].sections

    @cached_property
    def _having(self) -> dict[str, list[int]]:
        found: dict[str, list[int]] = defaultdict(list)
        for at in sorted(range(len(self.pages)), key=lambda one: self.pages[one].path):
            for value in {one.value for one in self.pages[at].marks}:
                found[value].append(at)
        return found

    def having(self, id_: str) -> Sequence[int]:
        """The pages that have an ID, in the order of their paths."""
        return self._having.get(id_, ())

    def with_class(self, page: int, word: str) -> int | None:
        """The first element of a page with a word among its classes."""
        return self.pages[page].classes.get(word)

    def moved(self, key: str) -> int | None:
        """Nobody has told where pages were before."""
        return None

    @cached_property
    def _by_path(self) -> dict[str, int]:
        return {page.path: at for at, page in enumerate(self.pages)}

    @cached_property
    def _paths(self) -> guesses.Paths:
        return guesses.Paths(list(self._by_path))

    @cached_property
    def _folders(self) -> set[str]:
        paths = (page.path.split("/", 2) for page in self.pages)
        return {f"/{parts[1]}/" for parts in paths if len(parts) > 2}

    def has_folder(self, path: str) -> bool:
        """Whether a page has an address in a folder of the site's root."""
        return path in self._folders

    def near(self, key: str) -> Sequence[int]:
        """Pages with an address that is very like one."""
        if key not in self._near:
            self._near[key] = [self._by_path[name] for name in self._paths.near(key)]
        return self._near[key]

    def times(self, page: int, fragment: str) -> int:
        """How often the words of a directive stand on a page."""
        asked = text_directives.read(fragment)
        return 0 if asked is None else sum(1 for _ in self._page_words(page).found(asked))

    @cached_property
    def _arrivals(self) -> dict[int, set[int]]:
        found: dict[int, set[int]] = defaultdict(set)
        for links in self._judged:
            for link in links:
                if link.end_page is not None and link.end is not None:
                    found[link.end_page].add(link.end)
        return found

    def arrivals(self, page: int) -> Collection[int]:
        """The elements of a page at which hops end."""
        return self._arrivals.get(page, set())

    @cached_property
    def _digests(self) -> dict[str, int]:
        found: dict[str, int] = defaultdict(int)
        for page in self.pages:
            for digest in {digest for _, _, digest in page.regions}:
                found[digest] += 1
        return found

    def is_shared(self, page: int, number: int) -> bool:
        """Whether an element stands in a part that several pages have."""
        return any(
            first <= number <= last and self._digests[digest] > 1
            for first, last, digest in self.pages[page].regions
        )

    # What is found.

    @cached_property
    def _judged(self) -> list[list[JudgedLink]]:
        found = []
        for at, page in enumerate(self.pages):
            links = []
            for link in page.links:
                verdict = hops.judge(_Placed(at, *link[1:]), self)
                links.append(JudgedLink(*link, *verdict))
            found.append(links)
        return found

    def link(self, page: int, number: int) -> JudgedLink:
        """A link of a page, by its number."""
        links = self._judged[page]  # in tree order
        return links[bisect_left(links, number, key=attrgetter("number"))]

    def rows(self, page: int) -> PageRows:
        """A page as rules see it."""
        read_page = self.pages[page]
        return PageRows(
            page=page,
            path=read_page.path,
            key=read_page.key,
            title=read_page.title,
            language=read_page.language,
            base_href=read_page.base_href,
            lists=read_page.lists,
            ways_back=read_page.ways_back,
            screens=guessed_height(read_page.words) / LAPTOP.view,
            marks=read_page.marks,
            links=self._judged[page],
            sections=read_page.sections,
            traits=read_page.traits,
            menus=read_page.menus,
        )

    def findings(self, page: int) -> list[Found]:
        """What is found on a page."""
        return look.findings(self.rows(page), self)


@dataclass(frozen=True, slots=True)
class _Placed:
    """A link with the page that it stands on, as `hops.judge` needs it."""

    page_id: int
    href: str
    text: str
    region: str
    key: str
    fragment: str | None
    new_tab: bool
    permalink: bool
