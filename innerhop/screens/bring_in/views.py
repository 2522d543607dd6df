"""Bringing pages in, and the account of what came."""

from __future__ import annotations

import json
import logging
from collections.abc import Generator, Iterator, Sequence
from contextlib import closing

from django.conf import settings
from django.core.paginator import Paginator
from django.db.models import Count, F
from django.http import (
    Http404,
    HttpRequest,
    HttpResponse,
    HttpResponseBase,
    JsonResponse,
)
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import (
    require_GET,
    require_http_methods,
    require_POST,
    require_safe,
)

from innerhop.core.addresses.urls import read_path
from innerhop.core.refusals import Refusal
from innerhop.fetch.asked import LARGEST_FILE, LARGEST_PAGE, MEGABYTE, MOST_PAGES, USUAL_PAGES
from innerhop.library import doing
from innerhop.library.bring_in import bring_ins, many, packing, pasted
from innerhop.library.fetching import drawing, fetching
from innerhop.library.jobs import jobs, kinds
from innerhop.library.models import BringIn, Editor, Link, Mark, Page, Section, Site
from innerhop.library.steps import Followed, finished
from innerhop.screens.access import editor_of, for_editors, line_by_line, number_asked, told
from innerhop.screens.frame import faults

LIMITS = {
    "page": LARGEST_PAGE // MEGABYTE,
    "file": LARGEST_FILE // MEGABYTE,
    "total": packing.LARGEST_TOTAL // MEGABYTE,
    "files": packing.MOST_FILES,
}


@require_http_methods(["GET", "HEAD"])
@for_editors
def form(request: HttpRequest, site: Site) -> HttpResponse:
    """Where pages are dropped, chosen or pasted."""
    return render(request, "bring_in/form.html", _context(site))


def _context(site: Site) -> dict[str, object]:
    latest = BringIn.objects.filter(site=site).order_by("-pk")[:5]
    return {
        "limits": LIMITS,
        "latest": latest.annotate(count=Count("pages")),
        "usual_pages": USUAL_PAGES,
        "most_pages": MOST_PAGES,
        "practice_host": settings.PRACTICE_HOST,
    }


@require_POST
@for_editors
def send_files(request: HttpRequest, site: Site) -> HttpResponseBase:
    """Files and archives. Answers line by line with how far it has come."""
    files = request.FILES.getlist("files")
    if not files:
        return _told(request, site, "Choose at least one HTML file, or a ZIP, and send again.")
    named = [(file.name or "page.html", file) for file in files]
    try:
        upload = bring_ins.read_upload(named)  # type: ignore[arg-type]
    except Refusal as problem:
        return _told(request, site, problem.message)
    return _run(request, site, upload)


@require_POST
@for_editors
def send_markup(request: HttpRequest, site: Site) -> HttpResponseBase:
    """Pasted markup: a whole document, or the body of a post."""
    markup = request.POST.get("markup", "")
    if not markup.strip():
        return _told(request, site, "Paste the page's markup into the field first.")
    title = request.POST.get("title", "").replace("\0", "").strip()[:500]
    asked = request.POST.get("address", "").strip()
    named = asked or pasted.address_for(site, title or pasted.title_of(markup))
    try:
        address = read_path(named, site.address)
    except Refusal as problem:
        return _told(request, site, problem.message)
    # A form sends line ends as CR LF (URL Standard 5.1); what was pasted had LF.
    markup = markup.replace("\r\n", "\n")
    is_body, is_whole = request.POST.get("kind") == "body", pasted.is_whole(markup)
    piece = bring_ins.NewFile(
        name="the pasted markup",
        data=markup.replace("\0", "").encode("utf-8", "replace"),
        address=address,
        title=title,
        body_only=is_body and not is_whole,
    )
    notes = [_WHOLE] if is_body and is_whole else []
    notes += [] if asked else [f"Its address, {address}, was made of its title."]
    return _run(request, site, bring_ins.Upload(1, iter([piece]), [], 1), notes)


_WHOLE = "What was pasted begins as a whole document, so it came in as one, head and all."


@require_GET
@for_editors
def suggest_address(request: HttpRequest, site: Site) -> JsonResponse:
    """The address that a page with the title `title` would get."""
    title = request.GET.get("title", "").replace("\0", "")[:500]
    return JsonResponse({"address": pasted.address_for(site, title)})


Steps = Generator[bring_ins.PiecesDone, None, str]  # at the end, where to go on


def _run(
    request: HttpRequest, site: Site, upload: bring_ins.Upload, notes: Sequence[str] = ()
) -> HttpResponseBase:
    steps = _steps(site, editor_of(request), upload, request.POST.get("taken") == "replace", notes)
    if not _takes_lines(request):
        return _at_once(request, site, steps)
    return line_by_line(_lines(steps))


@require_POST
@for_editors
def fetch(request: HttpRequest, site: Site) -> HttpResponse:
    """A site, or a part of one, by its address: a job fetches it."""
    typed = request.POST.get("address", "").replace("\0", "").strip()[:_LONGEST_ADDRESS]
    most = request.POST.get("most", "").strip()
    try:
        number = number_asked(most)
        is_whole = request.POST.get("part") != "below"
        asked = fetching.read_asked(site, typed, number, is_whole=is_whole)
        job = jobs.begin(site, editor_of(request), fetching.KIND, asked)
    except Refusal as problem:
        return _told(request, site, problem.message)
    return redirect("job", site.slug, job.pk)


_LONGEST_ADDRESS = 2_000


@require_POST
@for_editors
def draw(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """Read the pages of a bringing in that only scripts draw as a browser draws them."""
    found = get_object_or_404(BringIn, site=site, pk=pk)
    if not found.drawn or not kinds.is_possible(drawing.KIND):
        raise Http404
    job = jobs.begin(site, editor_of(request), drawing.KIND, {"pages": found.drawn})
    return redirect("job", site.slug, job.pk)


@require_safe
@for_editors
def brought(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """On to where it is told what came in."""
    return redirect(_account(site, get_object_or_404(BringIn, site=site, pk=pk)))


def _steps(
    site: Site, editor: Editor, upload: bring_ins.Upload, replace: bool, notes: Sequence[str]
) -> Steps:
    """Bring in what was sent; by a job where it is very much."""
    if upload.pages > many.MANY:
        job = yield from many.staged(site, editor, upload, replace=replace, notes=notes)
        return reverse("job", args=[site.slug, job.pk])
    found = yield from bring_ins.bring_in(
        site, editor, upload.pieces, upload.total,
        replace=replace, left_out=upload.left_out, notes=notes,
    )  # fmt: skip
    return _account(site, found)


def _takes_lines(request: HttpRequest) -> bool:
    """Whether our script asked. Without scripts a browser wants a page."""
    return request.headers.get("Accept", "").startswith("application/json")


def _told(request: HttpRequest, site: Site, message: str) -> HttpResponse:
    """Why nothing came in; as a page, with what was typed."""
    if _takes_lines(request):
        return told(message)
    context = {**_context(site), "trouble": message, "typed": request.POST}
    return render(request, "bring_in/form.html", context, status=422)


def _at_once(request: HttpRequest, site: Site, steps: Steps) -> HttpResponse:
    """All steps, and then the account of what came in."""
    try:
        return redirect(finished(steps))
    except Refusal as problem:
        return _told(request, site, problem.message)


def _account(site: Site, bring_in: BringIn) -> str:
    """Where it is told what came in: first what waits for the editor's word."""
    name = "news" if bring_in.new_texts.exists() else "came-in"
    return reverse(name, args=[site.slug, bring_in.pk])


def _lines(steps: Steps) -> Iterator[str]:
    """One JSON object a line. When the browser goes away, so does the import:
    closing this closes the steps, and their transaction is rolled back."""
    followed = Followed(steps)
    with closing(steps):
        try:
            for step in followed:
                yield json.dumps({"done": step.done, "total": step.total}) + "\n"
            yield json.dumps({"url": followed.result}) + "\n"
        except Refusal as problem:
            yield json.dumps({"message": problem.message}) + "\n"
        except Exception as problem:
            # The answer has begun, so nobody else can say that something broke.
            _log.exception("bringing in broke")
            said = faults.told(problem).message
            yield json.dumps({"message": f"{said} Nothing was brought in."}) + "\n"


_log = logging.getLogger(__name__)
_NAMED = 5  # pages that something is said of
_LISTED = 100  # pages at a time: their addresses are fields of one form


@require_http_methods(["GET", "HEAD", "POST"])
@for_editors
def came_in(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """What came in, with each page's address to check and correct."""
    found = get_object_or_404(BringIn, site=site, pk=pk)
    rows = found.pages.select_related("site").order_by("path")
    part = Paginator(rows, _LISTED).get_page(request.GET.get("part"))
    pages = list(part.object_list)
    typed = {page.pk: request.POST.get(f"path-{page.pk}", page.path) for page in pages}
    problems = _corrected(request, pages, typed) if request.method == "POST" else {}
    if request.method == "POST" and not problems:
        return redirect(f"?part={part.next_page_number()}") if part.has_next() else redirect(site)
    counts = {model: _counts(model, pages) for model in (Section, Mark, Link)}
    shown = [
        {
            "page": page,
            "path": typed[page.pk],
            "problem": problems.get(page.pk, ""),
            "counts": [count.get(page.pk, 0) for count in counts.values()],
        }
        for page in pages
    ]
    totals = [model._default_manager.filter(page__in=rows).count() for model in counts]
    twice = Mark.objects.twice().filter(page__in=rows)
    context = {
        "bring_in": found,
        "rows": shown,
        "part": part,
        "totals": totals,
        "broken": Link.objects.broken().filter(page__in=rows).count(),
        "twice": twice.values("page", "value").distinct().count(),
        "twice_on": rows.filter(pk__in=twice.values("page"))[:_NAMED],
        "out_of_step": rows.filter(lists_off__gt=0)[:_NAMED],
        "unmarked": rows.filter(section_count__gt=F("marked_count")).count(),
        "from_paths": rows.exclude(file="").exists(),
        "problems": problems,
        "can_draw": bool(found.drawn) and kinds.is_possible(drawing.KIND),
        "gone": site.pages.filter(pk__in=found.gone or ()),
        "waits": found.new_texts.filter(change=None, left=False).count(),
    }
    return render(request, "bring_in/came_in.html", context, status=422 if problems else 200)


def _corrected(request: HttpRequest, pages: list[Page], typed: dict[int, str]) -> dict[int, str]:
    """Set right the addresses that were typed otherwise. What can't be, by page."""
    problems: dict[int, str] = {}
    for page in pages:
        try:
            if read_path(typed[page.pk], page.site.address) == page.path:
                continue
            doing.do(editor_of(request), "correct-address", page, {"path": typed[page.pk]})
        except Refusal as problem:
            problems[page.pk] = problem.message
    return problems


def _counts(model: type[Section | Mark | Link], pages: list[Page]) -> dict[int, int]:
    """How many rows of the index each page has; one kind at a time, since joined
    they would multiply."""
    counted = model._default_manager.filter(page__in=pages).values_list("page_id")
    return dict(counted.annotate(Count("pk")).order_by())
