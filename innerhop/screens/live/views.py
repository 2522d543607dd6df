"""Live: whether what was planned is on the site itself, and in which order it goes there."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from innerhop.core.live.station import DIFFERENTLY, NOT_YET, THERE, UNSEEN, UNTOLD, WAITS, Station
from innerhop.library import doing
from innerhop.library.bring_in import bring_ins
from innerhop.library.bring_in.bring_ins import Piece
from innerhop.library.jobs import jobs
from innerhop.library.live import looking
from innerhop.library.live.standing import PageStanding, SiteStanding
from innerhop.library.models import Look, Page, Seen, Site
from innerhop.library.steps import finished
from innerhop.screens.access import editor_of, for_editors, page_of
from innerhop.screens.live import drawing

IN_WORDS = {
    THERE: "there as planned",
    DIFFERENTLY: "entered differently",
    NOT_YET: "not yet",
    WAITS: "waits for another page",
    UNTOLD: "can’t be told",
    UNSEEN: "not looked at",
}
_LOOKS = 30  # of which is drawn how it went


@dataclass(frozen=True)
class Row:
    """A page in the list."""

    standing: PageStanding
    drawn: drawing.Drawn
    names: str

    @property
    def page(self) -> Page:
        """The page."""
        return self.standing.page

    @property
    def there(self) -> int:
        """How many things are there as planned."""
        return self.standing.count(THERE)

    @property
    def rest(self) -> list[str]:
        """What of the others is to be said."""
        counts = [(self.standing.count(state), IN_WORDS[state]) for state in
                  (DIFFERENTLY, NOT_YET, UNSEEN, UNTOLD)]  # fmt: skip
        waits = self.standing.count(WAITS)
        found = [f"{count} {said}" for count, said in counts if count]
        verb = "waits" if waits == 1 else "wait"
        return [*found, f"{waits} {verb} for {self.names}"] if waits else found


@dataclass(frozen=True)
class Round:
    """Pages that go out at the same time."""

    title: str
    note: str
    rows: list[Row]


@require_safe
@for_editors
def show(request: HttpRequest, site: Site) -> HttpResponse:
    """All that was planned, page by page, and the chosen thing beside it."""
    standing = SiteStanding(site)
    page, stop = _chosen(request, standing)
    looks = list(site.looks.all()[:_LOOKS])
    context: dict[str, Any] = {
        "rounds": _rounds(standing),
        "chosen_page": page,
        "chosen": stop,
        "states": IN_WORDS,
        "look": looks[0] if looks else None,
        "is_fresh": bool(looks) and timezone.now() - looks[0].made < timedelta(minutes=1),
        "went": _went(looks),
        "total": sum(len(one.stops) for one in standing.pages),
        "there": standing.count(THERE),
        "differently": standing.count(DIFFERENTLY),
        "not_yet": standing.count(NOT_YET),
        "waits": standing.count(WAITS),
        "unseen": Seen.objects.filter(page__site=site).exclude(why=""),
        "width": drawing.WIDTH,
    }
    return render(request, "live/live.html", context)


def _chosen(
    request: HttpRequest, standing: SiteStanding
) -> tuple[PageStanding | None, Station | None]:
    asked, key = request.GET.get("page", ""), request.GET.get("step", "")
    page = next((one for one in standing.pages if str(one.page.pk) == asked), None)
    if page is None:
        return None, None
    return page, next((one for one in page.stops if one.step.key == key), None)


def _rounds(standing: SiteStanding) -> list[Round]:
    longest = max((one.length for one in standing.pages), default=1)
    stops = [stop for one in standing.pages for stop in one.stops]
    waited = {stop.waits_for for stop in stops if stop.waits_for}
    titles = dict(standing.site.pages.filter(pk__in=waited).values_list("pk", "title"))

    def row(one: PageStanding) -> Row:
        names = dict.fromkeys(titles[stop.waits_for] for stop in one.stops if stop.waits_for)
        return Row(one, drawing.drawn(one, longest), ", ".join(f"“{name}”" for name in names))

    found: list[Round] = []
    apart: list[Row] = []
    for groups in standing.rounds:
        leads, rest = [], []
        for group in groups:
            if len(group) > 1:
                found.append(Round("Together", _TOGETHER, [row(one) for one in group]))
            elif group[0].page.pk in waited:
                leads.append(row(group[0]))
            elif any(stop.waits_for for stop in group[0].stops):
                rest.append(row(group[0]))
            else:
                apart.append(row(group[0]))
        if leads:
            found.append(Round("Then" if found else "Publish first", "others lead here", leads))
        if rest:
            found.append(Round("Then", "they lead to marks that are not there yet", rest))
    if apart:
        found.append(Round("In any order", "no other page waits for these", apart))
    ready = [row(one) for one in standing.ready]
    return [*found, Round("There as planned", "", ready)] if ready else found


_TOGETHER = "each leads to a mark of another that is not there yet"


@dataclass(frozen=True)
class Went:
    """A look, in the drawing of how it went. count: of things that were not as planned. is_told:
    whether that is another number than at the look before."""

    x: float
    y: float
    count: int
    made: datetime
    is_told: bool


def _went(looks: Sequence[Look]) -> list[Went]:
    """How many things were not as planned, look by look."""
    counts = [one.differently + one.not_yet + one.waits for one in reversed(looks)]
    most = max(counts, default=0) or 1
    step = 880 / max(1, len(counts) - 1)
    return [
        Went(at * step, 60 - 46 * count / most, count, one.made, at == 0 or count != counts[at - 1])
        for at, (one, count) in enumerate(zip(reversed(looks), counts, strict=True))
    ]


@require_POST
@for_editors
def look(request: HttpRequest, site: Site) -> HttpResponse:
    """Have a worker look at the site, or at one of its pages."""
    asked = request.POST.get("page", "")
    pages = [page_of(site, int(asked)).pk] if asked.isascii() and asked.isdecimal() else []
    job = jobs.begin(site, editor_of(request), looking.KIND, {"pages": pages})
    return redirect("job", site.slug, job.pk)


@require_POST
@for_editors
def keep(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """Bring a page in as it is there, so that it can be kept so: what was done here is seen
    beside it first."""
    editor = editor_of(request)
    doing.require(editor, site, "bring-in")
    page = page_of(site, pk)
    seen = get_object_or_404(Seen.objects.exclude(content=b""), page=page)
    piece = Piece(page.address, bytes(seen.content), page.path, said=seen.label)
    found = finished(bring_ins.bring_in(site, editor, [piece], 1, replace=True, gone=[]))
    return redirect("brought", site.slug, found.pk)
