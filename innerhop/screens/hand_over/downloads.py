"""Files that are taken away."""

from __future__ import annotations

import csv
from collections.abc import Iterable, Sequence
from io import StringIO
from typing import Any

from django.http import HttpResponse
from django.utils.http import content_disposition_header


def download(data: bytes, name: str, kind: str) -> HttpResponse:
    """A file of that name and media type, to be kept rather than shown."""
    response = HttpResponse(data, content_type=kind)
    response["Content-Disposition"] = content_disposition_header(True, name) or "attachment"
    return response


def _plain(value: Any) -> Any:
    """A cell that no spreadsheet takes for a formula
    (https://owasp.org/www-community/attacks/CSV_Injection)."""
    return f"'{value}" if isinstance(value, str) and value.startswith(_FORMULA) else value


# Some spreadsheets take the full-width forms for the same (Unicode, Halfwidth and Fullwidth
# Forms).
_FORMULA = ("=", "+", "-", "@", "\t", "\r", "＝", "＋", "－", "＠")


def csv_file(head: Sequence[str], rows: Iterable[Sequence[Any]]) -> bytes:
    """RFC 4180, in UTF-8 with the mark by which spreadsheets know it."""
    out = StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(head)
    writer.writerows([_plain(value) for value in row] for row in rows)
    return out.getvalue().encode("utf-8-sig")
