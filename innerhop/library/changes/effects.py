"""What a change does beside writing texts: a page gets another address, a part is locked
or unlocked, a file of ours is put beside the site's own. An effect is data, kept with its
change; it is carried out in the transaction that writes the change, and turned round when
the change is undone."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.db import IntegrityError, transaction

from innerhop.core.refusals import CONFLICT, Refusal
from innerhop.library.changes import our_files, style_sheets
from innerhop.library.index import shared_parts
from innerhop.library.models import Asset, Change, LockedPart, MenuPlan, Move, Page

ADDRESS, LOCK, UNLOCK, FILE, PLAN = "address", "lock", "unlock", "file", "plan"
SHEET = "sheet"
Effect = dict[str, Any]


class AddressTaken(Refusal):
    """Another page of the site has this address; says which."""

    status = CONFLICT


class InTheWay(Refusal):
    """A later change did the same kind of thing to the same page or part."""

    status = CONFLICT

    def __init__(self) -> None:
        super().__init__(
            "A later change gave this page another address, or locked or unlocked this part, once "
            "more. Undo that one first."
        )


class PlanMovedOn(Refusal):
    """Someone changed the same plan of a menu meanwhile."""

    status = CONFLICT

    def __init__(self) -> None:
        super().__init__("This plan of a menu was changed once more meanwhile. Nothing is lost.")


def address(page: Page, path: str, moved: bool) -> Effect:
    """A page gets another address. moved: whether readers knew it by the old one."""
    return {"kind": ADDRESS, "page": page.pk, "old": page.path, "new": path, "moved": moved}


def lock(copies: Sequence[shared_parts.Copy], lasts: Sequence[int]) -> list[Effect]:
    """A part can't be edited, on every page that has it."""
    return [
        {"kind": LOCK, "page": copy.page.pk, "number": copy.number, "last": last}
        for copy, last in zip(copies, lasts, strict=True)
    ]


def unlock(parts: Sequence[LockedPart]) -> list[Effect]:
    """Locked parts can be edited again."""
    return [{"kind": UNLOCK, "page": one.page_id, "part": one.pk} for one in parts]


def file(page: Page, path: str) -> Effect:
    """A file of ours is among the site's (see `our_files`), since a page links it."""
    return {"kind": FILE, "page": page.pk, "path": path}


def plan(key: int | None, old: dict[str, Any] | None, new: dict[str, Any] | None) -> Effect:
    """A plan of a menu becomes another: its name and items before and after, None for no
    plan. key: its primary key, None for a new one."""
    return {"kind": PLAN, "plan": key, "old": old, "new": new}


def sheet(asset: Asset, css: str) -> Effect:
    """Lines of style go to the end of one of the site's own style sheets."""
    return {"kind": SHEET, "asset": asset.pk, "lines": style_sheets.written(asset, css)}


def paths_after(found: Sequence[Effect], undone: bool) -> dict[int, str]:
    """The path that each page with another address gets, by primary key."""
    which = "old" if undone else "new"
    return {one["page"]: one[which] for one in found if one["kind"] == ADDRESS}


def pages_of(found: Sequence[Effect]) -> list[int]:
    """The pages that effects touch, by primary key."""
    return list(dict.fromkeys(one["page"] for one in found if "page" in one))


def carry_out(change: Change, held: dict[int, Page], undone: bool) -> None:
    """Do what a change's effects say, or take it back. held: the pages, by primary key,
    locked. Within a transaction. Raises AddressTaken or InTheWay."""
    for effect in change.effects:
        if effect["kind"] == PLAN:
            _set_plan(change, effect, undone)
            continue
        if effect["kind"] == SHEET:
            style_sheets.take_out(change, effect) if undone else style_sheets.put_in(change, effect)
            continue
        page = held[effect["page"]]
        if effect["kind"] == ADDRESS:
            before, after = effect["old"], effect["new"]
            before, after = (after, before) if undone else (before, after)
            if page.path != before:
                raise InTheWay
            _set_path(page, after)
            if effect["moved"]:
                where = {"site": page.site, "page": page, "change": change}
                Move.objects.get_or_create(
                    **where, defaults={"old": effect["old"], "new": effect["new"]}
                )
        elif effect["kind"] == FILE:
            our_files.take_out(change, effect) if undone else our_files.put_in(change, effect)
        elif "part" in effect:
            lifted = (effect["kind"] == UNLOCK) != undone
            part = LockedPart.objects.filter(pk=effect["part"], lifted=not lifted)
            if not part.update(lifted=lifted):
                raise InTheWay
        else:
            number, last = effect["number"], effect["last"]
            effect["part"] = LockedPart.objects.create(page=page, number=number, last=last).pk
    change.save(update_fields=["effects"])


def _set_plan(change: Change, effect: Effect, undone: bool) -> None:
    before, after = effect["old"], effect["new"]
    before, after = (after, before) if undone else (before, after)
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


def _set_path(page: Page, path: str) -> None:
    key = page.site.key_of(path)
    other = page.site.pages.filter(key=key).exclude(pk=page.pk).first()
    if other is None:
        page.path, page.key = path, key
        try:
            with transaction.atomic():
                page.save(update_fields=["path", "key"])
        except IntegrityError:  # someone was faster by a moment
            raise AddressTaken("Another page has just got this address. Choose another.") from None
    else:
        raise AddressTaken(f"“{other.title}” has the address {other.path} already. Choose another.")
