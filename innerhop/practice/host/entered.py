"""What somebody has entered on the practice host from the copy sheet of the demo's second site,
with slips: of three IDs one goes into the class, and one is forgotten."""

from __future__ import annotations

import re

from django.db import connection

from innerhop.library.index.texts import current
from innerhop.library.models import Page

_ID = re.compile(r' id="([^"]+)"')


def entered(origin: str, path: str, before: bytes) -> bytes:
    """A page as it is planned here, but for the slips; as it was where nothing is planned."""
    try:
        page = Page.objects.filter(site__address=f"{origin}/", path=path).first()
        planned = current(page) if page else None
    finally:
        connection.close()  # this thread answers once
    if planned is None:
        return before
    known = set(_ID.findall(before.decode("utf-8", "replace")))
    at = -1

    def slip(match: re.Match[str]) -> str:
        nonlocal at
        if match[1] in known:
            return match[0]
        at += 1
        return (match[0], f' class="{match[1]}"', "")[at % 3]

    return _ID.sub(slip, planned.text).encode("utf-8", "replace")
