"""How a site writes its links to its own pages, learned from those that are there, so that new
ones are written so too (common practice, no source)."""

from __future__ import annotations

import re
from collections import Counter

from innerhop.core.addresses import address_forms
from innerhop.library.models import Link, Site

_READ = 20_000  # links: more tell nothing new
_INDEX = re.compile(r"(?:^|/)(index\.x?html?)(?:[?#]|$)", re.IGNORECASE)
_FOLDER = re.compile(r"/(?:[?#]|$)")


def learn(site: Site) -> None:
    """Keep whether all of the site's links are relative, and whether they name the file that
    a folder's address stands for. Within the transaction in which its pages came."""
    own = Link.objects.on_site().filter(site=site, permalink=False).order_by("pk")
    hrefs = list(own.values_list("href", flat=True)[:_READ])
    forms = {address_forms.form_of(href) for href in hrefs} - {address_forms.HASH}
    # Whole addresses are taken by nobody on purpose, and don't survive a move.
    is_relative = forms == {address_forms.RELATIVE}
    site.own_form = address_forms.RELATIVE if is_relative else address_forms.PATH
    site.index_name = _index_name(hrefs)
    site.save(update_fields=["own_form", "index_name"])


def _index_name(hrefs: list[str]) -> str:
    names = Counter(found[1] for href in hrefs if (found := _INDEX.search(href)))
    folders = sum(1 for href in hrefs if _FOLDER.search(href))
    if not names or folders >= names.total():
        return ""
    return names.most_common(1)[0][0]
