"""Acts on a site as a whole: its settings, and findings that an editor says are none."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import Any

from innerhop.core.counting import counted
from innerhop.core.findings.table import RULES
from innerhop.core.refusals import CONFLICT, Refusal
from innerhop.library.acts.base import Act, NothingToDo
from innerhop.library.changes import effects
from innerhop.library.models import Asset, Editor, Finding, Page, SetAside, Site

_LONGEST = 300  # of a reason
# What settings are called where they are said to have changed.
SETTINGS = {
    "name": "its name", "language": "its language", "own_letters": "letters of IDs",
    "hop_form": "how hops are written", "air": "air below a header",
    "back_words": "words of ways back", "frame": "the frame of bodies",
    "keeps_months": "how long changes can be taken back",
}  # fmt: skip


class CannotSetAside(Refusal):
    """What was to be set aside is not there."""


class NotListed(CannotSetAside):
    """It was there when the list was read."""

    status = CONFLICT


class NothingToSet(Refusal):
    """The settings are so already."""


def settings(site: Site, wanted: Mapping[str, Any]) -> Act:
    """Give a site these settings, by field. Raises NothingToSet where it has them."""
    new = {name: value for name, value in wanted.items() if getattr(site, name) != value}
    if not new:
        raise NothingToSet("Nothing is different, so nothing was saved.")
    old = {name: getattr(site, name) for name in new}
    said = ", ".join(SETTINGS[name] for name in new)
    return Act(f"Changed settings: {said}", [], effects=[effects.settings(old, new)])


def set_aside(
    site: Site, editor: Editor, findings: Collection[int] | None, rule: str, reason: str
) -> Act:
    """Set findings aside, by primary key, or without any a rule. Raises as these do."""
    if findings:
        return places_aside(site, editor, findings, reason)
    return rule_aside(site, editor, rule, reason)


def places_aside(site: Site, editor: Editor, keys: Collection[int], reason: str) -> Act:
    """Set findings aside, by primary key; they stay so through edits. Raises NotListed."""
    rows = list(Finding.objects.filter(site=site, pk__in=keys, aside=None).order_by("pk"))
    if not rows:
        raise NotListed("Nothing of this is there any more. Load the list again.")
    asides = [_aside(row, editor, reason) for row in rows]
    names = sorted({RULES[row.rule].called for row in rows if row.rule in RULES})
    message = f"Set {counted(len(rows), 'place')} aside: {', '.join(names)}"
    return Act(message, [], effects=[effects.aside(asides)])


def rule_aside(site: Site, editor: Editor, name: str, reason: str) -> Act:
    """Set all findings of a rule aside, those that are yet to come too. Raises
    CannotSetAside."""
    if name not in RULES:
        raise CannotSetAside("There is no such rule. Load the list again.")
    aside = _aside(Finding(site=site, rule=name), editor, reason)
    message = f"Set “{RULES[name].called}” aside on the whole site"
    return Act(message, [], effects=[effects.aside([aside])])


def remove(site: Site, page: int | None = None, file: int | None = None) -> Act:
    """Delete a page, or a file beside the pages, by primary key; it can be had back for 30
    days. Raises NothingToDo where it isn't there."""
    rows, key = (site.pages, page) if page else (site.assets, file)
    one: Page | Asset | None = rows.filter(pk=key or 0).first()
    if one is None:
        raise NothingToDo("That is deleted already, or was never here.")
    called = one.title if isinstance(one, Page) else one.path
    return Act(f"Deleted “{called}”", [], effects=[effects.removed(one)])


def count_again(site: Site, key: int) -> Act:
    """Let what was set aside count again. Raises CannotSetAside."""
    row = site.set_aside.filter(pk=key).first()
    if row is None:
        raise CannotSetAside("It counts already. Load the list again.")
    called = RULES[row.rule].called if row.rule in RULES else row.rule
    return Act(f"“{called}” counts again", [], effects=[effects.counts([row])])


def _aside(of: Finding, editor: Editor, reason: str) -> SetAside:
    plain = " ".join(reason.replace("\0", "").split())[:_LONGEST]
    where = {"site_id": of.site_id, "page_id": of.page_id, "rule": of.rule, "key": of.key}
    return SetAside(**where, editor=editor, reason=plain)
