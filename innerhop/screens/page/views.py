"""The page screen: one page with its ruler, its sheet and the desk, and the acts
on the page as a whole. Each answers with the page as it is afterwards. The acts on
marks are in `mark_views`, those on hops in `hop_views`."""

from __future__ import annotations

from django.http import (
    HttpRequest,
    HttpResponse,
    HttpResponseBase,
    HttpResponseRedirect,
    JsonResponse,
)
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_GET, require_safe

from innerhop.library import sites
from innerhop.library.acts import base, convert_and_move
from innerhop.library.changes import changes
from innerhop.library.models import Change, Measure, Page, Site
from innerhop.screens import widths
from innerhop.screens.access import Asked, for_editors, page_of
from innerhop.screens.page.act import ActView, PlannedAct, done
from innerhop.screens.page.asked import Sent, whole
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


class MakeSmooth(PlannedAct):
    """Let the page's hops glide, for visitors who have not asked for less motion."""

    def plan(self, page: Page, asked: Sent) -> base.Act:
        return base.smooth(page)


class TurnRound(ActView):
    """Undo or redo: the change named, or the editor's own next one."""

    undone = True

    def act(self, request: HttpRequest, page: Page, asked: Sent) -> HttpResponseBase:
        change = self._change(request, page, asked)
        if change is None:
            raise Asked(f"There is nothing to {'undo' if self.undone else 'redo'}.")
        steps = (changes.undo_steps if self.undone else changes.redo_steps)(change)
        said = f"{'Undone' if self.undone else 'Done again'}: {change.said}"
        return self.follow(request, page, steps, said)

    def _change(self, request: HttpRequest, page: Page, asked: Sent) -> Change | None:
        if "change" in asked:
            return get_object_or_404(Change, site=page.site, pk=whole(asked, "change"))
        find = changes.next_to_undo if self.undone else changes.next_to_redo
        return find(page.site, request.user)  # type: ignore[arg-type]


class KeepMeasure(ActView):
    """Keep how tall the page is at one width, for the rulers of Pages."""

    def act(self, request: HttpRequest, page: Page, asked: Sent) -> HttpResponseBase:
        width = whole(asked, "width")
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
                "height": min(whole(asked, "height"), 10_000_000),
                "tops": kept,
                "header": min(whole(asked, "header"), 10_000),
                "padding": min(whole(asked, "padding"), 10_000),
                "smooth": bool(asked.get("smooth")),
            },
        )
        return JsonResponse({})


class CorrectAddress(ActView):
    """Set right the address that readers know the page by. Nothing is written."""

    def act(self, request: HttpRequest, page: Page, asked: Sent) -> HttpResponseBase:
        sites.set_path(page, str(asked.get("path", "")))
        return JsonResponse(done(request, page, f"The page’s address is {page.path} now."))


class MovePage(PlannedAct):
    """Give the page another address, with every hop to it."""

    def plan(self, page: Page, asked: Sent) -> base.Act:
        return convert_and_move.move(page, str(asked.get("path", "")))
