"""Taking in the new texts of pages that were worked on here."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from innerhop.core.counting import counted
from innerhop.core.merge.merging import HERE
from innerhop.core.plan import Plan
from innerhop.core.refusals import CONFLICT, Refusal
from innerhop.library.acts import convert_and_move
from innerhop.library.acts.base import Act
from innerhop.library.bring_in import news
from innerhop.library.changes import effects
from innerhop.library.changes.prepare import MakeNext, NextText, PagePlan
from innerhop.library.index.texts import PageText
from innerhop.library.models import BringIn, LockedPart, NewText, Site


class NothingWaits(Refusal):
    """There is no new text left to take in."""

    status = CONFLICT


def take_in(site: Site, key: int) -> Act:
    """Take in what waits of one bringing in, by its primary key, as it was chosen, as one
    change. Raises NothingWaits, and news.CannotSay."""
    bring_in = BringIn.objects.filter(site=site, pk=key).first()
    rows = news.of(bring_in) if bring_in else []
    wanted = [row for row in rows if row.waits and row.choices.get(news.WHOLE) != HERE]
    if not wanted:
        raise NothingWaits("Nothing of this waits any more. Load the list again.")
    undecided = [row.page for row in wanted if news.open_meetings(row)]
    if undecided:
        raise news.CannotSay(undecided)
    plans = [PagePlan(row.page, row.number, _none, whole=_taken(row)) for row in wanted]
    message = f"Took in the new text of {counted(len(plans), 'page')}"
    if len(plans) == 1:
        message = f"Took in the new text of “{wanted[0].page.title}”"
    return Act(message, plans, effects=[effects.taken([row.pk for row in wanted])])


def moved_there(site: Site, page: int, to: int, bring_in: int) -> Act:
    """Let a page that did not come have the address at which its words came in: its hops
    follow, and the text that came in there waits as its new one. By primary keys. Raises
    NothingWaits, and what moving raises."""
    one, other = (site.pages.select_related("site").filter(pk=key).first() for key in (page, to))
    came = BringIn.objects.filter(site=site, pk=bring_in, pages=to).exists()
    if one is None or other is None or one == other or not came:
        raise NothingWaits("These pages are not here any more as they were. Load the list again.")
    if news.is_worked_on(other):
        raise Refusal(f"“{other.title}” was worked on at {other.path}, which would be lost.")
    act = convert_and_move.move(one, other.path, instead=other)
    found = [effects.removed(other), *act.effects, effects.waits(one, other, bring_in)]
    return replace(act, effects=found)


def _none(_text: PageText) -> Plan:
    return Plan()


def _taken(row: NewText) -> MakeNext:
    def make(_text: PageText, _locked: Sequence[LockedPart]) -> NextText:
        return news.next_text(row)

    return make
