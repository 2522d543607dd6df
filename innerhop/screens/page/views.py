"""The page screen: one page with its ruler, its sheet and the desk. The acts on it are
in `screens.acts`."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse, HttpResponseRedirect, JsonResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET, require_POST, require_safe

from innerhop.core import widths
from innerhop.core.refusals import Refusal
from innerhop.library.acts.forms import ActForm, NumbersField, WholeField, YesField
from innerhop.library.changes import found_again
from innerhop.library.models import Editor, Finding, Measure, Page, Site
from innerhop.library.people import presence
from innerhop.screens.access import (
    NotReadable,
    editor_of,
    for_editors,
    for_members,
    number_asked,
    page_of,
    sent,
    snapshot,
)
from innerhop.screens.acts import answers
from innerhop.screens.acts.views import urls_of
from innerhop.screens.page_state.state import hop_rows, page_state, visit_url

_TALLEST = 10_000_000  # px, of a page
_TALLEST_HEADER = 10_000


@require_safe
@for_editors
def page_screen(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """The screen itself."""
    page = page_of(site, pk)
    context = {
        "page": page, "state": page_state(request, page), "urls": urls_of(page),
        "finding": _finding(request, page),
        "kept": [one.called for one in Editor.objects.filter(pk__in=page.kept_for)],
    }  # fmt: skip
    return render(request, "page/page.html", context)


def _finding(request: HttpRequest, page: Page) -> Finding | None:
    """The finding from whose pin somebody came."""
    return page.findings.filter(pk=number_asked(request.GET.get("finding", ""))).first()


class BehindForm(ActForm):
    """What a screen that has fallen behind shows: a revision, and the elements of it that
    something is being done with."""

    revision = WholeField()
    numbers = NumbersField(required=False)


@require_POST
@for_members
def catch_up(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """The page as it is now, and the numbers that its elements have in it, by those before."""
    with snapshot():
        page = page_of(site, pk)
        try:
            read = BehindForm(sent(request), page).read()
        except Refusal as problem:
            return answers.refused(problem)
        now = found_again.numbers_now(page, read["revision"], read["numbers"] or ())
        return JsonResponse({"state": page_state(request, page), "now": now})


class HereNowForm(ActForm):
    """Which revision somebody sees, and at which section they are."""

    revision = WholeField()
    number = WholeField(required=False)


@require_POST
@for_members
def here(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """Somebody has the page open: who else has, and what became of it meanwhile."""
    page, editor = page_of(site, pk), editor_of(request)
    try:
        read = HereNowForm(sent(request), page).read()
    except Refusal as problem:
        return answers.refused(problem)
    at = page.sections.filter(number=read["number"]).first() if read["number"] is not None else None
    others = presence.say_here(page, editor, at.title if at else "")
    told = [{"name": one.editor.called, "where": one.where} for one in others]
    news = presence.news_since(page, read["revision"], editor)
    return JsonResponse({"others": told, "news": news})


@require_GET
@for_editors
def more_hops(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """The hops of a page of thousands that its state left out."""
    return JsonResponse(hop_rows(page_of(site, pk), whole=True))


@require_safe
@for_editors
def visit(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """On to the page as a visitor gets it, at a place on it if one is named."""
    return HttpResponseRedirect(visit_url(request, page_of(site, pk), request.GET.get("to", "")))


class MeasuredForm(ActForm):
    """What a browser measured of a page at one width."""

    width = WholeField()
    height = WholeField()
    header = WholeField()
    padding = WholeField()
    smooth = YesField()


@require_POST
@for_members
def measure(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """Keep how tall the page is at one width, for the rulers of Pages."""
    page = page_of(site, pk)
    try:
        asked = sent(request)
        _keep_measure(page, MeasuredForm(asked, page).read(), asked.get("tops"))
    except Refusal as problem:
        return answers.refused(problem)
    return JsonResponse({})


def _keep_measure(page: Page, read: dict[str, Any], tops: Any) -> None:
    if read["width"] not in {one.width for one in widths.ALL} or not isinstance(tops, dict):
        raise NotReadable("That is none of the three widths.")
    numbers = {str(number) for number in page.sections.values_list("number", flat=True)}
    kept = {
        key: min(max(0, int(top)), _TALLEST)
        for key, top in tops.items()
        if key in numbers and isinstance(top, int | float) and abs(top) < 1e9
    }
    Measure.objects.update_or_create(
        page=page,
        width=read["width"],
        defaults={
            "revision": page.revision,
            "height": min(read["height"], _TALLEST),
            "tops": kept,
            "header": min(read["header"], _TALLEST_HEADER),
            "padding": min(read["padding"], _TALLEST_HEADER),
            "smooth": read["smooth"],
        },
    )
