"""The kinds of effects that a change has beside texts: how each is carried out and taken back,
in the transaction that writes the change."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from functools import partial
from typing import Any, NamedTuple

from django.db import IntegrityError, transaction

from innerhop.core.refusals import CONFLICT, Refusal
from innerhop.library import removal
from innerhop.library.changes import our_files, style_sheets
from innerhop.library.index import findings, led_on
from innerhop.library.models import (
    Asset,
    Change,
    Editor,
    LockedPart,
    Membership,
    MenuPlan,
    Move,
    NewText,
    Page,
    SetAside,
)

Effect = dict[str, Any]
# Given the change, the effect, and the page that it names, locked.
Turn = Callable[[Change, Effect, Page], None]

ADDRESS, LOCK, UNLOCK, FILE, PLAN, SHEET = "address", "lock", "unlock", "file", "plan", "sheet"
SETTINGS, ASIDE, COUNTS, REMOVED = "settings", "aside", "counts", "removed"
TAKEN, WAITS, MEMBER = "taken", "waits", "member"
KEPT = "kept"


class AddressTaken(Refusal):
    """Another page of the site has this address; says which."""

    status = CONFLICT


class InTheWay(Refusal):
    """A later change did the same kind of thing to the same page, part or setting."""

    status = CONFLICT

    def __init__(
        self,
        message: str = "A later change gave this page another address, or locked or unlocked this "
        "part, once more. Undo that one first.",
    ) -> None:
        super().__init__(message)


_SINCE = "The same was changed once more since, or is gone for good. Undo the later one first."


class NobodyOwns(Refusal):
    """A site would have no owner."""

    status = CONFLICT


class PlanMovedOn(Refusal):
    """Someone changed the same plan of a menu meanwhile."""

    status = CONFLICT

    def __init__(self) -> None:
        super().__init__("This plan of a menu was changed once more meanwhile. Nothing is lost.")


class EffectKind(NamedTuple):
    """How effects of a kind are carried out, and taken back."""

    do: Turn
    undo: Turn


def _way(effect: Effect, undone: bool) -> tuple[Any, Any]:
    """What is there before, and what after."""
    before, after = effect["old"], effect["new"]
    return (after, before) if undone else (before, after)


def _address(change: Change, effect: Effect, page: Page, undone: bool) -> None:
    before, after = _way(effect, undone)
    if page.path != before:
        raise InTheWay
    _set_path(page, after)
    if effect["moved"]:
        where = {"site": page.site, "page": page, "change": change}
        Move.objects.get_or_create(**where, defaults={"old": effect["old"], "new": effect["new"]})


def _set_path(page: Page, path: str) -> None:
    key = page.site.key_of(path)
    other = page.site.pages.filter(key=key).exclude(pk=page.pk).first()
    if other is None:
        led_on.forget(page.site, [key])
        page.path, page.key = path, key
        try:
            with transaction.atomic():
                page.save(update_fields=["path", "key"])
        except IntegrityError:  # someone was faster by a moment
            raise AddressTaken("Another page has just got this address. Choose another.") from None
    else:
        raise AddressTaken(f"“{other.title}” has the address {other.path} already. Choose another.")


def _lock(change: Change, effect: Effect, page: Page) -> None:
    if "part" in effect:  # done before, and undone
        _lift(change, effect, page, lifted=False)
        return
    number, last = effect["number"], effect["last"]
    effect["part"] = LockedPart.objects.create(page=page, number=number, last=last).pk


def _lift(_change: Change, effect: Effect, _page: Page, lifted: bool) -> None:
    part = LockedPart.objects.filter(pk=effect["part"], lifted=not lifted)
    if not part.update(lifted=lifted):
        raise InTheWay


def _plan(change: Change, effect: Effect, _page: Page, undone: bool) -> None:
    before, after = _way(effect, undone)
    if effect["plan"] is None:
        effect["plan"] = MenuPlan.objects.create(site=change.site, **after).pk
        return
    there = MenuPlan.objects.select_for_update().get(pk=effect["plan"])
    now = None if there.gone else {"name": there.name, "items": there.items}
    if now != before:
        raise PlanMovedOn
    there.gone = after is None
    if after is not None:
        there.name, there.items = after["name"], after["items"]
    there.save()


def _settings(change: Change, effect: Effect, _page: Page, undone: bool) -> None:
    before, after = _way(effect, undone)
    site = type(change.site).objects.select_for_update(no_key=True).get(pk=change.site_id)
    if any(getattr(site, name) != value for name, value in before.items()):
        raise InTheWay(_SINCE)
    for one in (site, change.site):
        for name, value in after.items():
            setattr(one, name, value)
    site.save(update_fields=list(after))


def _member(change: Change, effect: Effect, _page: Page, undone: bool) -> None:
    before, after = _way(effect, undone)
    # One at a time: of two who own a site, each could let the other out.
    site = type(change.site).objects.select_for_update(no_key=True).get(pk=change.site_id)
    rows = Membership.objects.filter(site=site)
    there = rows.filter(editor=effect["editor"])
    if there.values("role", "hands_over").first() != before:
        raise InTheWay(_SINCE)
    if after is None:
        there.delete()
    elif not Editor.objects.filter(pk=effect["editor"]).exists():
        raise InTheWay("Who that was about has left, and has no account any more.")
    else:
        there.update_or_create(site=site, editor_id=effect["editor"], defaults=after)
    if not rows.filter(role=Membership.Role.OWNER, editor__is_active=True).exists():
        raise NobodyOwns("A site has at least one owner. Let another own it first.")


def _keep(_change: Change, effect: Effect, page: Page, undone: bool) -> None:
    before, after = _way(effect, undone)
    if page.kept_for != before:
        raise InTheWay(_SINCE)
    page.kept_for = after
    page.save(update_fields=["kept_for"])


def _set_aside(change: Change, effect: Effect, _page: Page) -> None:
    pages = {row["page_id"] for row in effect["rows"]} - {None}
    if Page.everything.filter(pk__in=pages).count() < len(pages):  # gone after its time
        raise InTheWay(_SINCE)
    for row in effect["rows"]:
        where = {name: row[name] for name in ("page_id", "rule", "key")}
        editor = Editor.objects.filter(pk=row["editor_id"]).first()  # None for who has left
        more = {"reason": row["reason"], "editor": editor}
        SetAside.objects.get_or_create(site=change.site, **where, defaults=more)
    _look_again(change, effect["rows"])


def _count(change: Change, effect: Effect, _page: Page) -> None:
    for row in effect["rows"]:
        where = {name: row[name] for name in ("page_id", "rule", "key")}
        if not SetAside.objects.filter(site=change.site, **where).delete()[0]:
            raise InTheWay(_SINCE)
    _look_again(change, effect["rows"])


def _remove(change: Change, effect: Effect, _page: Page) -> None:
    one = _removable(effect)
    if one is None or one.removed is not None:
        raise InTheWay(_SINCE)
    removal.remove(one, change.author)


def _have_back(_change: Change, effect: Effect, _page: Page) -> None:
    one = _removable(effect)
    if one is None:  # gone for good after its time
        raise InTheWay(_SINCE)
    if one.removed is not None:
        removal.have_back(one)


def _take_in(change: Change, effect: Effect, _page: Page) -> None:
    rows = NewText.objects.filter(pk__in=effect["texts"])
    if rows.filter(change=None).update(change=change) < len(effect["texts"]):
        raise InTheWay("Somebody took these pages in meanwhile, or brought them in once more.")


def _let_wait(change: Change, _effect: Effect, _page: Page) -> None:
    NewText.objects.filter(change=change).update(change=None)


def _wait(_change: Change, effect: Effect, page: Page) -> None:
    other = Page.everything.get(pk=effect["text_of"])
    text = other.revisions.get(number=other.revision)
    NewText.objects.create(
        page=page, bring_in_id=effect["bring_in"], content=text.content, label=text.label,
        codec=text.codec, mark=text.mark,
    )  # fmt: skip


def _wait_no_more(_change: Change, effect: Effect, page: Page) -> None:
    rows = NewText.objects.filter(page=page, bring_in=effect["bring_in"])
    if rows.exclude(change=None).exists():
        raise InTheWay("Its new text was taken in since. Undo that one first.")
    rows.delete()


def _removable(effect: Effect) -> Page | Asset | None:
    model = Page if effect["what"] == "page" else Asset
    found: Page | Asset | None = model.everything.filter(pk=effect["key"]).first()
    return found


def _look_again(change: Change, rows: Sequence[Mapping[str, Any]]) -> None:
    for rule in {row["rule"] for row in rows}:
        findings.set_aside_again(change.site, rule)


def _both(turn: Callable[..., None]) -> EffectKind:
    return EffectKind(partial(turn, undone=False), partial(turn, undone=True))


def _of_page(turn: Callable[[Change, Effect], None]) -> Turn:
    return lambda change, effect, _page: turn(change, effect)


KINDS: dict[str, EffectKind] = {
    ADDRESS: _both(_address),
    LOCK: EffectKind(_lock, partial(_lift, lifted=True)),
    UNLOCK: EffectKind(partial(_lift, lifted=True), partial(_lift, lifted=False)),
    FILE: EffectKind(_of_page(our_files.put_in), _of_page(our_files.take_out)),
    PLAN: _both(_plan),
    SHEET: EffectKind(_of_page(style_sheets.put_in), _of_page(style_sheets.take_out)),
    SETTINGS: _both(_settings),
    ASIDE: EffectKind(_set_aside, _count),
    COUNTS: EffectKind(_count, _set_aside),
    REMOVED: EffectKind(_remove, _have_back),
    TAKEN: EffectKind(_take_in, _let_wait),
    WAITS: EffectKind(_wait, _wait_no_more),
    MEMBER: _both(_member),
    KEPT: _both(_keep),
}
