"""Words of a page that name a section of its site and lead nowhere."""

from __future__ import annotations

from bisect import bisect_right
from collections import Counter
from collections.abc import Mapping
from functools import cached_property

from innerhop.core.addresses.fragments import id_of
from innerhop.core.findings import offers
from innerhop.core.findings.offers import Led, Named, Offer
from innerhop.library.index.texts import PageText, currents
from innerhop.library.models import Link, Section, Site

_MOST = 60_000  # sections of a site whose titles are looked for


class Seeking:
    """The offers of pages of a site, whose sections are read once for all of them."""

    def __init__(self, site: Site) -> None:
        rows = Section.objects.filter(site=site, level__gt=0).order_by("page", "number")
        names = ("page_id", "number", "title", "mark")
        ends = [Named(*row) for row in rows.values_list(*names)[:_MOST]]
        self.site = site
        self.names = offers.names(ends)
        self.by_mark = {(end.page, end.mark): end.number for end in ends if end.mark}

    def offers(self, text: PageText) -> list[Offer]:
        """The offers of a page, in tree order."""
        led = _led(text, self.by_mark)
        return offers.offers(text, text.page.pk, self.names, led, self._rare)

    @cached_property
    def _rare(self) -> frozenset[str]:
        """The words that the site says rarely; of a large one nobody counts them."""
        pages = list(self.site.pages.select_related("site")[: offers.COUNTED + 1])
        if len(pages) > offers.COUNTED:
            return frozenset()
        said = Counter(one for text in currents(pages) for one in offers.mentions(text, self.names))
        return frozenset(one for one, count in said.items() if count <= offers.RARELY)


def _led(text: PageText, by_mark: Mapping[tuple[int, str], int]) -> set[Led]:
    """The hops that the page has to sections. by_mark: the sections, by page and ID."""
    starts = [one.number for one in text.sections]
    rows = Link.objects.filter(page=text.page).exclude(end_page=None).exclude(fragment=None)
    found = set()
    for number, page, fragment in rows.values_list("number", "end_page_id", "fragment"):
        end = by_mark.get((page, id_of(fragment)))
        if end is not None:
            place = bisect_right(starts, number) - 1
            found.add((starts[place] if place >= 0 else -1, page, end))
    return found
