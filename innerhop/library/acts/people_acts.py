"""Who may do what on a site, as an act: one may be let in, be given another part, or be let
out."""

from __future__ import annotations

from collections.abc import Collection

from innerhop.core.refusals import Refusal
from innerhop.library.acts.base import Act
from innerhop.library.acts.site_acts import NothingToSet
from innerhop.library.changes import effects
from innerhop.library.models import Editor, Membership, Site

ROLES: dict[str, str] = {
    Membership.Role.OWNER: "does everything, and says who may do what",
    Membership.Role.EDITOR: "changes pages, and takes back what they did themselves",
    Membership.Role.READER: "sees everything, and changes nothing",
}


class NobodyThere(Refusal):
    """No such person; says what to do."""


def set_member(site: Site, key: int, role: str, hands_over: bool) -> Act:
    """Give somebody, by primary key, a role on a site, or none with "". Raises NobodyThere, and
    NothingToSet where it is so already."""
    editor = Editor.objects.filter(pk=key, is_active=True).first()
    if editor is None:
        raise NobodyThere("There is nobody like that any more. Load the page again.")
    there = site.membership_set.filter(editor=editor).first()
    old = _row(there.role, there.hands_over) if there else None
    new = _row(role, hands_over) if role else None
    if old == new:
        raise NothingToSet("Nothing is different, so nothing was saved.")
    return Act(_said(editor, old, new), [], effects=[effects.member(editor.pk, old, new)])


def keep_page(site: Site, key: int, editors: Collection[int]) -> Act:
    """Keep a page, by primary key, for some of the site's editors, or for all with none. Raises
    NobodyThere, and NothingToSet where it is so already."""
    page = site.pages.filter(pk=key).first()
    if page is None:
        raise NobodyThere("That page is not here any more. Load the screen again.")
    members = site.membership_set.filter(editor__in=editors, role=Membership.Role.EDITOR)
    wanted = sorted(members.values_list("editor", flat=True))
    if wanted == page.kept_for:
        raise NothingToSet("Nothing is different, so nothing was saved.")
    named = ", ".join(one.editor.called for one in members.select_related("editor"))
    said = f"Kept “{page.title}” for {named}" if wanted else f"Let all change “{page.title}”"
    return Act(said, [], effects=[effects.kept(page, wanted)])


def _row(role: str, hands_over: bool) -> dict[str, object]:
    return {"role": role, "hands_over": hands_over}


def _said(editor: Editor, old: dict[str, object] | None, new: dict[str, object] | None) -> str:
    name = editor.called
    if new is None:
        return f"Let {name} out of the site"
    hands = "" if new["hands_over"] else ", who may not hand over"
    if old is None:
        return f"Let {name} in as {_a(new['role'])}{hands}"
    if old["role"] != new["role"]:
        return f"Made {name} {_a(new['role'])}{hands}"
    return f"Let {name} hand over" if new["hands_over"] else f"Let {name} hand over no more"


def _a(role: object) -> str:
    word = Membership.Role(str(role)).label.lower()
    return f"an {word}" if word[0] in "aeiou" else f"a {word}"
