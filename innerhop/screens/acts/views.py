"""The one address of the acts: it looks at one, or does it, and refuses in one line."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpRequest, HttpResponseBase, JsonResponse
from django.shortcuts import get_object_or_404
from django.views.decorators.http import require_POST

from innerhop.core.refusals import Refusal
from innerhop.library import doing
from innerhop.library.acts.forms import ActForm, Unreadable, WholeField
from innerhop.library.acts.table import ACTS
from innerhop.library.changes import undo, write
from innerhop.library.models import Change, Editor, Page, Site
from innerhop.screens.access import editor_of, for_editors, for_members, page_of, sent
from innerhop.screens.acts import answers
from innerhop.screens.acts.questions import QUESTIONS


@require_POST
@for_editors
def act(request: HttpRequest, site: Site, pk: int, name: str) -> HttpResponseBase:
    """Do an act of the table; with `look`, only say what it would change.

    revision: of the page that the editor sees, which it must still have. stamp: of the
    plan that was looked at, if one was.
    """
    if name not in ACTS:
        raise Http404
    page = page_of(site, pk)
    try:
        asked = sent(request)
        write.require_revision(page, _revision(asked))
        planned = doing.planned(editor_of(request), name, page, asked)
        if asked.get("look"):
            return answers.looked(planned)
        if asked.get("stamp") not in (None, planned.stamp):
            raise write.MovedOn(page, None)
        return answers.carry_out(request, name, page, asked, planned)
    except Refusal as problem:
        return answers.refused(problem)


def _revision(asked: dict[str, Any]) -> int:
    value = asked.get("revision")
    if not isinstance(value, int) or isinstance(value, bool):
        raise Unreadable("The browser did not say which text it shows. Load the page again.")
    return value


@require_POST
@for_members
def ask(request: HttpRequest, site: Site, pk: int, name: str) -> HttpResponseBase:
    """Answer a question about a page."""
    kind = QUESTIONS.get(name)
    if kind is None:
        raise Http404
    page = page_of(site, pk)
    try:
        asked = sent(request)
        if kind.about_sheet:
            write.require_revision(page, _revision(asked))
        return JsonResponse(kind.answer(page, **kind.form(asked, page).asked()))
    except Refusal as problem:
        return answers.refused(problem)


class ToTurnForm(ActForm):
    """Which change is to be undone or redone; without one, the editor's own next."""

    change = WholeField(required=False)


@require_POST
@for_editors
def turn(request: HttpRequest, site: Site, pk: int, undone: bool) -> HttpResponseBase:
    """Undo a change, or redo it."""
    page = page_of(site, pk)
    try:
        form = ToTurnForm(sent(request), page)
        change = _change(site, editor_of(request), form.read()["change"], undone)
        steps = doing.turn(editor_of(request), change, undone=undone)
        message = f"{'Undone' if undone else 'Done again'}: {change.message}"
        message += _elsewhere(change, None if request.headers.get("X-State") == "none" else page)
        return answers.follow(request, page, steps, message)
    except Refusal as problem:
        return answers.refused(problem)


def _elsewhere(change: Change, seen: Page | None) -> str:
    """The pages of a change, by their titles, where any of them is not in view."""
    pages = undo.pages_of(change)
    if all(one == seen for one in pages):
        return ""
    named = [f"“{one.title}”" for one in pages[:_NAMED]]
    more = len(pages) - len(named)
    return f" (on {', '.join(named)}{f' and {more} more' if more else ''})"


_NAMED = 3


def _change(site: Site, editor: Editor, key: int | None, undone: bool) -> Change:
    if key is not None:
        return get_object_or_404(Change, site=site, pk=key)
    found = (undo.next_to_undo if undone else undo.next_to_redo)(site, editor)
    if found is None:
        raise Unreadable(f"There is nothing to {'undo' if undone else 'redo'}.")
    return found


_BESIDE = ("catch-up", "here", "more-hops", "undo", "redo", "measure", "visit")


def urls_of(page: Page) -> dict[str, str]:
    """Where the page's screen sends each act and question, by a name that scripts use."""
    root = page.get_absolute_url()
    names = {name: f"{root}act/{name}/" for name in ACTS}
    names |= {name: f"{root}ask/{name}/" for name in QUESTIONS}
    names |= {name: f"{root}{name}/" for name in _BESIDE}
    names["qr"] = f"{root}qr."  # and its kind
    return {_camel(name): url for name, url in names.items()}


def _camel(name: str) -> str:
    first, *rest = name.split("-")
    return first + "".join(part.capitalize() for part in rest)
