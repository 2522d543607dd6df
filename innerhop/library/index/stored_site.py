"""A site as the rules of findings ask for it, answered by the index."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Collection, Iterable, Sequence
from functools import cached_property

from django.db import connection

from innerhop.core.addresses import text_directives
from innerhop.core.facts.sections import Section as SectionRow
from innerhop.core.findings.whole_site import classes_of
from innerhop.core.names.ids import Naming
from innerhop.core.site import guesses
from innerhop.library.index import shared_parts
from innerhop.library.index.rows import COLUMNS
from innerhop.library.index.texts import PageText, current, naming_of, paths_of
from innerhop.library.models import Link, Mark, Move, Page, Revision, Section, Site

_WHOLE = 200  # words looked for on one page: for more, reading it takes less time
_MANY = 20  # words looked for: for fewer, the pages are read one by one


class StoredSite:
    """A site as rules ask for it (`found.SiteView`), answered by the index; what was asked
    once is remembered, so it holds for one moment only."""

    def __init__(self, site: Site, pages: Iterable[Page]) -> None:
        self.site = site
        self.address = site.address
        self.meant = guesses.Meanings(self.ids, self.having)
        self._pages = {page.pk: page for page in pages}
        self._ids: dict[int, list[str]] = {}
        self._titles: dict[int, guesses.Titles] = {}
        self._sections: dict[int, list[SectionRow]] = {}
        self._having: dict[str, list[int]] = {}
        self._classes: dict[int, dict[str, int]] = {}
        self._texts: dict[int, PageText] = {}
        self._shared: dict[int, list[shared_parts.SharedPart]] = {}
        self._near: dict[str, list[int]] = {}
        self._at: dict[str, int | None] = {}
        self._folders: dict[str, bool] = {}
        self.asked = frozenset(site.rules_asked)
        self._arrivals: dict[int, set[int]] | None = None
        self._lacking: set[tuple[int, str]] = set()

    def at_hand(self, keys: Collection[int]) -> None:
        """Ask for what rules will want of some pages, by primary key, all at once."""
        lacking = set(keys) - self._ids.keys()
        if not lacking:
            return
        unknown = lacking - self._pages.keys()
        self._pages |= Page.objects.select_related("site").in_bulk(list(unknown))
        ids: dict[int, dict[str, None]] = {page: {} for page in lacking}
        marks = Mark.objects.filter(page__in=lacking).order_by("page", "number")
        for page, value in marks.values_list("page_id", "value"):
            ids[page][value] = None
        self._ids |= {page: list(values) for page, values in ids.items()}
        self._sections |= {page: [] for page in lacking}
        sections = Section.objects.filter(page__in=lacking).order_by("page", "number")
        for page, *row in sections.values_list("page_id", *COLUMNS[Section]):
            self._sections[page].append(SectionRow(*row))

    def at_hand_having(self, asked: Collection[str]) -> None:
        """Ask at once which pages have some IDs."""
        lacking = {id_ for id_ in asked if id_ not in self._having}
        if not lacking:
            return
        found: dict[str, dict[int, None]] = {id_: {} for id_ in lacking}
        rows = Mark.objects.with_values(self.site.pk, lacking).filter(page__removed=None)
        for id_, page in rows.order_by("page__path").values_list("value", "page"):
            found[id_][page] = None
        self._having |= {id_: list(pages) for id_, pages in found.items()}

    def at_hand_words(self, asked: Collection[tuple[int, str]]) -> None:
        """Ask of many words at once whether they stand in the texts of pages at all, where
        the database can tell: in letters that all encodings but UTF-16 write alike."""
        many = Counter(page for page, _ in asked)
        for page, count in many.items():
            if count > _WHOLE and page not in self._classes:
                self._classes[page] = classes_of(current(self._page(page)).source)
        plain = [(page, word) for page, word in asked
                 if page not in self._classes and word.isascii() and "\0" not in word]  # fmt: skip
        if len(plain) < _MANY:
            return
        pages, words = zip(*plain, strict=True)
        with connection.cursor() as cursor:
            cursor.execute(
                "select v.page, v.word from unnest(%s::bigint[], %s::text[]) as v(page, word) "
                f"join {Page._meta.db_table} p on p.id = v.page "
                f"join {Revision._meta.db_table} r on r.page_id = p.id and r.number = p.revision "
                "where position(convert_to(v.word, 'UTF8') in r.content) = 0 "
                "and r.codec not like 'utf-16%%'",
                [list(pages), list(words)],
            )
            self._lacking |= set(cursor.fetchall())

    def _page(self, page: int) -> Page:
        if page not in self._pages:
            self._pages[page] = Page.objects.select_related("site").get(pk=page)
        return self._pages[page]

    def naming(self, page: int) -> Naming:
        """How IDs on a page are named."""
        return naming_of(self._page(page))

    def path(self, page: int) -> str:
        """A page's path."""
        return self._page(page).path

    def title(self, page: int) -> str:
        """A page's title."""
        return self._page(page).title

    def ids(self, page: int) -> Sequence[str]:
        """The IDs of a page, in tree order."""
        if page not in self._ids:
            rows = Mark.objects.filter(page=page).order_by("number").values_list("value", flat=True)
            self._ids[page] = list(dict.fromkeys(rows))
        return self._ids[page]

    def titles(self, page: int) -> guesses.Titles:
        """The sections of a page, to be looked up by what a hop asks for."""
        if page not in self._titles:
            rows = [guesses.Titled(one.number, one.title, one.mark) for one in self.sections(page)]
            self._titles[page] = guesses.Titles(rows, self.naming(page))
        return self._titles[page]

    def sections(self, page: int) -> Sequence[SectionRow]:
        """The sections of a page."""
        if page not in self._sections:
            rows = Section.objects.filter(page=page).order_by("number")
            self._sections[page] = [SectionRow(*row) for row in rows.values_list(*COLUMNS[Section])]
        return self._sections[page]

    def having(self, id_: str) -> Sequence[int]:
        """The pages that have an ID, in the order of their paths."""
        self.at_hand_having([id_] if id_ not in self._having else ())
        return self._having[id_]

    def with_class(self, page: int, word: str) -> int | None:
        """The first element of a page with a word among its classes. Few hops ask, so their
        pages are read."""
        if (page, word) in self._lacking:
            return None
        if page not in self._classes:
            if page not in self._texts:
                self._texts[page] = current(self._page(page))
            if word not in self._texts[page].text:  # which is told much faster
                return None
            self._classes[page] = classes_of(self._texts[page].source)
        return self._classes[page].get(word)

    @cached_property
    def _moves(self) -> dict[str, int]:
        rows = Move.objects.filter(site=self.site, page__removed=None, change__undone=None)
        return {
            self.site.key_of(old): page
            for old, page in rows.order_by("pk").values_list("old", "page")
        }

    def moved(self, key: str) -> int | None:
        """The page that had an address before."""
        return self._moves.get(key)

    def page(self, key: str) -> int | None:
        """The page with that key of an address."""
        if key not in self._at:
            rows = self.site.pages.filter(key=key)
            self._at[key] = rows.values_list("pk", flat=True).first()
        return self._at[key]

    def has_folder(self, path: str) -> bool:
        """Whether a page has an address in a folder."""
        if path not in self._folders:
            self._folders[path] = self.site.pages.filter(path__startswith=path).exists()
        return self._folders[path]

    @cached_property
    def _paths(self) -> guesses.Paths:
        return paths_of(self.site)

    def near(self, key: str) -> Sequence[int]:
        """Pages with an address that is very like one."""
        if key not in self._near:
            found = (self.page(name) for name in self._paths.near(key))
            self._near[key] = [page for page in found if page is not None]
        return self._near[key]

    def times(self, page: int, fragment: str) -> int:
        """How often the words of a text directive stand on a page."""
        asked = text_directives.read(fragment)
        if asked is None:
            return 0
        words = text_directives.words_of(current(self._page(page)).source)
        return sum(1 for _ in words.found(asked))

    def arrivals(self, page: int) -> Collection[int]:
        """The elements of a page at which hops of the site end."""
        if self._arrivals is None:
            self._arrivals = defaultdict(set)
            keys = [one.key for one in self._pages.values()]
            rows = Link.objects.to_pages(self.site.pk, keys).exclude(end=None)
            for end_page, end in rows.values_list("end_page_id", "end").distinct().order_by():
                self._arrivals[end_page].add(end)
        return self._arrivals[page]

    def is_shared(self, page: int, number: int) -> bool:
        """Whether an element stands in a part that several pages have."""
        if page not in self._shared:
            self._shared[page] = shared_parts.of_page(self._page(page))
        return any(part.number <= number <= part.last for part in self._shared[page])
