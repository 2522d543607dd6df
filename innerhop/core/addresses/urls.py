"""Addresses: where a link leads, which page that is, and how a hop to it is written.

Resolving is the URL Standard's (ada-url does it). Whether two addresses are
the same page is the site's own matter: its address style decides.
"""

from __future__ import annotations

import hashlib
import posixpath
import re
from functools import lru_cache
from typing import NamedTuple
from urllib.parse import quote, unquote

import ada_url

from innerhop.core.refusals import Refusal

# In small letters, or as some hosts write it: to all others capitals are another file.
_INDEX = re.compile(r"(?:^|(?<=/))(?:index|[Dd]efault)\.x?html?$")
_HTML = re.compile(r"\.x?html?$", re.IGNORECASE)
_PATH_SAFE = "/-._~!$&'()*+,;=:@"


class NotAnAddress(Refusal):
    """What was given is no address; says in plain words what is wrong."""


class Resolved(NamedTuple):
    """An address with nothing relative left in it.

    origin: scheme and host ("https://marrowby.example"), or the scheme alone
    ("mailto:") where there is no host. fragment: None when there is none.
    """

    origin: str
    path: str
    query: str
    fragment: str | None

    @property
    def href(self) -> str:
        """The whole address."""
        tail = "" if self.fragment is None else f"#{self.fragment}"
        return f"{self.origin}{self.path}{self.query}{tail}"


def resolve(href: str, base: str) -> Resolved | None:
    """`href` as a browser reads it on a page at `base`; None when it is no URL.

    URL Standard 4.4, "URL parsing", with a base.
    """
    try:
        url = ada_url.URL(href, base=base)
    except ValueError:
        return None
    # Each of these asks the parser anew, so each is asked once.
    _, mark, fragment = url.href.partition("#")
    protocol, host, path, query = url.protocol, url.host, url.pathname, url.search
    origin = f"{protocol}//{host}" if host else protocol
    return Resolved(origin, path, query, fragment if mark else None)


def climbs_out(href: str, path: str) -> bool:
    """Whether a relative address asks for more folders upwards than a page at a path has
    above it: the page belongs deeper in a site than it stands here.

    https://url.spec.whatwg.org/#shorten-a-urls-path: what is above the root is the root.

    >>> climbs_out("../../en/a.html", "/x/b.html"), climbs_out("../a.html", "/x/b.html")
    (True, False)
    """
    depth = path.count("/") - 1
    for part in re.split(r"[/\\]", re.split(r"[?#]", href, maxsplit=1)[0]):
        if part == "..":
            depth -= 1
            if depth < 0:
                return True
        elif part not in ("", "."):
            depth += 1
    return False


def base_address(page_address: str, base_href: str | None) -> str:
    """What a page's links are resolved against.

    HTML Standard #document-base-url: the first `base` element's href
    if it has one that can be read, else the page's own address.
    """
    if base_href is None:
        return page_address
    found = resolve(base_href, page_address)
    return found.href if found else page_address


LONGEST_PATH = 1_000  # characters of a page's path
_LONGEST_KEY = 500  # bytes: what an index of PostgreSQL surely holds beside a site


def page_key(path: str, loose: bool = True) -> str:
    """The same text for every path that leads to the same page of a site.

    `/x/index.html` is `/x/` everywhere (practice). With `loose`, `/x`, `/x/`
    and `/x.html` are one page too, as most site systems serve them.
    """
    # Browsers send %7E and ~ as different paths; servers see one name.
    plain = _INDEX.sub("", unquote(path, errors="replace"))
    key = (_HTML.sub("", plain.rstrip("/")) if loose else plain) or "/"
    key = key.replace("\0", "\ufffd")  # %00, which no database keeps
    if len(key) * 4 <= _LONGEST_KEY or len(key.encode()) <= _LONGEST_KEY:
        return key
    return f"{key[:80]}…{hashlib.sha256(key.encode()).hexdigest()}"


def address_of_file(file_path: str) -> str:
    """The address a web server gives a file of the site: its path, and for an
    `index.html` the folder (practice)."""
    path = posixpath.normpath("/" + file_path.replace("\\", "/").lstrip("/"))
    return quote(_INDEX.sub("", path), safe=_PATH_SAFE)


def file_of_address(path: str) -> str:
    """The file in which a server would look for that address (practice)."""
    name = unquote(path).lstrip("/")
    if name == "" or name.endswith("/"):
        return name + "index.html"
    return name if _HTML.search(name) else f"{name}/index.html"


def read_path(typed: str, site_address: str) -> str:
    """A page's address as someone types it, as the path it is kept under.

    Takes `/a/b/`, `a/b`, or the full address on the site's own host. Raises
    NotAnAddress otherwise.
    """
    typed = typed.strip()
    if not typed:
        raise NotAnAddress("A page needs an address, such as /moorings/.")
    rooted = typed if re.match(r"[a-z][a-z0-9+.-]*:|/", typed, re.IGNORECASE) else f"/{typed}"
    found = resolve(rooted, site_address)
    site = resolve("/", site_address)
    if found is None or site is None:
        raise NotAnAddress(f"“{typed}” can't be read as an address. Try something like /moorings/.")
    if found.origin != site.origin:
        raise NotAnAddress(f"“{typed}” is on another site. Pages here begin with {site.origin}/.")
    if found.query or found.fragment is not None:
        raise NotAnAddress("A page's address ends before any ? or #. Leave that part out.")
    if len(found.path) > LONGEST_PATH:
        raise NotAnAddress(f"This address is over {LONGEST_PATH} characters. Give a shorter one.")
    return found.path


def read_site_address(typed: str) -> str:
    """A site's address as someone types it, as scheme, host and a slash.

    Raises NotAnAddress when it is none.
    """
    typed = typed.strip()
    with_scheme = typed if "://" in typed else f"https://{typed}"
    found = resolve(with_scheme, "https://x.invalid/")
    if not typed or found is None or not found.origin.startswith(("https://", "http://")):
        raise NotAnAddress("Give the site's address as readers type it, such as marrowby.example.")
    if found.path != "/":
        raise NotAnAddress("Give the address of the whole site, without a page behind it.")
    return f"{found.origin}/"


@lru_cache(maxsize=256)
def origin_of(address: str) -> str:
    """The origin of a site, by its address; "" for none."""
    own = resolve("/", address)
    return own.origin if own else ""
