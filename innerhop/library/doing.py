"""What editors do to a site, whatever it is, goes through here: whether they may is asked, it is
planned by the table of acts, and it becomes one change that says which act it was, and what was
asked, so that it can be undone, listed and forbidden."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from innerhop.core.refusals import Refusal
from innerhop.library.acts import table
from innerhop.library.acts.base import Act
from innerhop.library.changes import write
from innerhop.library.changes.write import Deed, Steps
from innerhop.library.models import Change, Editor, Page, Site

LOOK = "look"  # what everybody does who opens a screen of a site
# Of what a screen sends, how it asks and not what for.
_MANNER = frozenset(("look", "revision", "stamp"))


class MayNot(Refusal):
    """Someone is not to do this on this site."""

    status = 403


def may(editor: Editor, site: Site, kind: str) -> bool:
    """Whether an editor may do that kind of thing on a site. kind: the name of an act, or of
    what is done beside the table, such as `remove`."""
    row = table.ACTS.get(kind) or table.SITE_ACTS.get(kind)
    who = row.who if row else table.EDITOR
    return who == table.EDITOR and site.editors.filter(pk=editor.pk).exists()


def require(editor: Editor, site: Site, kind: str) -> None:
    """Raise MayNot where an editor may not do that."""
    if not may(editor, site, kind):
        raise MayNot("You are not an editor of this site, so nothing was done.")


def planned(editor: Editor, kind: str, subject: Page | Site, sent: object) -> Act:
    """An act of the table, on a page or on a site as a whole, planned. Raises MayNot and what
    planning raises; KeyError when there is no such act."""
    site = subject.site if isinstance(subject, Page) else subject
    require(editor, site, kind)
    if isinstance(subject, Page):
        return table.planned(kind, subject, sent)
    return table.planned_on_site(kind, subject, editor, sent)


def steps(editor: Editor, kind: str, site: Site, sent: object, act: Act) -> Steps:
    """An act that `planned` planned, carried out step by step. sent: what was asked for."""
    asked = dict(sent) if isinstance(sent, Mapping) else {}
    deed = Deed(kind, {name: asked[name] for name in asked.keys() - _MANNER})
    return write.save_steps(site, editor, act.message, act.plans, act.effects, deed=deed)


def do(editor: Editor, kind: str, subject: Page | Site, sent: Any) -> Change:
    """Plan an act and carry it out, for those who don't watch it. Raises the same."""
    act = planned(editor, kind, subject, sent)
    site = subject.site if isinstance(subject, Page) else subject
    return write.run(steps(editor, kind, site, sent, act))
