"""Live: whether what was planned is on the site itself, and in which order it goes there."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from innerhop.core.live.station import (
    DIFFERENTLY,
    NOT_YET,
    THERE,
    UNSEEN,
    UNTOLD,
    WAITS,
    LiveStation,
)
from innerhop.library import doing
from innerhop.library.bring_in import bring_ins
from innerhop.library.bring_in.bring_ins import NewFile
from innerhop.library.jobs import jobs
from innerhop.library.live import looking, mornings, telling
from innerhop.library.live.standing import PageStanding, SiteStanding
from innerhop.library.models import Job, Page, Seen, Site
from innerhop.library.steps import finished
from innerhop.screens.access import editor_of, for_editors, number_asked, page_of
from innerhop.screens.live import broken, drawing

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
class LiveRow:
    """A page in the list."""

    standing: PageStanding
    drawn: drawing.DrawnPage
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
    rows: list[LiveRow]


@require_safe
@for_editors
def show(request: HttpRequest, site: Site) -> HttpResponse:
    """All that was planned, page by page, and the chosen thing beside it."""
    return shown(request, site)


def shown(request: HttpRequest, site: Site, **more: Any) -> HttpResponse:
    """The screen. more: what is to be said on it beside."""
    standing = SiteStanding(site)
    page, stop = _chosen(request, standing)
    looks = list(site.looks.all()[:_LOOKS])
    failed = Job.objects.filter(site=site, kind=looking.KIND).first()
    context: dict[str, Any] = {
        "breaks": broken.breaks(site),
        "broke": broken.chosen(site, request.GET.get("broke", "")),
        "asked_look": _look(site, request.GET.get("look", "")),
        "has_pages": site.pages.exists(),
        "feed": request.build_absolute_uri(reverse("feed", args=[site.feed_key]))
        if site.feed_key
        else "",
        "failed": failed if failed and failed.state == Job.State.FAILED else None,
        "shows_mails": settings.DEMO,
        "next_morning": mornings.next_one(),
        "is_mailing": telling.mailing(editor_of(request), site),
        "rounds": _rounds(standing),
        "chosen_page": page,
        "chosen": stop,
        "states": IN_WORDS,
        "look": looks[0] if looks else None,
        "is_fresh": bool(looks) and timezone.now() - looks[0].made < timedelta(minutes=1),
        "went": drawing.went([one for one in looks if one.broken is not None]),
        "total": sum(len(one.stops) for one in standing.pages),
        "there": standing.count(THERE),
        "differently": standing.count(DIFFERENTLY),
        "not_yet": standing.count(NOT_YET),
        "waits": standing.count(WAITS),
        "unseen": Seen.objects.filter(page__site=site).exclude(why=""),
        "width": drawing.WIDTH,
        **more,
    }
    return render(request, "live/live.html", context)


def _look(site: Site, asked: str) -> dict[str, Any] | None:
    """A look by its primary key, with what it found new."""
    found = site.looks.filter(pk=number_asked(asked)).first()
    if found is None:
        return None
    broke, mended = telling.broke(found), telling.mended(found)
    return {"made": found.made, "broke": telling.lines(broke), "mended": telling.lines(mended)}


def _chosen(
    request: HttpRequest, standing: SiteStanding
) -> tuple[PageStanding | None, LiveStation | None]:
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

    def row(standing: PageStanding) -> LiveRow:
        names = dict.fromkeys(titles[stop.waits_for] for stop in standing.stops if stop.waits_for)
        return LiveRow(
            standing, drawing.drawn(standing, longest), ", ".join(f"“{name}”" for name in names)
        )

    found: list[Round] = []
    apart: list[LiveRow] = []
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


@require_POST
@for_editors
def look(request: HttpRequest, site: Site) -> HttpResponse:
    """Have a worker look at the site, or at one of its pages."""
    asked = number_asked(request.POST.get("page", ""))
    pages = [page_of(site, asked).pk] if asked else []
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
    piece = NewFile(page.address, bytes(seen.content), page.path, said=seen.label)
    found = finished(bring_ins.bring_in(site, editor, [piece], 1, replace=True, gone=[]))
    return redirect("brought", site.slug, found.pk)
