"""The findings of a site: grouped by what is one thing to mend, pinned to the pages' strips,
mended and set aside from here; and a page of help for each rule."""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any
from urllib.parse import urlencode

from django.core.paginator import Paginator
from django.db.models import Count, QuerySet
from django.http import (
    Http404,
    HttpRequest,
    HttpResponse,
    HttpResponseBase,
    JsonResponse,
)
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST, require_safe

from innerhop.check import formats
from innerhop.core.counting import counted
from innerhop.core.findings.found import BETTER, LEVELS, MISLED, NOTE, STUCK, Rule
from innerhop.core.findings.look import MOST
from innerhop.core.findings.table import RULES
from innerhop.core.refusals import Refusal
from innerhop.core.widths import LAPTOP
from innerhop.library import doing, taste
from innerhop.library.acts.forms import ActForm, TypedField, YesField
from innerhop.library.hand_over import findings_report
from innerhop.library.index.texts import currents
from innerhop.library.models import Finding, Page, Site
from innerhop.library.seek import findings as seek
from innerhop.library.seek import offers as seek_offers
from innerhop.library.seek.findings import FindingGroup
from innerhop.library.seek.page_heights import PageHeight, heights
from innerhop.library.seek.page_names import called
from innerhop.screens.access import (
    editor_of,
    for_editors,
    line_by_line,
    number_asked,
    page_of,
    sent,
)
from innerhop.screens.acts import answers
from innerhop.screens.acts import offers as acts_offers
from innerhop.screens.findings import drawing
from innerhop.screens.findings.drawing import FindingStrip
from innerhop.screens.hand_over.downloads import csv_file, download

GROUPS = 20  # at a time
PLACES = 50
ASIDE = 100
_READ_AT_ONCE = 24  # pages whose words are looked through at a time
_STRIPS = 2  # pages of a group that are drawn
_PINS = 60
IN_WORDS = {
    STUCK: "Readers get stuck", MISLED: "Readers are misled", BETTER: "Could be better",
    NOTE: "For information",
}  # fmt: skip
_ALL = (STUCK, MISLED, BETTER)
# The files that the list can be taken as: what it is called, its ending and media type.
FILES = {
    "csv": ("CSV", "csv", "text/csv; charset=utf-8"),
    "json": ("JSON", "json", "application/json"),
    "sarif": ("SARIF", "sarif", "application/sarif+json"),
    "junit": ("JUnit XML", "xml", "application/xml"),
}


@dataclass(frozen=True)
class FindingRow:
    """A group as it is shown. more: pages beside those drawn. label: what its button says."""

    group: FindingGroup
    strips: list[FindingStrip]
    id: str

    @property
    def more(self) -> int:
        return self.group.pages - len(self.strips)

    @property
    def page(self) -> Page:
        """The page through which the group is mended."""
        return self.group.first.page

    @property
    def label(self) -> str:
        """What the button says that mends all of it."""
        fix = self.group.rule.fix
        return fix.many if fix and fix.many and self.group.count > 1 else self.group.fix

    @property
    def places(self) -> str:
        """How many places on how many pages, in words."""
        count, pages = self.group.count, self.group.pages
        if count == 1:
            return "1 place"
        if count >= MOST:  # of one page no more are kept
            return f"{count:,} places or more, {counted(pages, 'page')}"
        return f"{count} places" if pages == 1 else f"{count} places, {pages} pages"


@require_safe
@for_editors
def show(request: HttpRequest, site: Site) -> HttpResponse:
    """The list, of one level or all, of the whole site or one page."""
    page = _page(request, site)
    rows = _of(site, page)
    level = request.GET.get("level", "")
    levels = (level,) if level in LEVELS else _ALL
    counts = seek.by_level(rows)
    part = _number(request, "part")
    seen = rows.filter(pk=_number(request, "see")).first()
    if seen is not None and "part" not in request.GET:
        part = seek.place_of(rows, levels, seen) // GROUPS
    found = seek.groups(rows, levels, part * GROUPS, GROUPS)
    also = urlencode({"level": level, **({"page": page.pk} if page else {})})
    context = {
        "rows": _rows(site, found.shown, page),
        "seen": seen,
        "count": sum(counts[one] for one in _ALL),
        "levels": [(one, IN_WORDS[one], counts[one]) for one in LEVELS],
        "level": level if level in LEVELS else "",
        "page": page,
        "pages": site.pages.count(),
        "aside": site.set_aside.count(),
        "also": also,
        "before": part - 1 if part else None,
        "next": part + 1 if (part + 1) * GROUPS < found.total else None,
        "first": part * GROUPS + 1,
        "last": part * GROUPS + len(found.shown),
        "total": found.total,
        "tastes": [(one, one.name in site.rules_asked) for one in taste.CHOICES],
        "width": drawing.WIDTH,
        "files": [(kind, label) for kind, (label, _, _) in FILES.items()],
    }
    return render(request, "findings/findings.html", context)


def _number(request: HttpRequest, name: str) -> int:
    return number_asked(request.GET.get(name, ""))


def _page(request: HttpRequest, site: Site) -> Page | None:
    asked = _number(request, "page")
    return page_of(site, asked) if asked else None


def _of(site: Site, page: Page | None) -> QuerySet[Finding]:
    rows = seek.open_on(site)
    return rows.filter(page=page) if page else rows


def _rows(site: Site, groups: Sequence[FindingGroup], page: Page | None) -> list[FindingRow]:
    """The groups with the strips of their first pages."""
    chosen: list[tuple[FindingGroup, list[list[Finding]]]] = []
    drawn: set[int] = set()
    for group in groups:
        rows = _of(site, page).filter(rule=group.rule.name, cause=group.cause)
        keys = list(rows.order_by("page").values_list("page", flat=True).distinct()[:_STRIPS])
        pinned = [list(rows.filter(page=key).order_by("number")[:_PINS]) for key in keys]
        drawn.update(keys)
        chosen.append((group, pinned))
    pages = Page.objects.select_related("site").in_bulk(drawn)
    long: dict[int, PageHeight] = heights(pages.values(), LAPTOP.width, places=True)
    scale, names = drawing.scale_of(long.values()), called(pages.values())
    return [
        FindingRow(
            group,
            [drawing.strip(pages[key], names[key], long[key], some, scale)
             for some in pinned if some for key in (some[0].page_id,)],
            f"g-{group.rule.name}-{group.first.pk}",
        )
        for group, pinned in chosen
    ]  # fmt: skip


@require_GET
@for_editors
def places(request: HttpRequest, site: Site) -> JsonResponse:
    """The places of one group, some at a time."""
    rule = RULES.get(request.GET.get("rule", ""))
    if rule is None:
        raise Http404
    cause = request.GET.get("cause", "").replace("\0", "")
    rows = _of(site, _page(request, site)).filter(rule=rule.name, cause=cause)
    first = _number(request, "from")
    part = list(
        rows.select_related("page__site").order_by("page", "number")[first : first + PLACES]
    )
    titles = seek.titles_of(part)
    return JsonResponse(
        {
            "places": [_place(rule, one, titles) for one in part],
            "more": max(0, rows.count() - first - len(part)),
        }
    )


def _place(rule: Rule, finding: Finding, titles: dict[int, str]) -> dict[str, Any]:
    return {
        "key": finding.pk,
        "known": f"{finding.page_id} {finding.key}",  # on any list of them, as long as it is there
        "words": finding.words,
        "why": seek.said(rule.why, finding, titles),
        "page": finding.page.title,
        "path": finding.page.path,
        "url": drawing.place_url(finding.page, finding),
        "fix": seek.fix_of(rule, finding, titles),
    }


@require_GET
@for_editors
def offers(request: HttpRequest, site: Site) -> JsonResponse:
    """Words that could be hops, on some pages at a time: from the one `after` another, or
    on one alone."""
    alone = _page(request, site)
    rows = site.pages.select_related("site").order_by("pk")
    wanted = rows.filter(pk=alone.pk) if alone else rows.filter(pk__gt=_number(request, "after"))
    pages = list(wanted[:_READ_AT_ONCE])
    seeking, names = seek_offers.Seeking(site), called(pages)
    return JsonResponse(
        {
            "pages": [
                {
                    "page": page.pk, "title": names[page.pk], "path": page.path,
                    "revision": page.revision, "url": page.get_absolute_url(),
                    "offers": acts_offers.told(seeking.offers(text)),
                }
                for page, text in zip(pages, currents(pages), strict=True)
            ],
            "next": pages[-1].pk if len(pages) == _READ_AT_ONCE and not alone else None,
            "total": rows.count(),
        }
    )  # fmt: skip


@require_POST
@for_editors
def put_aside(request: HttpRequest, site: Site) -> HttpResponseBase:
    """Set findings aside."""
    return _done(request, site, "set-aside")


def _done(request: HttpRequest, site: Site, kind: str) -> HttpResponseBase:
    try:
        change = doing.do(editor_of(request), kind, site, sent(request))
    except Refusal as problem:
        return answers.refused(problem)
    return JsonResponse({"message": change.message, "change": change.pk})


class TasteForm(ActForm):
    """A rule that is a matter of taste, and whether it is to be looked for."""

    rule = TypedField(max_length=40)
    on = YesField()


@require_POST
@for_editors
def ask_for(request: HttpRequest, site: Site) -> HttpResponseBase:
    """Have a rule looked for on the site, or no more; page after page, so that it is seen how
    far that has come."""
    try:
        read = TasteForm(sent(request), Page(site=site)).read()
        steps = taste.ask_for(site, read["rule"], read["on"])
    except Refusal as problem:
        return answers.refused(problem)
    called = RULES[read["rule"]].called
    message = f"“{called}” is looked for now" if read["on"] else f"“{called}” is left alone now"

    def lines() -> Iterator[str]:
        for step in steps:
            yield json.dumps({"done": step.done, "total": step.total}) + "\n"
        yield json.dumps({"message": message}) + "\n"

    return line_by_line(lines())


@require_POST
@for_editors
def take_back(request: HttpRequest, site: Site) -> HttpResponseBase:
    """Let what was set aside count again."""
    return _done(request, site, "count-again")


@require_safe
@for_editors
def aside(request: HttpRequest, site: Site) -> HttpResponse:
    """What was set aside, newest first."""
    rows = site.set_aside.select_related("page", "editor").order_by("-pk")
    part = Paginator(rows.annotate(places=Count("findings")), ASIDE).get_page(
        request.GET.get("part")
    )
    told = [(one, RULES[one.rule].called) for one in part.object_list if one.rule in RULES]
    return render(request, "findings/aside.html", {"part": part, "rows": told})


@require_safe
@for_editors
def as_file(request: HttpRequest, site: Site, kind: str) -> HttpResponse:
    """The list as a file."""
    if kind not in FILES:
        raise Http404
    _, ending, media_type = FILES[kind]
    report = findings_report.of_site(site)
    if kind == "csv":
        rows = [formats.row(one) for one in report.lines]
        data = csv_file(list(formats.FIELDS), [list(row.values()) for row in rows])
    else:
        data = formats.FORMATS[kind](report).encode()
    return download(data, f"{site.slug}-findings.{ending}", media_type)


@require_safe
@for_editors
def rules(request: HttpRequest, site: Site) -> HttpResponse:
    """All rules, by how bad they are."""
    found = [
        (IN_WORDS[level], [one for one in RULES.values() if one.level == level]) for level in LEVELS
    ]
    return render(request, "findings/rules.html", {"levels": found})


@require_safe
@for_editors
def rule(request: HttpRequest, site: Site, name: str) -> HttpResponse:
    """What a rule is about, where it comes from, and how it is avoided."""
    one = RULES.get(name)
    if one is None:
        raise Http404
    rows = seek.open_on(site).filter(rule=name)
    first = rows.select_related("page__site").first()
    # The sentence of a place, or where that names nothing, its title.
    told = one.why if one.in_general(one.why) != one.why else one.title
    context = {
        "rule": one,
        "level": IN_WORDS[one.level],
        "why": one.in_general(one.why),
        "drawing": f"findings/drawings/{drawing.kind_of(one)}.svg.html",
        "count": rows.count(),
        "example": seek.said(told, first, seek.titles_of([first])) if first else "",
        "back": reverse("findings", args=[site.slug]),
    }
    return render(request, "findings/rule.html", context)
