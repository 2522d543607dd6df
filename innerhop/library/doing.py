"""What editors do to a site, whatever it is, goes through here: whether they may is asked, it is
planned by the table of acts, and it becomes one change that says which act it was, and what was
asked, so that it can be undone, listed and forbidden."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from typing import Any

from innerhop.core.refusals import Refusal
from innerhop.library.acts import table
from innerhop.library.acts.base import Act
from innerhop.library.changes import effects, undo, write
from innerhop.library.changes.write import Deed, Steps
from innerhop.library.models import Change, Editor, Membership, Page, Site

# What is done beside the acts of the table.
LOOK = "look"  # what everybody does who opens a screen of a site
CHANGE = "change"  # whatever else becomes another by it
HAND_OVER = "hand-over"  # to take pages, or what is to be entered, out
PEOPLE = "people"  # to say who may do what, which is an act of the table
OWN_TURN, ANY_TURN = "turn-own", "turn-any"  # to take back what oneself did, or anybody

_Role = Membership.Role
_RANKS: dict[str, int] = {_Role.READER: 0, _Role.EDITOR: 1, _Role.OWNER: 2}
# Who does what of these; an editor, where nothing is said.
_WHO = {LOOK: _Role.READER, ANY_TURN: _Role.OWNER, "remove-site": _Role.OWNER}
# Of what a screen sends, how it asks and not what for.
_MANNER = frozenset(("look", "revision", "stamp"))


class MayNot(Refusal):
    """Someone is not to do this on this site."""

    status = 403


def may(editor: Editor, site: Site, kind: str) -> bool:
    """Whether somebody may do that kind of thing on a site. kind: the name of an act, or of
    what is done beside the table, such as HAND_OVER."""
    member = Membership.objects.filter(site=site, editor=editor).first()
    return member is not None and allows(member, kind)


def allows(member: Membership, kind: str) -> bool:
    """The same, of what somebody is on a site."""
    if kind == HAND_OVER:
        return member.hands_over
    row = table.ACTS.get(kind) or table.SITE_ACTS.get(kind)
    who = row.who if row else _WHO.get(kind, table.EDITOR)
    return _RANKS[member.role] >= _RANKS[who]


def require(editor: Editor, site: Site, kind: str) -> None:
    """Raise MayNot where somebody may not do that; it names who may."""
    if not may(editor, site, kind):
        raise MayNot(f"Nothing was done. {who_may(site, kind)}")


def who_may(site: Site, kind: str) -> str:
    """Who may do that on a site, in a sentence."""
    rows = site.membership_set.select_related("editor").order_by("editor__username")
    names = [one.editor.called for one in rows if allows(one, kind)]
    if not names:
        return "Nobody may do that on this site."
    more = f" and {len(names) - _NAMED} more" if len(names) > _NAMED else ""
    return f"On this site, that is for {', '.join(names[:_NAMED])}{more} to do."


_NAMED = 3


def planned(editor: Editor, kind: str, subject: Page | Site, sent: object) -> Act:
    """An act of the table, on a page or on a site as a whole, planned. Raises MayNot and what
    planning raises; KeyError when there is no such act."""
    site = subject.site if isinstance(subject, Page) else subject
    require(editor, site, kind)
    if isinstance(subject, Page):
        act = table.planned(kind, subject, sent)
    else:
        act = table.planned_on_site(kind, subject, editor, sent)
    require_pages(editor, site, {*(plan.page.pk for plan in act.plans), *_named(act.effects)})
    return act


def _named(beside: Sequence[effects.Effect]) -> set[int]:
    """The pages, by primary key, that effects touch or delete."""
    deleted = {one["key"] for one in beside if one.get("what") == "page"}
    return {*effects.pages_of(beside), *deleted}


def require_pages(editor: Editor, site: Site, keys: Collection[int]) -> None:
    """Raise MayNot where one of these pages, by primary key, is kept for others."""
    kept = [page for page in Page.everything.filter(pk__in=keys).exclude(kept_for=[])
            if editor.pk not in page.kept_for]  # fmt: skip
    if kept and not may(editor, site, PEOPLE):
        names = [one.called for one in Editor.objects.filter(pk__in=kept[0].kept_for)]
        more = f", and {len(kept) - 1} more are kept too" if len(kept) > 1 else ""
        whom = ", ".join(names) or "nobody else"
        raise MayNot(f"Nothing was done. “{kept[0].title}” is kept for {whom}{more}.")


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


def allows_turn(member: Membership, change: Change) -> bool:
    """Whether somebody may take a change of their site back, or make it again: everybody their
    own, as long as they may do such a thing at all, and the site's owners all; nobody what was
    let go."""
    if change.let_go is not None:
        return False
    is_own = change.author_id == member.editor_id
    return allows(member, OWN_TURN if is_own else ANY_TURN) and allows(member, change.act)


def turn(editor: Editor, change: Change, *, undone: bool) -> Steps:
    """Taking a change back, or making it again, step by step. Raises MayNot, and what that
    raises."""
    member = Membership.objects.filter(site=change.site_id, editor=editor).first()
    if member is None or not allows_turn(member, change):
        raise MayNot(f"Nothing was taken back. {who_may(change.site, ANY_TURN)}")
    touched = {page.pk for page in undo.pages_of(change)}
    require_pages(editor, change.site, {*touched, *_named(change.effects)})
    return undo.steps(change, editor, undone=undone)
