"""The pages that a menu's items lead to, each drawn as a strip with the place on it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from innerhop.core import widths
from innerhop.library.models import Page
from innerhop.library.seek import page_heights
from innerhop.library.seek.page_heights import PageHeight

_LINES = 100  # sections of a strip: more are no wider than a pixel


def drawn(ends: Mapping[int, dict[str, Any]]) -> dict[int, dict[str, Any]]:
    """Ends of items by their place, those on a page with its `strip`: where its sections
    begin and where the place is, in shares of the page's height at 1280 CSS pixels."""
    pages = Page.objects.filter(pk__in={end["page"] for end in ends.values() if end["page"]})
    heights = page_heights.heights(pages, widths.LAPTOP.width, places=True)
    return {at: {**end, "strip": _strip(end, heights)} for at, end in ends.items()}


def _strip(end: Mapping[str, Any], heights: Mapping[int, PageHeight]) -> dict[str, Any] | None:
    height = heights.get(end["page"])
    if height is None:
        return None
    whole = max(1.0, height.height)
    tops = [round(top / whole, 3) for top in height.tops[:_LINES]]
    return {"tops": tops, "at": round(height.top_of(end["number"]) / whole, 3)}
