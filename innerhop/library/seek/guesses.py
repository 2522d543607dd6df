"""What a broken hop most likely means, asked of the whole site's index."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from innerhop.core.addresses.fragments import percent_decode
from innerhop.core.site import guesses as rules
from innerhop.core.site.hops import NO_HASH, NO_PAGE
from innerhop.library.models import Mark, Page, Site
from innerhop.library.seek.hops import BROKEN, Hop, missing_hash

_MOST_PAGES = 3
_MOST_ELSEWHERE = 50
_TOP_OF_IT = "The page’s address is a little off. It has no such ID, so this is its top."


@dataclass(frozen=True)
class Guess:
    """A place that was likely meant, and the slip, in one line. mends_id: whether the
    hop is right as it is, and the ID should be mended."""

    page: Page
    id: str
    why: str
    mends_id: bool = False


class Guesser:
    """What hops of one site could mean; what it asks the index for, it asks once."""

    def __init__(self, site: Site) -> None:
        self.site = site

    @cached_property
    def _keys(self) -> list[str]:
        return list(self.site.pages.values_list("key", flat=True))

    def guesses(self, hop: Hop) -> list[Guess]:
        """What a broken hop could mean, likeliest first; nothing for others."""
        if hop.kind != BROKEN:
            return []
        link = hop.link
        if link.why == NO_HASH:
            return [Guess(link.page, missing_hash(link.key), "The # is missing.")]
        fragment = link.fragment or ""
        if hop.page is not None:
            return self.on_page(hop.page, fragment)
        return self._near_pages(link.key, fragment) if link.why == NO_PAGE else []

    def near(self, path: str) -> list[Page]:
        """The pages whose addresses that one could be a slip of, nearest first."""
        keys = rules.near_paths(path, self._keys)
        rows = self.site.pages.filter(key__in=keys).select_related("site")
        found = {page.key: page for page in rows}
        return [found[key] for key in keys if key in found]

    def _near_pages(self, key: str, fragment: str) -> list[Guess]:
        found = []
        for page in self.near(key):
            if fragment and self._has(page, percent_decode(fragment)):
                why = "The page’s address is a little off."
                found.append(Guess(page, percent_decode(fragment), why))
            else:
                found.append(Guess(page, "", _TOP_OF_IT))
        return sorted(found, key=lambda one: not one.id)[:_MOST_PAGES]

    def _has(self, page: Page, value: str) -> bool:
        return Mark.objects.with_value(self.site.pk, value).filter(page=page).exists()

    def on_page(self, page: Page, fragment: str) -> list[Guess]:
        """What a fragment that finds nothing could mean on a page, or elsewhere."""
        asked = percent_decode(fragment)
        marks = Mark.objects.filter(page=page).order_by("number")
        own = list(dict.fromkeys(marks.values_list("value", flat=True)))
        others = Mark.objects.with_value(self.site.pk, asked).exclude(page=page)
        rows = list(others.select_related("page__site").order_by("pk")[:_MOST_ELSEWHERE])
        pages = {page.pk: page, **{one.page_id: one.page for one in rows}}
        ids = {page.pk: own, **{one.page_id: [asked] for one in rows}}
        likely = rules.likely(fragment, page.pk, ids)
        return [Guess(pages[one.page], one.id, one.why, one.mends_id) for one in likely]
