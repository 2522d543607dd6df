"""Where a hop is to end, and how that is written where the hop stands."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from innerhop.core.addresses import address_forms, fragments
from innerhop.core.refusals import CONFLICT, Refusal
from innerhop.library.models import Mark, Page


class NoSuchEnd(Refusal):
    """The place a hop should end at is not there; says what to do."""

    status = CONFLICT


@dataclass(frozen=True)
class End:
    """Where a new hop is to end.

    number: the heading's, when the section has no mark yet, or one that a system made, and
    `id` is to be its ID, or a marker's before it. number None: `id` is a mark of the page, or
    "" for its top.
    directive: a text directive, where the words are linked to and no mark.
    """

    page: Page
    id: str
    number: int | None = None
    directive: str = ""


@dataclass(frozen=True)
class Outside:
    """The end of a link that leaves the site: its address, as it is to be written."""

    href: str


Goal = End | Outside


def check_end(end: Goal) -> None:
    """Raise NoSuchEnd when what a hop is to end at is not there."""
    if isinstance(end, Outside):
        return
    is_mark = end.number is None and end.id
    rows = Mark.objects.with_value(end.page.site_id, end.id).filter(page=end.page)
    if is_mark and not rows.exists():
        raise NoSuchEnd(f"Nothing on “{end.page.title}” has the ID “{end.id}” any more.")


def element_of(end: End) -> int | None:
    """The number of the element that an end is on its page; None for the page's top."""
    if end.number is not None or not end.id:
        return end.number
    rows = Mark.objects.with_value(end.page.site_id, end.id).filter(page=end.page)
    number: int | None = rows.order_by("number").values_list("number", flat=True).first()
    return number


def fragment_of(page: Page, end: End) -> str | None:
    """What stands behind the hash of a hop from a page to that end."""
    if end.directive or end.id:
        return end.directive or fragments.encode(end.id)
    # HTML Standard #top-of-the-document: `top` is the top of any page that has no such ID.
    return "top" if end.page.pk == page.pk else None


def start_of(page: Page, is_shared: bool) -> address_forms.Start:
    """A place on the page where a hop is to be written."""
    return address_forms.Start(page.address, page.base_address, is_shared, page.site.index_name)


def file_on(page: Page) -> Callable[[str], str]:
    """How the address of one of our files, by its path on the site, is written on a page: as
    the site writes its links, so that a folder of files opens without a server."""
    start, form = start_of(page, False), page.site.form
    origin = page.site.address.rstrip("/")

    def written(path: str) -> str:
        if form != address_forms.RELATIVE:
            return path
        return address_forms.written(start, f"{origin}{path}", None, form).href or path

    return written


def link_to(page: Page, end: Goal, is_shared: bool, form: str = "") -> str:
    """How a hop is written on a page. form: one chosen for it; without one, the
    site's way. Raises address_forms.CannotWrite."""
    if isinstance(end, Outside):
        return end.href
    fragment = fragment_of(page, end)
    if fragment == "top" and is_shared and not form and page.keeps_hashes:
        return "#top"  # the top of whichever page the reader is on
    start = start_of(page, is_shared)
    return address_forms.best(start, end.page.address, fragment, page.site.form, form).href
