"""Every state of every screen that has controls of its own, in one table: what holds for
all of them (axe-core, forced colours, text spacing) is tried on each, and a new screen adds
its states here. Each is reached from nothing, in the order of the table."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import replace
from datetime import timedelta

from django.utils import timezone
from playwright.sync_api import expect

from innerhop.library import doing, sites
from innerhop.library.bring_in import bring_ins
from innerhop.library.changes import undo
from innerhop.library.index.texts import current
from innerhop.library.models import (
    Editor,
    FoundThere,
    Invitation,
    Job,
    Look,
    Membership,
    Seen,
    Site,
    Staged,
    WalkedThere,
)
from innerhop.practice import edited_there
from innerhop.practice.demo import PASSWORD
from tests.browser.conftest import Desk

HANDBOOK = "/skippers-handbook/"
State = Callable[[Desk], object]


def _screen(path: str) -> State:
    return lambda desk: desk.tab.goto(f"{desk.server}/marrowby-canal-trust{path}")


def _chosen(title: str) -> State:
    def reach(desk: Desk) -> None:
        desk.open(HANDBOOK)
        desk.tab.locator(".outline-row", has_text=title).click()
        desk.side.get_by_role("button", name="Larger").wait_for()

    return reach


def _doing(act: str, title: str = "Your first lock") -> State:
    def reach(desk: Desk) -> None:
        _chosen(title)(desk)
        desk.side.get_by_role("button", name=act, exact=True).locator("visible=true").click()
        desk.settled()

    return reach


def _on_outline(*presses: str) -> State:
    def reach(desk: Desk) -> None:
        desk.open(HANDBOOK)
        for name in presses:
            desk.press(name)
        desk.settled()

    return reach


def _hop(act: str = "") -> State:
    def reach(desk: Desk) -> None:
        desk.open(HANDBOOK)
        kinds = desk.side.get_by_role("group", name="Which hops are listed")
        kinds.get_by_role("button", name="Out").click()
        desk.side.get_by_role("button", name=re.compile("^stop planks note")).click()
        if act:
            desk.press(act)
        desk.settled()

    return reach


def _locked(desk: Desk) -> None:
    desk.open(HANDBOOK)
    desk.click("footer h2")
    desk.press("Lock this part")
    desk.press("Put a marker before it")
    desk.settled()


def _no_such_id(desk: Desk) -> None:
    _chosen("Lifting bridges")(desk)
    desk.tab.get_by_label("ID for this section").fill("a b")
    desk.shown("Use a-b").wait_for()


def _trouble(desk: Desk) -> None:
    desk.open(HANDBOOK)
    desk.tab.get_by_label("Link words on this page").fill("no such words")
    desk.press("Find")
    desk.tab.get_by_role("alert").get_by_text("not on this page").wait_for()


def _words(desk: Desk) -> None:
    desk.open(HANDBOOK)
    desk.select("the lifebelt")
    desk.side.get_by_role("option", name="Your first lock").click()
    desk.settled()


def _broken(desk: Desk) -> None:
    desk.open("/moorings/")
    desk.side.get_by_role("button", name=re.compile("^what is included")).click()
    desk.settled()


def _moving_by_keys(desk: Desk) -> None:
    _doing("Move")(desk)
    desk.tab.keyboard.press("2")
    desk.tab.keyboard.press("ArrowDown")
    desk.settled()


def _finder(words: str) -> State:
    def reach(desk: Desk) -> None:
        _screen("/")(desk)
        desk.tab.get_by_label("Find a page or mark").press_sequentially(words)
        desk.tab.locator("#found li[role=option]").locator("visible=true").first.wait_for()

    return reach


def _deleted(desk: Desk) -> None:
    page = desk.site.pages.get(path="/volunteer-days/")
    desk.tab.goto(f"{desk.server}{page.get_absolute_url()}delete/")
    desk.tab.get_by_role("button", name="Delete the page").click()
    desk.tab.get_by_role("button", name="Have it back").wait_for()


def _changed_there(desk: Desk) -> None:
    """A page that was worked on, brought in again: a meeting, and what both sides did."""
    page = desk.site.pages.get(path=HANDBOOK)
    editor = Editor.objects.get()
    if not page.new_texts.exists():
        number = page.sections.get(title="You are aground").number
        doing.do(editor, "mark", page, {"marks": [{"number": number, "id": "aground"}]})
        pieces = [
            replace(one, data=one.data.replace(b"<h3>You are aground", b"<h3>If you are aground"))
            for one in edited_there.pieces()
        ]
        for _ in bring_ins.bring_in(desk.site, editor, pieces, len(pieces), replace=True):
            pass
    _screen("/")(desk)
    desk.tab.get_by_role("link", name="See what changed there").click()
    desk.tab.get_by_role("heading", name="They meet").wait_for()


def _came_in(desk: Desk) -> None:
    _screen(f"/bring-in/{desk.site.bring_ins.earliest('pk').pk}/")(desk)


def _job(state: str, pages: int) -> State:
    """A fetch of which so many pages have come."""

    def reach(desk: Desk) -> None:
        Job.objects.all().delete()
        editor = Editor.objects.get(username="demo")
        address = "http://marrowby.example/"
        asked = {"address": address, "below": "/", "most": 50}
        more = {"done": pages, "total": 12, "said": "2 pages and 4 files", "beat": timezone.now()}
        more |= {"state": state, "message": "The fetching broke off."}
        where = {"site": desk.site, "editor": editor}
        job = Job.objects.create(**where, kind="fetch", asked=asked, **more)
        found = {"title": "Moorings", "words": 900,
                 "sections": [[1, 100, False], [2, 700, True]]}  # fmt: skip
        for at in range(pages):
            Staged.objects.create(job=job, number=at + 1, kind="page", name=f"{address}{at}/",
                                  found=found)  # fmt: skip
        _screen(f"/jobs/{job.pk}/")(desk)

    return reach


def _broke_there(desk: Desk, look: Look) -> None:
    """A hop of the site itself that broke, and what became of one that was followed there."""
    page = desk.site.pages.get(path=HANDBOOK)
    why = "Somebody renamed it: “ice” stands at the same heading."
    FoundThere.objects.create(
        page=page, site=desk.site, number=9, rule="no-id", words="winter", key="winter", why=why,
        told={"on": page.pk, "id": "winter", "href": "#winter", "then": ""}, is_broken=True,
        since=look, broke=True, todo="Give it back.", enter="winter", href="#winter",
    )  # fmt: skip
    look.changed = [{"what": "broke", "page": page.pk, "title": page.title, "path": page.path,
                     "words": "winter", "href": "#winter", "why": why}]  # fmt: skip
    look.save()
    Site.objects.filter(pk=desk.site.pk).update(live_broke=1, feed_key="k" * 43)
    for width, verdict, trouble in ((390, "covered", ""), (820, "clear", ""), (1280, "", why)):
        WalkedThere.objects.create(page=page, site=desk.site, number=7, href="#ice", words="Ice",
                                   width=width, verdict=verdict, says=verdict,
                                   trouble=trouble)  # fmt: skip


def _what_broke(desk: Desk) -> None:
    _live(False)(desk)
    desk.tab.locator(".live-broke a").first.click()
    desk.tab.get_by_role("heading", name="It asks for", exact=True).wait_for()


def _addresses(desk: Desk) -> None:
    page = desk.site.pages.get(path=HANDBOOK)
    desk.tab.goto(f"{desk.server}{page.get_absolute_url()}addresses/")


def _live(step: bool, path: str = "/live/") -> State:
    """Two marks planned, one of them entered with a slip; and a hop that waits for one."""

    def reach(desk: Desk) -> None:
        if not Look.objects.exists():
            editor = Editor.objects.get(username="demo")
            Look.objects.create(site=desk.site, editor=editor, pages=2, not_yet=2, broken=2)
            look = Look.objects.create(site=desk.site, editor=editor, pages=2, not_yet=1, broken=3)
            _broke_there(desk, look)
            for on, title in ((HANDBOOK, "Rings, bollards and pins"), ("/moorings/", "")):
                page = desk.site.pages.get(path=on)
                named = page.sections.filter(mark="")
                number = (named.filter(title=title) or named)[0].number
                before = bytes(current(page).revision.content)
                sent = {"marks": [{"number": number, "id": "planned"}]}
                doing.do(editor, "mark", page, sent)
                Seen.objects.create(page=page, look=look, content=before, label="utf-8",
                                    codec="utf-8")  # fmt: skip
            about = desk.site.pages.get(path="/moorings/")
            sent = {"number": about.sections.order_by("number")[1].number, "side": "before",
                    "words": "Pins", "end": {"page": desk.site.pages.get(path=HANDBOOK).pk,
                                             "id": "planned"}}  # fmt: skip
            doing.do(editor, "put-link", about, sent)
        _screen(path)(desk)
        if step:
            desk.tab.locator(".live-row svg a").first.click()
            desk.tab.get_by_role("heading", name="As planned", exact=True).wait_for()

    return reach


def _jobs(desk: Desk) -> None:
    _job("failed", 2)(desk)
    _screen("/jobs/")(desk)


def _no_jobs(desk: Desk) -> None:
    Job.objects.all().delete()
    _screen("/jobs/")(desk)


def _question(desk: Desk) -> None:
    page = desk.site.pages.get(path="/about/")
    desk.tab.goto(f"{desk.server}{page.get_absolute_url()}delete/")


def _difference(desk: Desk) -> None:
    page = desk.site.pages.get(path=HANDBOOK)
    desk.tab.goto(f"{desk.server}{page.get_absolute_url()}difference/")


def _empty(desk: Desk) -> None:
    found = next((one for one in sites.of(Editor.objects.get()) if one.name == "Empty"), None)
    site = found or sites.create("Empty", "empty.example", "en", Editor.objects.get())
    desk.tab.goto(f"{desk.server}{site.get_absolute_url()}")


def _wrong_address(desk: Desk) -> None:
    desk.tab.goto(f"{desk.server}/?all")
    desk.tab.get_by_label("Name of the site").fill("Wrong")
    desk.tab.get_by_label("Address").fill("no address")
    desk.tab.get_by_role("button", name="Start the site").click()
    desk.tab.get_by_role("alert").wait_for()


def _signed_out(desk: Desk) -> None:
    desk.tab.goto(f"{desk.server}/?all")
    desk.tab.get_by_role("button", name="Sign out").click()
    desk.tab.wait_for_url("**/sign-in/")


def _rehearsal(desk: Desk) -> None:
    page = desk.site.pages.get(path="/volunteer-days/")
    _screen(f"/rehearsal/?page={page.pk}")(desk)
    desk.tab.get_by_text("covered", exact=False).first.wait_for()
    desk.tab.locator("progress").wait_for(state="hidden")
    desk.settled()


def _menus(*presses: str) -> State:
    def reach(desk: Desk) -> None:
        _screen("/menus/")(desk)
        desk.tab.locator("tr[data-row]").first.wait_for()
        for name in presses:
            desk.tab.get_by_role("button", name=name).first.click()
        desk.settled()

    return reach


def _finding(desk: Desk) -> None:
    _screen("/findings/")(desk)
    first = desk.tab.locator(".finding").first
    first.get_by_role("button", name="See all").click()
    first.get_by_role("button", name="See what changes").click()
    expect(first.get_by_text("What changes in the markup").first).to_be_visible()
    first.get_by_role("button", name="Set aside").click()


def _at(path: str) -> State:
    """A screen of no site."""
    return lambda desk: desk.tab.goto(f"{desk.server}{path}")


def _history(desk: Desk) -> None:
    """What two people did, with one thing chosen that was taken back."""
    owner, mo = Editor.objects.get(username="demo"), Editor.objects.filter(username="mo").first()
    if mo is None:
        mo = Editor.objects.create_user("mo", first_name="Mo", last_name="Okafor")
        Membership.objects.create(site=desk.site, editor=mo)
        page = desk.site.pages.get(path="/about/")
        sent = {"marks": [{"number": page.sections.filter(mark="")[0].number, "id": "by-mo"}]}
        undo.undo(doing.do(mo, "mark", page, sent), owner)
        page.refresh_from_db()
        doing.do(mo, "mark", page, sent)
        desk.site.membership_set.filter(editor=owner).update(
            was_here=timezone.now() - timedelta(days=1)
        )
    found = desk.site.changes.exclude(undone=None)[0]
    _screen(f"/history/?of=c{found.pk}")(desk)


def _people(desk: Desk) -> None:
    _history(desk)
    owner = Editor.objects.get(username="demo")
    Invitation.objects.get_or_create(site=desk.site, email="ivy@marrowby.example", role="editor",
                                     inviter=owner, key="ivy")  # fmt: skip
    _screen("/people/")(desk)


def _invited(desk: Desk) -> None:
    _people(desk)
    desk.tab.get_by_role("button", name="Sign out").click()
    _at("/-/join/ivy/")(desk)


def _second_step(desk: Desk) -> None:
    desk.tab.goto(f"{desk.server}/-/account/2fa/totp/activate/")
    desk.tab.get_by_label("Password").fill(PASSWORD)
    desk.tab.get_by_role("button", name="Go on").click()
    desk.tab.get_by_role("img", name="The secret below, to scan").wait_for()


STATES: dict[str, State] = {
    "pages": _screen("/"),
    "pages, none found": _screen("/?filter=nothing+of+the+kind"),
    "finder": _finder("lock"),
    "finder, nothing": _finder("qqqq"),
    "map": _screen("/map/"),
    "menus": _menus(),
    "an item of a menu": _menus("Book #book"),
    "a new item of a menu": _menus("Add an item"),
    "the pages of a station": _menus("About the Trust"),
    "rehearsal": _rehearsal,
    "findings": _screen("/findings/"),
    "places of a finding": _finding,
    "what is set aside": _screen("/findings/aside/"),
    "a rule": _screen("/findings/rules/landing-covered/"),
    "history": _screen("/history/"),
    "bring in": _screen("/bring-in/"),
    "account of a bring-in": _came_in,
    "what changed there": _changed_there,
    "a job at work": _job("runs", 2),
    "a job that broke off": _job("failed", 2),
    "long work": _jobs,
    "live": _live(False),
    "a planned thing": _live(True),
    "long work, none": _no_jobs,
    "settings": _screen("/settings/"),
    "files": _screen("/files/"),
    "sites": lambda desk: desk.tab.goto(f"{desk.server}/?all"),
    "sites, wrong address": _wrong_address,
    "a site without pages": _empty,
    "not here": lambda desk: desk.tab.goto(f"{desk.server}/no-such-site/"),
    "outline": _on_outline(),
    "keyboard shortcuts": _on_outline("Keyboard shortcuts"),
    "mark many": _on_outline("Mark many"),
    "add to the menu": _on_outline("Add this page to the menu"),
    "how hops are written": _on_outline("Change how they are written"),
    "a new contents list": _on_outline("Make a contents list"),
    "a contents list out of step": _on_outline("Contents list, 8 entries out of step"),
    "what visitors get": _on_outline("What visitors get"),
    "an unmarked section": _chosen("Lifting bridges"),
    "an ID that is none": _no_such_id,
    "a marked section": _chosen("Your first lock"),
    "rename": _doing("Rename"),
    "remove": _doing("Remove"),
    "move": _doing("Move"),
    "move, by keys": _moving_by_keys,
    "change a level": _doing("Change its level"),
    "room under the header": _doing("Leave room for it"),
    "a hop of a part": _doing("Make a hop of it"),
    "a link to words": _doing("Link to its words", "Lifting bridges"),
    "a hop": _hop(),
    "a link beside it": _hop("Put a link beside it"),
    "another way to write it": _hop("Change how it is written"),
    "another end": _hop("Change where it leads"),
    "a broken hop": _broken,
    "words for a hop": _words,
    "trouble": _trouble,
    "a locked part": _locked,
    "hand over": _screen("/hand-over/"),
    "copy sheet": _screen("/hand-over/copy-sheet/"),
    "what changed on a page": _difference,
    "delete a page?": _question,
    "a page was deleted": _deleted,
    "what broke on the site": _what_broke,
    "what changed at a look": _live(False, "/live/?look=2"),
    "the site itself": _live(False, "/live/there/?rule=no-id"),
    "mails of the demo": lambda desk: desk.tab.goto(f"{desk.server}/-/mails/"),
    "addresses to print": _addresses,
    "a code to scan": _doing("A code to scan"),
    "history, something chosen": _history,
    "people": _people,
    "your account": _at("/-/account/"),
    "is it you?": _at("/-/account/2fa/totp/activate/"),
    "turn on two steps": _second_step,
    "mail addresses": _at("/-/account/email/"),
    "where one is signed in": _at("/-/account/sessions/"),
    "close the account?": _at("/-/account/leave/"),
    "password forgotten": _at("/-/account/password/reset/"),
    # Nothing comes after these where the states are shared out.
    "an invitation": _invited,
    "signed out": _signed_out,
}
