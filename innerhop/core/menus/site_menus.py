"""The menus of a site: lists of links of its pages put together, where they are one and the
same, a little different here and there; and those that are a page's own left out (common
practice, no source; measured on open corpora, see `judging`)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

from innerhop.core.menus import variants
from innerhop.core.menus.item_rows import ItemRow

ENOUGH = 3  # pages that have just the same list: it is no page's own
PLACES = ("header", "nav", "aside", "part", "footer")


class SeenMenu(NamedTuple):
    """A list of links as it stands on some page."""

    digest: str
    region: str
    name: str
    items: Sequence[ItemRow]


class Counted(NamedTuple):
    """A list of links, and on how many pages it is just the same."""

    seen: SeenMenu
    pages: int


@dataclass
class AlikeMenus:
    """Lists that are one menu, as most pages have it first."""

    lists: list[Counted] = field(default_factory=list)

    @property
    def pages(self) -> int:
        """On how many pages it is."""
        return sum(one.pages for one in self.lists)


def grouped(lists: Sequence[Counted], count: int) -> list[AlikeMenus]:
    """The menus of a site with so many pages, those in the header first. lists: those that
    most pages have first."""
    found: list[AlikeMenus] = []
    for one in lists:
        same = next((group for group in found if _is_of(group, one)), None)
        if same is None:
            same = AlikeMenus()
            found.append(same)
        same.lists.append(one)
    shown = [one for one in found if count == 1 or _is_shared(one, found, count)]
    shown.sort(key=lambda one: (PLACES.index(one.lists[0].seen.region), -one.pages))
    return shown


def _is_of(group: AlikeMenus, counted: Counted) -> bool:
    first = group.lists[0].seen
    return first.region == counted.seen.region and variants.is_alike(
        first.items, counted.seen.items
    )


def _is_shared(menu: AlikeMenus, groups: Sequence[AlikeMenus], count: int) -> bool:
    """Whether a list of links is the site's menu and no page's own: a list beside the content is
    one where enough pages have just the same; one in a header, a `nav`, a footer or a sidebar
    also where one page alone has it, unless others have lists of their own in its place, as of
    their sections."""
    own = menu.lists[0].seen
    if own.region == "part":
        same = menu.lists[0].pages
        return same >= ENOUGH or 2 * same >= count
    if menu.pages > 1:
        return True
    return not any(
        one is not menu
        and (one.lists[0].seen.region, one.lists[0].seen.name) == (own.region, own.name)
        for one in groups
    )
