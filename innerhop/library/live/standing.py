"""How each thing that was planned here stands on the site, as it was at the last look."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from innerhop.core.addresses import urls
from innerhop.core.live.ids import IdsThere
from innerhop.core.live.judging import PageThere, place, stations
from innerhop.core.live.order import order
from innerhop.core.live.station import THERE, UNSEEN, UNTOLD, WAITS, LiveStation
from innerhop.core.source.tree import Source
from innerhop.library.hand_over import copy_sheet
from innerhop.library.index.texts import current
from innerhop.library.live.there import text_of
from innerhop.library.models import Page, Seen, Site


@dataclass(frozen=True)
class PageStanding:
    """A page with all that was planned for it. seen: how it was there, None for never. sections:
    how far down each begins, from 0 to 1. length: of its text, in characters."""

    page: Page
    stops: Sequence[LiveStation]
    seen: Seen | None
    sections: Sequence[float] = ()
    length: int = 0

    @property
    def is_ready(self) -> bool:
        """Whether all of it is there as planned, as far as can be told."""
        return self.count(THERE, UNTOLD) == len(self.stops)

    def count(self, *states: str) -> int:
        """How many things stand so."""
        return sum(one.state in states for one in self.stops)


class SiteStanding:
    """All pages of a site for which something was planned."""

    def __init__(self, site: Site) -> None:
        self.site = site

    @cached_property
    def _sheets(self) -> list[copy_sheet.Sheet]:
        return copy_sheet.of_site(self.site)

    @cached_property
    def _seen(self) -> Mapping[int, Seen]:
        rows = Seen.objects.filter(page__site=self.site).exclude(content=b"")
        return {row.page_id: row for row in rows.select_related("look")}

    @cached_property
    def _keys(self) -> Mapping[str, int]:
        return dict(self.site.pages.values_list("key", "pk"))

    @cached_property
    def pages(self) -> list[PageStanding]:
        """These pages, with how each thing stands."""
        return [self._page(sheet) for sheet in self._sheets]

    def _page(self, sheet: copy_sheet.Sheet) -> PageStanding:
        page, here = sheet.page, current(sheet.page)
        seen = self._seen.get(page.pk)
        stops = [self._stop(page, one) for one in self._judged(sheet, here.source, seen)]
        sections = [place(here.source, one.number) for one in here.sections]
        return PageStanding(page, stops, seen, sections, len(here.text))

    def _judged(
        self, sheet: copy_sheet.Sheet, here: Source, seen: Seen | None
    ) -> list[LiveStation]:
        if seen is None:
            return [LiveStation(one, UNSEEN, at=place(here, one.number)) for one in sheet.steps]
        page = PageThere(
            here, text_of(sheet.page, seen).source, sheet.page.address, self.site.key_of
        )
        return stations(page, sheet.steps)

    def _stop(self, page: Page, station: LiveStation) -> LiveStation:
        waits_for = self._waited_for(page, station)
        waits = waits_for is not None and not station.is_there
        return replace(station, state=WAITS if waits else station.state, waits_for=waits_for)

    def _waited_for(self, page: Page, station: LiveStation) -> int | None:
        """The other page whose mark a hop leads to, where that isn't there yet."""
        address, id_ = station.end
        origin, _, key = address.partition(" ")
        if not id_ or origin != urls.origin_of(self.site.address):
            return None
        end = self._keys.get(key)
        if end is None or end == page.pk or end not in self._seen:
            return None
        return end if self._ids(end).number(id_) is None else None

    def _ids(self, page: int) -> IdsThere:
        if page not in self._ids_of:
            seen = self._seen[page]
            self._ids_of[page] = IdsThere(text_of(seen.page, seen).source)
        return self._ids_of[page]

    @cached_property
    def _ids_of(self) -> dict[int, IdsThere]:
        return {}

    @cached_property
    def rounds(self) -> list[list[list[PageStanding]]]:
        """The pages that are not as planned yet, in the order in which they go out: in rounds,
        each of groups that go together."""
        left = {one.page.pk: one for one in self.pages if not one.is_ready}
        waits: dict[int, set[int]] = defaultdict(set)
        for pk, one in left.items():
            waits[pk] |= {stop.waits_for for stop in one.stops if stop.waits_for} & left.keys()
        return [[[left[pk] for pk in group if pk in left] for group in groups]
                for groups in order(waits)]  # fmt: skip

    @property
    def ready(self) -> list[PageStanding]:
        """The pages on which all is as planned."""
        return [one for one in self.pages if one.is_ready]

    def count(self, *states: str) -> int:
        """How many things of the whole site stand so."""
        return sum(one.count(*states) for one in self.pages)


def keep_steps(site: Site) -> SiteStanding:
    """Keep of each page that was seen which of its steps are there, for its copy sheet."""
    standing = SiteStanding(site)
    for one in standing.pages:
        if one.seen is not None:
            one.seen.found = [stop.step.key for stop in one.stops if stop.is_there]
            one.seen.save(update_fields=["found"])
    return standing
