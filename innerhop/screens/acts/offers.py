"""Words that could be hops, as screens show them: each with the hop that is one step away."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

from innerhop.core.findings.offers import Offer
from innerhop.core.names import ids
from innerhop.library.index.texts import naming_of
from innerhop.library.models import Page


def told(offers: Sequence[Offer]) -> list[dict[str, Any]]:
    """Offers with what the act that makes hops is asked with. A section without an ID is
    marked in the same change."""
    pages = Page.objects.select_related("site").in_bulk({one.end.page for one in offers})
    return [_told(one, pages[one.end.page]) for one in offers if one.end.page in pages]


def _told(offer: Offer, page: Page) -> dict[str, Any]:
    end: dict[str, Any] = {"page": page.pk, "id": offer.end.mark}
    if not offer.end.mark:
        taken = set(page.marks.values_list("value", flat=True))
        name = ids.suggest(offer.end.title, naming_of(page), taken)
        end |= {"id": name, "number": offer.end.number, "mark": True}
    before, after = offer.around
    return {
        "start": asdict(offer.words.start), "stop": asdict(offer.words.end),
        "words": offer.words.text,
        "before": before, "after": after, "end": end, "title": offer.end.title,
        "page": page.title, "number": offer.words.start.number,
    }  # fmt: skip
