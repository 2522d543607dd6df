"""The mails that the demo would have sent: nothing leaves it, so they are shown."""

from __future__ import annotations

from email import message_from_bytes, policy
from email.message import EmailMessage
from pathlib import Path
from typing import NamedTuple

from django.conf import settings
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

_SHOWN = 30


class Mail(NamedTuple):
    """One mail, as its reader sees it."""

    subject: str
    to: str
    date: str
    text: str


@require_safe
@login_required
def mails(request: HttpRequest) -> HttpResponse:
    """The mails of the demo, the newest first."""
    if not settings.DEMO:
        raise Http404
    files = sorted(Path(settings.EMAIL_FILE_PATH).glob("*.log"), reverse=True)
    found = [one for file in files for one in reversed(_read(file))]
    return render(request, "live/mails.html", {"mails": found[:_SHOWN]})


def _read(file: Path) -> list[Mail]:
    """The mails of one file: Django's file backend writes a line of hyphens after each."""
    parts = file.read_bytes().split(b"\n" + b"-" * 79 + b"\n")
    return [_mail(part) for part in parts if part.strip()]


def _mail(data: bytes) -> Mail:
    found = message_from_bytes(data, policy=policy.default)
    assert isinstance(found, EmailMessage)  # as that policy has it
    body = found.get_body(("plain",))
    text = body.get_content() if body else ""
    return Mail(found["subject"] or "", found["to"] or "", found["date"] or "", text.strip())
