"""Markup that was pasted: what it is, and the address that it likely has."""

from __future__ import annotations

import re

from innerhop.core.names import ids
from innerhop.core.source.tree import Source
from innerhop.library import sites
from innerhop.library.models import Site

# What only a whole document begins with (HTML Standard, "Writing HTML documents").
_WHOLE = re.compile(
    r"\s*(?:<!--.*?-->\s*)*<(?:!doctype\b|html\b|head\b)", re.IGNORECASE | re.DOTALL
)
_READ = 20_000  # characters in which a title stands


def is_whole(markup: str) -> bool:
    """Whether markup is a document, and no body alone.

    >>> is_whole("<!-- made up --> <!DOCTYPE html><title>Fees</title>"), is_whole("<h1>Fees</h1>")
    (True, False)
    """
    return _WHOLE.match(markup) is not None


def title_of(markup: str) -> str:
    """The words of a document's title, or of the first heading of a body; "" for none."""
    source = Source(markup[:_READ])
    for tag in ("title", "h1", "h2"):
        found = next(source.of_tags(tag), None)
        if found is not None and found.text.strip():
            return " ".join(found.text.split())
    return ""


def address_for(site: Site, title: str) -> str:
    """A free address for a page with that title, in the way of the site's other pages: with
    a slash at its end or without. "" without a title."""
    if not title.strip():
        return ""
    paths = site.pages.exclude(path="/").values_list("path", flat=True)
    with_slash = sum(1 if path.endswith("/") else -1 for path in paths[:_ASKED])
    name = ids.suggest(title, ids.Naming(site.language, own_letters=False))
    path = f"/{name}/" if with_slash >= 0 else f"/{name}"
    taken = set(site.pages.filter(key=site.key_of(path)).values_list("key", flat=True))
    return sites.free_path(site, path, taken) if taken else path


_ASKED = 200  # pages
