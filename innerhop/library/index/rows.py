"""What the index is to say of a page, as plain rows made of its text."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any, NamedTuple

from django.db.models import Model

from innerhop.core.facts.sections import Section as SectionRow
from innerhop.core.facts.shared_parts import Region as RegionRow
from innerhop.core.findings import traits
from innerhop.core.findings.traits import Trait as TraitRow
from innerhop.core.menus import item_rows, menus
from innerhop.core.site import page_rows
from innerhop.core.site.page_rows import LinkRow, MarkRow
from innerhop.library.index.texts import PageText
from innerhop.library.models import Link, Mark, Menu, Page, Region, Section, Trait

TITLE_LENGTH = 500
_TAG_LENGTH = 60
_NAME_LENGTH = 100
_TRAIT_LENGTH = 500
VERSION = 17

Row = tuple[Any, ...]  # the columns of a kind, in their order
Rows = dict[type[Model], list[Row]]


class MenuRow(NamedTuple):
    """A menu, as the index has it."""

    number: int
    last: int
    region: str
    name: str
    lit: bool
    digest: str
    items: str

    @property
    def labels(self) -> list[tuple[int, str]]:
        """The words of its items, with the number of each; none of a list beside the content."""
        if self.region == menus.BESIDE:
            return []
        return [(self.number + one.number, one.label) for one in item_rows.from_text(self.items)]


# What rows say of a page, by the class of each kind: its fields are the columns. `number` comes
# first, and moves when elements come and go. Where there may be a hundred thousand, plain tuples
# of the same order stand for them.
KINDS: dict[type[Model], Callable[..., Any]] = {
    Section: SectionRow, Mark: MarkRow, Link: LinkRow, Region: RegionRow, Menu: MenuRow,
    Trait: TraitRow,
}  # fmt: skip
COLUMNS: dict[type[Model], tuple[str, ...]] = {
    model: kind._fields  # type: ignore[attr-defined]
    for model, kind in KINDS.items()
}


# The columns of what becomes of a link's readers, in the order of `hops.Verdict`.
VERDICT = ("kind", "end_page_id", "end", "why", "opens")


def describe(page: Page, text: PageText) -> None:
    """Set on the page what its own text says about it. The caller saves it."""
    facts, sections = text.facts, text.sections
    page.title = kept(page_rows.title_of(facts, page.title) or page.path)[:TITLE_LENGTH]
    page.language = kept(facts.language)[:35]
    page.base_href = None if facts.base_href is None else kept(facts.base_href)
    page.words = text.words
    page.section_count = len(sections)
    page.marked_count = sum(bool(section.mark) for section in sections)
    page.lists = len(text.lists)
    page.lists_off = sum(off.count for off in text.differences)
    page.ways_back = len(text.ways_back)
    page.indexed = VERSION


# What `describe` sets, each with its type in the database, for those who save many pages
# at once.
DESCRIBED = {
    "title": "text", "language": "text", "base_href": "text", "words": "bigint",
    "section_count": "bigint", "marked_count": "bigint", "lists": "bigint",
    "lists_off": "bigint", "ways_back": "bigint", "indexed": "bigint",
}  # fmt: skip


def described(page: Page) -> list[Any]:
    """The same, as it is now."""
    return [getattr(page, name) for name in DESCRIBED]


def kept(text: str) -> str:
    """A text as PostgreSQL can hold it: a page may have a character reference to NUL in
    it, or bytes that are no characters."""
    if "\0" in text:
        text = text.replace("\0", "\ufffd")
    return text if text.isascii() else text.encode("utf-8", "replace").decode()


def rows_of(text: PageText) -> Rows:
    """All rows of a page."""
    return {model: list(make(text)) for model, make in _MAKERS.items()}


def _sections(text: PageText) -> Iterable[Row]:
    for one in text.sections:
        yield one._replace(title=kept(one.title)[:TITLE_LENGTH], mark=kept(one.mark))


def _marks(text: PageText) -> Iterable[Row]:
    for number, attribute, value, tag, empty, closed, words in page_rows.mark_rows(text):
        yield number, attribute, kept(value), tag[:_TAG_LENGTH], empty, closed, kept(words)


def _links(text: PageText) -> Iterable[Row]:
    return map(kept_link, page_rows.link_rows(text))


def kept_link(row: LinkRow) -> LinkRow:
    """The row of a link as it can be kept."""
    return row._replace(href=kept(row.href), text=kept(row.text))


def _traits(text: PageText) -> Iterable[Row]:
    for one in traits.find(text):
        yield one._replace(told=kept(one.told)[:_TRAIT_LENGTH])


def _regions(text: PageText) -> Iterable[Row]:
    if text.page.body_only:  # the frame is the site's own, and not in the text
        return ()
    return text.regions


def _menus(text: PageText) -> Iterable[Row]:
    return (menu_row(one, text.ends.resolve) for one in text.menus)


def menu_row(menu: menus.Menu, resolve: item_rows.Resolve) -> MenuRow:
    """The row of a menu. resolve: what reads an address on its page."""
    items = item_rows.rows(menu, resolve, resolve(""))
    name = kept(menu.name)[:_NAME_LENGTH]
    digest, told = item_rows.digest(items), kept(item_rows.to_text(items))
    return MenuRow(menu.number, menu.last, menu.region, name, menu.lit, digest, told)


_MAKERS: dict[type[Model], Callable[[PageText], Iterable[Row]]] = {
    Section: _sections,
    Mark: _marks,
    Link: _links,
    Region: _regions,
    Menu: _menus,
    Trait: _traits,
}
