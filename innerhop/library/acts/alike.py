"""The same words in many places of a page or a site, led to one end as one change."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

from innerhop.core.addresses import address_forms, fragments
from innerhop.core.counting import counted
from innerhop.core.plan import Plan, join_plans
from innerhop.core.planners import alike, hopping, selection
from innerhop.core.planners.selection import Words
from innerhop.core.planners.wrapping import CannotLink, span_of
from innerhop.core.refusals import Refusal
from innerhop.library.acts import hop_acts
from innerhop.library.acts.base import Act, joined
from innerhop.library.acts.ends import End, Goal, element_of
from innerhop.library.changes import locked_parts
from innerhop.library.changes.prepare import PagePlan
from innerhop.library.index.texts import PageText, current, currents
from innerhop.library.models import Link, LockedPart, Page

HERE, PAGE, SITE = "here", "page", "site"
WHERE = (HERE, PAGE, SITE)
MOST_PAGES = 2_000  # which are all read before the change is shown
_AT_ONCE = 100  # pages


class TooManyPages(Refusal):
    """A site is too large to look through while somebody waits."""


@dataclass(frozen=True)
class AlikeHop:
    """The words that were chosen on a page, and the end that all like them are to lead to."""

    page: Page
    words: Words
    end: Goal
    manner: hop_acts.Manner
    is_one_a_section: bool


def hop(
    page: Page, words: Words, end: Goal, manner: hop_acts.Manner, *,
    where: str, one_a_section: bool,
) -> Act:  # fmt: skip
    """A hop of the chosen words, and of the same words elsewhere. where: one of WHERE. Raises
    what `hop_acts.hop` raises, and TooManyPages."""
    asked = AlikeHop(page, words, end, manner, one_a_section)
    chosen = hop_acts.hop(asked.page, asked.words, asked.end, asked.manner)
    found = list(_elsewhere(asked, where)) if where != HERE else []
    if not found:
        return chosen
    others = [_on_page(asked, text, places) for text, places in found]
    count = counted(sum(len(places) for _, places in found), "other place")
    on = f" on {counted(len(found), 'page')}" if where == SITE else ""
    message = f"{chosen.message}, and in {count}{on}"
    return replace(chosen, message=message, plans=joined([*chosen.plans, *others]))


def count_in(text: PageText, words: Words) -> int:
    """In how many other places of its running text a page says the chosen words."""
    said = selection.text_of(text.source, words)
    return sum(1 for _ in _others(text, said, words)) if said else 0


def _elsewhere(asked: AlikeHop, where: str) -> Iterator[tuple[PageText, list[Words]]]:
    """The pages that say the words elsewhere, with the places."""
    first = current(asked.page)
    said = selection.text_of(first.source, asked.words)
    pages = [asked.page] if where == PAGE else _pages(asked.page)
    locked = locked_parts.of(pages)
    for text in _saying(pages, said):
        places = list(_places(asked, text, said, locked[text.page.pk]))
        if places:
            yield text, places


def _pages(page: Page) -> Sequence[Page]:
    pages = list(page.site.pages.select_related("site").order_by("path")[: MOST_PAGES + 1])
    if len(pages) > MOST_PAGES:
        raise TooManyPages(
            f"This site has more than {MOST_PAGES:,} pages, too many to look through at once. "
            "Link the words page by page."
        )
    return pages


def _saying(pages: Sequence[Page], said: str) -> Iterator[PageText]:
    """The pages in whose text the longest of the words stands at all, which is seen without
    reading them."""
    longest = max(re.findall(r"\w+", said), key=len, default="")
    for at in range(0, len(pages), _AT_ONCE):
        for text in currents(pages[at : at + _AT_ONCE]):
            if longest.isascii() and longest.casefold() not in text.text.casefold():
                continue
            yield text


def _places(
    asked: AlikeHop, text: PageText, said: str, locked: Iterable[LockedPart]
) -> Iterator[Words]:
    """Where a page is to have the hop: not where it would lead to the section it stands in."""
    is_here = text.page.pk == asked.page.pk
    places = _others(text, said, asked.words if is_here else None)
    own = _section_of_end(asked.end, text)
    free = (
        one for one in places
        if locked_parts.around(locked, one.start.number) is None
        and (own is None or alike.section_of(text.sections, one.start.number) != own)
        and _fits(text, one)
    )  # fmt: skip
    if not asked.is_one_a_section:
        return free
    served = {alike.section_of(text.sections, number) for number in _led(text.page, asked.end)}
    if is_here:
        served.add(alike.section_of(text.sections, asked.words.start.number))
    return alike.one_a_section(free, text.sections, served)


def _others(text: PageText, said: str, chosen: Words | None) -> Iterator[Words]:
    for one in alike.places(text.source, text.facts, said):
        if chosen is None or not _meet(one, chosen):
            yield one


def _meet(words: Words, chosen: Words) -> bool:
    """Whether words lie in the same characters. Chosen ones may span several elements."""
    first, last = (words.start.number, words.start.child), (words.end.number, words.end.child)
    begin, end = chosen.start, chosen.end
    if (begin.number, begin.child) == (end.number, end.child):
        return first == (begin.number, begin.child) and (
            words.start.offset < end.offset and words.end.offset > begin.offset
        )
    return first == (begin.number, begin.child) or last == (end.number, end.child)


def _fits(text: PageText, words: Words) -> bool:
    try:
        span_of(text.source, words)
    except CannotLink:
        return False
    return True


def _section_of_end(end: Goal, text: PageText) -> int | None:
    """The section of a page that the hop ends in; None on other pages, and for a page's top."""
    if not isinstance(end, End) or end.page.pk != text.page.pk:
        return None
    number = element_of(end)
    return None if number is None else alike.section_of(text.sections, number)


def _led(page: Page, end: Goal) -> Iterator[int]:
    """The links of a page that lead to the end already."""
    if not isinstance(end, End):
        return
    rows = Link.objects.filter(page=page, end_page=end.page)
    for number, fragment in rows.values_list("number", "fragment"):
        if fragments.id_of(fragment or "") == end.id:
            yield number


def _on_page(asked: AlikeHop, text: PageText, places: Sequence[Words]) -> PagePlan:
    page, form = text.page, asked.manner.form
    if page.pk != asked.page.pk and form == address_forms.HASH:
        form = ""  # which would stay on that page
    values = hop_acts.attributes_of(page, asked.end, replace(asked.manner, form=form))

    def make(read: PageText) -> Plan:
        return join_plans(
            hopping.plan_hop(read.source, one, values, read.revision.encoding) for one in places
        )

    # Another page that can't be done is left out, and named.
    return PagePlan(page, page.revision, make, is_alone=page.pk != asked.page.pk)
