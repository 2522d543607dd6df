"""Answers to what a page's screen asks for: what would be done, what was done, and why
something was not. Long work answers line by line with how far it has come."""

from __future__ import annotations

import json
import logging
from collections.abc import Iterator, Mapping
from contextlib import closing
from dataclasses import asdict
from itertools import chain
from typing import Any

from django.core.serializers.json import DjangoJSONEncoder
from django.http import HttpRequest, HttpResponseBase, JsonResponse
from django.urls import reverse

from innerhop.core.edits import Spot
from innerhop.core.planners import selection, wrapping
from innerhop.core.refusals import Refusal
from innerhop.library import doing
from innerhop.library.acts.base import Act
from innerhop.library.changes import write
from innerhop.library.changes.prepare import PagesDone
from innerhop.library.jobs import acting
from innerhop.library.models import Change, Page, Site
from innerhop.library.steps import Followed
from innerhop.screens.access import editor_of, line_by_line, snapshot
from innerhop.screens.frame import faults
from innerhop.screens.page_state.state import page_state

MANY = 60  # pages: more than that is worth a progress bar
_log = logging.getLogger(__name__)
Asked = Mapping[str, Any]


def looked(act: Act) -> JsonResponse:
    """What an act would change, and what the editor should know of it."""
    preview = act.previewed()
    return JsonResponse(
        {
            "preview": asdict(preview) if preview else None,
            "message": act.message,
            "href": act.href,
            "forms": [asdict(one) for one in act.forms],
            "notes": act.told(),
            "lacksRoom": act.lacks_room,
            "pages": len(act.plans),
            "stamp": act.stamp,
            "spots": [_spot(*spot) for spot in act.spots()],
        }
    )


def _spot(page: Page, spot: Spot) -> dict[str, Any]:
    return {"page": page.title, "line": spot.line, "parts": spot.parts}


def done(request: HttpRequest, page: Page | None, message: str, change: Change) -> dict[str, Any]:
    """What was done, as which change, and the page as it is now."""
    with snapshot():
        # Another screen asks for a state of its own.
        if page is None or request.headers.get("X-State") == "none":
            return {"message": message, "change": change.pk}
        now = Page.objects.select_related("site").get(pk=page.pk)
        return {"message": message, "change": change.pk, "state": page_state(request, now)}


def carry_out(
    request: HttpRequest, name: str, subject: Page | Site, asked: Asked, act: Act
) -> HttpResponseBase:
    """Do an act that was planned: at once, in view of the editor, or by a job where it is of very
    many pages."""
    editor = editor_of(request)
    if len(act.plans) > acting.MANY:
        job = acting.begin(editor, name, subject, asked, act)
        url = reverse("job", args=[job.site.slug, job.pk])
        return JsonResponse({"message": act.message, "jobUrl": url})
    page = subject if isinstance(subject, Page) else None
    site = subject.site if isinstance(subject, Page) else subject
    return follow(request, page, doing.steps(editor, name, site, asked, act), act.message)


def follow(
    request: HttpRequest, page: Page | None, steps: write.Steps, message: str
) -> HttpResponseBase:
    """Go through the steps, in view of the editor where they are many. page: the one that is
    open; None on a screen of the whole site."""
    try:
        first = next(steps)
    except StopIteration as end:  # no text is written: an address corrected, a part locked
        return JsonResponse(done(request, page, message, end.value))
    if first.total <= MANY:
        return JsonResponse(done(request, page, message, write.run(steps)))
    lines = _lines(request, page, first, steps, message)
    return line_by_line(lines)


def _lines(
    request: HttpRequest, page: Page | None, first: PagesDone, steps: write.Steps, message: str
) -> Iterator[str]:
    """One JSON object a line. When the browser goes away, closing this closes the
    steps, and what they prepared is thrown away."""
    followed = Followed(steps)
    with closing(steps):
        try:
            for step in chain([first], followed):
                yield json.dumps({"done": step.done, "total": step.total}) + "\n"
            told = done(request, page, message, followed.result)
            yield json.dumps(told, cls=DjangoJSONEncoder) + "\n"
        except Refusal as problem:
            yield json.dumps({"refused": problem.status, **why(problem)}) + "\n"
        except Exception as problem:
            # The answer has begun, so nobody else can say that something broke.
            _log.exception("an act broke: %s", message)
            said = faults.told(problem)
            yield json.dumps({"refused": said.status, "message": said.message}) + "\n"


def why(problem: Refusal) -> dict[str, Any]:
    """What is said of something that could not be done."""
    found: dict[str, Any] = {"message": problem.message}
    if isinstance(problem, wrapping.CannotLink):
        found["nearest"] = words_row(problem.nearest)
    return found


def refused(problem: Refusal) -> JsonResponse:
    """The same as an answer."""
    return JsonResponse(why(problem), status=problem.status)


def words_row(words: selection.Words | None) -> dict[str, Any] | None:
    """Words of a page, as its screen knows them."""
    if words is None:
        return None
    return {"start": asdict(words.start), "end": asdict(words.end), "text": words.text}
