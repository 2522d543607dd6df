"""The two files that go out with pages whose hops do more than the browser does by itself:
they stand among the site's own files, for as long as a change that needs them stands."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path
from typing import Any

from django.conf import settings

from innerhop.core.planners.visitor_parts import SCRIPT, STYLE
from innerhop.library.models import Asset, Change

TYPES = {SCRIPT: "text/javascript", STYLE: "text/css"}


@lru_cache
def content(path: str) -> bytes:
    """The file with that path on a site, as it is built."""
    folder = Path(settings.STATIC_ROOT) / "dist" / "parts"
    return (folder / path.rpartition("/")[2]).read_bytes()


def put_in(change: Change, effect: dict[str, Any]) -> None:
    """Put a file in, unless the site has it. Within the change's transaction."""
    path = effect["path"]
    data = content(path)
    values = {"content": data, "media_type": TYPES[path], "size": len(data)}
    asset, is_new = Asset.everything.get_or_create(site=change.site, path=path, defaults=values)
    if asset.removed is not None:
        asset.removed = asset.remover = None
        asset.save(update_fields=["removed", "remover"])
    effect["new"] = is_new


def take_out(change: Change, effect: dict[str, Any]) -> None:
    """Take a file out that this change brought, unless another change needs it."""
    others = Change.objects.filter(
        site=change.site, undone=None, effects__contains=[{"path": effect["path"]}]
    ).exclude(pk=change.pk)
    if effect.get("new") and not others.exists():
        Asset.everything.filter(site=change.site, path=effect["path"]).delete()
