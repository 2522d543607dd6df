"""The hops of a page as the index knows them: where each starts, where it ends,
and whether the reader gets there."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, replace
from urllib.parse import unquote

from django.db.models import QuerySet

from innerhop.core.addresses import text_directives
from innerhop.core.addresses.fragments import Nowhere, Targets, Top, indicated, without_directive
from innerhop.core.facts import hidden_parts
from innerhop.library.index.texts import current
from innerhop.library.models import Link, Mark, Page

HERE, THERE, MENU, BACK, BROKEN = "here", "there", "menu", "back", "broken"
MENUS = ("nav", "header")  # the regions of a page whose links are its site's menu


@dataclass(frozen=True)
class Hop:
    """A link that ends at a mark, or at the top of a page.

    kind: one of the five above, as it is drawn. end: the element number it
    ends at, None for the top of the page or for nowhere. why: for a broken hop, what
    is wrong, in one sentence. opens: whether the browser opens a closed part for it.
    """

    link: Link
    kind: str
    page: Page | None
    end: int | None
    why: str = ""
    opens: bool = False


def links_of(page: Page) -> list[Link]:
    """All links of the page, in the order they stand there, with the page at hand."""
    links = list(page.links.order_by("number"))
    for link in links:
        link.page = page
    return links


def out_of(page: Page, links: list[Link] | None = None) -> list[Hop]:
    """The hops that start on the page, in the order they stand there. links: all of
    its links, where they are at hand already."""
    links = links_of(page) if links is None else links
    lacking = {one.pk for one in _without_hash(one for one in links if one.fragment is None)}
    return _hops([one for one in links if _is_hop(one) or one.pk in lacking])


def _is_hop(link: Link) -> bool:
    return bool(link.key) and link.fragment is not None


def of_pages(pages: list[Page]) -> list[Hop]:
    """The hops that start on these pages of one site, page by page in order."""
    at_hand = {page.pk: page for page in pages}
    links = [*_hop_rows(pages), *_without_hash(_bare_rows(pages))]
    links.sort(key=lambda one: (one.page_id, one.number))
    for link in links:
        link.page = at_hand[link.page_id]
    return _hops(links)


def _hop_rows(pages: list[Page]) -> QuerySet[Link]:
    return Link.objects.filter(page__in=pages).exclude(key="").exclude(fragment=None)


def _bare_rows(pages: list[Page]) -> QuerySet[Link]:
    """Links that could lack a hash: one with a slash in it is a path."""
    rows = Link.objects.filter(page__in=pages, fragment=None).exclude(key="")
    return rows.exclude(href__contains="/")


def into(page: Page) -> list[Hop]:
    """The hops that start on other pages of the site and lead to this one."""
    links = Link.objects.filter(site_id=page.site_id, key=page.key).exclude(fragment=None)
    return _hops(list(links.exclude(page=page).select_related("page__site")))


def broken_counts(pages: Iterable[Page]) -> dict[int, int]:
    """For each page (by primary key) of one site, how many of its hops are broken."""
    pages = list(pages)
    links = [*_hop_rows(pages), *_without_hash(_bare_rows(pages))]
    counts: dict[int, int] = defaultdict(int)
    for hop in _hops(links):
        counts[hop.link.page_id] += hop.kind == BROKEN
    return counts


def missing_hash(link: Link) -> str:
    """The ID that a link without a hash could mean: the last part of its address."""
    return unquote(link.key.rpartition("/")[2])


def _without_hash(links: Iterable[Link]) -> list[Link]:
    """Of links that have no fragment, those that lead to no page, but would lead to an
    ID of their own page with a `#` in front: `faq-7` for `#faq-7`."""
    found = [one for one in links if one.key and "/" not in one.href]
    if not found:
        return []
    keys = {one.key for one in found}
    rows = Page.objects.filter(site_id=found[0].site_id, key__in=keys)
    there = set(rows.values_list("key", flat=True))
    marks = Mark.objects.filter(page__in={one.page_id for one in found})
    own = set(marks.values_list("page", "value"))
    return [
        one for one in found if one.key not in there and (one.page_id, missing_hash(one)) in own
    ]


def _hops(links: list[Link]) -> list[Hop]:
    if not links:
        return []
    site_id = links[0].site_id
    wanted = {link.key for link in links}
    pages = Page.objects.filter(site_id=site_id, key__in=wanted).select_related("site")
    ends = {page.key: page for page in pages}
    targets, shut = _targets_and_shut(list(ends.values()))
    to_words = _ToWords()
    return [
        to_words.hop(link, ends[link.key])
        if link.key in ends and is_to_words(link.fragment or "")
        else _seen(_hop(link, ends.get(link.key), targets), shut)
        for link in links
    ]


def _seen(hop: Hop, shut: dict[tuple[int, int], str]) -> Hop:
    """The hop with what becomes of it at a closed part: it is opened, or it can't be."""
    state = shut.get((hop.page.pk, hop.end)) if hop.page and hop.end is not None else None
    if state == hidden_parts.HIDDEN:
        return replace(hop, kind=BROKEN, why=hidden_parts.SAID[state])
    return replace(hop, opens=True) if state == hidden_parts.OPENS else hop


def is_to_words(fragment: str) -> bool:
    """Whether a fragment asks for words, and for no ID."""
    return not without_directive(fragment) and text_directives.read(fragment) is not None


class _ToWords:
    """Hops to words instead of an ID. They are few, so their pages are read."""

    def __init__(self) -> None:
        self.pages: dict[int, text_directives.PageWords] = {}

    def hop(self, link: Link, page: Page) -> Hop:
        if page.pk not in self.pages:
            self.pages[page.pk] = text_directives.words_of(current(page).source)
        asked = text_directives.read(link.fragment or "")
        end = text_directives.find(self.pages[page.pk], asked) if asked else None
        if end is None:
            why = "These words are no longer on the page, so it opens at its top instead."
            return Hop(link, BROKEN, page, None, why)
        return Hop(link, HERE if page.pk == link.page_id else THERE, page, end)


def targets_of(pages: list[Page]) -> dict[int, Targets[int]]:
    """What fragments find on each page, by the page's primary key."""
    return _targets_and_shut(pages)[0]


def _targets_and_shut(
    pages: list[Page],
) -> tuple[dict[int, Targets[int]], dict[tuple[int, int], str]]:
    """The same, and which marks stand in closed parts, and of which state."""
    found: dict[int, list[tuple[str, str, int]]] = {page.pk: [] for page in pages}
    shut: dict[tuple[int, int], str] = {}
    marks = Mark.objects.filter(page__in=pages).order_by("page", "number")
    for page_id, *mark, number, state in marks.values_list(
        "page_id", "attribute", "value", "number", "closed"
    ):
        found[page_id].append((*mark, number))  # type: ignore[arg-type]
        if state:
            shut[page_id, number] = state
    return {page_id: Targets.of(rows) for page_id, rows in found.items()}, shut


def _hop(link: Link, page: Page | None, targets: dict[int, Targets[int]]) -> Hop:
    if link.fragment is None:
        why = f"It has no #, so it leads to a page {link.key} that is not there."
        return Hop(link, BROKEN, None, None, why)
    if page is None:
        return Hop(link, BROKEN, None, None, f"No page of this site has the address {link.key}.")
    end = indicated(link.fragment or "", targets[page.pk])
    same_page = page.pk == link.page_id
    if isinstance(end, Nowhere):
        where = "this page" if same_page else f"“{page.title}”"
        return Hop(link, BROKEN, page, None, f"Nothing on {where} has this ID, so nothing happens.")
    if isinstance(end, Top):
        kind = BACK if same_page else THERE
        return Hop(link, MENU if link.region in MENUS else kind, page, None)
    if link.region in MENUS:
        return Hop(link, MENU, page, end)
    return Hop(link, HERE if same_page else THERE, page, end)
