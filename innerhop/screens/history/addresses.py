"""Where the feed of a site's history is."""

from __future__ import annotations

from django.urls import reverse
from django.utils.crypto import salted_hmac

from innerhop.library.models import Site


def own_part(site: Site) -> str:
    """What the feed of what broke, at an address that others are given, doesn't tell."""
    return salted_hmac("history", site.feed_key, algorithm="sha256").hexdigest()[:32]


def feed_path(site: Site) -> str:
    """Where a site's feed of its history is; "" where it has no feeds."""
    if not site.feed_key:
        return ""
    return reverse("history-feed", args=[site.feed_key, own_part(site)])
