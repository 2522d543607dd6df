"""The site as it is there, read as one: which of its hops lead nowhere, and what else is wrong."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from functools import lru_cache
from typing import Any

from innerhop.core.findings.found import NOTE, Found
from innerhop.core.findings.table import RULES
from innerhop.core.findings.whole_site import WholeSite, read
from innerhop.core.live.breaking import Before, BreakCause, Breaking
from innerhop.core.source import file_encoding
from innerhop.core.source.tree import Source
from innerhop.library.index.texts import PageText
from innerhop.library.models import FoundThere, Look, Page, Revision, Seen, Site

_AT_HAND = 64  # texts kept while they are compared
_SHORT, _LONG = 200, 300  # characters, as their columns have it


def text_of(page: Page, seen: Seen) -> PageText:
    """A page with the text that it has there."""
    text = Revision(content=seen.content, label=seen.label, codec=seen.codec, mark=seen.mark)
    return PageText(page, text)


class PagesThere:
    """The pages of a site that were seen there. Each is read once, and its text as often as it is
    asked for."""

    def __init__(self, site: Site) -> None:
        seen = Seen.objects.filter(page__site=site, page__removed=None, gone=False)
        seen = seen.exclude(content=b"")
        self.pages: list[Page] = []
        rows = []
        for one in seen.select_related("page").order_by("page__path").iterator(_AT_HAND):
            one.page.site = site
            self.pages.append(one.page)
            rows.append(read(text_of(one.page, one), one.page.path))
        self.site = site
        self.whole = WholeSite(
            site.address, site.language, rows, lru_cache(_AT_HAND)(self._read), site.rules_asked
        )

    def _read(self, at: int) -> Source:
        page = self.pages[at]
        return text_of(page, Seen.objects.get(page=page)).source

    def kept(self, findings: Iterable[Found]) -> Iterator[Found]:
        """What of all that is found on a page is kept: no notes, and nothing that only a browser
        tells. Pages are named by primary key."""
        for one in findings:
            rule = RULES[one.rule]
            if rule.level != NOTE and not rule.needs_browser:
                yield replace(one, told=self._named(one.told))

    def _named(self, told: Mapping[str, Any]) -> dict[str, Any]:
        return {name: self.pages[value].pk if name in ("on", "page") and value is not None
                else value for name, value in told.items()}  # fmt: skip


Replaced = Mapping[str, Seen]  # what was seen of pages before, by the keys of those seen anew


def keep_found(look: Look, replaced: Replaced) -> None:
    """Keep what is wrong there now, and what of it broke or was mended since the look before.
    replaced: how the pages that are other than they were before have been."""
    site = look.site
    there = PagesThere(site)
    known = {(one.page_id, one.rule, one.key): one for one in _rows(site)}
    was_broken = {(one.page.key, one.key) for one in known.values() if one.is_broken}
    before = Before(_before(look, there, replaced),
                    lambda key, one: (key, one.key[:_LONG]) in was_broken)  # fmt: skip
    breaking = Breaking(there.whole, before)
    kept: list[FoundThere] = []
    for at, page in enumerate(there.pages):
        found = there.whole.findings(at)
        causes = breaking.of(at, found)
        for one in there.kept(found):
            row = _row(look, page, one)
            if row.is_broken:
                row.href = there.whole.link(at, one.number).href
            _go_on(row, known.get((page.pk, one.rule, row.key)), causes.get(one.key))
            kept.append(row)
    old = [one for one in known.values() if one.is_broken]
    FoundThere.objects.filter(site=site).delete()
    FoundThere.objects.bulk_create(kept, batch_size=1_000)
    broken = [one for one in kept if one.is_broken]
    look.broken = len(broken)
    look.changed = _changed(look, there, old, broken)
    site.live_broke = sum(one.broke for one in broken)
    site.save(update_fields=["live_broke"])


def _rows(site: Site) -> list[FoundThere]:
    return list(FoundThere.objects.filter(site=site).select_related("page"))


def _before(look: Look, there: PagesThere, replaced: Replaced) -> Any:
    """What tells how a page was at the look before, by its key: what didn't change is as it is."""
    first = not there.site.looks.exclude(pk=look.pk).exclude(broken=None).exists()
    by_key = {page.key: at for at, page in enumerate(there.pages)}

    def text(key: str) -> Source | None:
        if key in replaced:
            seen = replaced[key]
            return _text(seen) if seen.content else None
        at = by_key.get(key)
        return None if first or at is None else there.whole.source(at)

    return text


def _text(seen: Seen) -> Source:
    encoding = file_encoding.FileEncoding(seen.label, seen.codec, bytes(seen.mark))
    return Source(file_encoding.decode_as(bytes(seen.content), encoding))


def _row(look: Look, page: Page, one: Found) -> FoundThere:
    return FoundThere(
        page=page, site_id=look.site_id, number=one.number, rule=one.rule,
        cause=one.cause[:_LONG], words=one.words[:_SHORT], key=one.key[:_LONG],
        told=dict(one.told), is_broken=RULES[one.rule].recognise is not None,
        since=look,
    )  # fmt: skip


def _go_on(row: FoundThere, old: FoundThere | None, cause: BreakCause | None) -> None:
    """What was known of a finding before, or is known now for the first time."""
    if cause is not None:
        row.broke, row.why, row.todo = True, cause.why[:_LONG], cause.todo[:_LONG]
        row.enter = cause.enter
    elif old is not None:
        row.since_id, row.broke = old.since_id, old.broke
        row.why, row.todo, row.enter = old.why, old.todo, old.enter


def _changed(
    look: Look, there: PagesThere, old: Sequence[FoundThere], new: Sequence[FoundThere]
) -> list[Any]:
    """The hops that broke at a look, and those that lead nowhere no more."""
    names = {(one.page_id, one.key) for one in new}
    broke = [_told("broke", one, one.why) for one in new if one.broke and one.since_id == look.pk]
    hrefs = {page.pk: {link.href for link in there.whole.pages[at].links}
             for at, page in enumerate(there.pages)}  # fmt: skip
    mended = [
        _told("mended", one, _AGAIN if one.href in hrefs[one.page_id] else _OUT)
        for one in old if (one.page_id, one.key) not in names and one.page_id in hrefs
    ]  # fmt: skip
    return [*broke, *mended]


_AGAIN, _OUT = "It leads somewhere again.", "It was taken out, or leads elsewhere."


def _told(what: str, row: FoundThere, why: str) -> dict[str, Any]:
    return {"what": what, "page": row.page_id, "title": row.page.title, "path": row.page.path,
            "words": row.words, "href": row.href, "why": why}  # fmt: skip
