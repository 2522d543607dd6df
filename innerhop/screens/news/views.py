"""What changed there: new texts of pages that were worked on here, and what will stand."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.db.models import QuerySet
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseBase
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from innerhop.core.merge.merging import BOTH, HERE, THERE, Meeting, Merged
from innerhop.core.merge.said import said
from innerhop.core.refusals import Refusal
from innerhop.library import doing
from innerhop.library.bring_in import news
from innerhop.library.models import BringIn, NewText, Page, Site
from innerhop.screens.access import editor_of, for_editors, sent
from innerhop.screens.acts import answers
from innerhop.screens.news import drawing, shown

_LISTED = 300  # pages with new texts
_BESIDE = 30  # pages without, of each kind
_DONE = 8  # things done on a page that are named
NAMES = {BOTH: "Both", THERE: "What is there", HERE: "What is here"}


@require_safe
@for_editors
def show(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """All pages of one bringing in, and the chosen one beside them."""
    bring_in = get_object_or_404(BringIn, site=site, pk=pk)
    rows = news.of(bring_in)
    if not rows:
        raise Http404
    if len(rows) > _LISTED:  # so that each of which something has to be said is listed in turn
        rows.sort(key=lambda row: not news.open_meetings(row))
    chosen = _chosen(request, rows)
    waiting = [row for row in rows if row.waits]
    longest = max(row.found.get("length", 1) for row in rows)
    context: dict[str, Any] = {
        "bring_in": bring_in,
        "rows": [_row(row, longest) for row in rows[:_LISTED]],
        "more": len(rows) - _LISTED,
        "width": drawing.WIDTH,
        "chosen": chosen,
        "desk": _desk(chosen) if chosen.change_id is None else None,
        "count": sum(row.choices.get(news.WHOLE) != HERE for row in waiting),
        "open": sum(bool(news.open_meetings(row)) for row in waiting),
        "is_left": any(row.left for row in rows if row.change_id is None),
        "change": next((row.change for row in rows if row.change_id), None),
        "any_page": rows[0].page,
        **_beside(site, bring_in, rows),
    }
    return render(request, "news/news.html", context)


def _chosen(request: HttpRequest, rows: list[NewText]) -> NewText:
    asked = request.GET.get("page", "")
    return next((row for row in rows if str(row.page_id) == asked), rows[0])


def _beside(site: Site, bring_in: BringIn, rows: list[NewText]) -> dict[str, Any]:
    """Pages that came in new, and pages here that did not come."""
    again = {row.page_id for row in rows}
    came = set(bring_in.pages.values_list("pk", flat=True))
    earlier = BringIn.objects.filter(site=site, pk__lt=bring_in.pk, pages__in=came)
    here = set(earlier.values_list("pages", flat=True))
    new = site.pages.filter(pk__in=came - again - here)
    gone = _gone(site, bring_in, came | again)
    moved = {one.page.pk: one.to for one in news.moved(list(gone[:_BESIDE]), list(new[:_BESIDE]))}
    return {
        "new": new[:_BESIDE],
        "new_more": max(0, new.count() - _BESIDE),
        "gone": [(page, moved.get(page.pk)) for page in gone[:_BESIDE]],
        "gone_more": max(0, gone.count() - _BESIDE),
        "same": len((came & here) - again),
    }


def _gone(site: Site, bring_in: BringIn, came: set[int]) -> QuerySet[Page]:
    """The pages that are not there any more: as it was seen, or as it seems."""
    if bring_in.gone is not None:
        return site.pages.filter(pk__in=bring_in.gone)
    # Who brings one page in says nothing of the others.
    is_whole = 2 * len(came) >= site.pages.count() > len(came) > 1
    return site.pages.exclude(pk__in=came) if is_whole else site.pages.none()


@dataclass(frozen=True)
class NewsRow:
    """A page in the list. meets: how many places are open or were, where both sides meet."""

    text: NewText
    strip: drawing.NewsStrip
    meets: int
    open: int

    @property
    def page(self) -> Page:
        """The page."""
        return self.text.page

    @property
    def fate(self) -> str:
        """What becomes of it, in a word for the script and the style."""
        whole = self.text.choices.get(news.WHOLE)
        if self.text.change_id:
            return "taken"
        if self.text.left or whole == HERE:
            return "stays"
        if whole == THERE:
            return "there"
        if self.open:
            return "open"
        if self.text.found["done"] == self.text.found["same"] > 0:
            return "same"
        return "both" if self.text.found["done"] else "plain"


def _row(row: NewText, longest: int) -> NewsRow:
    meetings = row.found["meetings"]
    return NewsRow(
        row, drawing.strip(row.found, longest), len(meetings), len(news.open_meetings(row))
    )


@dataclass(frozen=True)
class Option:
    """What may stand at a meeting. lost: the IDs that would be gone, each with how many hops of
    other pages lead to it."""

    value: str
    name: str
    markup: str
    lost: list[tuple[str, int]]
    is_chosen: bool

    @property
    def breaks(self) -> int:
        """How many hops would lead nowhere."""
        return sum(count for _, count in self.lost)


@dataclass(frozen=True)
class Met:
    """A meeting as the desk shows it. done: what was done here, in words."""

    meeting: Meeting
    place: str
    theirs: list[tuple[bool, str]]
    ours: list[tuple[bool, str]]
    base: str
    options: list[Option]
    done: list[str]


def _desk(row: NewText) -> dict[str, Any]:
    found = news.read([row])[0]
    merged = found.merged
    whole = row.choices.get(news.WHOLE, "")
    unlike = bool(row.found.get("unlike"))
    desk: dict[str, Any] = {"whole": whole, "lost": found.lost.sentences, "unlike": unlike,
                            "is_both": whole == BOTH or not (whole or unlike)}  # fmt: skip
    if merged is None:
        return {**desk, "unclear": True}
    done = [(said(one.deed, merged.base, merged.here), one.fate) for one in merged.carried
            if one.fate in ("kept", "same")]  # fmt: skip
    return {
        **desk,
        "met": [_met(one, merged, row, found) for one in merged.meetings],
        "done": done[:_DONE],
        "more_done": max(0, len(done) - _DONE),
    }


def _met(meeting: Meeting, merged: Merged, row: NewText, item: news.News) -> Met:
    chosen = row.choices.get(meeting.key) or meeting.proposal
    markup = {BOTH: meeting.both, THERE: meeting.theirs, HERE: meeting.ours}
    options = [
        Option(
            value, NAMES[value] if value != THERE or meeting.theirs else "Nothing, as there",
            shown.shortened(markup[value]),
            [(one, item.arriving[one]) for one in meeting.lost[value]], value == chosen,
        )
        for value in meeting.options
    ]  # fmt: skip
    return Met(
        meeting, shown.place(merged, meeting), shown.marked(meeting.base, meeting.theirs),
        shown.marked(meeting.base, meeting.ours), shown.shortened(meeting.base), options,
        [said(one.deed, merged.base, merged.here) for one in meeting.carried],
    )  # fmt: skip


@require_POST
@for_editors
def choose(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """Say what is to stand at a meeting, or of a page as a whole."""
    row = get_object_or_404(
        NewText.objects.select_related("page"), bring_in__site=site, bring_in=pk,
        page=_number(request.POST.get("page")), change=None, page__removed=None,
    )  # fmt: skip
    doing.require(editor_of(request), site, "take-in")
    back = f"{reverse('news', args=[site.slug, pk])}?page={row.page_id}"
    try:
        news.choose(row, request.POST.get("key", ""), request.POST.get("choice", ""))
    except Refusal as problem:
        return render(
            request, "news/stale.html", {"why": problem.message, "back": back}, status=409
        )
    return redirect(f"{back}#met")


def _number(text: str | None) -> int:
    return int(text) if text and text.isascii() and text.isdigit() and len(text) < _DIGITS else 0


_DIGITS = 18


@require_POST
@for_editors
def leave(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """Let all that waits stay out, or wait again."""
    bring_in = get_object_or_404(BringIn, site=site, pk=pk)
    doing.require(editor_of(request), site, "take-in")
    news.leave(bring_in, left=request.POST.get("left") == "yes")
    return redirect("news", site.slug, pk)


@require_POST
@for_editors
def act(request: HttpRequest, site: Site, pk: int, name: str) -> HttpResponseBase:
    """Take in what waits, as it was chosen; or let a page have the address at which its words
    came in. Answers line by line where that is long."""
    try:
        asked = {**sent(request), "bring_in": pk}
        planned = doing.planned(editor_of(request), name, site, asked)
        return answers.carry_out(request, name, site, asked, planned)
    except Refusal as problem:
        return answers.refused(problem)
