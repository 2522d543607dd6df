"""Who else works on the demo site, and what they did there before anybody looks."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from innerhop.core.names.ids import suggest
from innerhop.library import doing
from innerhop.library.index.texts import naming_of
from innerhop.library.models import BringIn, Change, Editor, Mark, Membership, Page, Site
from innerhop.library.steps import finished

_ROLE = Membership.Role


@transaction.atomic
def join(site: Site) -> None:
    """Let three more into the demo site, of whom two did something. Nobody can sign in as one
    of them: they have no password."""
    jo = _member(site, "jo", "Jo Barrow", _ROLE.EDITOR)
    mo = _member(site, "mo", "Mo Okafor", _ROLE.EDITOR)
    _member(site, "ada", "Ada Kell", _ROLE.READER)
    owner = site.membership_set.get(role=_ROLE.OWNER).editor
    _ago(site.bring_ins.order_by("pk")[0], 50)
    _ago(_mark(mo, site, "/about/", "How we decide"), 27.2)
    taken_back = _mark(mo, site, "/lock-guide/", "A note on paddle gear")
    finished(doing.turn(owner, taken_back, undone=True))
    _ago(taken_back, 26.4)
    _ago(_mark(jo, site, "/skippers-handbook/", "Going up", "Going down", "Lifting bridges"), 4.5)
    _ago(_rename(jo, site, "/volunteer-days/", "signing-on", "sign-up"), 1.2)
    # Whoever looks was here yesterday, so that something is new to them.
    seen = timezone.now() - timedelta(hours=20)
    site.membership_set.filter(editor=owner).update(was_here=seen)


def _member(site: Site, name: str, called: str, role: str) -> Editor:
    first, _, last = called.partition(" ")
    editor = Editor(username=name, first_name=first, last_name=last)
    editor.set_unusable_password()
    editor.save()
    Membership.objects.create(site=site, editor=editor, role=role)
    return editor


def _mark(editor: Editor, site: Site, path: str, *titles: str) -> Change:
    page = _page(site, path)
    sections = page.sections.filter(title__in=titles, mark="")
    marks = [{"number": one.number, "id": suggest(one.title, naming_of(page))} for one in sections]
    return _do(editor, "mark", page, {"marks": marks})


def _rename(editor: Editor, site: Site, path: str, old: str, new: str) -> Change:
    page = _page(site, path)
    number = Mark.objects.filter(page=page, value=old).values_list("number", flat=True)[0]
    return _do(editor, "rename", page, {"number": number, "id": new})


def _do(editor: Editor, name: str, page: Page, sent: dict[str, Any]) -> Change:
    return doing.do(editor, name, page, sent)


def _page(site: Site, path: str) -> Page:
    page: Page = site.pages.select_related("site").get(path=path)
    return page


def _ago(event: Change | BringIn, hours: float) -> None:
    type(event).objects.filter(pk=event.pk).update(made=timezone.now() - timedelta(hours=hours))
