"""What the rules about broken hops have in common."""

from __future__ import annotations

from typing import Any
from urllib.parse import unquote

from innerhop.core.addresses import urls
from innerhop.core.addresses.fragments import id_of
from innerhop.core.addresses.link_ends import LinkEnds
from innerhop.core.findings.found import (
    Fix,
    Found,
    JudgedLink,
    PageRows,
    SiteView,
    Standard,
    Told,
)
from innerhop.core.findings.requests import LeadThere
from innerhop.core.site import guesses

FRAGMENTS = Standard(
    "HTML Standard, “select the indicated part”",
    "https://html.spec.whatwg.org/multipage/browsing-the-web.html#select-the-indicated-part",
)
PAGES = Standard("URL Standard, “URL parsing”", "https://url.spec.whatwg.org/#url-parsing")


_SHOWN = 200  # characters of a path that a sentence can hold


def path_asked(link: JudgedLink, page: PageRows) -> str:
    """The path that a link asks the host for, spelled as it is written; the key, which may
    lack an ending such as `.html`, where that can't be told."""
    links = LinkEnds(f"https://host.invalid{page.path}", page.base_href)
    resolved = links.resolve(link.href)
    path = unquote(resolved.path).replace("\0", "\ufffd") if resolved else ""
    is_same = len(path) <= _SHOWN and link.key in (
        urls.page_key(path),
        urls.page_key(path, loose=False),
    )
    return path if is_same else link.key


def first_folder(key: str) -> str:
    """The first folder of an address, with its slashes; "" for a page of the site's root."""
    first, slash, _ = key.lstrip("/").partition("/")
    return f"/{first}/" if slash else ""


def asked_for(link: JudgedLink) -> str:
    """The ID that a hop asks for."""
    return id_of(link.fragment)


def end(page: int, id_: str, site: SiteView, **more: Any) -> Told:
    """An end that was likely meant, as fixes and sentences need it."""
    hash_ = f"#{id_}" if id_ else ""
    return {"page": page, "id": id_, "to": f"{site.path(page)}{hash_}", **more}


def _lead_there(found: Found) -> LeadThere | None:
    if "page" not in found.told:
        return None
    return LeadThere(found.number, found.told["page"], found.told["id"])


def lead(label: str, is_safe: bool = False, many: str = "") -> Fix:
    """The fix of a link that leads to the wrong place."""
    return Fix(label, _lead_there, is_safe, many=many)


def likely(link: JudgedLink, site: SiteView) -> list[guesses.Meant]:
    """What a hop to no ID likely means, of the pages that have it or one very like it."""
    if link.end_page is None or link.fragment is None:
        return []
    return site.meant.of(link.fragment, link.end_page)
