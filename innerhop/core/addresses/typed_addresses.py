"""An address as someone types or pastes it, read for what they mean.

Resolving is the URL Standard's; what is forgiven (a host without its scheme, a
preview's suffix, spaces around it) is common practice, no source.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from innerhop.core.addresses.urls import Resolved, resolve
from innerhop.core.refusals import Refusal

# Schemes that a link may have and that lead to no page: they are left alone.
LEFT_ALONE = {
    "mailto:": "It opens the reader’s mail program, and is written as it is.",
    "tel:": "It calls the number, and is written as it is.",
    "sms:": "It opens a text message, and is written as it is.",
}
_SCHEME = re.compile(r"([a-z][a-z0-9+.-]*:)", re.IGNORECASE)
# A name with a dot in it before the first slash, and a known kind of last part.
_HOST = re.compile(r"(?:[\w-]+\.)+[^\W\d]{2,}(?::\d+)?(?=[/?#]|$)")
_FILE = re.compile(r"\.(?:x?html?|php|aspx?|jsp|md|txt|pdf)$", re.IGNORECASE)
_PREVIEW_HOST = re.compile(
    r"(?:^|[.-])(?:preview|staging|stage|draft|test|dev|edit|local)(?:[.\d-]|$)", re.IGNORECASE
)
_THIS_MACHINE = re.compile(r"(?:localhost|127\.0\.0\.1)(?::\d+)?$")
_PREVIEW_QUERY = re.compile(r"preview|draft|nonce|revision|version|token|edit", re.IGNORECASE)


class NotALink(Refusal):
    """What was typed can't be where a link leads; says why and what to type."""


@dataclass(frozen=True, slots=True)
class Typed:
    """What was typed, read. outside: a link that leads to no page of this site, as
    it is to be written. notes: what was understood, in plain words."""

    found: Resolved | None
    outside: str = ""
    notes: tuple[str, ...] = ()


def is_address(text: str) -> bool:
    """Whether someone typed an address, rather than words to search for."""
    text = text.strip()
    if " " in text and not re.match(r"[#/?]|https?:", text):
        return False
    return bool(
        re.match(r"[#/\\?]|\.\.?/", text)
        or "#" in text
        or "/" in text
        or _SCHEME.match(text)
        or _HOST.match(text)
        or _FILE.search(text)
    )


def read(text: str, page_address: str, site_address: str) -> Typed:
    """What an address means that is typed on a page. Raises NotALink."""
    plain = re.sub(r"[\t\r\n]", "", text).strip()
    notes: list[str] = []
    scheme = _SCHEME.match(plain)
    host = _HOST.match(plain)
    if host and not _FILE.search(host.group()):
        scheme = None
        plain = f"https://{plain}"
    elif scheme and not plain.lower().startswith(("http:", "https:")):
        return _other_scheme(plain, scheme.group(1).lower())
    if "\\" in plain:
        notes.append("Backslashes are read as slashes.")
    found = resolve(plain, page_address)
    if found is None:
        raise NotALink(
            "No browser can read this as an address. Type one such as #fees, /page/#fees or "
            f"{site_address}page/."
        )
    return _on_site(plain, found, site_address, notes)


def _other_scheme(plain: str, scheme: str) -> Typed:
    if scheme in LEFT_ALONE:
        return Typed(None, plain, (LEFT_ALONE[scheme],))
    if scheme in ("javascript:", "data:", "vbscript:"):
        raise NotALink(
            f"What begins with {scheme} is a program or a document of its own, and no place on a "
            "site. Readers of many browsers get nothing. Choose a section or a page instead."
        )
    raise NotALink(
        f"What begins with {scheme} opens on this machine or in another program, not on a site. "
        "Choose a section or a page, or type an address that begins with https://."
    )


def _on_site(plain: str, address: Resolved, site_address: str, notes: list[str]) -> Typed:
    own = resolve("/", site_address)
    assert own is not None, "a site has an address that can be read"
    if address.origin != own.origin:
        if _is_own_host(address, own) or _is_preview(address, own):
            notes.append(
                "This is the same page under another name of the site. It is written with the "
                f"site’s own address, {own.origin}."
            )
            address = Resolved(own.origin, address.path, address.query, address.fragment)
        else:
            return _outside(plain, address, notes)
    if address.query:
        is_preview = _PREVIEW_QUERY.search(address.query)
        why = "belongs to a preview, and is left out" if is_preview else "is left out"
        notes.append(f"What stands behind the ? {why}.")
        address = Resolved(address.origin, address.path, "", address.fragment)
    return Typed(address, "", tuple(notes))


def _is_own_host(address: Resolved, own: Resolved) -> bool:
    """http for https, or with and without www."""
    return _bare(address.origin) == _bare(own.origin)


def _bare(origin: str) -> str:
    return re.sub(r"^https?://(?:www\.)?", "", origin)


def _is_preview(address: Resolved, own: Resolved) -> bool:
    name = _bare(own.origin).split(".")[0]
    host = _bare(address.origin)
    is_named = name in host and _PREVIEW_HOST.search(host) is not None
    return is_named or _THIS_MACHINE.match(host) is not None


def _outside(plain: str, address: Resolved, notes: list[str]) -> Typed:
    """A link to another site, written as browsers read it."""
    if not plain.isascii() and "xn--" in address.origin:
        notes.append(f"Browsers read this host as {address.origin.partition('//')[2]}.")
    notes.append("It leads to another site, which Inner Hop does not look into.")
    return Typed(None, address.href, tuple(notes))
