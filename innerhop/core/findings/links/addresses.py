"""Addresses that lead there today and are written so that they may not tomorrow."""

from __future__ import annotations

import re
from collections.abc import Iterator

from innerhop.core.addresses import urls
from innerhop.core.addresses.address_forms import ABSOLUTE, form_of
from innerhop.core.addresses.fragments import id_of
from innerhop.core.addresses.urls import Resolved
from innerhop.core.findings import ends
from innerhop.core.findings.found import (
    BETTER,
    ENDS,
    LINKS,
    MISLED,
    PRACTICE,
    Found,
    JudgedLink,
    PageRows,
    Rule,
    SiteView,
    Told,
    link_words,
)
from innerhop.core.site.hops import BROKEN

# How hosts of previews, and addresses of drafts, are called (common practice, no source).
_PREVIEW_HOST = re.compile(r"(?:^|[.-])(?:preview|staging|stage|draft|dev|test|beta)(?=[.-])")
_PREVIEW_QUERY = re.compile(r"[?&](?:preview|preview_id|preview_nonce|draft)=")
_MAYBE_PREVIEW = re.compile(r"preview|staging|stage|draft|dev|test|beta", re.IGNORECASE)


def _whole(page: PageRows, site: SiteView) -> Iterator[Found]:
    for link in page.links:
        is_kept = link.kind != BROKEN and link.key and "?" not in link.href
        if is_kept and ":" in link.href and form_of(link.href) == ABSOLUTE:
            told = _same_end(link, site)
            if told:
                yield WHOLE.at(link.number, link_words(link), key=link.href, href=link.href, **told)


def _same_end(link: JudgedLink, site: SiteView) -> Told | None:
    to = site.page(link.key)
    if to is None:
        return None
    return ends.end(to, ends.asked_for(link), site)


def _plain_http(page: PageRows, site: SiteView) -> Iterator[Found]:
    own = site.address
    if not own.startswith("https:"):
        return
    plain = f"http:{own.removeprefix('https:')}".rstrip("/").casefold()
    for link in page.links:
        if link.href[:5].casefold() == "http:" and link.href.casefold().startswith(plain):
            found = urls.resolve(link.href, own)
            told = _on_site(found, site) if found else None
            if told:
                yield HTTP.at(link.number, link_words(link), key=link.href, href=link.href, **told)


def _previews(page: PageRows, site: SiteView) -> Iterator[Found]:
    for link in page.links:
        if link.href.startswith("#") or not _MAYBE_PREVIEW.search(link.href):
            continue
        found = urls.resolve(link.href, f"{site.address.rstrip('/')}{page.path}")
        told = _on_site(found, site) if found and _is_preview(found, site.address) else None
        if told:
            yield PREVIEW.at(link.number, link_words(link), key=link.href, href=link.href, **told)


def _is_preview(address: Resolved, own: str) -> bool:
    origin = urls.origin_of(own)
    if address.origin == origin:
        return bool(_PREVIEW_QUERY.search(address.query))
    name = origin.partition("//")[2].removeprefix("www.").partition(".")[0]
    host = address.origin.partition("//")[2]
    return name in host and bool(_PREVIEW_HOST.search(host))


def _on_site(address: Resolved, site: SiteView) -> Told | None:
    """Which page of the site an address means, its host aside."""
    to = site.page(urls.page_key(address.path))
    if to is None:
        return None
    asked = id_of(address.fragment)
    return ends.end(to, asked if asked in site.ids(to) else "", site)


WHOLE = Rule(
    name="whole-address",
    level=BETTER,
    title="The site’s own address, written whole",
    why="{href} works until the site’s name changes. {to} would outlive that.",
    source=PRACTICE,
    avoid="Within a site begin addresses with a slash; whole ones are for mail and other sites.",
    find=_whole,
    reads=(LINKS, ENDS),
    asks=("page", "path"),
    about_link=True,
    fix=ends.lead("Write it as {to}", is_safe=True, many="Write them short"),
)

HTTP = Rule(
    name="plain-http",
    level=BETTER,
    title="http where the site has https",
    why="{href} sends readers around, where it can be read and changed on the way.",
    source=PRACTICE,
    avoid="Within a site begin addresses with a slash: then they are as safe as the page.",
    find=_plain_http,
    reads=(LINKS,),
    asks=("ids", "page", "path"),
    about_link=True,
    fix=ends.lead("Write it as {to}", is_safe=True, many="Write them short"),
)

PREVIEW = Rule(
    name="preview-address",
    level=MISLED,
    title="The address of a preview",
    why="{href} shows a draft to those who may see it, and nothing to all others.",
    source=PRACTICE,
    avoid="An address copied from the bar of a preview leads into the preview. Choose the page "
    "from the list instead.",
    find=_previews,
    reads=(LINKS,),
    asks=("ids", "page", "path"),
    about_link=True,
    fix=ends.lead("Lead it to {to}", many="Lead them to the pages"),
)
