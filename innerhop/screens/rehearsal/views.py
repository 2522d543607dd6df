"""The rehearsal: where each hop's reader ends up at three widths, worst first, measured and
walked in visitors' views by the editor's own browser."""

from __future__ import annotations

from collections import Counter
from typing import Any

from django.db.models import Count, F, OuterRef, Q
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST, require_safe

from innerhop.core import landings, widths
from innerhop.core.addresses import fragments
from innerhop.core.findings import traits
from innerhop.core.landings import Landing
from innerhop.core.refusals import Refusal
from innerhop.library import rehearsal
from innerhop.library.acts import page_acts
from innerhop.library.acts.forms import ActForm, WholeField
from innerhop.library.jobs import kinds
from innerhop.library.models import Layout, Link, Mark, Page, Revision, Section, Site, Trait, Walk
from innerhop.library.seek import hops
from innerhop.library.seek import landings as seek
from innerhop.library.seek.causes import by_cause, like
from innerhop.library.seek.guesses import Guess, Guesser
from innerhop.library.seek.landings import LandingRow
from innerhop.screens.access import editor_of, for_editors, for_members, number_asked, page_of, sent
from innerhop.screens.acts import answers
from innerhop.screens.page_state.state import sheet_url
from innerhop.visitor import passes
from innerhop.visitor.hosts import visitor_origin

WIDTHS = [one.width for one in widths.ALL]
MOST_ROWS = 300  # shown at once, worst first
MOST_HOPS = 6_000  # of a site that are looked at together, from the worst on
_GUESSED = 5
_CAUSES = 20  # of broken hops that a likely meaning is looked for
_SHEETS = 12  # style sheets that are offered
_AT_ONCE = 100  # pages that one screen measures in its background


@require_safe
@for_editors
def show(request: HttpRequest, site: Site) -> HttpResponse:
    """The screen, for one page or the whole site."""
    page = _page(request, site)
    context = {
        "state": _state(request, site, page), "page": page, "pages": site.pages.count(),
        "typed": _typed_width(request), "least": widths.LEAST, "most": widths.MOST,
        "can_measure": kinds.is_possible("measure"),
    }  # fmt: skip
    return render(request, "rehearsal/rehearsal.html", context)


@require_safe
@for_editors
def walker(request: HttpRequest, site: Site) -> HttpResponse:
    """The window that walks hops (see `visitor/walker`): it frames the site's pages, which
    have another origin and can't reach it."""
    pages = visitor_origin(request, site.visitor_host)
    pass_ = passes.to_enter(site.pk, editor_of(request).pk)
    enter = f"{pages}/-/enter?pass={pass_}&framed=1&to=/-/look"
    return render(request, "rehearsal/walker.html", {"pages": pages, "enter": enter})


@require_GET
@for_editors
def state(request: HttpRequest, site: Site) -> JsonResponse:
    """The same as it is now."""
    return JsonResponse(_state(request, site, _page(request, site)))


@require_GET
@for_editors
def unmeasured(request: HttpRequest, site: Site) -> JsonResponse:
    """The pages with marks that nobody has measured as they are now, or of those only the ones
    that a change touched, for a screen that does so; some of them where there are many."""
    lacking = site.pages.filter(marks__isnull=False).distinct().select_related("site")
    if change := _number(request, "change"):
        lacking = lacking.filter(pk__in=Revision.objects.filter(change=change).values("page"))
    seen = lacking.annotate(
        laid=Count(
            "layouts",
            filter=Q(layouts__revision=F("revision"), layouts__width__in=WIDTHS),
            distinct=True,
        )
    ).filter(laid__lt=len(WIDTHS))
    last = Revision.objects.filter(page=OuterRef("pk"), number=OuterRef("revision"))
    # What was made last is what somebody waits for.
    seen = seen.alias(made=last.values("change")[:1]).order_by(
        F("made").desc(nulls_last=True), "path"
    )
    pages: dict[int, Page] = {page.pk: page for page in seen[:_AT_ONCE]}
    return JsonResponse(
        {"pages": _lacking(request, pages, WIDTHS), "widths": [one._asdict() for one in widths.ALL]}
    )


@require_GET
@for_editors
def to_measure(request: HttpRequest, site: Site) -> JsonResponse:
    """What is needed to measure one page, whether anybody has or not."""
    page = page_of(site, _number(request, "page"))
    marks = page.marks.values_list("value", flat=True)
    return JsonResponse({
        "path": page.path, "revision": page.revision, "url": page.get_absolute_url(),
        "marks": list(dict.fromkeys(marks)),
    })  # fmt: skip


def _page(request: HttpRequest, site: Site) -> Page | None:
    asked = _number(request, "page")
    return page_of(site, asked) if asked else None


def _number(request: HttpRequest, name: str) -> int:
    return number_asked(request.GET.get(name, ""))


def _typed_width(request: HttpRequest) -> int | None:
    """The width that is looked at beside the three."""
    asked = _number(request, "width")
    return asked if widths.LEAST <= asked <= widths.MOST and asked not in WIDTHS else None


def _looked_at(request: HttpRequest) -> list[widths.Width]:
    typed = _typed_width(request)
    more = [widths.of(typed)] if typed else []
    return sorted([*widths.ALL, *more], key=lambda one: one.width)


def _state(request: HttpRequest, site: Site, page: Page | None) -> dict[str, Any]:
    first, verdict = _number(request, "from"), request.GET.get("verdict", "")
    part = 0 if page else first - first % MOST_HOPS
    found = hops.out_of(page) if page else hops.of_site(site, MOST_HOPS, part)
    total = len(found) if page else Link.objects.hops().filter(site=site).count()
    laid = seek.ends_laid(found)
    looked_at = _looked_at(request)
    wanted = [one.width for one in looked_at]
    rows = seek.in_order(seek.of_hops(found, wanted, laid))
    listed, count = rows, total
    if verdict in landings.VERDICTS:
        listed = [row for row in rows if verdict in {one.verdict for one in row.landings.values()}]
        count = part + len(listed)
    shown = listed[first - part :][:MOST_ROWS]
    sections, nths = _sections(shown), seek.nths(shown)
    counts = Counter(one.verdict for row in rows for one in row.landings.values())
    return {
        "page": page.pk if page else None,
        "rows": [
            {**_row(row, sections), "nth": nths[row.hop.link.page_id, row.hop.link.number]}
            for row in shown
        ],
        "hops": total,
        "isWalked": 0 < len(rows) == total
        and all(one in row.walks for row in rows for one in wanted),
        "more": max(0, count - first - len(shown)),
        "verdict": verdict,
        "unrun": len({pk for (pk, _), one in laid.items() if one.unrun}),
        "landings": sum(counts.values()),
        "counts": [
            {"verdict": one, "name": landings.NAMES[one], "count": counts[one]}
            for one in landings.VERDICTS
        ],
        "widths": [one._asdict() for one in looked_at],
        "measure": _to_measure(request, found, wanted),
        "mends": _mends(site, page, rows, laid),
        "walker": reverse("walker", args=[site.slug]),
    }


def _to_measure(
    request: HttpRequest, rows: list[hops.Hop], wanted: list[int]
) -> list[dict[str, Any]]:
    """The pages that hops lead to and that nobody has measured as they are now."""
    pages = {hop.page.pk: hop.page for hop in rows if hop.page is not None}
    return _lacking(request, pages, wanted)


def _lacking(
    request: HttpRequest, pages: dict[int, Page], wanted: list[int]
) -> list[dict[str, Any]]:
    """What is to be measured of these pages, some at once where they are many."""
    rows = Layout.objects.filter(page__in=pages).values_list("page", "width", "revision")
    known = {(page, width) for page, width, revision in rows if revision == pages[page].revision}
    lacking = {
        pk: left for pk in pages if (left := [one for one in wanted if (pk, one) not in known])
    }
    chosen = list(lacking)[:_AT_ONCE]
    marks: dict[int, dict[str, None]] = {pk: {} for pk in chosen}
    for pk, value in Mark.objects.filter(page__in=chosen).values_list("page", "value"):
        marks[pk][value] = None
    return [
        {
            "page": pk,
            "path": pages[pk].path,
            "revision": pages[pk].revision,
            "url": pages[pk].get_absolute_url(),
            "widths": lacking[pk],
            "sheet": sheet_url(request, pages[pk]),
            "marks": list(marks[pk]),
        }
        for pk in chosen
    ]


def _sections(rows: list[LandingRow]) -> dict[int, list[tuple[int, str]]]:
    pages = {row.hop.link.page_id for row in rows}
    found: dict[int, list[tuple[int, str]]] = {}
    sections = Section.objects.filter(page__in=pages).order_by("page", "number")
    for page, number, title in sections.values_list("page", "number", "title"):
        found.setdefault(page, []).append((number, title))
    return found


# Where a hop starts that stands outside a page's own content, by its region.
_FRAME = {
    "nav": "a navigation of the site", "header": "the site’s header",
    "footer": "the site’s footer", "aside": "what stands beside the text",
}  # fmt: skip


def _row(row: LandingRow, sections: dict[int, list[tuple[int, str]]]) -> dict[str, Any]:
    link = row.hop.link
    above = [title for number, title in sections.get(link.page_id, []) if number < link.number]
    where = f"“{above[-1]}”" if above and not link.region else ""
    if link.region:
        where = "the menu" if row.hop.kind == hops.MENU else _FRAME[link.region]
    return {
        "key": f"{link.page_id}-{link.number}",
        "page": link.page_id,
        "pageTitle": link.page.title,
        "path": link.page.path,
        "revision": link.page.revision,
        "number": link.number,
        "id": seek.id_of(row.hop) if row.hop.page else "",
        "endPage": row.hop.page.pk if row.hop.page else None,
        "text": link.text or "a picture or nothing",
        "href": link.href,
        "kind": row.hop.kind,
        "where": where,
        "frame": link.region,
        "url": f"{link.page.get_absolute_url()}#hop-{link.number}",
        "walkUrl": f"{link.page.get_absolute_url()}walked/",
        "worst": row.worst,
        "landings": {width: _landing(one) for width, one in row.landings.items()},
        "walks": {width: _walk(one) for width, one in row.walks.items()},
    }


def _landing(landed: Landing) -> dict[str, Any]:
    return {**landed._asdict(), "says": landings.says(landed)}


def _walk(walk: Walk) -> dict[str, Any]:
    return {"agrees": walk.agrees, "trouble": walk.trouble, "made": walk.made.isoformat()}


def _mends(
    site: Site, page: Page | None, rows: list[LandingRow], laid: seek.Layouts
) -> dict[str, Any]:
    """What mends most: room under the header, and what broken hops likely mean."""
    effect = seek.with_room([row.hop for row in rows], WIDTHS, site.air, laid)
    carrier = page or site.pages.select_related("site").order_by("path").first()
    room = None
    if effect.clear and carrier is not None:
        room = {
            "headers": [effect.headers[width] for width in WIDTHS],
            "clear": effect.clear, "worse": effect.worse,
            "url": f"{carrier.get_absolute_url()}act/room/", "revision": carrier.revision,
            "undo": f"{carrier.get_absolute_url()}undo/", "all": page is None,
            "sheets": list(page_acts.style_sheets_of(site).values("pk", "path")[:_SHEETS]),
        }  # fmt: skip
    return {
        "room": room,
        "meant": _meant(site, rows),
        "markers": _markers(rows, laid),
        "spacers": _spacers(rows),
    }


def _meant(site: Site, rows: list[LandingRow]) -> list[dict[str, Any]]:
    """What broken hops likely mean, one row a cause, those first that mend most here. count:
    of such hops on the whole site, since all are mended at once."""
    guesser = Guesser(site)
    broken = (row.hop for row in rows if row.hop.kind == hops.BROKEN)
    causes = sorted(by_cause(broken, MOST_HOPS), key=lambda one: -one.count)
    guesser.look_ahead([cause.hop for cause in causes[:_CAUSES]])
    found: list[dict[str, Any]] = []
    for cause in causes[:_CAUSES]:
        if len(found) == _GUESSED:
            break
        guess = guesser.likeliest(cause.hop)
        if guess is not None:
            found.append(_mend(guess, cause.hop))
    return found


def _mend(guess: Guess, hop: hops.Hop) -> dict[str, Any]:
    """What was likely meant by hops of one cause, with the act that lets them arrive."""
    link, count = hop.link, like(hop.link).count()
    act, page = "mend", link.page
    asked: dict[str, Any] = {
        "number": link.number, "end": {"page": guess.page.pk, "id": guess.id}, "all": True
    }  # fmt: skip
    verb = "Lead all of them there" if count > 1 else "Lead it there"
    if guess.marks is not None:
        act, page, verb = "mark", guess.page, "Give the section that ID"
        asked = {"marks": [{"number": guess.marks, "id": guess.id}]}
    elif guess.mends_id:
        mark = guess.page.marks.filter(value=guess.id).order_by("number").first()
        act, page, verb = "rename", guess.page, "Mend the ID"
        asked = {"number": mark.number if mark else None, "id": fragments.id_of(link.fragment)}
    return {
        "href": link.href, "number": link.number, "why": guess.why, "count": count,
        "path": guess.page.path, "id": guess.id, "verb": verb,
        "url": reverse("act", args=[page.site.slug, page.pk, act]),
        "undo": reverse("undo", args=[page.site.slug, page.pk]),
        "sent": {**asked, "revision": page.revision},
    }  # fmt: skip


def _spacers(rows: list[LandingRow]) -> list[dict[str, Any]]:
    """Empty paragraphs above what readers arrive at with empty space above it."""
    low = {
        row.hop.page.pk: row.hop.page
        for row in rows
        if row.hop.page and any(one.verdict == landings.GAP for one in row.landings.values())
    }
    pages = list(low.values())[:_GUESSED]
    counts: Counter[int] = Counter()
    rows_of = Trait.objects.filter(page__in=pages, kind=traits.SPACER)
    for pk, told in rows_of.values_list("page_id", "told"):
        counts[pk] += traits.spacer(told).lines
    return [
        {
            "title": page.title, "count": counts[page.pk], "revision": page.revision,
            "url": f"{page.get_absolute_url()}act/take-out-spacers/",
            "undo": f"{page.get_absolute_url()}undo/",
        }
        for page in pages if counts[page.pk]
    ]  # fmt: skip


_MOVES = {
    landings.CUT: ("move-up", "stands below its heading", "Move it up to the heading"),
    landings.GAP: ("move-down", "stands above empty space", "Move it down to what they see first"),
}


def _markers(rows: list[LandingRow], laid: seek.Layouts) -> list[dict[str, Any]]:
    """Marks below their heading, or far above what readers come for, each with the place
    that it can go to and what that does."""
    off: dict[tuple[int, str], tuple[Page, str]] = {}
    for row in rows:
        for one in row.landings.values():
            if row.hop.page and one.verdict in _MOVES:
                off.setdefault((row.hop.page.pk, seek.id_of(row.hop)), (row.hop.page, one.verdict))
    found = []
    for (_, id_), (page, verdict) in list(off.items())[:_GUESSED]:
        act, where, verb = _MOVES[verdict]
        mark = Mark.objects.with_value(page.site_id, id_).filter(page=page).first()
        effect = seek.with_mark_moved([row.hop for row in rows], WIDTHS, laid, (page, id_))
        if mark is None or not effect.clear:
            continue
        found.append({
            "id": id_, "where": where, "verb": verb, "title": page.title, "number": mark.number,
            "clear": effect.clear, "worse": effect.worse,
            "url": f"{page.get_absolute_url()}act/{act}/", "revision": page.revision,
            "undo": f"{page.get_absolute_url()}undo/",
        })  # fmt: skip
    return found


class LaidOutForm(ActForm):
    """How a browser says that a page lies at one width."""

    revision = WholeField()
    width = WholeField()


@require_POST
@for_members
def layout(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """Keep how a page lies."""
    page = page_of(site, pk)
    try:
        asked = sent(request)
        read = LaidOutForm(asked, page).read()
        rehearsal.keep_layout(page, read["revision"], read["width"], asked)
    except Refusal as problem:
        return answers.refused(problem)
    return JsonResponse({})


class WalkedForm(LaidOutForm):
    """What a browser says of a hop that was walked."""

    number = WholeField()


@require_POST
@for_members
def walked(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """Keep what became of a hop's reader; the answer says whether it is as computed."""
    page = page_of(site, pk)
    try:
        asked = sent(request)
        read = WalkedForm(asked, page).read()
        found = asked.get("found")
        told = found if isinstance(found, dict) else {}
        one = rehearsal.keep_walk(page, read["revision"], read["number"], read["width"], told)
    except Refusal as problem:
        return answers.refused(problem)
    return JsonResponse(_walk(one))
