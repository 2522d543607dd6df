"""The menus of a site: the same one known again on every page, with what its items do on
each. Asked of the index; no page is read."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from django.contrib.postgres.aggregates import ArrayAgg
from django.db.models import BooleanField, Case, Count, F, Min, Q, QuerySet, Value, When
from django.utils.text import slugify

from innerhop.core.menus import site_menus, variants
from innerhop.core.menus.item_rows import ItemRow, from_text
from innerhop.core.menus.site_menus import Counted, SeenMenu
from innerhop.core.menus.variants import ItemDifference
from innerhop.core.refusals import Refusal
from innerhop.core.site import stations
from innerhop.core.site.stations import LACKING, Way
from innerhop.library.index.texts import PageText
from innerhop.library.models import Link, Menu, Page, Site

_MOST_VARIANTS = 5_000  # different lists of links that are compared; more are pages' own
_NAMES = {
    "header": "Header", "footer": "Footer", "nav": "Main", "aside": "Side", "part": "Beside",
}  # fmt: skip


class NoMenu(Refusal):
    """A menu is not, or no longer, on the page."""


@dataclass(frozen=True)
class Variant:
    """A menu as some pages have it. row: on the first of them. pages: how many have it."""

    digest: str
    items: Sequence[ItemRow]
    row: Menu
    pages: int


@dataclass
class SiteMenu:
    """A menu of a site, as most of its pages have it and as others do. key: its name in
    addresses. pages: how many show it."""

    key: str
    name: str
    region: str
    variants: list[Variant] = field(default_factory=list)
    pages: int = 0

    @property
    def items(self) -> Sequence[ItemRow]:
        """Its items, as most pages have them."""
        return self.variants[0].items

    @property
    def row(self) -> Menu:
        """Where it stands on the first page that has it so."""
        return self.variants[0].row

    @property
    def has_open_branch(self) -> bool:
        """Whether pages open different parts of it, each the one that it is in."""
        return any(variants.is_open_branch(self.items, one.items) for one in self.variants[1:])

    def rows(self) -> QuerySet[Menu]:
        """Every place where it stands."""
        digests = [one.digest for one in self.variants]
        return Menu.objects.filter(site=self.row.site_id, region=self.region, digest__in=digests)

    def variant(self, digest: str) -> Variant:
        """The one with that digest."""
        return next(one for one in self.variants if one.digest == digest)


def of_site(site: Site) -> list[SiteMenu]:
    """The menus of a site, those in the header first; lists that are single pages' own left
    out (see `site_menus`)."""
    made = {(one.row.region, one.digest): one for one in _variants(site)}
    lists = [
        Counted(SeenMenu(one.digest, one.row.region, one.row.name, one.items), one.pages)
        for one in made.values()
    ]
    found = []
    for group in site_menus.grouped(lists, site.pages.count()):
        region = group.lists[0].seen.region
        own = [made[region, one.seen.digest] for one in group.lists]
        found.append(SiteMenu("", "", region, own, group.pages))
    order = site_menus.PLACES.index
    found.sort(key=lambda one: (order(one.region), -one.pages, one.row.number))
    return _named(found)


def _variants(site: Site) -> list[Variant]:
    rows = (
        Menu.objects.filter(site=site)
        .values("digest", "region")
        .annotate(pages=Count("page", distinct=True), first=Min("pk"))
        .order_by("-pages", "first")[:_MOST_VARIANTS]
    )
    counts = {row["first"]: row["pages"] for row in rows}
    made = Menu.objects.select_related("page__site").in_bulk(counts)
    return [
        Variant(made[pk].digest, from_text(made[pk].items), made[pk], pages)
        for pk, pages in counts.items()
    ]


def _named(listed: list[SiteMenu]) -> list[SiteMenu]:
    """Each with a name of its own, and one for addresses."""
    seen: dict[str, int] = defaultdict(int)
    for menu in listed:
        name = menu.row.name[:60] or _NAMES[menu.region]
        seen[name] += 1
        menu.name = f"{name} {seen[name]}" if seen[name] > 1 else name
        menu.key = slugify(menu.name, allow_unicode=True) or f"menu-{len(seen)}"
    return listed


def with_key(site: Site, key: str) -> SiteMenu | None:
    """The menu with that name in addresses; the first without one."""
    found = of_site(site)
    return next((one for one in found if one.key == key), found[0] if found and not key else None)


def at(page: Page, number: int) -> SiteMenu:
    """The menu of which a list on a page is a copy. Raises NoMenu."""
    row = Menu.objects.filter(page=page, number=number).first()
    for menu in of_site(page.site) if row else ():
        assert row is not None
        if menu.region == row.region and any(one.digest == row.digest for one in menu.variants):
            return menu
    raise NoMenu("This menu is no longer there. Load the page again to see it as it is.")


@dataclass(frozen=True)
class Running:
    """What a menu does. vectors: by page, what each item does there. unlike: how the menu
    of a page differs, by page, for those that do."""

    vectors: Mapping[int, Sequence[str]]
    unlike: Mapping[int, Sequence[ItemDifference]]


def run(menu: SiteMenu) -> Running:
    """What each item of a menu does on each page that shows it."""
    rows = menu.rows().order_by("page__path", "number")
    places = rows.values_list("page_id", "digest", "page__path")
    digests: dict[int, str] = {}
    paths: dict[int, str] = {}
    for page, digest, path in places:
        digests.setdefault(page, digest)
        paths[page] = path
    states = _states(menu, digests)
    by_digest = {one.digest: one for one in menu.variants}
    pairs = {one.digest: variants.paired(menu.items, one.items) for one in menu.variants}
    vectors: dict[int, list[str]] = {}
    unlike: dict[int, Sequence[ItemDifference]] = {}
    for page, digest in digests.items():
        items = by_digest[digest].items
        there = states.get(page, {})
        vectors[page] = [
            LACKING if other is None else _state(items[other], there) for other in pairs[digest]
        ]
        if digest != menu.variants[0].digest:
            found = variants.differences(menu.items, items, paths[page])
            if found:
                unlike[page] = found
    return Running(vectors, unlike)


def _state(item: ItemRow, there: Mapping[int, Way]) -> str:
    return stations.does(item.kind, there.get(item.number))


def _states(menu: SiteMenu, digests: Mapping[int, str]) -> dict[int, dict[int, Way]]:
    """Where the links of a menu lead, by page and by their distance from the menu."""
    inside = Q(number__gte=F("page__menus__number"), number__lte=F("page__menus__last"))
    rows = (
        Link.objects.filter(inside, page__menus__in=menu.rows())
        .annotate(
            offset=F("number") - F("page__menus__number"),
            digest=F("page__menus__digest"),
            on_site=_yes(~Q(key="")),
            own=_yes(Q(key=F("page__key"))),
            hash=_yes(Q(fragment__isnull=False)),
            top=_yes(Q(end__isnull=True)),
        )
        .values_list("digest", "offset", "kind", "why", "on_site", "own", "hash", "top")
        .annotate(pages=ArrayAgg("page_id"))
        .order_by()
    )
    found: dict[int, dict[int, Way]] = defaultdict(dict)
    for digest, offset, kind, why, on_site, own, has_hash, top, pages in rows:
        way = Way(kind, why, on_site, own, has_hash, top)
        for page in pages:
            if digests.get(page) == digest:
                found[page].setdefault(offset, way)
    return found


def earlier_words(page: Page, id_: str) -> set[str]:
    """What a section was called in texts of the page that came in before its latest one, in
    small letters."""
    came_in = page.revisions.filter(edits__isnull=True, number__gt=0).order_by("-number")
    found: set[str] = set()
    for revision in came_in[1 : 1 + _TEXTS_BEFORE]:
        marked = (one for one in PageText(page, revision).sections if one.mark == id_)
        found |= {one.title.casefold() for one in marked}
    return found


_TEXTS_BEFORE = 3


def _yes(condition: Q) -> Case:
    found = When(condition, then=Value(True))
    return Case(found, default=Value(False), output_field=BooleanField())
