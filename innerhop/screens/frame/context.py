"""What the frame around every screen shows."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from django.utils.functional import SimpleLazyObject

from innerhop.library.seek import findings
from innerhop.screens.access import editor_of
from innerhop.screens.frame.built import built
from innerhop.screens.jobs import shown


def frame(request: HttpRequest) -> dict[str, Any]:
    """The site at hand, and which screen of it is open."""
    match = request.resolver_match
    site = getattr(request, "at_site", None)
    return {
        "site": site,
        # Counted where it is shown: what is no page of ours needs none.
        "findings_count": lambda: findings.counted(site) if site else 0,
        # Asked once, however often it is shown.
        "jobs_at_hand": SimpleLazyObject(
            lambda: shown.at_hand(site, editor_of(request)) if site else []
        ),
        "here": match.url_name if match else "",
        "built": built(),
    }
