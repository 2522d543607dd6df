"""Two kinds of host name, so that a page's own scripts and the editor's
session never meet: the editor's screens answer to one, pages to the other."""

from __future__ import annotations

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.http.request import split_domain_port, validate_host
from whitenoise.middleware import WhiteNoiseMiddleware

Handler = Callable[[HttpRequest], HttpResponse]


class HostMiddleware:
    """Sends a request under a visitor's host name to the visitor's addresses."""

    def __init__(self, get_response: Handler) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if not is_editors(request):
            request.urlconf = settings.VISITOR_URLCONF
        return self.get_response(request)


class EditorStaticFiles(WhiteNoiseMiddleware):  # type: ignore[misc]  # it has no types
    """The application's own files, under the editor's host name only: a site
    may have a folder called `static` of its own."""

    def __call__(self, request: HttpRequest) -> HttpResponse:
        serve: Handler = super().__call__ if is_editors(request) else self.get_response
        return serve(request)


def is_editors(request: HttpRequest) -> bool:
    """Whether the request came under a host name of the editor's screens."""
    name, _port = split_domain_port(request.get_host())
    return validate_host(name, settings.EDITOR_HOSTS)


def visitor_origin(request: HttpRequest, host: str) -> str:
    """Scheme, host name and port under which a site's pages are shown."""
    _name, port = split_domain_port(request.get_host())
    return f"{request.scheme}://{host}" + (f":{port}" if port else "")
