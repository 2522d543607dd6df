"""The copy sheet, on the screen, on paper, and as a file; and the list of moves."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse, HttpResponseBase, JsonResponse
from django.shortcuts import render
from django.views.decorators.http import require_POST, require_safe

from innerhop.core.copy_steps.step import ID
from innerhop.core.refusals import Refusal
from innerhop.library.changes import moves
from innerhop.library.hand_over import copy_sheet
from innerhop.library.models import Site
from innerhop.screens.access import for_hand_over, page_of, sent, told
from innerhop.screens.hand_over.downloads import csv_file, download

_GONE = "That step is not on the sheet any more. Load it again to see it as it is."


@require_safe
@for_hand_over
def show_copy_sheet(request: HttpRequest, site: Site) -> HttpResponse:
    """What to enter where, page by page."""
    sheets = copy_sheet.of_site(site)
    context = {
        "sheets": sheets,
        "left": sum(sheet.left for sheet in sheets),
        "has_ids": any(step.kind == ID for sheet in sheets for step in sheet.steps),
        "styles": copy_sheet.styles(site, sheets),
        "menus": copy_sheet.menus(site),
        "fields": copy_sheet.FIELDS.items(),
        "kinds": _KINDS,
    }
    return render(request, "hand_over/copy_sheet.html", context)


_KINDS = {
    "heading": "Make it a heading",
    "id": "Give it this ID",
    "marker": "Put in this marker",
    "link": "Link it to",
    "style": "Add this line",
    "no-id": "Remove its ID",
    "no-link": "Take the link off",
    "away": "Remove the whole part",
    "markup": "Change the markup",
    "new-item": "Put in",
    "item-words": "Reword",
    "item-end": "Lead elsewhere",
    "move-item": "Move",
    "no-item": "Remove",
}


@require_POST
@for_hand_over
def tick(request: HttpRequest, site: Site, pk: int) -> HttpResponseBase:
    """Tick a step off, or take that back."""
    page = page_of(site, pk)
    try:
        asked = sent(request)
        key, on = str(asked.get("key", "")), bool(asked.get("on"))
        sheet = copy_sheet.tick(page, key, on, request.user)  # type: ignore[arg-type]
    except Refusal as problem:
        return told(problem.message)
    except LookupError:
        return told(_GONE)
    return JsonResponse({"left": sheet.left})


@require_safe
@for_hand_over
def copy_sheet_file(request: HttpRequest, site: Site, kind: str) -> HttpResponse:
    """The copy sheet as CSV or JSON. The fields are those of copy_sheet.FIELDS."""
    if kind not in ("csv", "json"):
        raise Http404
    sheets = copy_sheet.of_site(site)
    rows = [*copy_sheet.rows(sheets), *copy_sheet.menu_rows(site)]
    name = f"{site.slug}-copy-sheet.{kind}"
    if kind == "csv":
        values = [[_cell(row[field]) for field in copy_sheet.FIELDS] for row in rows]
        return download(csv_file(list(copy_sheet.FIELDS), values), name, "text/csv; charset=utf-8")
    styles = copy_sheet.styles(site, sheets)
    lines = [line for css in (styles.room, *(one for _, one in styles.sheets))
             for line in css.splitlines()]  # fmt: skip
    whole = {"site": site.address, "styles": lines, "fields": copy_sheet.FIELDS, "steps": rows}
    response = JsonResponse(whole, json_dumps_params={"ensure_ascii": False, "indent": 2})
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@require_safe
@for_hand_over
def moves_file(request: HttpRequest, site: Site) -> HttpResponse:
    """The list of moves as CSV: old address, new address."""
    root = site.address.rstrip("/")
    rows = [[root + moved.old, moved.page.address] for moved in moves.of_site(site)]
    name = f"{site.slug}-moves.csv"
    return download(csv_file(["old", "new"], rows), name, "text/csv; charset=utf-8")


def _cell(value: Any) -> Any:
    return str(value).lower() if isinstance(value, bool) else value
