"""The acts: everything that an editor can have done to a page or a site, one row each.
Addresses, access, tests and jobs go through this table."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from innerhop.library.acts import (
    alike,
    base,
    contents_acts,
    contents_forms,
    convert_and_move,
    end_landings,
    ends,
    fix_acts,
    forms,
    hop_acts,
    mark_acts,
    mending,
    menu_acts,
    menu_forms,
    moved_acts,
    news_acts,
    not_there_yet,
    page_acts,
    people_acts,
    plan_acts,
    site_acts,
    site_forms,
    visitor_acts,
    ways_acts,
)
from innerhop.library.acts.base import Act
from innerhop.library.acts.forms import ActForm
from innerhop.library.acts.menu_items import AskedItem
from innerhop.library.acts.site_forms import SiteForm
from innerhop.library.models import Editor, Link, Page, Site

# How far an act goes.
PAGE, SITE = "page", "site"
# Who may do it, and all above them (see `models.Membership.Role`).
EDITOR, OWNER = "editor", "owner"


@dataclass(frozen=True)
class ActKind:
    """An act. form: what it asks for. plan: what it does to a page, by the parameters that the
    form gives.
    scope: whether it stays on that page and those that share its parts, or may touch
    the whole site. who: may do it. takes: whether it may take words or links from readers,
    which is said before."""

    name: str
    form: type[ActForm]
    plan: Callable[..., Act]
    scope: str = PAGE
    who: str = EDITOR
    takes: bool = False


def _led(plan: Callable[..., Act]) -> Callable[..., Act]:
    """An act that leads readers to an end, with what they find there."""

    def planned(page: Page, *, end: ends.Goal, room: bool, **asked: Any) -> Act:
        act = not_there_yet.said(plan(page, end=end, **asked), end)
        return end_landings.said(act, end, room)

    return planned


def _marker(page: Page, *, number: int, side: str, id_: str, room: bool) -> Act:
    act = mark_acts.marker(page, number, side, id_)
    return end_landings.said(act, ends.End(page, id_), room)


def _mend(page: Page, *, link: Link, end: ends.End, everywhere: bool) -> Act:
    return not_there_yet.said(mending.mend(page, link, end, everywhere), end)


def _contents(page: Page, *, spec: contents_acts.Spec, room: bool) -> Act:
    return end_landings.of_list(contents_acts.make(page, spec), page, room)


def _menu(page: Page, *, number: int, asked: Sequence[AskedItem]) -> Act:
    act = menu_acts.write(page, number, asked)
    return not_there_yet.said(act, *(one.end for one in asked))


def _fix(page: Page, *, which: fix_acts.Which) -> Act:
    return fix_acts.fix(page.site, which, planned)


_ROWS = (
    ActKind("mark", forms.MarksForm, mark_acts.mark),
    ActKind("marker", forms.MarkerForm, _marker),
    ActKind("move", forms.MoveMarkForm, mark_acts.move),
    ActKind("move-up", forms.ElementForm, mark_acts.move_up),
    ActKind("move-down", forms.ElementForm, mark_acts.move_down),
    ActKind("rename", forms.RenameForm, mark_acts.rename, SITE),
    ActKind("name-beside", forms.NewIdForm, mark_acts.name_beside, SITE),
    ActKind("take-away", forms.TakeAwayForm, mark_acts.take_away, SITE),
    ActKind("stop-leading", forms.FragmentForm, moved_acts.stop),
    ActKind("heading", forms.HeadingForm, mark_acts.heading),
    ActKind("level", forms.LevelForm, mark_acts.level),
    ActKind("close-gaps", ActForm, mark_acts.close_gaps),
    ActKind("from-class", forms.InClassForm, mark_acts.from_class),
    ActKind("lock", forms.LockForm, page_acts.set_lock),
    ActKind("hop", forms.WordsHopForm, _led(alike.hop), SITE),
    ActKind("link-part", forms.PartHopForm, _led(hop_acts.element)),
    ActKind("put-link", forms.LinkBesideForm, _led(hop_acts.new_link)),
    ActKind("retarget", forms.LinkForm, _led(hop_acts.retarget)),
    ActKind("unlink", forms.ElementForm, hop_acts.unlink, takes=True),
    ActKind("reword", forms.WordsForm, hop_acts.reword, takes=True),
    ActKind("mend", forms.MendForm, _mend, SITE),
    ActKind("reopen", forms.ReopenForm, hop_acts.reopen),
    ActKind("convert", forms.ConvertForm, convert_and_move.convert_hops, SITE),
    ActKind("move-page", forms.AddressForm, convert_and_move.move, SITE),
    ActKind("correct-address", forms.AddressForm, convert_and_move.correct_address, SITE),
    ActKind("smooth", forms.EverywhereForm, page_acts.smooth, SITE),
    ActKind("room", forms.RoomForm, page_acts.make_room, SITE),
    ActKind("take-out-spacers", forms.SpacersForm, page_acts.spacers),
    ActKind("say-language", ActForm, page_acts.say_language),
    ActKind("fix", forms.FixForm, _fix, SITE, takes=True),
    ActKind("contents", contents_forms.ContentsForm, _contents, SITE, takes=True),
    ActKind("usual-list", ActForm, contents_acts.usual_list),
    ActKind("remove-list", contents_forms.RemoveListForm, contents_acts.remove, takes=True),
    ActKind(
        "update-lists", contents_forms.UpdateListsForm, contents_acts.update_lists, SITE, takes=True
    ),
    ActKind("ways-back", contents_forms.WaysBackForm, ways_acts.put, takes=True),
    ActKind("reword-ways", contents_forms.RewordedWaysForm, ways_acts.reword, takes=True),
    ActKind("menu", menu_forms.MenuItemsForm, _menu, SITE, takes=True),
    ActKind("menu-in-line", forms.ElementForm, menu_acts.bring_in_line, SITE, takes=True),
    ActKind("menu-current", forms.ElementForm, menu_acts.mark_current, SITE),
    ActKind("menu-lit", forms.LockForm, menu_acts.light, SITE),
    ActKind("menu-add", menu_forms.NewItemForm, _led(menu_acts.add), SITE, takes=True),
    ActKind("keep-plan", menu_forms.KeptPlanForm, plan_acts.keep, SITE),
    ActKind("drop-plan", menu_forms.DroppedPlanForm, plan_acts.drop, SITE),
    ActKind("menu-new", menu_forms.NewMenuForm, menu_acts.put_new),
    ActKind("visitor-parts", contents_forms.VisitorPartsForm, visitor_acts.give, SITE, takes=True),
)  # fmt: skip
ACTS = {row.name: row for row in _ROWS}


@dataclass(frozen=True)
class SiteActKind:
    """An act on a site as a whole: its name, what it asks for, and what plans it."""

    name: str
    form: type[SiteForm]
    plan: Callable[..., Act]
    who: str = EDITOR


_SITE_ROWS = (
    SiteActKind("remove", site_forms.RemovedForm, site_acts.remove),
    SiteActKind("set-aside", site_forms.AsideForm, site_acts.set_aside),
    SiteActKind("count-again", site_forms.CountAgainForm, site_acts.count_again),
    SiteActKind("take-in", site_forms.TakeInForm, news_acts.take_in),
    SiteActKind("moved-there", site_forms.MovedThereForm, news_acts.moved_there),
    SiteActKind("settings", site_forms.SettingsForm, site_acts.settings, OWNER),
    SiteActKind("people", site_forms.PersonForm, people_acts.set_member, OWNER),
    SiteActKind("keep-page", site_forms.KeptForm, people_acts.keep_page, OWNER),
)
SITE_ACTS = {row.name: row for row in _SITE_ROWS}


def planned_on_site(name: str, site: Site, editor: Editor, sent: Any) -> Act:
    """The same for an act on a site as a whole."""
    kind = SITE_ACTS[name]
    return kind.plan(site, **kind.form(sent, editor).asked())


def planned(name: str, page: Page, sent: object) -> Act:
    """An act of the table on a page, planned. sent: what its form is to read. Raises a
    Refusal when it can't be done, and KeyError when there is no such act."""
    kind = ACTS[name]
    act = kind.plan(page, **kind.form(sent, page).asked())
    return act if kind.takes else base.keeping_words(act)
