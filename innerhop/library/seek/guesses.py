"""What a broken hop most likely means, asked of the whole site's index."""

from __future__ import annotations

from dataclasses import dataclass

from innerhop.core.addresses.fragments import percent_decode
from innerhop.core.site import guesses as core_guesses
from innerhop.library.models import Mark, Page
from innerhop.library.seek.hops import BROKEN, Hop, missing_hash

_MOST_PAGES = 3
_TOP_OF_IT = "The page’s address is a little off. It has no such ID, so this is its top."


@dataclass(frozen=True)
class Guess:
    """A place that was likely meant, and the slip, in one line."""

    page: Page
    id: str
    why: str


def guesses(hop: Hop) -> list[Guess]:
    """What a broken hop could mean, likeliest first; nothing for others."""
    if hop.kind != BROKEN:
        return []
    link = hop.link
    if link.fragment is None:
        return [Guess(link.page, missing_hash(link), "The # is missing.")]
    if hop.page is not None:
        return on_page(hop.page, link.fragment)
    paths = {page.key: page for page in Page.objects.filter(site_id=link.site_id)}
    found = []
    for key in core_guesses.near_paths(link.key, list(paths)):
        exact = on_page(paths[key], link.fragment, exact=True)
        found += [Guess(one.page, one.id, "The page’s address is a little off.") for one in exact]
        if all(one.page != paths[key] for one in exact):
            found.append(Guess(paths[key], "", _TOP_OF_IT))
    return sorted(found, key=lambda one: not one.id)[:_MOST_PAGES]


def on_page(page: Page, fragment: str, exact: bool = False) -> list[Guess]:
    """What a fragment could mean on a page, or on the page that has it exactly."""
    asked = percent_decode(fragment)
    marks = Mark.objects.filter(page__site_id=page.site_id)
    own = list(dict.fromkeys(marks.filter(page=page).values_list("value", flat=True)))
    if exact and asked in own:
        return [Guess(page, asked, "")]
    others = list(marks.filter(value=asked).exclude(page=page).select_related("page__site")[:50])
    pages = {page.pk: page, **{one.page_id: one.page for one in others}}
    ids = {page.pk: own, **{one.page_id: [asked] for one in others}}
    return [
        Guess(pages[one.page], one.id, one.why)
        for one in core_guesses.likely(fragment, page.pk, ids)
    ]
