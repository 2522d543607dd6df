"""Deleting, and having back."""

from __future__ import annotations

from datetime import timedelta

import pytest
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from innerhop.library import doing, removal, sites
from innerhop.library.acts import mark_acts
from innerhop.library.changes import undo, write
from innerhop.library.hand_over import differences
from innerhop.library.index import index
from innerhop.library.models import Asset, Editor, Finding, Link, Page, Site
from innerhop.library.seek import ends
from tests.library.test_changes import page_at, save, section
from tests.library.test_hops import bring


def broken_to(site: Site, page: Page) -> int:
    return Link.objects.broken().to_page(page).filter(site=site).count()


def test_a_page_goes_and_its_hops_know_and_all_comes_back(site: Site, editor: Editor) -> None:
    page = page_at(site, "/lock-guide/")
    arriving = Link.objects.to_page(page).hops().exclude(page=page)
    before = list(arriving.order_by("pk").values_list("pk", "kind", "end"))
    removal.remove_page(page, editor)
    assert not site.pages.filter(pk=page.pk).exists()
    assert broken_to(site, page) == arriving.count() > 0
    assert not any(one.page == page for one in ends.find(site, "staircase", None, True))
    assert page.path not in {name for name, _ in differences._files(site)}
    assert list(index.differences(site)) == []

    removal.have_back(removal.removed_pages(site).get())
    assert list(arriving.order_by("pk").values_list("pk", "kind", "end")) == before
    assert list(index.differences(site)) == []


def test_deleting_is_a_change_that_undo_and_having_back_take_back(
    client: Client, site: Site, editor: Editor
) -> None:
    client.force_login(editor)
    page = page_at(site, "/lock-guide/")
    for has_back in (undo.undo, None):
        client.post(reverse("delete-page", args=[site.slug, page.pk]))
        change = undo.next_to_undo(site, editor)
        assert change is not None
        assert (change.message, change.act) == ("Deleted “Lock guide”", "remove")
        assert not site.pages.filter(pk=page.pk).exists()
        if has_back:
            has_back(change)
        else:
            client.post(reverse("page-back", args=[site.slug, page.pk]))
        change.refresh_from_db()
        assert change.undone is not None
        assert site.pages.filter(pk=page.pk).exists()
        assert list(index.differences(site)) == []


def test_its_address_is_free_meanwhile_and_then_it_is_not(site: Site, editor: Editor) -> None:
    page = page_at(site, "/about/")
    removal.remove_page(page, editor)
    bring(site, editor, "/about/", "<h1>Another</h1>")
    with pytest.raises(removal.CannotHaveBack, match="“Another” has the address /about/ now"):
        removal.have_back(removal.removed_pages(site).get())
    assert site.pages.filter(path="/about/").count() == 1


def test_a_change_of_a_page_that_is_away_waits_for_it(site: Site, editor: Editor) -> None:
    page = page_at(site, "/moorings/")
    number = section(page, "The waiting list").number
    change = save(page, editor, mark_acts.mark(page, [(number, "list")]))
    late = mark_acts.rename(page, section(page, "The waiting list").number, "queue", follow=[])
    removal.remove_page(page, editor)
    with pytest.raises(write.Gone, match="was deleted"):
        undo.undo(change)
    with pytest.raises(write.Gone):
        save(page, editor, late)
    removal.have_back(removal.removed_pages(site).get())
    undo.undo(change)
    assert section(page_at(site, "/moorings/"), "The waiting list").mark == ""


def test_a_file_and_a_site(client: Client, site: Site, editor: Editor) -> None:
    asset = site.assets.filter(media_type="text/css").get()
    client.post(reverse("delete-file", args=[site.slug, asset.pk]))
    assert not site.assets.filter(pk=asset.pk).exists()
    assert asset.path in client.get(reverse("files", args=[site.slug])).content.decode()
    client.post(reverse("file-back", args=[site.slug, asset.pk]))
    assert site.assets.filter(pk=asset.pk).exists()

    assert (
        "Delete the site" in client.get(reverse("delete-site", args=[site.slug])).content.decode()
    )
    client.post(reverse("delete-site", args=[site.slug]))
    assert client.get(site.get_absolute_url()).status_code == 404
    assert client.get("/", headers={"host": site.visitor_host}).status_code == 404
    assert sites.create(site.name, "other.example", "en", editor).slug != site.slug
    assert "Have it back" in client.get("/?all").content.decode()
    client.post(reverse("site-back", args=[site.slug]))
    assert client.get(site.get_absolute_url()).status_code == 200


def test_nobody_else_can_delete_or_have_back(client: Client, site: Site) -> None:
    page = page_at(site, "/about/")
    stranger = Editor.objects.create_user("stranger", password="x")
    client.force_login(stranger, backend="innerhop.library.access.Backend")
    assert client.post(reverse("delete-page", args=[site.slug, page.pk])).status_code == 404
    assert client.post(reverse("delete-site", args=[site.slug])).status_code == 404
    removal.remove_site(site, stranger)
    assert client.post(reverse("site-back", args=[site.slug])).status_code == 404


def test_after_thirty_days_it_is_gone(site: Site, editor: Editor) -> None:
    for one in (page_at(site, "/about/"), page_at(site, "/moorings/")):
        removal.remove_page(one, editor)
    old = timezone.now() - removal.KEPT - timedelta(hours=1)
    Page.everything.filter(path="/about/").update(removed=old)
    assert [one.path for one in removal.removed_pages(site)] == ["/moorings/"]
    removal.throw_away()
    assert set(Page.everything.exclude(removed=None).values_list("path", flat=True)) == {
        "/moorings/"
    }
    assert Asset.objects.filter(site=site).exists()


def test_what_was_said_of_a_page_that_is_gone_for_good_is_not_said_again(
    site: Site, editor: Editor
) -> None:
    row = Finding.objects.filter(site=site, aside=None).first()
    assert row is not None
    doing.do(editor, "set-aside", site, {"findings": [row.pk]})
    again = doing.do(editor, "count-again", site, {"aside": site.set_aside.get().pk})
    removed = doing.do(editor, "remove", site, {"page": row.page_id})
    Page.everything.filter(pk=row.page_id).delete()
    for change in (again, removed):
        with pytest.raises(undo.CannotUndo, match="gone for good"):
            undo.undo(change)
