"""One act on a page: looked at first or done at once, and refused in one line.
Acts on many pages answer line by line with how far they have come."""

from __future__ import annotations

import json
from collections.abc import Iterator
from contextlib import closing
from dataclasses import asdict
from typing import Any

from django.core.serializers.json import DjangoJSONEncoder
from django.http import (
    HttpRequest,
    HttpResponseBase,
    JsonResponse,
    StreamingHttpResponse,
)
from django.utils.decorators import method_decorator
from django.views import View
from django.views.decorators.http import require_POST

from innerhop.core.addresses import address_forms, typed_addresses
from innerhop.core.addresses.urls import NotAnAddress
from innerhop.core.edits import Spot
from innerhop.core.planners import marking, selection, smooth_scrolling, wrapping
from innerhop.library.acts import base
from innerhop.library.changes import changes, locked_parts, moves
from innerhop.library.models import Page, Site
from innerhop.screens.access import Asked, for_editors, page_of, sent, told
from innerhop.screens.page.asked import Sent, require_revision
from innerhop.screens.page.state import page_state

MANY = 60  # pages: more than that is worth a progress bar

REFUSALS = (
    Asked,
    LookupError,
    TypeError,
    NotAnAddress,
    base.NoSuchEnd,
    changes.CannotUndo,
    changes.MovedOn,
    marking.CannotMark,
    locked_parts.Sealed,
    smooth_scrolling.CannotSmooth,
    typed_addresses.NotALink,
    moves.AddressTaken,
    wrapping.CannotLink,
    address_forms.CannotWrite,
)


@method_decorator([require_POST, for_editors], name="dispatch")
class ActView(View):
    """What can't be done is told in one line, and nothing changes."""

    def post(self, request: HttpRequest, site: Site, pk: int) -> HttpResponseBase:
        page = page_of(site, pk)
        try:
            return self.act(request, page, sent(request))
        except REFUSALS as problem:
            status, said = refusal(problem)
            return told(status=status, **said)

    def act(self, request: HttpRequest, page: Page, asked: Sent) -> HttpResponseBase:
        """Do it. Raises any of the refusals."""
        raise NotImplementedError

    def answer(
        self, request: HttpRequest, page: Page, asked: Sent, act: base.Act
    ) -> HttpResponseBase:
        """With `look`, only what would change; else do it, as it was looked at."""
        if asked.get("look"):
            return JsonResponse(looked(act))
        if asked.get("stamp", act.stamp) != act.stamp:
            raise changes.MovedOn(page, None)
        steps = changes.save_steps(
            page.site,
            request.user,  # type: ignore[arg-type]  # signed in, so an editor
            act.said,
            act.plans,
            act.move,
        )
        return self.follow(request, page, steps, act.said)

    def follow(
        self, request: HttpRequest, page: Page, steps: changes.Steps, said: str
    ) -> HttpResponseBase:
        """Go through the steps, in view of the editor where they are many."""
        first = next(steps, None)
        if first is None:  # nothing to write: a page moved that no link leads to
            return JsonResponse(done(request, page, said))
        if first.total <= MANY:
            changes.run(steps)
            return JsonResponse(done(request, page, said))
        lines = _lines(request, page, first, steps, said)
        response = StreamingHttpResponse(lines, content_type="application/x-ndjson")
        response["Cache-Control"] = "no-store"
        return response


class PlannedAct(ActView):
    """An act that is planned on the revision that the editor sees, shown when it is
    only looked at, and saved otherwise."""

    def act(self, request: HttpRequest, page: Page, asked: Sent) -> HttpResponseBase:
        require_revision(page, asked)
        return self.answer(request, page, asked, self.plan(page, asked))

    def plan(self, page: Page, asked: Sent) -> base.Act:
        """The act. Raises any of the refusals."""
        raise NotImplementedError


def done(request: HttpRequest, page: Page, said: str) -> dict[str, Any]:
    """What was done, and the page as it is now."""
    page.refresh_from_db()
    return {"said": said, "state": page_state(request, page)}


def _lines(
    request: HttpRequest,
    page: Page,
    first: changes.Progress,
    steps: changes.Steps,
    said: str,
) -> Iterator[str]:
    """One JSON object a line. When the browser goes away, closing this closes the
    steps, and their transaction is rolled back."""
    step = first
    with closing(steps):
        try:
            while True:
                yield json.dumps({"done": step.done, "total": step.total}) + "\n"
                step = next(steps)
        except StopIteration:
            yield json.dumps(done(request, page, said), cls=DjangoJSONEncoder) + "\n"
        except REFUSALS as problem:
            status, more = refusal(problem)
            yield json.dumps({"refused": status, **more}) + "\n"


def refusal(problem: Exception) -> tuple[int, dict[str, Any]]:
    """The status and what is said, for something that could not be done."""
    if isinstance(problem, changes.MovedOn):
        return 409, {"said": str(problem)}
    if isinstance(problem, wrapping.CannotLink):
        return 422, {"said": problem.reason, "nearest": words_row(problem.nearest)}
    if isinstance(problem, LookupError | TypeError):
        return 422, {"said": "The page has changed under this. Load it again; nothing was saved."}
    return 422, {"said": str(problem)}


def looked(act: base.Act) -> dict[str, Any]:
    """What an act would change, and what the editor should know of it."""
    return {
        "said": act.said,
        "href": act.href,
        "forms": [asdict(one) for one in act.forms],
        "notes": list(act.notes),
        "pages": len(act.plans),
        "stamp": act.stamp,
        "spots": [spot_row(*spot) for spot in act.spots()],
    }


def spot_row(page: Page, spot: Spot) -> dict[str, Any]:
    return {"page": page.title, "line": spot.line, "parts": spot.parts}


def words_row(words: selection.Words | None) -> dict[str, Any] | None:
    if words is None:
        return None
    points = {"start": words.start, "end": words.end}
    rows = {
        name: {"n": point.number, "child": point.child, "offset": point.offset}
        for name, point in points.items()
    }
    return {**rows, "text": words.text}
