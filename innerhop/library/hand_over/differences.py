"""Taking pages away: as files, byte for byte what came in but for the changes,
with those changes shown as a difference first."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from django.db.models import Exists, OuterRef, Q, QuerySet

from innerhop.core.addresses import urls
from innerhop.core.edits import Spot, difference
from innerhop.library.bring_in import packing
from innerhop.library.changes.since_it_came import first_and_edits
from innerhop.library.hand_over import site_frame
from innerhop.library.index.texts import PageText, bytes_of
from innerhop.library.models import Page, Revision, Site


@dataclass(frozen=True)
class Difference:
    """What has changed on a page since it came in."""

    page: Page
    spots: list[Spot]

    @property
    def changed(self) -> bool:
        """Whether the page's file differs from the one that came in."""
        return bool(self.spots)


def since_arrival(page: Page) -> Difference:
    """How the page's text differs from the text it came in with."""
    first, edits = first_and_edits(page)
    return Difference(page, difference(first.text, edits) if edits else [])


def touched_pages(site: Site) -> QuerySet[Page]:
    """The pages of a site that a change was made to which still stands."""
    standing = Revision.objects.filter(
        Q(edits__isnull=False) | (Q(carried__isnull=False) & ~Q(carried=[])),
        page=OuterRef("pk"),
        change__undone=None,
    )
    return site.pages.filter(Exists(standing.exclude(change=None))).select_related("site")


def file_of(page: Page) -> tuple[str, bytes]:
    """The page's file: its name and path within the site, and its bytes; in the site's frame
    where the page is a body alone and is to go out in it."""
    revision = page.revisions.get(number=page.revision)
    whole = site_frame.file_text(PageText(page, revision))
    data = bytes_of(revision) if whole is None else whole.encode("utf-8", "replace")
    return page.file or urls.file_of_address(page.path), data


def archive_of(site: Site) -> bytes:
    """The whole site as a ZIP: every page and every asset where it came from."""
    return packing.pack(_files(site))


def _files(site: Site) -> Iterator[tuple[str, bytes]]:
    taken: set[str] = set()
    for page in site.pages.select_related("site"):
        name, data = file_of(page)
        while name in taken:  # two pasted pages may ask for the same file
            name = f"other/{name}"
        taken.add(name)
        yield name, data
    for asset in site.assets.order_by("path").iterator(chunk_size=50):
        yield asset.path.lstrip("/"), bytes(asset.content)
