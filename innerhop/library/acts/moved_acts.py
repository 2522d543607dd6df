"""Old addresses of sections: what leads readers on who come by them, and keeps that true when
the new place moves too."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import NamedTuple

from innerhop.core.addresses import address_forms, urls
from innerhop.core.addresses.fragments import encode
from innerhop.core.contents import moved
from innerhop.core.findings import traits
from innerhop.core.plan import Plan
from innerhop.core.planners import moved_lines, visitor_parts
from innerhop.core.planners.markers import CannotMark
from innerhop.core.planners.visitor_parts import SCRIPT, STYLE
from innerhop.library.acts.base import Act, Make
from innerhop.library.acts.ends import End, file_on, link_to, start_of
from innerhop.library.changes import effects
from innerhop.library.changes.effects import Effect
from innerhop.library.changes.prepare import PagePlan
from innerhop.library.index.shared_parts import Copy
from innerhop.library.index.texts import PageText, current
from innerhop.library.models import Page, Trait

NO_HEAD = (
    "This is the body of a page only, so our script can’t be linked from it. Leave the old ID as a "
    "marker, or let a line say where the part is now."
)


class LedAddress(NamedTuple):
    """A fragment of a page, and the address where readers are led who come by it, as it is
    written. is_back: whether the page has that ID again, so that they stay: the line that says
    where a part is now doesn't count."""

    old: str
    to: str
    is_back: bool = False


def of_page(page: Page) -> list[LedAddress]:
    """The old addresses of a page that are led on."""
    found = [_led(one) for one in page.traits.filter(kind=traits.LED)]
    if not found:
        return []
    source = current(page).source
    there = {encode(one.attr("id") or "") for one in source.having("id")
             if one.attr(moved.MOVED) is None}  # fmt: skip
    return [one._replace(is_back=one.old in there) for one in found]


def _led(trait: Trait) -> LedAddress:
    old, _, to = trait.told.partition(" ")
    return LedAddress(old, to)


def leading(
    copies: Sequence[Copy], old: str, end: Callable[[Page], End], *, is_led: bool
) -> list[PagePlan]:
    """What keeps it true where readers are led, as a mark, on some pages, goes to another place.
    end: where to, from each of these pages. is_led: whether readers are to be led on who come by
    its old ID; who is led to it already goes along. Raises CannotMark, and CannotStyle for pages
    without a head."""
    changed: dict[int, dict[str, str | None]] = defaultdict(dict)
    pages: dict[int, Page] = {}
    for page in {copy.page.pk: copy.page for copy in copies}.values():
        to = end(page)
        led = [(one.page, _led(one).old) for one in led_to(page, old)]
        if is_led:
            if page.body_only:
                raise CannotMark(NO_HEAD)
            led.append((page, encode(old)))
        for at, fragment in led:
            pages[at.pk] = at
            changed[at.pk][fragment] = link_to(at, to, is_shared=False)
    return [_changed(pages[key], values) for key, values in changed.items()]


def _changed(page: Page, changed: Mapping[str, str | None]) -> PagePlan:
    def make(text: PageText) -> Plan:
        return visitor_parts.plan_leading(
            text.source, changed, text.revision.encoding, file_on(text.page)
        )

    return PagePlan(page, page.revision, make)


def files_of(plans: Sequence[PagePlan]) -> list[Effect]:
    """Our two files, which pages link that lead readers on."""
    return [effects.file(plans[0].page, path) for path in (STYLE, SCRIPT)] if plans else []


def line(old: str, end: End, name: str) -> Make:
    """What puts the line beside the part that had an ID. name: of the place where it is now."""

    def make(text: PageText, number: int) -> Plan:
        page = text.page
        return moved_lines.plan_line(
            text.source, number, old, (link_to(page, end, is_shared=False), name),
            language=page.language or page.site.language, encoding=text.revision.encoding,
        )  # fmt: skip

    return make


def led_to(page: Page, id_: str) -> Iterable[Trait]:
    """What leads readers to a mark, on any page of the site."""
    rows = Trait.objects.filter(site=page.site_id, kind=traits.LED, page__removed=None)
    for trait in rows.filter(told__endswith=f"#{encode(id_)}").select_related("page__site"):
        found = urls.resolve(_led(trait).to, trait.page.base_address)
        if found is not None and page.site.key_of(found.path) == page.key:
            yield trait


def as_page_moves(page: Page, then: Page) -> list[PagePlan]:
    """What keeps it true where readers are led as a page gets another address. then: the page
    as it is with it."""
    changed: dict[int, dict[str, str | None]] = defaultdict(dict)
    pages: dict[int, Page] = {}
    rows = Trait.objects.filter(site=page.site_id, kind=traits.LED, page__removed=None)
    for trait in rows.select_related("page__site"):
        led = _led(trait)
        now, form = urls.resolve(led.to, trait.page.base_address), address_forms.form_of(led.to)
        is_there = now is not None and page.site.key_of(now.path) == page.key
        if now is None or form == address_forms.HASH or not (is_there or trait.page_id == page.pk):
            continue
        start = start_of(then if trait.page_id == page.pk else trait.page, False)
        target = then.address if is_there else now.href.partition("#")[0]
        to = address_forms.written(start, target, now.fragment, form).href
        if to and to != led.to:
            pages[trait.page_id] = trait.page
            changed[trait.page_id][led.old] = to
    return [_changed(pages[key], values) for key, values in changed.items()]


def stop(page: Page, old: str) -> Act:
    """No longer lead readers on who come by a fragment. Raises CannotMark."""
    if old not in {one.old for one in of_page(page)}:
        raise CannotMark("Nobody is led on from that address any more.")
    return Act(f"No longer lead readers on from #{old}", [_changed(page, {old: None})])
