"""Passes: what lets a browser see a site's pages under the visitor's host name, where no session
of an editor exists. Signed, short-lived, for one site and one of its people each, and good for
as long as they belong to it: asked each time, so that who is let out of a site is out at once."""

from __future__ import annotations

from django.core import signing
from django.http import HttpRequest, HttpResponse

from innerhop.library.models import Membership

COOKIE, FRAMED = "innerhop_visit", "innerhop_walk"
_TO_ENTER = 300  # seconds a link to enter works
_TO_STAY = 12 * 3600  # seconds a visitor may stay, or a sheet be open


OURS = 0  # in the place of an editor: a browser of our own, which measures


def to_enter(site_id: int, editor_id: int = OURS) -> str:
    """A pass for the address that lets a visitor in."""
    return signing.dumps([site_id, editor_id], salt="enter")


def admitted(token: str, site_id: int) -> int | None:
    """Whose pass that is, by primary key, where `to_enter` made it and it is good for that site
    now; else None."""
    return _holder(_read(token, "enter", _TO_ENTER), site_id)


def is_in(site_id: int, editor_id: int) -> bool:
    """Whether somebody belongs to a site now."""
    members = Membership.objects.filter(site=site_id, editor=editor_id, editor__is_active=True)
    return editor_id == OURS or members.exists()


def _holder(sent: object, site_id: int) -> int | None:
    if not isinstance(sent, list) or sent[0] != site_id or not is_in(site_id, sent[1]):
        return None
    holder: int = sent[1]
    return holder


def stay(response: HttpResponse, site_id: int, editor_id: int, secure: bool) -> None:
    """Let this browser look at the site's pages for a while."""
    token = signing.dumps([site_id, editor_id], salt="stay")
    name = _own(COOKIE, secure)
    response.set_cookie(name, token, _TO_STAY, secure=secure, httponly=True, samesite="Lax")


def _own(name: str, secure: bool) -> str:
    """A cookie's name where there is TLS: one that this host alone can have set (RFC 6265bis,
    4.1.3.2)."""
    return f"__Host-{name}" if secure else name


def stay_framed(response: HttpResponse, site_id: int, editor_id: int, secure: bool) -> None:
    """The same in a frame of the editor's screens, and in no other: browsers keep cookies of
    framed hosts back that don't say what they are for.

    https://www.ietf.org/archive/id/draft-cutler-httpbis-partitioned-cookies-01.html: one such
    cookie is sent in frames of the host under which it was set alone.
    """
    token = signing.dumps([site_id, editor_id], salt="stay")
    # Written out, since Django's cookies know nothing of `Partitioned` yet. Browsers take
    # loopback, where there is no TLS, as safe for `Secure`.
    name = _own(FRAMED, secure)
    said = f"{name}={token}; Max-Age={_TO_STAY}; Path=/; Secure; HttpOnly; SameSite=None"
    response["Set-Cookie"] = f"{said}; Partitioned"


def stays(request: HttpRequest, site_id: int) -> bool:
    """Whether this browser may look at the site's pages."""
    names = (_own(name, request.is_secure()) for name in (COOKIE, FRAMED))
    tokens = (request.COOKIES.get(name, "") for name in names)
    read = (_read(token, "stay", _TO_STAY) for token in tokens if token)
    return any(_holder(found, site_id) is not None for found in read)


def for_sheet(page_id: int, revision: int, editor_id: int = OURS) -> str:
    """A pass that shows one page's sheet, and its site's assets with it."""
    return signing.dumps([page_id, revision, editor_id], salt="sheet", compress=True)


def read_sheet(token: str, site_id: int) -> tuple[int, int] | None:
    """The page and revision a sheet's pass is for; None when it is not good."""
    found = _read(token, "sheet", _TO_STAY)
    if not isinstance(found, list) or not is_in(site_id, found[2]):
        return None
    return found[0], found[1]


def _read(token: str, salt: str, age: int) -> object:
    try:
        return signing.loads(token, salt=salt, max_age=age)
    except signing.BadSignature:
        return None
