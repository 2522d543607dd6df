"""What a change does beside writing texts: a page gets another address, a part is locked
or unlocked, a file of ours is put beside the site's own, settings are others, findings are set
aside. An effect is data, kept with its change; it is carried out in the transaction that writes
the change, and turned round when the change is undone (see `effect_kinds`)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from innerhop.library.changes import style_sheets
from innerhop.library.changes.effect_kinds import (
    ADDRESS,
    ASIDE,
    COUNTS,
    FILE,
    KEPT,
    KINDS,
    LOCK,
    MEMBER,
    PLAN,
    REMOVED,
    SETTINGS,
    SHEET,
    TAKEN,
    UNLOCK,
    WAITS,
    AddressTaken,
    Effect,
    InTheWay,
    PlanMovedOn,
)
from innerhop.library.index import shared_parts
from innerhop.library.models import Asset, Change, LockedPart, Page, SetAside

__all__ = ("ADDRESS", "SHEET", "AddressTaken", "Effect", "InTheWay", "PlanMovedOn")


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


def member(key: int, old: dict[str, Any] | None, new: dict[str, Any] | None) -> Effect:
    """Somebody, by primary key, may do something else on the site; None for nothing."""
    return {"kind": MEMBER, "editor": key, "old": old, "new": new}


def kept(page: Page, editors: Sequence[int]) -> Effect:
    """A page is for these editors, by primary key, and the site's owners to change; [] for all."""
    return {"kind": KEPT, "page": page.pk, "old": page.kept_for, "new": list(editors)}


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


def settings(old: Mapping[str, Any], new: Mapping[str, Any]) -> Effect:
    """Settings of the site become others: by field, as they were and as they are to be."""
    return {"kind": SETTINGS, "old": dict(old), "new": dict(new)}


def aside(rows: Sequence[SetAside]) -> Effect:
    """Findings are set aside, as these rows say that aren't kept yet."""
    return {"kind": ASIDE, "rows": [_aside_row(one) for one in rows]}


def counts(rows: Sequence[SetAside]) -> Effect:
    """Findings that were set aside count again."""
    return {"kind": COUNTS, "rows": [_aside_row(one) for one in rows]}


def removed(item: Page | Asset) -> Effect:
    """A page, or a file beside the pages, is deleted."""
    return {"kind": REMOVED, "what": "page" if isinstance(item, Page) else "file", "key": item.pk}


def taken(texts: Sequence[int]) -> Effect:
    """New texts, by primary key, that waited are taken in."""
    return {"kind": TAKEN, "texts": list(texts)}


def waits(page: Page, text_of: Page, bring_in: int) -> Effect:
    """The text of another page, which came in, waits as the new one of this."""
    return {"kind": WAITS, "page": page.pk, "text_of": text_of.pk, "bring_in": bring_in}


def _aside_row(one: SetAside) -> dict[str, Any]:
    names = ("page_id", "rule", "key", "reason", "editor_id")
    return {name: getattr(one, name) for name in names}


def paths_after(beside: Sequence[Effect], undone: bool) -> dict[int, str]:
    """The path that each page with another address gets, by primary key."""
    which = "old" if undone else "new"
    return {one["page"]: one[which] for one in beside if one["kind"] == ADDRESS}


def pages_of(beside: Sequence[Effect]) -> list[int]:
    """The pages that effects touch, by primary key."""
    return list(dict.fromkeys(one["page"] for one in beside if "page" in one))


def carry_out(change: Change, held: dict[int, Page], undone: bool) -> None:
    """Do what a change's effects say, or take it back. held: the pages, by primary key,
    locked. Within a transaction. Raises AddressTaken or InTheWay."""
    # What was done last is taken back first: an address is free again only then.
    for effect in reversed(change.effects) if undone else change.effects:
        kind = KINDS[effect["kind"]]
        turn = kind.undo if undone else kind.do
        turn(change, effect, held.get(effect.get("page", 0), _NO_PAGE))
    change.save(update_fields=["effects"])


_NO_PAGE = Page()  # for effects that name none
