"""What the frame around every screen shows."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from django.utils.functional import SimpleLazyObject

from innerhop.library import doing
from innerhop.library.seek import findings
from innerhop.screens.access import editor_of
from innerhop.screens.frame.built import built
from innerhop.screens.jobs import shown


def frame(request: HttpRequest) -> dict[str, Any]:
    """The site at hand, and which screen of it is open."""
    match = request.resolver_match
    site, member = getattr(request, "at_site", None), getattr(request, "at_member", None)
    is_reader = member is not None and not doing.allows(member, doing.CHANGE)
    return {
        "site": site,
        "is_reader": is_reader,
        "who_changes": lambda: doing.who_may(site, doing.CHANGE) if site and is_reader else "",
        "hands_over": member is not None and doing.allows(member, doing.HAND_OVER),
        "is_owner": member is not None and doing.allows(member, doing.PEOPLE),
        # Counted where it is shown: what is no page of ours needs none.
        "findings_count": lambda: findings.counted(site) if site else 0,
        # Asked once, however often it is shown.
        "jobs_at_hand": SimpleLazyObject(
            lambda: shown.at_hand(site, editor_of(request)) if site else []
        ),
        "here": match.url_name if match else "",
        "built": built(),
    }
