"""The page screen: one page with its ruler, its sheet and the desk, and the acts
that are done there. Each act answers with the page as it is afterwards."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse, HttpResponseRedirect, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.utils.decorators import method_decorator
from django.views import View
from django.views.decorators.http import require_GET, require_POST, require_safe

from innerhop.core import ids, marking, selection, smoothing, wrapping
from innerhop.core.addresses import NotAnAddress
from innerhop.core.edits import Spot
from innerhop.library import acts, changes, sites
from innerhop.library.models import Change, Measure, Page, Section, Site
from innerhop.library.texts import current
from innerhop.screens import widths
from innerhop.screens.access import Asked, for_editors, page_of, sent, told
from innerhop.screens.page.state import page_state, visit_url


@require_safe
@for_editors
def page_screen(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """The screen itself."""
    page = page_of(site, pk)
    return render(request, "page/page.html", {"page": page, "state": page_state(request, page)})


@require_GET
@for_editors
def state(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """The page as it is now, for a screen that has fallen behind."""
    return JsonResponse(page_state(request, page_of(site, pk)))


@require_safe
@for_editors
def visit(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """On to the page as a visitor gets it, at a place on it if one is named."""
    return HttpResponseRedirect(visit_url(request, page_of(site, pk), request.GET.get("to", "")))


@method_decorator([require_POST, for_editors], name="dispatch")
class Act(View):
    """One act on a page. What can't be done is told in one line, and nothing changes."""

    def post(self, request: HttpRequest, site: Site, pk: int) -> HttpResponse:
        page = page_of(site, pk)
        try:
            return self.act(request, page, sent(request))
        except changes.MovedOn as problem:
            return told(str(problem), 409)
        except wrapping.CannotLink as problem:
            return told(problem.reason, nearest=_words_row(problem.nearest))
        except (
            Asked,
            LookupError,
            TypeError,
            NotAnAddress,
            acts.NoSuchEnd,
            changes.CannotUndo,
            marking.CannotMark,
            smoothing.CannotSmooth,
            sites.AddressTaken,
        ) as problem:
            return told(_plain(problem))

    def act(self, request: HttpRequest, page: Page, asked: dict[str, Any]) -> HttpResponse:
        """Do it. Raises any of the above."""
        raise NotImplementedError

    def done(self, request: HttpRequest, page: Page, said: str) -> JsonResponse:
        """What was done, and the page as it is now."""
        page.refresh_from_db()
        return JsonResponse({"said": said, "state": page_state(request, page)})


def _plain(problem: Exception) -> str:
    if isinstance(problem, LookupError | TypeError):
        return "The page has changed under this. Load it again; nothing was saved."
    return str(problem)


class CheckId(Act):
    """Read an ID as it is typed, or suggest one where nothing is typed yet."""

    def act(self, request: HttpRequest, page: Page, asked: dict[str, Any]) -> HttpResponse:
        language = page.language or page.site.language
        number = asked.get("number")
        taken = page.marks.filter(attribute="id")
        if number is not None:
            taken = taken.exclude(number=number)
        values = set(taken.values_list("value", flat=True))
        typed = asked.get("typed")
        if not isinstance(typed, str):
            title = get_object_or_404(Section, page=page, number=number).title
            return JsonResponse({"id": ids.suggest(title, language, values), "said": "", "fix": "",
                                 "valid": True})  # fmt: skip
        reading = ids.read(typed[:10_000], language, values)
        said = reading.said
        if reading.id in values:
            said = (
                f"{_owner(page, reading.id)} has this ID, and readers always arrive at the first."
            )
        return JsonResponse(
            {"id": reading.id, "valid": reading.valid, "said": said, "fix": reading.fix}
        )


def _owner(page: Page, id_: str) -> str:
    """What has an ID already, as the editor knows it."""
    section = page.sections.filter(mark=id_).first()
    if section is not None:
        return f"The section “{section.title}”"
    mark = page.marks.filter(value=id_).first()
    return f"Another part of this page (<{mark.tag}>)" if mark else "Another part of this page"


class MarkSection(Act):
    """Give a heading an ID."""

    def act(self, request: HttpRequest, page: Page, asked: dict[str, Any]) -> HttpResponse:
        _require_revision(page, asked)
        act = acts.mark(page, _whole(asked, "number"), str(asked.get("id", "")))
        changes.save(page.site, request.user, act.said, act.plans)  # type: ignore[arg-type]
        return self.done(request, page, act.said)


class MakeHop(Act):
    """Link the chosen words to a section; with `look`, only show what would change."""

    def act(self, request: HttpRequest, page: Page, asked: dict[str, Any]) -> HttpResponse:
        _require_revision(page, asked)
        words = selection.Words(_point(asked, "start"), _point(asked, "end"))
        act = acts.hop(page, words, _end(page.site, asked))
        if asked.get("look"):
            return JsonResponse({"href": act.href, "spots": [_spot(*spot) for spot in act.spots]})
        changes.save(page.site, request.user, act.said, act.plans)  # type: ignore[arg-type]
        return self.done(request, page, act.said)


class MakeSmooth(Act):
    """Let the page's hops glide, for visitors who have not asked for less motion."""

    def act(self, request: HttpRequest, page: Page, asked: dict[str, Any]) -> HttpResponse:
        _require_revision(page, asked)
        act = acts.smooth(page)
        changes.save(page.site, request.user, act.said, act.plans)  # type: ignore[arg-type]
        return self.done(request, page, act.said)


class CheckWords(Act):
    """Whether the selected words can be linked, before an end is chosen."""

    def act(self, request: HttpRequest, page: Page, asked: dict[str, Any]) -> HttpResponse:
        _require_revision(page, asked)
        text = current(page)
        words = selection.Words(_point(asked, "start"), _point(asked, "end"))
        wrapping.span_of(text.source, words)
        return JsonResponse({"text": selection.text_of(text.source, words)})


class TurnRound(Act):
    """Undo or redo: the change named, or the editor's own next one."""

    undone = True

    def act(self, request: HttpRequest, page: Page, asked: dict[str, Any]) -> HttpResponse:
        change = self._change(request, page, asked)
        if change is None:
            raise Asked(f"There is nothing to {'undo' if self.undone else 'redo'}.")
        (changes.undo if self.undone else changes.redo)(change)
        return self.done(
            request, page, f"{'Undone' if self.undone else 'Done again'}: {change.said}"
        )

    def _change(self, request: HttpRequest, page: Page, asked: dict[str, Any]) -> Change | None:
        if "change" in asked:
            return get_object_or_404(Change, site=page.site, pk=_whole(asked, "change"))
        find = changes.next_to_undo if self.undone else changes.next_to_redo
        return find(page.site, request.user)  # type: ignore[arg-type]


class KeepMeasure(Act):
    """Keep how tall the page is at one width, for the rulers of Pages."""

    def act(self, request: HttpRequest, page: Page, asked: dict[str, Any]) -> HttpResponse:
        width = _whole(asked, "width")
        tops = asked.get("tops")
        if width not in {one.width for one in widths.ALL} or not isinstance(tops, dict):
            raise Asked("That is none of the three widths.")
        numbers = {str(number) for number in page.sections.values_list("number", flat=True)}
        kept = {key: int(top) for key, top in tops.items() if key in numbers}
        Measure.objects.update_or_create(
            page=page,
            width=width,
            defaults={
                "revision": page.revision,
                "height": min(_whole(asked, "height"), 10_000_000),
                "tops": kept,
            },
        )
        return JsonResponse({})


class SetAddress(Act):
    """Give the page another address."""

    def act(self, request: HttpRequest, page: Page, asked: dict[str, Any]) -> HttpResponse:
        sites.set_path(page, str(asked.get("path", "")))
        return self.done(request, page, f"The page's address is {page.path} now.")


def _require_revision(page: Page, asked: dict[str, Any]) -> None:
    """What was chosen in the sheet belongs to the text that the sheet showed."""
    if asked.get("revision") != page.revision:
        raise changes.MovedOn(page, page.revisions.get(number=page.revision).change)


def _whole(asked: dict[str, Any], name: str) -> int:
    value = asked.get(name)
    if not isinstance(value, int) or isinstance(value, bool) or not 0 <= value < 2**31:
        raise Asked("The browser sent something that can't be read. Load the page again.")
    return value


def _point(asked: dict[str, Any], name: str) -> selection.Point:
    row = asked.get(name)
    if not isinstance(row, dict):
        raise Asked("No words are selected. Select the words that readers should click.")
    return selection.Point(_whole(row, "n"), _whole(row, "child"), _whole(row, "offset"))


def _end(site: Site, asked: dict[str, Any]) -> acts.End:
    row = asked.get("end_at")
    if not isinstance(row, dict):
        raise Asked("Choose where the hop should end.")
    page = page_of(site, _whole(row, "page"))
    number = _whole(row, "n") if row.get("mark") else None
    return acts.End(page, str(row.get("id", "")), number)


def _spot(page: Page, spot: Spot) -> dict[str, Any]:
    return {"page": page.title, "line": spot.line, "parts": spot.parts}


def _words_row(words: selection.Words | None) -> dict[str, Any] | None:
    if words is None:
        return None
    return {
        "start": _point_row(words.start),
        "end": _point_row(words.end),
        "text": words.text,
    }


def _point_row(point: selection.Point) -> dict[str, int]:
    return {"n": point.number, "child": point.child, "offset": point.offset}
