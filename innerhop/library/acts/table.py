"""The acts: everything that an editor can have done to a page or a site, one row each.
Addresses, access, tests and jobs go through this table."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from innerhop.core.addresses.address_forms import FORMS
from innerhop.core.planners import own_button, selection
from innerhop.core.refusals import Refusal
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
from innerhop.library.models import Editor, Page, Site

# How far an act goes.
PAGE, SITE = "page", "site"
# Who may do it, and all above them (see `models.Membership.Role`).
EDITOR, OWNER = "editor", "owner"


@dataclass(frozen=True)
class Kind:
    """An act. form: what it asks for. plan: what it does to a page, of what was read.
    scope: whether it stays on that page and those that share its parts, or may touch
    the whole site. who: may do it. takes: whether it may take words or links from readers,
    which is said before."""

    name: str
    form: type[ActForm]
    plan: Callable[[Page, ActForm], Act]
    scope: str = PAGE
    who: str = EDITOR
    takes: bool = False


class NothingToDo(Refusal):
    """An act would change nothing."""


def _mark(page: Page, form: ActForm) -> Act:
    return mark_acts.mark(page, form.cleaned_data["marks"])


def _marker(page: Page, form: ActForm) -> Act:
    read = form.cleaned_data
    act = mark_acts.marker(page, read["number"], read["side"], read["id"])
    return end_landings.said(act, base.End(page, read["id"]), read["room"])


def _move(page: Page, form: ActForm) -> Act:
    read = form.cleaned_data
    return mark_acts.move(page, read["number"], read["to"], read["side"])


def _move_up(page: Page, form: ActForm) -> Act:
    return mark_acts.move_up(page, form.cleaned_data["number"])


def _move_down(page: Page, form: ActForm) -> Act:
    return mark_acts.move_down(page, form.cleaned_data["number"])


def _rename(page: Page, form: ActForm) -> Act:
    read = form.cleaned_data
    return mark_acts.rename(
        page, read["number"], read["id"],
        keep=read["keep"], lead=read["lead"], follow=read["follow"],
    )  # fmt: skip


def _stop_leading(page: Page, form: ActForm) -> Act:
    return moved_acts.stop(page, form.cleaned_data["old"])


def _name_beside(page: Page, form: ActForm) -> Act:
    return mark_acts.name_beside(page, form.cleaned_data["number"], form.cleaned_data["id"])


def _take_away(page: Page, form: ActForm) -> Act:
    read = form.cleaned_data
    end = read["end"]
    if end is not None and not isinstance(end, base.End):
        raise forms.Unreadable("Hops to a mark can be led to another place on this site only.")
    asked = {"lead": read["lead"], "line": read["line"]}
    return mark_acts.take_away(page, read["number"], read["then"], end, **asked)


def _heading(page: Page, form: ActForm) -> Act:
    read = form.cleaned_data
    return mark_acts.heading(page, read["number"], read["level"], read["id"], read["keeps_look"])


def _level(page: Page, form: ActForm) -> Act:
    return mark_acts.level(page, form.cleaned_data["number"], form.cleaned_data["level"])


def _close_gaps(page: Page, form: ActForm) -> Act:
    return mark_acts.close_gaps(page)


def _from_class(page: Page, form: ActForm) -> Act:
    return mark_acts.from_class(page, form.cleaned_data["number"], form.cleaned_data["word"])


def _lock(page: Page, form: ActForm) -> Act:
    number = form.cleaned_data["number"]
    return (page_acts.lock if form.cleaned_data["on"] else page_acts.unlock)(page, number)


def _led(act: Act, read: dict[str, Any]) -> Act:
    """An act that leads readers to an end, with what they find there."""
    return end_landings.said(not_there_yet.said(act, read["end"]), read["end"], read["room"])


def _hop(page: Page, form: ActForm) -> Act:
    assert isinstance(form, forms.Hop)
    read = form.cleaned_data
    words = selection.Words(read["start"], read["stop"])
    asked = alike.AlikeHop(page, words, read["end"], form.manner, read["one_a_section"])
    return _led(alike.hop(asked, read["where"]), read)


def _link_part(page: Page, form: ActForm) -> Act:
    assert isinstance(form, forms.Hop)
    read = form.cleaned_data
    act = hop_acts.element(page, read["number"], read["end"], form.manner, read["button_look"])
    return _led(act, read)


def _put_link(page: Page, form: ActForm) -> Act:
    assert isinstance(form, forms.Hop)
    read = form.cleaned_data
    act = hop_acts.new_link(
        page,
        read["number"],
        read["end"],
        form.manner,
        side=read["side"],
        words=read["words"],
        like=read["like"],
        look=read["button_look"],
        ground=own_button.colour(read["link_colour"]) if read["link_colour"] else None,
    )
    return _led(act, read)


def _retarget(page: Page, form: ActForm) -> Act:
    assert isinstance(form, forms.Hop)
    read = form.cleaned_data
    act = hop_acts.retarget(page, read["number"], read["end"], form.manner)
    return _led(act, read)


def _unlink(page: Page, form: ActForm) -> Act:
    return hop_acts.unlink(page, form.cleaned_data["number"])


def _reword(page: Page, form: ActForm) -> Act:
    return hop_acts.reword(page, form.cleaned_data["number"], form.cleaned_data["words"])


def _mend(page: Page, form: ActForm) -> Act:
    read = form.cleaned_data
    if not isinstance(read["end"], base.End):
        raise forms.Unreadable("A broken hop can be led to another place on this site only.")
    act = mending.mend(page, read["number"], read["end"], read["all"])
    return not_there_yet.said(act, read["end"])


def _reopen(page: Page, form: ActForm) -> Act:
    return hop_acts.reopen(page, form.cleaned_data["number"], form.cleaned_data["new_tab"])


def _convert(page: Page, form: ActForm) -> Act:
    read, site = form.cleaned_data, page.site
    pages = list(site.pages.select_related("site")) if read["all"] else [page]
    origin = [read["origin"]] if read["origin"] in FORMS else convert_and_move.NAMING
    found = convert_and_move.convert(site, pages, origin, read["form"])
    if not found.plans:
        note = f" {found.notes[0]}" if found.notes else " They are written so already."
        raise NothingToDo(f"There is nothing to write anew.{note}")
    return found


def _move_page(page: Page, form: ActForm) -> Act:
    return convert_and_move.move(page, form.cleaned_data["path"])


def _correct_address(page: Page, form: ActForm) -> Act:
    return convert_and_move.correct_address(page, form.cleaned_data["path"])


def _smooth(page: Page, form: ActForm) -> Act:
    return page_acts.smooth(page, form.cleaned_data["all"])


def _room(page: Page, form: ActForm) -> Act:
    read = form.cleaned_data
    if read["sheet"] is not None:
        return page_acts.room_in_sheet(page, read["sheet"], read["room_on"])
    return page_acts.room(page, read["all"], read["room_on"])


def _say_language(page: Page, form: ActForm) -> Act:
    return page_acts.say_language(page)


def _spacers(page: Page, form: ActForm) -> Act:
    return page_acts.spacers(page, form.cleaned_data["below"])


def _fix(page: Page, form: ActForm) -> Act:
    read = form.cleaned_data
    chosen = None if read["all"] else read["findings"] or set()
    which = fix_acts.Which(read["rule"], read["cause"], chosen, read["only"])
    return fix_acts.fix(page.site, which, planned)


def _contents(page: Page, form: ActForm) -> Act:
    assert isinstance(form, contents_forms.Contents)
    act = contents_acts.make(page, form.spec)
    return end_landings.of_list(act, page, form.cleaned_data["room"])


def _usual_list(page: Page, form: ActForm) -> Act:
    return contents_acts.usual_list(page)


def _remove_list(page: Page, form: ActForm) -> Act:
    return contents_acts.remove(page, form.cleaned_data["number"], form.cleaned_data["ways"])


def _update_lists(page: Page, form: ActForm) -> Act:
    read = form.cleaned_data
    every = page.site.pages.filter(lists_off__gt=0).select_related("site")
    return contents_acts.update(list(every) if read["all"] else [page], read["number"])


def _ways_back(page: Page, form: ActForm) -> Act:
    assert isinstance(form, contents_forms.WaysBack)
    return ways_acts.put(page, form.ways)


def _reword_ways(page: Page, form: ActForm) -> Act:
    read = form.cleaned_data
    return ways_acts.reword(page, read["words"], read["to_list"], sorted(read["instead"] or ()))


def _visitor_parts(page: Page, form: ActForm) -> Act:
    assert isinstance(form, contents_forms.VisitorParts)
    return visitor_acts.give(page, form.parts, form.cleaned_data["all"])


def _menu(page: Page, form: ActForm) -> Act:
    assert isinstance(form, menu_forms.MenuItems)
    act = menu_acts.write(page, form.cleaned_data["number"], form.asked)
    return not_there_yet.said(act, *(one.end for one in form.asked))


def _menu_in_line(page: Page, form: ActForm) -> Act:
    return menu_acts.bring_in_line(page, form.cleaned_data["number"])


def _menu_current(page: Page, form: ActForm) -> Act:
    return menu_acts.mark_current(page, form.cleaned_data["number"])


def _menu_lit(page: Page, form: ActForm) -> Act:
    return menu_acts.light(page, form.cleaned_data["number"], form.cleaned_data["on"])


def _menu_add(page: Page, form: ActForm) -> Act:
    read = form.cleaned_data
    more = sorted(read["sections"] or ())
    act = menu_acts.add(page, read["menu"], read["label"], read["end"], more)
    return _led(act, read)


def _keep_plan(page: Page, form: ActForm) -> Act:
    assert isinstance(form, menu_forms.KeptPlan)
    read = form.cleaned_data
    return plan_acts.keep(page, read["plan"], read["name"], form.asked)


def _drop_plan(page: Page, form: ActForm) -> Act:
    return plan_acts.drop(page, form.cleaned_data["plan"])


def _menu_new(page: Page, form: ActForm) -> Act:
    assert isinstance(form, menu_forms.NewMenu)
    read = form.cleaned_data
    return menu_acts.put_new(page, read["number"], read["side"], read["name"], form.asked)


_ROWS = (
    Kind("mark", forms.Marks, _mark),
    Kind("marker", forms.Marker, _marker),
    Kind("move", forms.MoveMark, _move),
    Kind("move-up", forms.Element, _move_up),
    Kind("move-down", forms.Element, _move_down),
    Kind("rename", forms.Rename, _rename, SITE),
    Kind("name-beside", forms.NewId, _name_beside, SITE),
    Kind("take-away", forms.TakeAway, _take_away, SITE),
    Kind("stop-leading", forms.Fragment, _stop_leading),
    Kind("heading", forms.Heading, _heading),
    Kind("level", forms.Level, _level),
    Kind("close-gaps", ActForm, _close_gaps),
    Kind("from-class", forms.InClass, _from_class),
    Kind("lock", forms.Lock, _lock),
    Kind("hop", forms.WordsHop, _hop, SITE),
    Kind("link-part", forms.PartHop, _link_part),
    Kind("put-link", forms.LinkBeside, _put_link),
    Kind("retarget", forms.LinkForm, _retarget),
    Kind("unlink", forms.Element, _unlink, takes=True),
    Kind("reword", forms.Words, _reword, takes=True),
    Kind("mend", forms.Mend, _mend, SITE),
    Kind("reopen", forms.Reopen, _reopen),
    Kind("convert", forms.Convert, _convert, SITE),
    Kind("move-page", forms.Address, _move_page, SITE),
    Kind("correct-address", forms.Address, _correct_address, SITE),
    Kind("smooth", forms.Everywhere, _smooth, SITE),
    Kind("room", forms.Room, _room, SITE),
    Kind("take-out-spacers", forms.Spacers, _spacers),
    Kind("say-language", ActForm, _say_language),
    Kind("fix", forms.Fix, _fix, SITE, takes=True),
    Kind("contents", contents_forms.Contents, _contents, SITE, takes=True),
    Kind("usual-list", ActForm, _usual_list),
    Kind("remove-list", contents_forms.RemoveList, _remove_list, takes=True),
    Kind("update-lists", contents_forms.UpdateLists, _update_lists, SITE, takes=True),
    Kind("ways-back", contents_forms.WaysBack, _ways_back, takes=True),
    Kind("reword-ways", contents_forms.WaysBack, _reword_ways, takes=True),
    Kind("menu", menu_forms.MenuItems, _menu, SITE, takes=True),
    Kind("menu-in-line", forms.Element, _menu_in_line, SITE, takes=True),
    Kind("menu-current", forms.Element, _menu_current, SITE),
    Kind("menu-lit", forms.Lock, _menu_lit, SITE),
    Kind("menu-add", menu_forms.NewItem, _menu_add, SITE, takes=True),
    Kind("keep-plan", menu_forms.KeptPlan, _keep_plan, SITE),
    Kind("drop-plan", menu_forms.DroppedPlan, _drop_plan, SITE),
    Kind("menu-new", menu_forms.NewMenu, _menu_new),
    Kind("visitor-parts", contents_forms.VisitorParts, _visitor_parts, SITE, takes=True),
)
ACTS = {row.name: row for row in _ROWS}


@dataclass(frozen=True)
class SiteKind:
    """An act on a site as a whole: its name, what it asks for, and what plans it."""

    name: str
    form: type[SiteForm]
    plan: Callable[[Site, Editor, dict[str, Any]], Act]
    who: str = EDITOR


def _set_aside(site: Site, editor: Editor, read: dict[str, Any]) -> Act:
    if read["findings"]:
        return site_acts.places_aside(site, editor, read["findings"], read["reason"])
    return site_acts.rule_aside(site, editor, read["rule"], read["reason"])


def _remove(site: Site, _editor: Editor, read: dict[str, Any]) -> Act:
    rows, key = (site.pages, read["page"]) if read["page"] else (site.assets, read["file"])
    one = rows.filter(pk=key).first()
    if one is None:
        raise NothingToDo("That is deleted already, or was never here.")
    return site_acts.remove(one)


_SITE_ROWS = (
    SiteKind("remove", site_forms.Removed, _remove),
    SiteKind("set-aside", site_forms.Aside, _set_aside),
    SiteKind("count-again", site_forms.CountAgain,
             lambda site, _editor, read: site_acts.count_again(site, read["aside"])),
    SiteKind("take-in", site_forms.TakeIn,
             lambda site, _editor, read: news_acts.take_in(site, read["bring_in"])),
    SiteKind("moved-there", site_forms.MovedThere,
             lambda site, _editor, read: news_acts.moved_there(
                 site, read["page"], read["to"], read["bring_in"])),
    SiteKind("settings", site_forms.Settings,
             lambda site, _editor, read: site_acts.settings(site, read), OWNER),
    SiteKind("people", site_forms.Person,
             lambda site, _editor, read: people_acts.set_member(
                 site, read["editor"], read["role"], read["hands_over"]), OWNER),
    SiteKind("keep-page", site_forms.Kept,
             lambda site, _editor, read: people_acts.keep_page(
                 site, read["page"], read["editors"] or set()), OWNER),
)  # fmt: skip
SITE_ACTS = {row.name: row for row in _SITE_ROWS}


def planned_on_site(name: str, site: Site, editor: Editor, sent: Any) -> Act:
    """The same for an act on a site as a whole."""
    kind = SITE_ACTS[name]
    return kind.plan(site, editor, kind.form(sent).read())


def planned(name: str, page: Page, sent: object) -> Act:
    """An act of the table on a page, planned. sent: what its form is to read. Raises a
    Refusal when it can't be done, and KeyError when there is no such act."""
    kind = ACTS[name]
    form = kind.form(sent, page)
    form.read()
    act = kind.plan(page, form)
    return act if kind.takes else base.keeping_words(act)
