"""Who may see what: a site is there for its own people, and for nobody else. And what is read
for one answer is read as of one moment."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial, wraps
from typing import Any

from django.contrib.auth.decorators import login_required
from django.db import connection, transaction
from django.http import (
    Http404,
    HttpRequest,
    HttpResponseBase,
    JsonResponse,
    StreamingHttpResponse,
)
from django.shortcuts import get_object_or_404, render

from innerhop.core.refusals import Refusal
from innerhop.library import doing
from innerhop.library.models import Editor, Membership, Page, Site
from innerhop.library.querysets import can_be_kept

_UNREADABLE = "The browser sent something that can't be read. Load the page again."
_DEEPEST = 12  # of what is sent: nothing that a screen sends is deeper
LOOKING = 20  # seconds: nobody waits longer for what the database gathers by one statement

View = Callable[..., HttpResponseBase]


class NotReadable(Refusal):
    """A request that can't be answered as it is; says what to do."""


@contextmanager
def snapshot() -> Iterator[None]:
    """Everything read in here is as of one moment, whatever others save meanwhile; and what
    takes the database too long is given up.

    https://www.postgresql.org/docs/15/transaction-iso.html#XACT-REPEATABLE-READ
    """
    if connection.in_atomic_block:
        yield
        return
    with transaction.atomic():
        with connection.cursor() as cursor:
            cursor.execute(
                "set transaction isolation level repeatable read; "
                f"set local statement_timeout = {int(LOOKING * 1000)}"
            )
        yield


def once_read(note: Callable[..., None], *about: Any) -> None:
    """Have what looking leaves behind noted after it: within a snapshot, two who look at once
    would get in each other's way."""
    transaction.on_commit(partial(note, *about), robust=True)


def for_editors(view: View) -> View:
    """A view of a site, given the site; 404 for all but its people. All of them may look, and
    what only looks sees one moment; whatever else is asked of it is for those who may change
    the site."""
    return _guarded(view, doing.CHANGE)


def for_members(view: View) -> View:
    """The same, where nothing of the site becomes another whatever is asked."""
    return _guarded(view, doing.LOOK)


def for_hand_over(view: View) -> View:
    """As for_editors, of what pages are taken out by: for those who may hand over."""

    @wraps(view)
    def checked(request: HttpRequest, site: Site, *args: Any, **kwargs: Any) -> HttpResponseBase:
        doing.require(editor_of(request), site, doing.HAND_OVER)
        return view(request, site, *args, **kwargs)

    return _guarded(checked, doing.CHANGE)


def _guarded(view: View, kind: str) -> View:
    """kind: what whoever does more than look has to be allowed to do."""

    @login_required
    @wraps(view)
    def guarded(request: HttpRequest, slug: str, *args: Any, **kwargs: Any) -> HttpResponseBase:
        try:
            if request.method in ("GET", "HEAD"):
                with snapshot():
                    return view(request, _site_of(request, slug, doing.LOOK), *args, **kwargs)
            return view(request, _site_of(request, slug, kind), *args, **kwargs)
        except doing.MayNot as problem:
            return may_not(request, problem)

    return guarded


def _site_of(request: HttpRequest, slug: str, kind: str) -> Site:
    site: Site = get_object_or_404(Site, slug=slug)
    member = site.membership_set.filter(editor=editor_of(request)).first()
    if member is None:
        raise Http404
    request.at_site = site  # type: ignore[attr-defined]
    request.at_member = member  # type: ignore[attr-defined]
    if not doing.allows(member, kind):
        doing.require(editor_of(request), site, kind)
    return site


def may_not(request: HttpRequest, problem: Refusal) -> HttpResponseBase:
    """What somebody is told who is not to do something, on whatever they asked from."""
    if request.headers.get("Accept", "").startswith("application/json"):
        return told(problem.message, problem.status)
    said = {"title": "Not for you to do", "message": problem.message}
    return render(request, "frame/plain.html", said, status=problem.status)


def editor_of(request: HttpRequest) -> Editor:
    """Who asks; the guards above let in nobody else."""
    assert isinstance(request.user, Editor)
    return request.user


def member_of(request: HttpRequest) -> Membership:
    """What who asks is on the site that is open."""
    member = request.at_member  # type: ignore[attr-defined]
    assert isinstance(member, Membership)
    return member


_DIGITS = 18  # so far the database counts


def number_asked(text: str) -> int:
    """The whole number that an address or a form asks for; 0 where it is none."""
    is_number = text.isascii() and text.isdecimal() and len(text) <= _DIGITS
    return int(text) if is_number else 0


def page_of(site: Site, key: int) -> Page:
    """The site's page with that primary key, or 404."""
    if key >= 2**63:  # more than the database counts
        key = 0
    page: Page = get_object_or_404(Page.objects.select_related("site"), site=site, pk=key)
    return page


def sent(request: HttpRequest) -> dict[str, Any]:
    """The JSON object in a request's body. Raises NotReadable when there is none that can be
    used: what is too deep, no number, or holds what no database keeps."""
    try:
        found = json.loads(request.body, parse_constant=_refuse)
    except (ValueError, RecursionError):
        found = None
    if not isinstance(found, dict):
        raise NotReadable(_UNREADABLE)
    _require_plain(found)
    return found


def _refuse(constant: str) -> None:
    raise ValueError(constant)  # NaN and the like: no JSON (RFC 8259, section 6)


def _require_plain(value: Any) -> None:
    """Raise NotReadable for what no screen sends, however deep it stands."""
    waiting = [(value, 0)]
    while waiting:
        one, depth = waiting.pop()
        if depth > _DEEPEST:
            raise NotReadable(_UNREADABLE)
        if isinstance(one, str) and not can_be_kept(one):
            raise NotReadable("This holds characters that no page can carry. Take them out.")
        if isinstance(one, dict):
            waiting += ((part, depth + 1) for part in (*one, *one.values()))
        elif isinstance(one, list):
            waiting += ((part, depth + 1) for part in one)


def line_by_line(lines: Iterator[str]) -> StreamingHttpResponse:
    """Long work that tells how far it is: one JSON object a line, sent as it comes."""
    response = StreamingHttpResponse(lines, content_type="application/x-ndjson")
    response["Cache-Control"] = "no-store"
    response["X-Accel-Buffering"] = "no"  # nginx would hold it back till the end
    return response


def told(message: str, status: int = 422, **more: Any) -> JsonResponse:
    """Why something was not done, in one line."""
    return JsonResponse({"message": message, **more}, status=status)
