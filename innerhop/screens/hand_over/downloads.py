"""Files that are taken away."""

from __future__ import annotations

from django.http import HttpResponse
from django.utils.http import content_disposition_header


def download(data: bytes, name: str, kind: str) -> HttpResponse:
    """A file of that name and media type, to be kept rather than shown."""
    response = HttpResponse(data, content_type=kind)
    response["Content-Disposition"] = content_disposition_header(True, name) or "attachment"
    return response
