"""The findings of a site at their places in the pages' files, as the check of files has them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

from innerhop.check.cache import LineAndColumn
from innerhop.check.reading import place_of
from innerhop.check.report import Line, Report
from innerhop.core.findings.found import NOTE
from innerhop.core.findings.table import RULES
from innerhop.library.index.texts import currents
from innerhop.library.models import Finding, Page, Site
from innerhop.library.seek import findings as seek

_AT_ONCE = 40  # pages whose texts are held


def of_site(site: Site) -> Report:
    """The findings that nobody has set aside, those for information left out."""
    by_page: dict[int, list[Finding]] = defaultdict(list)
    for row in seek.open_on(site).order_by("number", "rule"):
        if row.rule in RULES and RULES[row.rule].level != NOTE:
            by_page[row.page_id].append(row)
    titles = dict(site.pages.values_list("pk", "title"))
    pages = list(site.pages.select_related("site").order_by("path"))
    having = [page for page in pages if page.pk in by_page]
    lines: list[Line] = []
    for at in range(0, len(having), _AT_ONCE):
        lines += _lines(having[at : at + _AT_ONCE], by_page, titles)
    return Report(lines, len(pages), ())


def _lines(
    pages: Sequence[Page], by_page: dict[int, list[Finding]], titles: dict[int, str]
) -> list[Line]:
    found = []
    for text in currents(pages):
        page = text.page
        name = page.file or page.path
        for row in by_page[page.pk]:
            place: LineAndColumn = place_of(text.source, row.number)
            told = row.found
            found.append(
                Line(name, page.pk, place, RULES[row.rule], told, lambda key: titles.get(key, ""))
            )
    return found
