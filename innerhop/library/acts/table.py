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
from innerhop.library.acts.site_forms import SiteForm
from innerhop.library.models import Editor, Link, Page, Site

# How far an act goes.
PAGE, SITE = "page", "site"
# Who may do it, and all above them (see `models.Membership.Role`).
EDITOR, OWNER = "editor", "owner"


@dataclass(frozen=True)
class Kind:
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

    def planned(page: Page, *, end: base.Goal, room: bool, **asked: Any) -> Act:
        act = not_there_yet.said(plan(page, end=end, **asked), end)
        return end_landings.said(act, end, room)

    return planned


def _marker(page: Page, *, number: int, side: str, id_: str, room: bool) -> Act:
    act = mark_acts.marker(page, number, side, id_)
    return end_landings.said(act, base.End(page, id_), room)


def _mend(page: Page, *, link: Link, end: base.End, everywhere: bool) -> Act:
    return not_there_yet.said(mending.mend(page, link, end, everywhere), end)


def _contents(page: Page, *, spec: contents_acts.Spec, room: bool) -> Act:
    return end_landings.of_list(contents_acts.make(page, spec), page, room)


def _menu(page: Page, *, number: int, asked: Sequence[menu_acts.AskedItem]) -> Act:
    act = menu_acts.write(page, number, asked)
    return not_there_yet.said(act, *(one.end for one in asked))


def _fix(page: Page, *, which: fix_acts.Which) -> Act:
    return fix_acts.fix(page.site, which, planned)


_ROWS = (
    Kind("mark", forms.MarksForm, mark_acts.mark),
    Kind("marker", forms.MarkerForm, _marker),
    Kind("move", forms.MoveMarkForm, mark_acts.move),
    Kind("move-up", forms.ElementForm, mark_acts.move_up),
    Kind("move-down", forms.ElementForm, mark_acts.move_down),
    Kind("rename", forms.RenameForm, mark_acts.rename, SITE),
    Kind("name-beside", forms.NewIdForm, mark_acts.name_beside, SITE),
    Kind("take-away", forms.TakeAwayForm, mark_acts.take_away, SITE),
    Kind("stop-leading", forms.FragmentForm, moved_acts.stop),
    Kind("heading", forms.HeadingForm, mark_acts.heading),
    Kind("level", forms.LevelForm, mark_acts.level),
    Kind("close-gaps", ActForm, mark_acts.close_gaps),
    Kind("from-class", forms.InClassForm, mark_acts.from_class),
    Kind("lock", forms.LockForm, page_acts.set_lock),
    Kind("hop", forms.WordsHopForm, _led(alike.hop), SITE),
    Kind("link-part", forms.PartHopForm, _led(hop_acts.element)),
    Kind("put-link", forms.LinkBesideForm, _led(hop_acts.new_link)),
    Kind("retarget", forms.LinkForm, _led(hop_acts.retarget)),
    Kind("unlink", forms.ElementForm, hop_acts.unlink, takes=True),
    Kind("reword", forms.WordsForm, hop_acts.reword, takes=True),
    Kind("mend", forms.MendForm, _mend, SITE),
    Kind("reopen", forms.ReopenForm, hop_acts.reopen),
    Kind("convert", forms.ConvertForm, convert_and_move.convert_hops, SITE),
    Kind("move-page", forms.AddressForm, convert_and_move.move, SITE),
    Kind("correct-address", forms.AddressForm, convert_and_move.correct_address, SITE),
    Kind("smooth", forms.EverywhereForm, page_acts.smooth, SITE),
    Kind("room", forms.RoomForm, page_acts.make_room, SITE),
    Kind("take-out-spacers", forms.SpacersForm, page_acts.spacers),
    Kind("say-language", ActForm, page_acts.say_language),
    Kind("fix", forms.FixForm, _fix, SITE, takes=True),
    Kind("contents", contents_forms.ContentsForm, _contents, SITE, takes=True),
    Kind("usual-list", ActForm, contents_acts.usual_list),
    Kind("remove-list", contents_forms.RemoveListForm, contents_acts.remove, takes=True),
    Kind(
        "update-lists", contents_forms.UpdateListsForm, contents_acts.update_lists, SITE, takes=True
    ),
    Kind("ways-back", contents_forms.WaysBackForm, ways_acts.put, takes=True),
    Kind("reword-ways", contents_forms.RewordedWaysForm, ways_acts.reword, takes=True),
    Kind("menu", menu_forms.MenuItemsForm, _menu, SITE, takes=True),
    Kind("menu-in-line", forms.ElementForm, menu_acts.bring_in_line, SITE, takes=True),
    Kind("menu-current", forms.ElementForm, menu_acts.mark_current, SITE),
    Kind("menu-lit", forms.LockForm, menu_acts.light, SITE),
    Kind("menu-add", menu_forms.NewItemForm, _led(menu_acts.add), SITE, takes=True),
    Kind("keep-plan", menu_forms.KeptPlanForm, plan_acts.keep, SITE),
    Kind("drop-plan", menu_forms.DroppedPlanForm, plan_acts.drop, SITE),
    Kind("menu-new", menu_forms.NewMenuForm, menu_acts.put_new),
    Kind("visitor-parts", contents_forms.VisitorPartsForm, visitor_acts.give, SITE, takes=True),
)  # fmt: skip
ACTS = {row.name: row for row in _ROWS}


@dataclass(frozen=True)
class SiteKind:
    """An act on a site as a whole: its name, what it asks for, and what plans it."""

    name: str
    form: type[SiteForm]
    plan: Callable[..., Act]
    who: str = EDITOR


_SITE_ROWS = (
    SiteKind("remove", site_forms.RemovedForm, site_acts.remove),
    SiteKind("set-aside", site_forms.AsideForm, site_acts.set_aside),
    SiteKind("count-again", site_forms.CountAgainForm, site_acts.count_again),
    SiteKind("take-in", site_forms.TakeInForm, news_acts.take_in),
    SiteKind("moved-there", site_forms.MovedThereForm, news_acts.moved_there),
    SiteKind("settings", site_forms.SettingsForm, site_acts.settings, OWNER),
    SiteKind("people", site_forms.PersonForm, people_acts.set_member, OWNER),
    SiteKind("keep-page", site_forms.KeptForm, people_acts.keep_page, OWNER),
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
