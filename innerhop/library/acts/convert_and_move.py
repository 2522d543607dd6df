"""Writing many hops anew without leading any of them elsewhere: in another form,
or after a page got another address."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence

from innerhop.core.addresses import address_forms, urls
from innerhop.core.counting import counted
from innerhop.core.planners import renaming
from innerhop.library.acts import moved_acts
from innerhop.library.acts.base import Act, NothingToDo, joined, on_links
from innerhop.library.acts.ends import start_of
from innerhop.library.changes import effects
from innerhop.library.changes.prepare import PagePlan
from innerhop.library.index import shared_parts
from innerhop.library.index.texts import current
from innerhop.library.models import Link, Page, Site
from innerhop.library.seek import hops_to_mark

FORM_NAMES = {
    address_forms.HASH: "the bare hash",
    address_forms.PATH: "the page’s path in front",
    address_forms.RELATIVE: "a relative address",
    address_forms.ABSOLUTE: "the whole address",
}
# What "every hop that names its page" means: all but the bare hash.
NAMING = frozenset(address_forms.FORMS) - {address_forms.HASH}


def convert_hops(page: Page, form: str, origin: str, everywhere: bool) -> Act:
    """Write the hops of a page, or of all of its site, in another form. origin: those that are
    in this one now; all that name their page without. Raises NothingToDo where they are."""
    pages = list(page.site.pages.select_related("site")) if everywhere else [page]
    found = convert(page.site, pages, [origin] if origin else NAMING, form)
    if not found.plans:
        note = f" {found.notes[0]}" if found.notes else " They are written so already."
        raise NothingToDo(f"There is nothing to write anew.{note}")
    return found


def convert(site: Site, pages: Collection[Page], origin: Collection[str], form: str) -> Act:
    """Write the hops of these pages in another form, those that are in one of the
    forms `origin` now. What can't be written so stays as it is, and that is said."""
    rows = Link.objects.on_site().filter(page__in=pages, permalink=False)
    chosen = [
        one
        for one in rows.select_related("page__site").order_by("page_id", "number")
        if address_forms.form_of(one.href) in origin
    ]
    wanted_keys = {one.key for one in chosen}
    ends = {one.key: one for one in site.pages.filter(key__in=wanted_keys).select_related("site")}
    chosen = [one for one in chosen if one.key in ends]
    stuck = {one.pk for one in hops_to_mark.stuck(chosen)}
    alone = len(pages) == 1
    # In a shared part only the bare hash would be another hop on another page.
    parts = _shared_parts(pages) if alone or form == address_forms.HASH else {}
    wanted: dict[int, str] = {}
    left = 0
    for link in chosen:
        stretches = parts.get(link.page_id, [])
        is_shared = any(first <= link.number <= last for first, last in stretches)
        start = start_of(link.page, is_shared)
        now = urls.resolve(link.href, link.page.base_address)
        target = ends[link.key].address + (now.query if now else "")
        href = address_forms.written(start, target, link.fragment, form).href
        if not href or link.pk in stuck or (is_shared and alone):
            left += 1
        elif href != link.href:
            wanted[link.pk] = href
    plans = _written([one for one in chosen if one.pk in wanted], wanted)
    message = f"Wrote {counted(len(wanted), 'hop')} with {FORM_NAMES[form]}"
    return Act(message, plans, notes=_left(left, alone))


def _written(links: Iterable[Link], hrefs: Mapping[int, str]) -> list[PagePlan]:
    """Links, by primary key, with other addresses."""
    return on_links(links, lambda link: hrefs[link.pk], renaming.plan_addresses)


def _shared_parts(pages: Collection[Page]) -> dict[int, list[tuple[int, int]]]:
    return {
        page.pk: [(part.number, part.last) for part in shared_parts.of_page(page)] for page in pages
    }


def _left(count: int, alone: bool) -> list[str]:
    if not count:
        return []
    why = "can’t be written so where they stand, or stand in a part that can’t be edited"
    why += ", or that other pages share" if alone else ""
    return [f"{counted(count, 'hop')} {why}. What can’t be written so stays as it is."]


def move(page: Page, typed: str, *, instead: Page | None = None) -> Act:
    """Give a page another address, and let every link to it follow, and its own
    relative links lead to where they did. The old address is kept in the list of
    moves. instead: the page that has the address so far, and goes. Raises urls.NotAnAddress or
    effects.AddressTaken."""
    path = urls.read_path(typed, page.site.address)
    if path == page.path:
        raise urls.NotAnAddress("That is the address it has. Type another one.")
    key = page.site.key_of(path)
    if instead is None or instead.key != key:
        require_free(page, path)
    moved = Page(pk=page.pk, site=page.site, path=path, key=key, base_href=page.base_href)
    hrefs, links = _followed(page, moved)
    stuck = hops_to_mark.stuck(links)
    can = [one for one in links if one not in stuck]
    notes = _move_notes(page, stuck)
    to_it = sum(one.key == page.key for one in can)
    message = f"Moved “{page.title}” from {page.path} to {path}"
    message += f", with {counted(to_it, 'hop')} to it" if to_it else ""
    found = [effects.address(page, path, moved=True)]
    plans = joined([*_written(can, hrefs), *moved_acts.as_page_moves(page, moved)])
    return Act(message, plans, notes=notes, effects=found)


def correct_address(page: Page, typed: str) -> Act:
    """Set right the address that readers know a page by. No text is written: its own
    links are read from there then, and hops that were written for it find it. Raises
    urls.NotAnAddress or effects.AddressTaken."""
    path = urls.read_path(typed, page.site.address)
    if path == page.path:
        raise urls.NotAnAddress("That is the address it has. Type another one.")
    require_free(page, path)
    message = f"Corrected the address of “{page.title}” to {path}"
    return Act(message, [], effects=[effects.address(page, path, moved=False)])


def require_free(page: Page, path: str) -> None:
    """Raise effects.AddressTaken when another page has that address."""
    other = page.site.pages.filter(key=page.site.key_of(path)).exclude(pk=page.pk).first()
    if other is not None:
        raise effects.AddressTaken(
            f"“{other.title}” has the address {other.path} already. Choose another."
        )


def _followed(page: Page, moved: Page) -> tuple[dict[int, str], list[Link]]:
    """What each link has to be for it to lead, after the move, to where it leads
    now; for those that have to change."""
    rows = Link.objects.to_page(page) | page.links.on_site()
    hrefs: dict[int, str] = {}
    links = []
    for link in rows.select_related("page__site").order_by("page_id", "number"):
        stands_on = moved if link.page_id == page.pk else link.page
        now = urls.resolve(link.href, link.page.base_address)
        form = address_forms.form_of(link.href)
        if now is None or form == address_forms.HASH:
            continue
        target = moved.address if link.key == page.key else now.href.partition("#")[0]
        if link.key == page.key:
            target += now.query
        found = address_forms.written(start_of(stands_on, False), target, now.fragment, form)
        then = urls.resolve(link.href, stands_on.base_address)
        wanted = urls.resolve(target, moved.address)
        same = then and wanted and (then.origin, then.path) == (wanted.origin, wanted.path)
        if found.href and not same:
            hrefs[link.pk] = found.href
            links.append(link)
    return hrefs, links


def _move_notes(page: Page, stuck: Sequence[Link]) -> list[str]:
    notes = []
    if stuck:
        notes.append(
            f"{counted(len(stuck), 'hop')} to it can’t follow, because a part that can’t be edited "
            "holds them. Let your site lead the old address on to the new one."
        )
    if renaming.takes_relative_files(current(page).source):
        notes.append(
            "This page takes pictures, styles or scripts by a relative address. These don’t "
            "follow; see that they lie where the page looks for them."
        )
    return notes
