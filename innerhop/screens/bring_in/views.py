"""Bringing pages in, and the account of what came."""

from __future__ import annotations

import json
from collections.abc import Generator, Iterator
from contextlib import closing

from django.db.models import Count
from django.http import HttpRequest, HttpResponse, HttpResponseBase, StreamingHttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_http_methods, require_POST

from innerhop.core.addresses.urls import NotAnAddress, read_path
from innerhop.library import sites
from innerhop.library.bring_in import bring_ins, packing
from innerhop.library.changes import moves
from innerhop.library.models import Arrival, Link, Mark, Page, Section, Site
from innerhop.screens.access import for_editors, told

_MEGABYTE = packing.MEGABYTE
LIMITS = {
    "page": bring_ins.LARGEST_PAGE // _MEGABYTE,
    "file": packing.LARGEST_FILE // _MEGABYTE,
    "total": packing.LARGEST_TOTAL // _MEGABYTE,
    "files": packing.MOST_FILES,
}


@require_http_methods(["GET", "HEAD"])
@for_editors
def form(request: HttpRequest, site: Site) -> HttpResponse:
    """Where pages are dropped, chosen or pasted."""
    latest = Arrival.objects.filter(site=site).order_by("-pk")[:5]
    context = {"limits": LIMITS, "latest": latest.annotate(count=Count("pages"))}
    return render(request, "bring_in/form.html", context)


@require_POST
@for_editors
def send_files(request: HttpRequest, site: Site) -> HttpResponseBase:
    """Files and archives. Answers line by line with how far it has come."""
    files = request.FILES.getlist("files")
    if not files:
        return told("Choose at least one HTML file, or a ZIP, and send again.")
    named = [(file.name or "page.html", file) for file in files]
    try:
        total, pieces = bring_ins.pieces_of_upload(named)  # type: ignore[arg-type]
    except packing.Refused as problem:
        return told(str(problem))
    return _run(request, site, pieces, total)


@require_POST
@for_editors
def send_markup(request: HttpRequest, site: Site) -> HttpResponseBase:
    """Pasted markup: a whole document, or the body of a post."""
    markup = request.POST.get("markup", "")
    if not markup.strip():
        return told("Paste the page's markup into the field first.")
    try:
        address = read_path(request.POST.get("address", ""), site.address)
    except NotAnAddress as problem:
        return told(str(problem))
    # A form sends line ends as CR LF (URL Standard 5.1); what was pasted had LF.
    markup = markup.replace("\r\n", "\n")
    piece = bring_ins.Piece(
        name="the pasted markup",
        data=markup.encode("utf-8", "replace"),
        address=address,
        title=request.POST.get("title", "").strip()[:500],
        body_only=request.POST.get("kind") == "body",
    )
    return _run(request, site, iter([piece]), 1)


def _run(
    request: HttpRequest, site: Site, pieces: Iterator[bring_ins.Piece], total: int
) -> HttpResponseBase:
    replace = request.POST.get("taken") == "replace"
    steps = bring_ins.bring_in(site, request.user, pieces, total, replace)  # type: ignore[arg-type]
    lines = _lines(site, steps)
    response = StreamingHttpResponse(lines, content_type="application/x-ndjson")
    response["Cache-Control"] = "no-store"
    return response


def _lines(site: Site, steps: Generator[bring_ins.Progress, None, Arrival]) -> Iterator[str]:
    """One JSON object a line. When the browser goes away, so does the import:
    closing this closes the steps, and their transaction is rolled back."""
    with closing(steps):
        try:
            while True:
                step = next(steps)
                yield json.dumps({"done": step.done, "total": step.total}) + "\n"
        except StopIteration as end:
            yield json.dumps({"url": reverse("arrival", args=[site.slug, end.value.pk])}) + "\n"
        except packing.Refused as problem:
            yield json.dumps({"said": str(problem)}) + "\n"


@require_http_methods(["GET", "HEAD", "POST"])
@for_editors
def arrival(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """What came in, with each page's address to check and correct."""
    found = get_object_or_404(Arrival, site=site, pk=pk)
    pages = list(found.pages.select_related("site"))
    problems: dict[int, str] = {}
    if request.method == "POST":
        for page in pages:
            try:
                sites.set_path(page, request.POST.get(f"path-{page.pk}", page.path))
            except (NotAnAddress, moves.AddressTaken) as problem:
                problems[page.pk] = str(problem)
        if not problems:
            return redirect(site)
    counts = [_counts(model, pages) for model in (Section, Mark, Link)]
    rows = [
        {
            "page": page,
            "path": request.POST.get(f"path-{page.pk}", page.path),
            "problem": problems.get(page.pk, ""),
            "counts": [count.get(page.pk, 0) for count in counts],
        }
        for page in pages
    ]
    totals = [sum(count.values()) for count in counts]
    context = {"arrival": found, "rows": rows, "totals": totals, "problems": problems}
    return render(request, "bring_in/arrival.html", context, status=422 if problems else 200)


def _counts(model: type[Section | Mark | Link], pages: list[Page]) -> dict[int, int]:
    """How many rows of the index each page has; one kind at a time, since joined
    they would multiply."""
    counted = model._default_manager.filter(page__in=pages).values_list("page_id")
    return dict(counted.annotate(Count("pk")).order_by())
