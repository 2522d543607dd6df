"""Hops to marks that are not on the site itself yet, said before they are made: readers would
arrive nowhere until the page that has the mark is published."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from innerhop.core.live.ids import IdsThere
from innerhop.library.acts.base import Act
from innerhop.library.acts.ends import End, Goal
from innerhop.library.live.there import text_of
from innerhop.library.models import Page, Seen

_SAID = 3


def said(act: Act, *ends: Goal | None) -> Act:
    """An act that leads readers to these ends, with what is known of those on other pages: of
    pages that nobody has looked at, nothing is."""
    pages = {plan.page.pk for plan in act.plans}
    wanted = {
        (end.page.pk, end.id): end.page for end in ends
        if isinstance(end, End) and end.id and not end.directive and pages - {end.page.pk}
    }  # fmt: skip
    lacking = [(page, id_) for (_, id_), page in wanted.items() if not _is_there(page, id_)]
    notes = [
        f"On the site itself “{page.title}” does not have #{id_} yet, as of the last look, so this "
        "would lead nowhere if it were published now. Publish that page first."
        for page, id_ in lacking[:_SAID]
    ]
    return replace(act, notes=[*act.notes, *notes]) if notes else act


def _is_there(page: Page, id_: str) -> bool:
    """Whether a page has an ID there, as far as is known."""
    seen: Iterable[Seen] = Seen.objects.filter(page=page, gone=False).exclude(content=b"")
    return all(IdsThere(text_of(page, one).source).number(id_) is not None for one in seen)
