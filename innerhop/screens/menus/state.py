"""All that the menus screen shows of a menu, as one JSON object."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from django.http import HttpRequest

from innerhop.core.addresses import fragments
from innerhop.core.findings import traits
from innerhop.core.menus import labels, variants
from innerhop.core.menus.item_rows import ItemRow
from innerhop.core.menus.menus import BUTTON, BY_ARIA, LINK
from innerhop.core.menus.variants import DEPTH, LACKS, LEADS, MORE, ORDER, SAID, ItemDifference
from innerhop.core.site import stations
from innerhop.core.site.stations import THERE, WRONG, Station
from innerhop.library.models import Link, Mark, Page, Section
from innerhop.library.seek import menus as seek
from innerhop.library.seek.menus import Running, SiteMenu
from innerhop.screens.acts.views import urls_of
from innerhop.screens.menus import end_strips
from innerhop.screens.page_state.state import sheet_url

_NAMED = 200  # pages of a station that are named
_FEW = 4  # stations: beside so few there is room for the pages that items lead to
_UNLIKE = 40  # pages whose menu differs that are named
_PLACES = {
    "header": "the header", "footer": "the footer", "nav": "the navigation",
    "aside": "a sidebar", "part": "a part",
}  # fmt: skip


def menu_state(request: HttpRequest, menu: SiteMenu) -> dict[str, Any]:
    """A menu, what its items do, and how pages differ."""
    running = seek.run(menu)
    titles = _titles(running.vectors)
    drawn = drawn_stations(running.vectors)
    ends = _ends(menu, running)
    if len(drawn) <= _FEW:
        ends = end_strips.drawn(ends)
    notes = labels.of_items(menu.items)
    items = [_item(menu, running, at, ends) for at in range(len(menu.items))]
    page = menu.row.page
    return {
        "plan": None,
        "key": menu.key,
        "name": menu.name,
        "where": _PLACES[menu.region],
        "page": page.pk,
        "revision": page.revision,
        "number": menu.row.number,
        "pages": len(running.vectors),
        "items": [
            {**one, "notes": [*own, *one["notes"]]} for one, own in zip(items, notes, strict=True)
        ],
        "stations": drawn,
        "drawsEnds": len(drawn) <= _FEW,
        "unlike": _unlike(menu, running, titles),
        "unlikeCount": len(running.unlike),
        "jumps": any(states.count(stations.JUMPS) > 1 for states in running.vectors.values()),
        "lit": menu.row.lit or menu.rows().filter(lit=True).exists(),
        "saysCurrent": _says_current(menu, running),
        "notes": labels.of_menu(menu.items),
        "urls": {name: urls_of(page)[name] for name in _URLS},
        "sheet": sheet_url(request, page),
    }


_URLS = ("menu", "menuInLine", "menuCurrent", "menuLit", "undo", "checkId")


def drawn_stations(vectors: Mapping[int, Sequence[str]]) -> list[dict[str, Any]]:
    """The stations of a menu's lines, with their pages named."""
    titles = _titles(vectors)
    return [_station(one, titles) for one in stations.stations(vectors)]


def _titles(vectors: Mapping[int, Sequence[str]]) -> dict[int, Page]:
    rows = Page.objects.filter(pk__in=vectors).select_related("site")
    return {page.pk: page for page in rows.only("title", "path", "site__slug")}


def _station(station: Station, pages: Mapping[int, Page]) -> dict[str, Any]:
    count = len(station.pages)
    first = pages[station.pages[0]]
    name = (
        first.title if count == 1 else f"{count} pages {'' if station.is_each else 'alike'}".strip()
    )
    return {
        "name": name,
        "states": list(station.states),
        "isEach": station.is_each,
        "count": count,
        "pages": [
            {"title": pages[pk].title, "path": pages[pk].path, "url": pages[pk].get_absolute_url()}
            for pk in station.pages[:_NAMED]
        ],
    }


End = dict[str, Any]


def _item(menu: SiteMenu, running: Running, at: int, ends: Mapping[int, End]) -> dict[str, Any]:
    item = menu.items[at]
    states = [states[at] for states in running.vectors.values()]
    wrong = stations.wrong(states)
    end = ends.get(at)
    return {
        "number": menu.row.number + item.number,
        "label": item.label,
        "href": item.href,
        "depth": item.depth,
        "kind": item.kind,
        "end": end,
        "wrong": wrong,
        "says": _says(item, states, wrong),
        "notes": [*_renamed(item, end), *_toggle(menu, item)],
    }


def _renamed(item: ItemRow, end: End | None) -> list[str]:
    """What is to be said of an item whose section had the item's words, and has others now."""
    if not end or not end["id"] or end["title"].casefold() == item.label.casefold():
        return []
    page = Page.objects.select_related("site").get(pk=end["page"])
    if item.label.casefold() not in seek.earlier_words(page, end["id"]):
        return []
    return [f"Its section is called “{end['title']}” now. Let the item follow?"]


def _toggle(menu: SiteMenu, item: ItemRow) -> list[str]:
    """What is to be said of an item whose hash leads nowhere and isn't meant to."""
    if item.kind != LINK or item.href.strip() != "#":
        return []
    number = menu.row.number + item.number
    if not menu.row.page.traits.filter(number=number, kind=traits.BUTTON).exists():
        return []
    return ["Its # is no place: a script has a use for it, or it stands for the open page."]


def _says(item: ItemRow, states: Sequence[str], wrong: int) -> str:
    """What is wrong with an item, in one or two sentences."""
    if item.kind == BUTTON:
        return "This item is a button. Only a script knows what it does, so it is left alone."
    if not wrong:
        return ""
    works = len(states) - wrong
    if item.href.startswith("#"):
        where = "no page with this menu has it"
        if works:
            where = f"only {works} of them ha{'s' if works == 1 else 've'} it"
        return (
            f"A bare {item.href} is looked for on the page the reader is on, and {where}. "
            "On the others nothing happens."
        )
    if stations.GONE in states:
        return "It leads to a page that is not there."
    return "The page opens, but the place on it is not there, so readers stay at its top."


def _ends(menu: SiteMenu, running: Running) -> dict[int, End]:
    """Where each item leads, by its place: asked of a page on which it arrives."""
    asked: dict[int, list[int]] = {}
    for at, item in enumerate(menu.items):
        if item.kind != LINK:
            continue
        right = (page for page, states in running.vectors.items() if _arrives(states[at]))
        asked.setdefault(next(right, menu.row.page_id), []).append(at)
    found: dict[int, tuple[Link, int]] = {}
    for page, places in asked.items():
        found.update(_links_of(menu, page, places))
    return _as_ends(menu, found)


def _arrives(state: str) -> bool:
    return state not in WRONG and state != stations.LACKING


def _links_of(menu: SiteMenu, page: int, places: Sequence[int]) -> dict[int, tuple[Link, int]]:
    row = menu.rows().filter(page=page).order_by("number").first()
    if row is None:
        return {}
    variant = menu.variant(row.digest)
    pairs = variants.paired(menu.items, variant.items)
    numbers = {
        row.number + variant.items[other].number: at
        for at in places
        if (other := pairs[at]) is not None
    }
    links = Link.objects.filter(page=page, number__in=numbers).select_related("end_page", "page")
    return {numbers[link.number]: (link, page) for link in links}


def _as_ends(menu: SiteMenu, links: Mapping[int, tuple[Link, int]]) -> dict[int, End]:
    site = menu.row.site_id
    keys = {link.key for link, _ in links.values() if link.key}
    pages = {page.key: page for page in Page.objects.filter(site=site, key__in=keys)}
    named = _section_titles(site, [link for link, _ in links.values()])
    ends: dict[int, End] = {}
    for at, (link, _) in links.items():
        page = link.end_page or pages.get(link.key)
        if not link.key:
            ends[at] = {"outside": link.href, "title": link.href, "page": None, "id": ""}
        elif page is not None:
            id_ = ""
            if link.fragment and not (link.kind and link.end is None and not link.why):
                id_ = fragments.id_of(link.fragment)
            title = named.get((page.pk, id_), id_) if id_ else "Its top"
            ends[at] = {
                "page": page.pk, "pageTitle": page.title, "path": page.path, "id": id_,
                "title": title, "arrives": not link.why, "number": link.end if id_ else None,
            }  # fmt: skip
    return ends


def _section_titles(site: int, links: Sequence[Link]) -> dict[tuple[int, str], str]:
    pages = {link.end_page_id for link in links if link.end_page_id}
    numbers = {link.end for link in links if link.end is not None}
    rows = Mark.objects.filter(page__in=pages, number__in=numbers).exclude(words="")
    titles = {(page, value): words
              for page, value, words in rows.values_list("page", "value", "words")}  # fmt: skip
    sections = Section.objects.filter(page__in=pages).exclude(mark="").order_by()
    return titles | {
        (page, mark): title for page, mark, title in sections.values_list("page", "mark", "title")
    }


def _unlike(menu: SiteMenu, running: Running, pages: Mapping[int, Page]) -> list[dict[str, Any]]:
    """How the menus of some pages differ, in words."""
    rows = menu.rows().filter(page__in=list(running.unlike)[:_UNLIKE]).order_by("page", "-number")
    digests = dict(rows.values_list("page", "digest"))
    found = []
    for page, different in list(running.unlike.items())[:_UNLIKE]:
        items = menu.variant(digests[page]).items
        said = [_difference(one, menu.items, items) for one in different]
        one = pages[page]
        found.append({"title": one.title, "url": one.get_absolute_url(), "says": said})
    return found


def _difference(
    difference: ItemDifference, base: Sequence[ItemRow], other: Sequence[ItemRow]
) -> str:
    usual = base[difference.at].label if difference.at is not None else ""
    there = other[difference.other] if difference.other is not None else None
    own = there.label if there else ""
    return {
        LACKS: f"lacks “{usual}”",
        MORE: f"has “{own}” more",
        SAID: f"says “{own}” for “{usual}”",
        LEADS: f"“{usual}” leads to {there.href if there and there.href else 'nowhere'}",
        ORDER: "is in another order",
        DEPTH: f"“{usual}” stands at another depth",
    }[difference.kind]


def _says_current(menu: SiteMenu, running: Running) -> dict[str, int]:
    """On how many pages the item of the open page is one, and says so by ARIA."""
    at_home = [page for page, states in running.vectors.items() if THERE in states]
    by_aria = [
        one.digest for one in menu.variants if any(item.current == BY_ARIA for item in one.items)
    ]
    rows = menu.rows().filter(page__in=at_home, digest__in=by_aria)
    said = rows.values("page").distinct().count()
    return {"pages": len(at_home), "said": said}
