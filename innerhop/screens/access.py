"""Who may see what: a site is there for its own editors, and for nobody else."""

from __future__ import annotations

import json
from collections.abc import Callable
from functools import wraps
from typing import Any

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponseBase, JsonResponse
from django.shortcuts import get_object_or_404

from innerhop.library import sites
from innerhop.library.models import Page, Site

View = Callable[..., HttpResponseBase]


class Asked(ValueError):
    """A request that can't be answered as it is; says what to do."""


def for_editors(view: View) -> View:
    """A view of a site, given the site; 404 for all but its editors."""

    @login_required
    @wraps(view)
    def guarded(request: HttpRequest, slug: str, *args: Any, **kwargs: Any) -> HttpResponseBase:
        site = get_object_or_404(sites.of(request.user), slug=slug)  # type: ignore[arg-type]
        request.at_site = site  # type: ignore[attr-defined]
        return view(request, site, *args, **kwargs)

    return guarded


def page_of(site: Site, key: int) -> Page:
    """The site's page with that primary key, or 404."""
    return get_object_or_404(Page.objects.select_related("site"), site=site, pk=key)


def sent(request: HttpRequest) -> dict[str, Any]:
    """The JSON object in a request's body. Raises Asked when there is none."""
    try:
        found = json.loads(request.body)
    except ValueError:
        found = None
    if not isinstance(found, dict):
        raise Asked("The browser sent something that can't be read. Load the page again.")
    return found


def told(said: str, status: int = 422, **more: Any) -> JsonResponse:
    """Why something was not done, in one line."""
    return JsonResponse({"said": said, **more}, status=status)
