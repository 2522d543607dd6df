"""Deleting a site, a page or a file after one plain question, and having it back."""

from __future__ import annotations

from contextlib import suppress
from datetime import datetime

from django.contrib.auth.decorators import login_required
from django.core.paginator import Paginator
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from innerhop.core.counting import counted
from innerhop.core.refusals import Refusal
from innerhop.library import doing, removal
from innerhop.library.changes import undo
from innerhop.library.models import Asset, Page, Site
from innerhop.screens.access import editor_of, for_editors, page_of

LISTED = 100


def _ask(request: HttpRequest, name: str, what: str, loses: str, back: str) -> HttpResponse:
    """The question. loses: what is away with it."""
    until: datetime = timezone.now() + removal.KEPT
    context = {"name": name, "what": what, "loses": loses, "back": back, "until": until}
    return render(request, "removal/ask.html", context)


@require_http_methods(["GET", "POST"])
@for_editors
def delete_page(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """Delete a page of the site."""
    page = page_of(site, pk)
    if request.method == "POST":
        _delete(request, site, {"page": page.pk})
        return redirect(f"{site.get_absolute_url()}?deleted={page.pk}#deleted")
    count = removal.hops_to(page)
    links = "1 link leads" if count == 1 else f"{count} links lead"
    loses = f"{links} to it from other pages, and would find nothing." if count else ""
    return _ask(request, page.title, "page", loses, page.get_absolute_url())


@require_http_methods(["GET", "POST"])
@for_editors
def delete_site(request: HttpRequest, site: Site) -> HttpResponse:
    """Delete a whole site."""
    if request.method == "POST":
        doing.require(editor_of(request), site, "remove-site")
        removal.remove_site(site, editor_of(request))
        return redirect(reverse("sites") + "?all#deleted")
    pages = site.pages.count()
    loses = f"It has {counted(pages, 'page')}, with every change made to them here."
    return _ask(request, site.name, "site", loses, reverse("settings", args=[site.slug]))


@require_http_methods(["GET", "POST"])
@for_editors
def delete_file(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """Delete a file that pages use."""
    asset = get_object_or_404(site.assets.defer("content"), pk=pk)
    back = reverse("files", args=[site.slug])
    if request.method == "POST":
        _delete(request, site, {"file": asset.pk})
        return redirect(back + "#deleted")
    loses = "Pages that use it are shown without it, and it is left out of the ZIP."
    return _ask(request, asset.path, "file", loses, back)


@require_POST
@for_editors
def page_back(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """Have a deleted page back."""
    page = get_object_or_404(removal.removed_pages(site), pk=pk)
    return _back(request, page, page.get_absolute_url())


@require_POST
@for_editors
def file_back(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """Have a deleted file back."""
    asset = get_object_or_404(removal.removed_files(site), pk=pk)
    return _back(request, asset, reverse("files", args=[site.slug]))


@require_POST
@login_required
def site_back(request: HttpRequest, slug: str) -> HttpResponse:
    """Have a deleted site back."""
    site = get_object_or_404(removal.removed_sites(editor_of(request)), slug=slug)
    return _back(request, site, site.get_absolute_url())


def _delete(request: HttpRequest, site: Site, sent: dict[str, int]) -> None:
    with suppress(Refusal):  # where someone was faster, it is away all the same
        doing.do(editor_of(request), "remove", site, sent)


def _back(request: HttpRequest, item: Site | Page | Asset, to: str) -> HttpResponse:
    try:
        change = None if isinstance(item, Site) else undo.removal_of(item)
        undo.undo(change, editor_of(request)) if change else removal.have_back(item)
    except Refusal as problem:
        context = {"title": "Not yet", "message": problem.message}
        return render(request, "frame/plain.html", context, status=problem.status)
    return redirect(to)


@require_safe
@for_editors
def files(request: HttpRequest, site: Site) -> HttpResponse:
    """The files that came with the pages, and those that can be had back."""
    rows = site.assets.defer("content").order_by("path")
    part = Paginator(rows, LISTED).get_page(request.GET.get("part"))
    context = {"part": part, "deleted": removal.removed_files(site)}
    return render(request, "removal/files.html", context)
