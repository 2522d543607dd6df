"""What was done on a site, newest first, to be taken back from here."""

from __future__ import annotations

from django.core.paginator import Paginator
from django.db.models import Count, Prefetch, Q
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from innerhop.library.models import Change, Revision, Site
from innerhop.screens.access import for_editors

CHANGES = 50  # at a time
_PAGES_NAMED = 3


@require_safe
@for_editors
def show(request: HttpRequest, site: Site) -> HttpResponse:
    """What was done on the whole site, newest first."""
    written = Revision.objects.filter(number__gt=0).only("page", "change")
    rows = (
        site.changes.select_related("author")
        .annotate(pages=Count("revisions__page", filter=Q(revisions__number__gt=0), distinct=True))
        .prefetch_related(Prefetch("revisions", written.select_related("page__site"), "written"))
        .order_by("-pk")
    )
    part = Paginator(rows, CHANGES).get_page(request.GET.get("part"))
    seen = _seen(request, site)
    new = site.changes.filter(pk__gt=seen).exclude(author=request.user.pk) if seen else None
    context = {
        "part": part,
        "since": new.count() if new is not None else 0,
        "rows": [
            (change, _named(change), 0 < seen < change.pk and change.author_id != request.user.pk)
            for change in part.object_list
        ],
        "any_page": site.pages.order_by("pk").first(),
    }
    return render(request, "changes/changes.html", context)


def _seen(request: HttpRequest, site: Site) -> int:
    """The last change that was there when the editor was here before, by primary key; 0 for
    who is here for the first time. What is there now is seen from here on."""
    key = f"changes seen of {site.pk}"
    seen: int = request.session.get(key, 0)
    newest = site.changes.order_by("-pk").values_list("pk", flat=True).first()
    if newest and newest != seen:
        request.session[key] = newest
    return seen


def _named(change: Change) -> list[object]:
    """A few of the pages that a change wrote."""
    pages = {one.page_id: one.page for one in change.written}  # type: ignore[attr-defined]
    return list(pages.values())[:_PAGES_NAMED]
