"""Who is on a page now, so that two who work on it see each other."""

from __future__ import annotations

from datetime import timedelta

from django.db.models import Q
from django.db.models.functions import Now

from innerhop.library.models import Change, Editor, Here, Page

_FADES = timedelta(seconds=40)  # who was not heard of for so long is gone
_KEPT = timedelta(hours=1)


def say_here(page: Page, editor: Editor, where: str) -> list[Here]:
    """Somebody is on a page, at a section of that title or at none; the others who are."""
    # The database's clock: those of the machines that serve several people differ.
    Here.objects.update_or_create(page=page, editor=editor, defaults={"where": where, "at": Now()})
    Here.objects.filter(page=page, at__lt=Now() - _KEPT).delete()
    others = Here.objects.filter(page=page, at__gt=Now() - _FADES).exclude(editor=editor)
    return list(others.select_related("editor").order_by("pk"))


def news_since(page: Page, revision: int, editor: Editor) -> str:
    """What became of a page since it had a revision, in a sentence; "" for nothing."""
    if page.revision <= revision:
        return ""
    later = Q(revisions__page=page, revisions__number__gt=revision)
    change = Change.objects.filter(later).select_related("author", "undoer").first()
    if change is None:
        return "This page has another text now."
    doer = change.undoer if change.undone else change.author
    who = "You, in another window," if doer == editor else doer.called if doer else "Somebody"
    verb = "took back" if change.undone else "changed this page"
    return f"{who} {verb}: {change.message}."
