"""Acts on hops: making one, of words, of a part of the page or as a new link beside
one; leading a link elsewhere; how it opens and is written."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponseBase, JsonResponse

from innerhop.core.addresses import address_forms
from innerhop.core.facts import places
from innerhop.core.planners import hopping, links_beside, markers, selection, wrapping
from innerhop.library.acts import base, convert_and_move, hop_acts
from innerhop.library.index.texts import current
from innerhop.library.models import Link, Page
from innerhop.screens.access import Asked
from innerhop.screens.page.act import ActView, PlannedAct
from innerhop.screens.page.asked import (
    Sent,
    goal,
    manner,
    point,
    require_revision,
    side,
    whole,
    words,
)


class CheckWords(ActView):
    """Whether the selected words can be linked, before an end is chosen."""

    def act(self, request: HttpRequest, page: Page, asked: Sent) -> HttpResponseBase:
        require_revision(page, asked)
        text = current(page)
        chosen = selection.Words(point(asked, "start"), point(asked, "end"))
        wrapping.span_of(text.source, chosen)
        base.require_unsealed(page, chosen.start.number)
        return JsonResponse({"text": selection.text_of(text.source, chosen)})


class CheckPart(ActView):
    """Whether a part of the page can be where a hop starts, and what a new link
    beside it could look like."""

    def act(self, request: HttpRequest, page: Page, asked: Sent) -> HttpResponseBase:
        require_revision(page, asked)
        source = current(page).source
        if not asked.get("beside"):
            hopping.require_start(source, whole(asked, "number"))
            base.require_unsealed(page, whole(asked, "number"))
        looks = [places.place(source, number) for number in links_beside.looks(source)]
        rows = [{"n": one.number, "kind": one.kind, "words": one.words} for one in looks]
        return JsonResponse({"looks": rows})


class MakeHop(PlannedAct):
    """Link the chosen words."""

    def plan(self, page: Page, asked: Sent) -> base.Act:
        chosen = selection.Words(point(asked, "start"), point(asked, "end"))
        return hop_acts.hop(page, chosen, goal(page, asked), manner(asked))


class LinkPart(PlannedAct):
    """Link a part of the page: a picture, a button, a block."""

    def plan(self, page: Page, asked: Sent) -> base.Act:
        return hop_acts.element(page, whole(asked, "number"), goal(page, asked), manner(asked))


class PutLink(PlannedAct):
    """Put a new link before or after a part of the page."""

    def plan(self, page: Page, asked: Sent) -> base.Act:
        where = side(asked)
        if where not in (markers.BEFORE, markers.AFTER):
            raise Asked("A new link stands before or after the part. Choose one of the two.")
        like = whole(asked, "like") if asked.get("like") is not None else None
        end, how = goal(page, asked), manner(asked)
        number = whole(asked, "number")
        said = words(asked)
        return hop_acts.new_link(page, number, end, how, side=where, words=said, like=like)


class RetargetHop(PlannedAct):
    """Let a link that is there lead to another end, or be written in another way."""

    def plan(self, page: Page, asked: Sent) -> base.Act:
        return hop_acts.retarget(page, _link(page, asked), goal(page, asked), manner(asked))


class ReopenHop(PlannedAct):
    """Let a link open in a new tab, or in the same one."""

    def plan(self, page: Page, asked: Sent) -> base.Act:
        return hop_acts.reopen(page, _link(page, asked), bool(asked.get("new_tab")))


def _link(page: Page, asked: Sent) -> Link:
    link = page.links.filter(number=whole(asked, "number")).first()
    if link is None:
        raise LookupError("no link stands there")
    return link


class ConvertHops(PlannedAct):
    """Write the hops of this page, or of the whole site, in another form."""

    def plan(self, page: Page, asked: Sent) -> base.Act:
        form, origin = asked.get("form"), asked.get("from", "")
        if form not in address_forms.FORMS or origin not in ("", *address_forms.FORMS):
            raise Asked("Choose one of the four forms.")
        site = page.site
        pages = list(site.pages.select_related("site")) if asked.get("all") else [page]
        found = convert_and_move.convert(
            site, pages, [origin] if origin else convert_and_move.NAMING, form
        )
        if not found.plans:
            note = f" {found.notes[0]}" if found.notes else " They are written so already."
            raise Asked(f"There is nothing to write anew.{note}")
        return found
