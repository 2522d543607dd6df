"""History: who did what, when, on which pages; taken back from here."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.core.paginator import Paginator
from django.db.models import Max
from django.http import HttpRequest, HttpResponse, HttpResponseBase
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_POST, require_safe

from innerhop.core.facts.lengths import guessed_height
from innerhop.core.refusals import Refusal
from innerhop.library import doing
from innerhop.library.changes import undo_ahead
from innerhop.library.history import entries, what_changed
from innerhop.library.history.entries import History, HistoryEntry, Search
from innerhop.library.history.kinds import KINDS
from innerhop.library.models import Change, Membership, Page, Site
from innerhop.screens.access import (
    NotReadable,
    editor_of,
    for_editors,
    member_of,
    number_asked,
    once_read,
    sent,
)
from innerhop.screens.acts import answers
from innerhop.screens.history import drawing, people
from innerhop.screens.history.addresses import feed_path

ENTRIES = 50  # at a time
_PAGES_NAMED = 100  # of more, none is chosen from a list
_PAGES_SHOWN, _SPOTS_SHOWN = 3, 3  # beside the list; all, when asked for
_ALL_PAGES, _ALL_SPOTS = 40, 100
_LATER = 5


@require_safe
@for_editors
def show(request: HttpRequest, site: Site) -> HttpResponse:
    """What was done on the site, newest first, and the chosen thing beside it."""
    editor = editor_of(request)
    member = member_of(request)
    new = entries.new_since(member)
    once_read(entries.arrive, member)
    wanted = wanted_by(request, new)
    listed: Paginator[HistoryEntry] = Paginator(History(site, wanted), ENTRIES)
    part = listed.get_page(request.GET.get("part"))
    longest = guessed_height(site.pages.aggregate(most=Max("words"))["most"] or 0)
    rows = [drawing.row(one, editor, longest, new, may_turn=_may_turn(member, one)) for one in part]
    pages = site.pages.order_by("path")
    context = {
        "part": part,
        "also": _also(request),
        "days": list(drawing.days(rows)),
        "wanted": wanted,
        "is_asked": any((wanted.page, wanted.kind, wanted.words)),
        "show": _part_shown(request),
        "all_count": len(History(site, Search())),
        "new_count": len(History(site, _new(editor.pk, new))) if new else 0,
        "own_count": len(History(site, Search(author=editor.pk))),
        "people": [(one.pk, people.person(one).name) for one in entries.authors(site)],
        "pages": pages if pages.count() <= _PAGES_NAMED else (),
        "asked_page": Page.everything.filter(site=site, pk=wanted.page).first(),
        "kinds": [(name, kind.title) for name, kind in KINDS.items()],
        "chosen": _chosen(request, site, member),
        "feed": feed_path(site),
    }
    return render(request, "history/history.html", context)


def _also(request: HttpRequest) -> str:
    """What is looked for, as it goes along to the next part of the list."""
    asked = request.GET.copy()
    for name in ("part", "of", "all"):
        asked.pop(name, None)
    return f"&{asked.urlencode()}" if asked else ""


def wanted_by(request: HttpRequest, new: datetime | None) -> Search:
    """What somebody looks for. new: after when what others did is new to them."""
    editor, asked = editor_of(request), request.GET
    kind = asked.get("kind", "")
    author = editor.pk if _part_shown(request) == "yours" else number_asked(asked.get("who", ""))
    is_new = _part_shown(request) == "new" and new is not None
    return Search(
        author=author,
        page=number_asked(asked.get("page", "")),
        kind=kind if kind in KINDS else "",
        words=asked.get("words", "").strip()[:200],
        since=new if is_new else None,
        others_than=editor.pk if is_new else 0,
    )


def _part_shown(request: HttpRequest) -> str:
    asked = request.GET.get("show", "")
    return asked if asked in ("new", "yours") else ""


def _new(editor: int, since: datetime) -> Search:
    return Search(since=since, others_than=editor)


def _may_turn(member: Membership, entry: HistoryEntry) -> bool:
    return entry.change is not None and doing.allows_turn(member, entry.change)


def _chosen(request: HttpRequest, site: Site, member: Membership) -> dict[str, Any] | None:
    """The thing that is looked at, with what it changed and what taking it back would do."""
    of = request.GET.get("of", "")
    found = entries.entry(site, of[:1], number_asked(of[1:]))
    if found is None:
        return None
    told: dict[str, Any] = {
        "entry": found,
        "who": people.person(found.author),
        "may_turn": _may_turn(member, found),
    }
    if found.change is None:
        return told
    is_all = "all" in request.GET
    pages, spots = (_ALL_PAGES, _ALL_SPOTS) if is_all else (_PAGES_SHOWN, _SPOTS_SHOWN)
    shown = list(what_changed.differences(found.change, pages))
    ahead = undo_ahead.ahead(found.change)
    return told | {
        "undoer": people.person(found.change.undoer),
        "differences": [(one, one.spots[:spots], len(one.spots) - spots) for one in shown],
        "places": sum(len(one.spots) for one in shown),
        "is_all": is_all,
        "more_pages": found.count - len(shown),
        "has_more": any(len(one.spots) > spots for one in shown) or found.count > len(shown),
        "ahead": ahead,
        "later": list(ahead.later[:_LATER]),
        "later_more": max(0, ahead.later.count() - _LATER),
        "who_may": "" if told["may_turn"] else doing.who_may(site, doing.ANY_TURN),
    }


@require_POST
@for_editors
def turn(request: HttpRequest, site: Site) -> HttpResponseBase:
    """Take a change back, or make it again."""
    try:
        asked = sent(request)
        key, undone = asked.get("change"), asked.get("undone", True)
        if not isinstance(key, int) or isinstance(key, bool) or not isinstance(undone, bool):
            raise NotReadable("The browser did not say which change. Load the page again.")
        change = get_object_or_404(Change, site=site, pk=number_asked(str(key)))
        steps = doing.turn(editor_of(request), change, undone=undone)
        message = f"{'Undone' if undone else 'Done again'}: {change.message}"
        return answers.follow(request, None, steps, message)
    except Refusal as problem:
        return answers.refused(problem)
