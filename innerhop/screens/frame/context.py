"""What the frame around every screen shows."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest

from innerhop.screens.frame.built import built


def frame(request: HttpRequest) -> dict[str, Any]:
    """The site at hand, and which screen of it is open."""
    match = request.resolver_match
    return {
        "site": getattr(request, "at_site", None),
        "here": match.url_name if match else "",
        "built": built(),
    }
