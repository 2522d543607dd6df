"""The history, taken along: as a file, and as a feed."""

from __future__ import annotations

import json
from collections.abc import Iterator
from datetime import datetime
from typing import Any

from django.conf import settings
from django.contrib.syndication.views import Feed
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.utils.crypto import constant_time_compare
from django.utils.feedgenerator import Atom1Feed
from django.views.decorators.http import require_safe

from innerhop.library.history import entries
from innerhop.library.history.entries import History, HistoryEntry, Search
from innerhop.library.history.kinds import BROUGHT, KINDS
from innerhop.library.models import Site
from innerhop.screens.access import for_editors, member_of
from innerhop.screens.hand_over.downloads import csv_file, download
from innerhop.screens.history import people
from innerhop.screens.history.addresses import feed_path, own_part
from innerhop.screens.history.views import wanted_by
from innerhop.screens.live.told import tag

_FIELDS = ("when", "who", "what", "kind", "section", "pages", "on", "undone", "undone by")
_AT_ONCE = 500
_IN_FEED = 50


@require_safe
@for_editors
def as_file(request: HttpRequest, site: Site, kind: str) -> HttpResponse:
    """What is looked for in the history, as CSV or JSON Lines."""
    if kind not in ("csv", "jsonl"):
        raise Http404
    rows = _rows(History(site, wanted_by(request, entries.new_since(member_of(request)))))
    name = f"{site.slug}-history.{kind}"
    if kind == "csv":
        return download(csv_file(_FIELDS, rows), name, "text/csv; charset=utf-8")
    lines = (json.dumps(dict(zip(_FIELDS, row, strict=True)), ensure_ascii=False) for row in rows)
    text = "".join(f"{line}\n" for line in lines)
    return download(text.encode(), name, "application/jsonl; charset=utf-8")


def _rows(history: History) -> Iterator[list[Any]]:
    for at in range(0, len(history), _AT_ONCE):
        for one in history[at : at + _AT_ONCE]:
            yield _row(one)


def _row(entry: HistoryEntry) -> list[Any]:
    change = entry.change
    act = change.act if change else ""
    kind = BROUGHT if change is None else ""
    kind = next((name for name, one in KINDS.items() if act in one.acts), kind)
    named = [one.page.path for one in entry.pages]
    more = entry.count - len(named)
    undone = change.undone if change else None
    return [
        entry.made.isoformat(timespec="seconds"),
        people.person(entry.author).name,
        entry.message,
        KINDS[kind].title if kind else "",
        change.section if change else "",
        entry.count,
        " ".join([*named, *([f"and {more} more"] if more else [])]),
        undone.isoformat(timespec="seconds") if undone else "",
        people.person(change.undoer).name if change and change.undoer else "",
    ]


class HistoryFeed(Feed):  # type: ignore[type-arg]
    """What was done on a site, for those who know the feed's address (RFC 4287)."""

    feed_type = Atom1Feed
    author_name = "Inner Hop"

    def get_object(self, request: HttpRequest, *args: Any, **kwargs: Any) -> Site:
        """The site whose feeds have that key, for who knows the history's own part of it too."""
        site: Site = get_object_or_404(Site, feed_key=kwargs["key"])
        if not constant_time_compare(kwargs["own"], own_part(site)):
            raise Http404
        return site

    def title(self, site: Site) -> str:
        """What the feed is called."""
        return f"History of {site.name}"

    def link(self, site: Site) -> str:
        """Where it is looked at."""
        return _where(site)

    def feed_url(self, site: Site) -> str:
        """Its own address."""
        return settings.EDITOR_ADDRESS + feed_path(site)

    def feed_guid(self, site: Site) -> str:
        """What it is known by for good (RFC 4151): its key is told to nobody by that."""
        return tag(site, "history")

    def items(self, site: Site) -> list[tuple[Site, HistoryEntry]]:
        """The newest things that were done."""
        return [(site, one) for one in History(site, Search())[:_IN_FEED]]

    def item_title(self, item: Any) -> str:
        """What was done."""
        message: str = item[1].message
        return message

    def item_description(self, item: Any) -> str:
        """Where."""
        named = ", ".join(one.page.title for one in item[1].pages[:3])
        more = item[1].count - min(3, len(item[1].pages))
        return f"{named}{f' and {more} more' if more else ''}"

    def item_author_name(self, item: Any) -> str:
        """Who did it."""
        return people.person(item[1].author).name

    def item_link(self, item: Any) -> str:
        """Where it is looked at."""
        return f"{_where(item[0])}?of={item[1].key}"

    def item_guid(self, item: Any) -> str:
        """What it is known by for good (RFC 4151)."""
        return tag(item[0], f"history-{item[1].key}")

    def item_pubdate(self, item: Any) -> datetime:
        """When it was."""
        made: datetime = item[1].made
        return made

    def item_updateddate(self, item: Any) -> datetime:
        """When it was, or was undone."""
        change = item[1].change
        undone: datetime | None = change.undone if change else None
        return undone or self.item_pubdate(item)


def _where(site: Site) -> str:
    return settings.EDITOR_ADDRESS + reverse("history", args=[site.slug])
