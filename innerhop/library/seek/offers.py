"""Words of a page that name a section of its site and lead nowhere."""

from __future__ import annotations

from bisect import bisect_right

from innerhop.core.addresses.fragments import id_of
from innerhop.core.findings import offers
from innerhop.core.findings.offers import End, Led, Offer
from innerhop.library.index.texts import PageText
from innerhop.library.models import Link, Section

_MOST = 60_000  # sections of a site whose titles are looked for


def of_page(text: PageText) -> list[Offer]:
    """The offers of a page, in tree order."""
    page = text.page
    rows = Section.objects.filter(site=page.site_id, level__gt=0).order_by("page", "number")
    names = ("page_id", "number", "title", "mark")
    ends = [End(*row) for row in rows.values_list(*names)[:_MOST]]
    return offers.offers(text, page.pk, offers.names(ends), _led(text, ends))


def _led(text: PageText, ends: list[End]) -> set[Led]:
    """The hops that the page has to sections."""
    by_mark = {(end.page, end.mark): end.number for end in ends if end.mark}
    starts = [one.number for one in text.sections]
    rows = Link.objects.filter(page=text.page).exclude(end_page=None).exclude(fragment=None)
    found = set()
    for number, page, fragment in rows.values_list("number", "end_page_id", "fragment"):
        end = by_mark.get((page, id_of(fragment)))
        if end is not None:
            place = bisect_right(starts, number) - 1
            found.add((starts[place] if place >= 0 else -1, page, end))
    return found
