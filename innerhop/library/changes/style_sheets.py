"""Lines put at the end of one of the site's own style sheets, and taken out again. The rest of
the file stays as it came."""

from __future__ import annotations

from typing import Any

from innerhop.core.refusals import CONFLICT, Refusal
from innerhop.library.models import Asset, Change, Layout


class SheetMovedOn(Refusal):
    """The style sheet is not as the change left it, or is no longer there."""

    status = CONFLICT

    def __init__(self) -> None:
        super().__init__(
            "The style sheet came in anew or was deleted meanwhile, so these lines are no longer "
            "in it as they were. Nothing was changed."
        )


def written(asset: Asset, css: str) -> str:
    """The lines as they go to the end of a style sheet, with its own line ends."""
    data = bytes(asset.content)
    end = "\r\n" if b"\r\n" in data else "\n"
    lead = "" if not data or data.endswith(b"\n") else end
    return lead + end.join(css.splitlines()) + end


def put_in(change: Change, effect: dict[str, Any]) -> None:
    """Put the lines in. Within the change's transaction. Raises SheetMovedOn."""
    asset = _held(change, effect)
    _save(change, asset, bytes(asset.content) + effect["lines"].encode())


def take_out(change: Change, effect: dict[str, Any]) -> None:
    """Take them out again, wherever they stand now. Raises SheetMovedOn."""
    asset = _held(change, effect)
    before, lines, after = bytes(asset.content).rpartition(effect["lines"].encode())
    if not lines:
        raise SheetMovedOn
    _save(change, asset, before + after)


def _held(change: Change, effect: dict[str, Any]) -> Asset:
    rows = Asset.objects.select_for_update().filter(site=change.site, pk=effect["asset"])
    asset: Asset | None = rows.first()
    if asset is None:
        raise SheetMovedOn
    return asset


def _save(change: Change, asset: Asset, data: bytes) -> None:
    asset.content, asset.size = data, len(data)
    asset.save(update_fields=["content", "size"])
    # How pages lie is to be measured anew: any of them may take that sheet.
    Layout.objects.filter(page__site=change.site).delete()
