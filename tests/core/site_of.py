"""A small site from markup, as the check of files has it."""

from __future__ import annotations

from collections.abc import Mapping

from innerhop.check.reading import FilePage, Options
from innerhop.core.findings.table import RULES
from innerhop.core.findings.whole_site import WholeSite, read
from innerhop.core.source.tree import Source

ADDRESS = "https://canal.example/"


def site_of(pages: Mapping[str, str], address: str = ADDRESS) -> WholeSite:
    """The pages, by the name of each one's file, in that order; asking for every rule."""
    options = Options(address)
    readings = [FilePage(name, markup, options) for name, markup in pages.items()]
    texts = list(pages.values())
    rows = [read(one, one.path) for one in readings]
    return WholeSite(address, "en", rows, lambda at: Source(texts[at]), RULES)


def found(site: WholeSite) -> list[tuple[str, str]]:
    """What is found, page by page: each rule with the words of its place."""
    return [(one.rule, one.words) for page in range(len(site.pages)) for one in site.findings(page)]
