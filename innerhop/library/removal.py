"""Deleting sites, pages and files, and having them back: for 30 days they are kept as they
were, and nobody but who asks for them sees them. Hops to a page that is away are broken,
and lead there again once it is back."""

from __future__ import annotations

from datetime import timedelta

from django.db import IntegrityError, transaction
from django.db.models import Model, QuerySet
from django.utils import timezone

from innerhop.core.refusals import CONFLICT, Refusal
from innerhop.core.site.hops import NO_PAGE
from innerhop.library.index import index, verdicts
from innerhop.library.index.rows import COLUMNS
from innerhop.library.models import Asset, Editor, Finding, Link, Membership, Page, Site

KEPT = timedelta(days=30)


class CannotHaveBack(Refusal):
    """Why something that was deleted can't be had back as it was."""

    status = CONFLICT


@transaction.atomic
def remove_site(site: Site, editor: Editor) -> None:
    """Delete a site with all that is in it. Visitors' addresses of it show nothing."""
    _remove(site, editor)


@transaction.atomic
def remove_file(asset: Asset, editor: Editor | None) -> None:
    """Delete a file that pages use."""
    _remove(asset, editor)


@transaction.atomic
def remove_page(page: Page, editor: Editor | None) -> None:
    """Delete a page. Its address is free at once."""
    held = Page.objects.select_for_update(of=("self",), no_key=True).filter(pk=page.pk).first()
    if held is None:
        return
    _remove(held, editor)
    for model in COLUMNS:  # what the index has of it; its text stays
        model._default_manager.filter(page=held).delete()
    Finding.objects.filter(page=held).delete()
    naming = Finding.objects.filter(site=held.site, told__page=held.pk)
    also = set(naming.values_list("page_id", flat=True))
    # Whether the folder of an address is there at all is said of broken hops to it.
    broken = Link.objects.broken().filter(site=held.site, why=NO_PAGE)
    also |= set(broken.values_list("page_id", flat=True).distinct())
    verdicts.renew_all(held.site, [], keys=[held.key], also=also)


def remove(item: Page | Asset, editor: Editor | None) -> None:
    """Delete a page or a file."""
    if isinstance(item, Page):
        remove_page(item, editor)
    else:
        remove_file(item, editor)


def _remove(item: Site | Page | Asset, editor: Editor | None) -> None:
    item.removed, item.remover = timezone.now(), editor
    item.save(update_fields=["removed", "remover"])


@transaction.atomic
def have_back(item: Site | Page | Asset) -> None:
    """Undo the deleting. Raises CannotHaveBack when a page's address has another page now."""
    item.removed = item.remover = None
    try:
        with transaction.atomic():
            item.save(update_fields=["removed", "remover"])
    except IntegrityError:
        raise CannotHaveBack(_taken(item)) from None
    if isinstance(item, Page):
        index.read_anew(item)
        verdicts.renew_all(item.site, [item])


def _taken(row: Model) -> str:
    assert isinstance(row, Page)
    other = Page.objects.get(site=row.site_id, key=row.key)
    return f"“{other.title}” has the address {row.path} now. Move that page first, then try again."


def hops_to(page: Page) -> int:
    """How many hops and links of other pages lead to a page."""
    return Link.objects.to_page(page).exclude(page=page).count()


def removed_pages(site: Site) -> QuerySet[Page]:
    """The pages of a site that can be had back, the last one first."""
    return _kept(Page.everything.filter(site=site)).select_related("site", "remover")


def removed_files(site: Site) -> QuerySet[Asset]:
    """The same of its files."""
    return _kept(Asset.everything.filter(site=site)).select_related("remover").defer("content")


def removed_sites(editor: Editor) -> QuerySet[Site]:
    """The same of the sites that somebody owns."""
    owned = {"membership__editor": editor, "membership__role": Membership.Role.OWNER}
    return _kept(Site.everything.filter(**owned)).select_related("remover")


def _kept(rows: QuerySet) -> QuerySet:  # type: ignore[type-arg]
    return rows.filter(removed__gt=timezone.now() - KEPT).order_by("-removed")


def throw_away() -> None:
    """Throw away for good what was deleted longer ago than it is kept."""
    for model in (Site, Page, Asset):
        model.everything.filter(removed__lte=timezone.now() - KEPT).delete()
